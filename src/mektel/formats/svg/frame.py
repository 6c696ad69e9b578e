"""A control's box in a drawing, and pieces as layers in it."""

from __future__ import annotations

import base64
import hashlib
import re
from dataclasses import replace
from typing import Any

from pydantic import ValidationError

from mektel.core.kit import KINDS, Control, Kit, Label
from mektel.core.kit.control import fault_of
from mektel.core.kit.document import Asset
from mektel.core.kit.edit import identifier
from mektel.core.look import GroupLook, LabelLook, resolve
from mektel.core.path_data import polylines
from mektel.formats.svg import areas
from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.pieces import Box, Piece
from mektel.formats.svg.shapes import NotAShapeError, Shape

MOST_LAYERS = 60
# From this share of the control's width or height on, a layer is stretched with it.
STRETCHED = 0.5
NAMES = {"fill": "Shape", "line": "Line", "shadow": "Shadow", "inner-shadow": "Inner shadow",
         "text": "Label", "picture": "Picture"}
# What programs name things by themselves says nothing.
NAMELESS = re.compile(
    r"(rect|rectangle|path|circle|ellipse|line|polygon|polyline|g|group|layer|shape|vector|image|"
    r"text|use|svg|tspan|union|subtract|frame|base|body)?[\s_-]*[\d.]*", re.IGNORECASE)


class Frame:
    """Gathers layers, back to front, in a box (left, top, right, bottom) of the drawing in px.

    ``body`` is the piece whose outline is the control's; layers that run along it have none of
    their own.
    """

    def __init__(self, drawing: Drawing, box: Box, body: Piece | None = None) -> None:
        self.drawing = drawing
        x0, y0, x1, y1 = box
        self.x, self.y, self.width, self.height = x0, y0, x1 - x0, y1 - y0
        self.body = body
        self.layers: list[dict[str, Any]] = []
        self.pictures: list[Asset] = []
        # By layer, where its baseline is, px from the top of the box.
        self.baselines: dict[str, tuple[float, Piece]] = {}
        self.text = ""

    def add(self, piece: Piece) -> None:
        """Raises :class:`NotAShapeError` for what no layer can hold."""
        work = {"fill": self._fill, "line": self._line, "text": self._label,
                "picture": self._picture}.get(piece.kind, self._shadow)
        values = work(piece)
        if piece.opacity < 1:
            values["opacity"] = round(piece.opacity, 4)
        if piece.blend != "normal":
            values["blend"] = piece.blend
        kind = "label" if piece.kind == "text" else piece.kind
        name = values.pop("name", NAMES[piece.kind])
        own = "" if "shadow" in kind else _name_of(piece.node)
        if own and name == "Line":
            own += " line"
        self._put(kind, own or name, values)
        if piece.kind == "text":
            self.baselines[self.layers[-1]["id"]] = (piece.values["baseline"] - self.y, piece)

    def _put(self, kind: str, name: str, values: dict[str, Any]) -> None:
        if len(self.layers) >= MOST_LAYERS:
            raise NotAShapeError(f"a control has at most {MOST_LAYERS} layers")
        names = {layer["name"] for layer in self.layers}
        title, count = name[:76], 1
        while title in names:
            count += 1
            title = f"{name[:76]} {count}"
        taken = [layer["id"] for layer in self.layers]
        layer = {"id": identifier(title, taken, kind), "name": title, "kind": kind, **values}
        try:
            KINDS[kind].model_validate(layer)
        except ValidationError as error:
            place, why = fault_of(error)
            raise NotAShapeError(f"its {name.lower()}, {place}: {why}") from None
        self.layers.append(layer)

    def _fill(self, piece: Piece) -> dict[str, Any]:
        inset = self._even_inset(piece.shape) if piece.shape else None
        values = dict(piece.paint) | {key: value for key, value in piece.values.items()
                                      if key == "name"}
        if piece is self.body:
            values["name"] = "Face"
            return values
        if inset is not None:
            return values | {"name": "Face"} | ({"expand": -inset} if inset else {})
        return values | {"outline": self._outline(piece)}

    def _line(self, piece: Piece) -> dict[str, Any]:
        assert piece.shape is not None
        width = round(piece.values["width"], 3)
        values: dict[str, Any] = dict(piece.paint) | {"width": width}
        inset = self._even_inset(piece.shape)
        if inset is None:
            return values | {"place": "centre", "outline": self._outline(piece)}
        # A stroke lies half on either side of its shape; its place is that of its outer edge.
        edge = round(width / 2 - inset, 2)
        place = {0.0: "inside", round(width / 2, 2): "centre", round(width, 2): "outside"}.get(edge)
        return values | {"place": place or "inside", "gap": 0.0 if place else edge}

    def _shadow(self, piece: Piece) -> dict[str, Any]:
        inset = self._even_inset(piece.shape) if piece.shape else None
        if piece.path and self.body is not None and piece.path == self.body.path:
            inset = 0.0
        if inset == 0:
            return dict(piece.values)
        return piece.values | {"outline": self._outline(piece)}

    def _picture(self, piece: Piece) -> dict[str, Any]:
        assert piece.box is not None
        png, *coarser = (base64.b64encode(form).decode() for form in (piece.png, *piece.coarser))
        known = next((asset for asset in self.pictures if asset.png == png), None)
        if known is None:
            name = f"picture-{hashlib.sha256(piece.png).hexdigest()[:10]}"
            try:
                known = Asset(id=name, name=_name_of(piece.node) or "Picture", png=png,
                              coarser=tuple(coarser))
            except ValidationError as error:
                raise NotAShapeError(f"its picture: {fault_of(error)[1]}") from None
            self.pictures.append(known)
        return {"picture": known.id, "fit": "stretch",
                "outline": {"form": "box", "corners": (0.0,) * 4, **self._spans(piece.box)}}

    def _label(self, piece: Piece) -> dict[str, Any]:
        values = {name: value for name, value in piece.values.items()
                  if name not in ("baseline", "turn")}
        if self.body is not None and not self.text and "turn" not in piece.values:
            # The control's own text, which stands in its padding.
            self.text = values.pop("text")
            return values
        assert piece.box is not None
        return values | {"box": self._spans(piece.box)}

    def _even_inset(self, shape: Shape) -> float | None:
        """By how much a shape lies inside the body on all sides alike (negative: outside)."""
        body = self.body.shape if self.body else None
        if body is None:
            return None
        sides = (
            shape.x - body.x, shape.y - body.y,
            body.x + body.width - shape.x - shape.width,
            body.y + body.height - shape.y - shape.height,
        )
        if max(sides) - min(sides) > 0.3 or shape.form != body.form:
            return None
        inset = round(sum(sides) / 4, 2)
        for mine, theirs in zip(body.radii, shape.radii, strict=True):
            if abs(max(0.0, mine - inset) - theirs) > 0.75:
                return None
        return inset + 0.0

    def _outline(self, piece: Piece) -> dict[str, Any]:
        shape = piece.shape
        if shape is not None:
            box = (shape.x, shape.y, shape.x + shape.width, shape.y + shape.height)
            corners = {"corners": shape.radii} if shape.form == "box" else {}
            return {"form": shape.form, **corners, **self._spans(box)}
        return {"form": "path", "path": path_text(piece), **self._spans(path_box(piece))}

    def _spans(self, box: Box) -> dict[str, tuple[float, float]]:
        """A box as spans of the control's: wide things are stretched with it, others keep their
        size and stand at their share of it.
        """
        made = {}
        for start, end, begin, whole, at, size in (
            (box[0], box[2], self.x, self.width, "x", "width"),
            (box[1], box[3], self.y, self.height, "y", "height"),
        ):
            length = end - start
            if length >= STRETCHED * whole:
                made[at] = (0.0, round(start - begin, 3))
                made[size] = (1.0, round(length - whole, 3))
            else:
                share = round((start + length / 2 - begin) / whole, 4)
                made[at] = (share, round(start - begin - share * whole, 3))
                made[size] = (0.0, round(length, 3))
        return made

    def values(self, name: str) -> dict[str, Any]:
        """The control, to be validated."""
        side = min(16.0, self.width / 8)
        outline: dict[str, Any] = {"form": "box", "corners": (0.0,) * 4}
        if self.body is not None and self.body.shape is not None:
            shape = self.body.shape
            outline = {"form": shape.form, "corners": shape.radii}
        elif self.body is not None:
            outline = {"form": "path", "path": path_text(self.body)}
        return {
            "id": identifier(name, [], "control"), "name": name, "text": self.text,
            "size": (self.width, self.height), "outline": outline | {"padding": (side, 4.0)},
            "layers": self.layers,
        }

    def settled(self, kit: Kit, control: Control) -> Control:
        """The control with its labels where the drawing's texts stand."""
        if not self.baselines:
            return control
        looks = {look.id: look for layer in resolve(kit, control).layers
                 for look in (layer.members if isinstance(layer, GroupLook) else (layer,))
                 if isinstance(look, LabelLook)}
        layers = []
        for layer in control.layers:
            if isinstance(layer, Label) and layer.id in looks and layer.id in self.baselines:
                layer = self._turned(self._placed(layer, looks[layer.id], control))
            layers.append(layer)
        return control.model_copy(update={"layers": tuple(layers)})

    def _turned(self, label: Label) -> Label:
        """A label that stands upright, turned as its text is. A pivot moves with its layer."""
        if "turn" not in self.baselines[label.id][1].values:
            return label
        degrees, x, y = self.baselines[label.id][1].values["turn"]
        return label.model_copy(update={"rotate": round(degrees, 3), "pivot": (
            round((x - self.x - label.move[0]) / self.width, 5),
            round((y - self.y - label.move[1]) / self.height, 5))})

    def _placed(self, label: Label, look: LabelLook, control: Control) -> Label:
        baseline, piece = self.baselines[label.id]
        assert piece.box is not None
        dy = round(baseline - look.baseline, 2)
        if label.box is not None:
            return label.model_copy(update={"move": (0.0, dy if abs(dy) >= 0.02 else 0.0)})
        dy = round(baseline - look.baseline, 1)
        advance = look.line().advance
        start = piece.box[0] - self.x
        off_centre = start + advance / 2 - self.width / 2
        align, dx = label.align, 0.0
        if abs(off_centre) <= 0.04 * self.width:
            # Exporters anchor centred text at its start, measured in their own font.
            align = "centre"
        else:
            padding = control.outline.padding[0]
            natural = {
                "start": padding, "centre": (self.width - advance) / 2,
                "end": self.width - padding - advance,
            }[align]
            dx = round(start - natural, 1)
        shift = (dx, dy if abs(dy) >= 0.5 else 0.0)
        return label.model_copy(update={"align": align, "move": shift})


def path_text(piece: Piece) -> str:
    text = piece.path or areas.text_of_area(piece.area)
    if len(text) > areas.LONGEST_TEXT or text.count("C") + text.count("L") > areas.MOST_PIECES:
        text = areas.text_of_area(piece.area)
    return text


def path_box(piece: Piece) -> Box:
    """The box of a piece's path as a layer draws it, by chords."""
    boxes = [(*line.min(axis=0), *line.max(axis=0)) for line, _ in polylines(path_text(piece))]
    lefts, tops, rights, bottoms = zip(*boxes, strict=True)
    return (float(min(lefts)), float(min(tops)), float(max(rights)), float(max(bottoms)))


def moved(piece: Piece, dx: float, dy: float) -> Piece:
    """A piece elsewhere in the drawing."""
    if not dx and not dy:
        return piece
    from svgelements import Matrix

    matrix = Matrix(1, 0, 0, 1, dx, dy)
    made = replace(
        piece, path=areas.text_of(areas.placed(areas.path_commands(piece.path), matrix))
        if piece.path else "")
    if piece.cover is not None:
        made.cover = areas.transformed(piece.cover, matrix)
    if piece.shape is not None:
        made.shape = replace(piece.shape, x=piece.shape.x + dx, y=piece.shape.y + dy)
    if piece.box is not None:
        x0, y0, x1, y1 = piece.box
        made.box = (x0 + dx, y0 + dy, x1 + dx, y1 + dy)
    if "baseline" in piece.values:
        made.values = piece.values | {"baseline": piece.values["baseline"] + dy}
    if "turn" in piece.values:
        degrees, x, y = piece.values["turn"]
        made.values |= {"turn": (degrees, x + dx, y + dy)}
    return made


def _name_of(node: Node) -> str:
    """What the person who drew it called it; empty for the names that programs give."""
    for name in (node.get("label"), node.get("data-name"), node.get("id")):
        kept = re.sub(r"[\s_-]+", " ", name).strip()
        kept = "".join(letter for letter in kept if letter.isprintable())
        if kept and not NAMELESS.fullmatch(kept) and len(kept) <= 60:
            return kept[0].upper() + kept[1:]
    return ""
