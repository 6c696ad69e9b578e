"""From a drawing's nodes to a control: which shape is the body, which layers lie on it."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from mektel.core.errors import DocumentError, MektelError, reading
from mektel.core.finding import Finding
from mektel.core.kit import KINDS, Control, Kit
from mektel.core.kit.control import fault_of
from mektel.core.kit.edit import identifier
from mektel.core.look import LabelLook, propose_states, resolve
from mektel.core.text.fonts import FAMILIES, WEIGHTS
from mektel.formats.kitfile import read_limited
from mektel.formats.svg.drawing import (
    LARGEST_FILE,
    Drawing,
    DrawingError,
    Node,
    read_drawing,
)
from mektel.formats.svg.paint import gradient_values, shadows_of, share, solid
from mektel.formats.svg.shapes import (
    NotAShapeError,
    Shape,
    matrix_of,
    number,
    scale_of,
    shape_of,
    to_number,
)

MOST_LAYERS = 60
SHAPES = {"rect", "circle", "ellipse", "path"}
GROUPS = {"svg", "g", "a"}
SILENT = {"defs", "style", "title", "desc", "metadata", "namedview", "linearGradient", "filter"}


@dataclass
class _Found:
    shapes: list[tuple[Node, Shape, float]] = field(default_factory=list)
    texts: list[tuple[Node, float]] = field(default_factory=list)


def read_svg(path: Path, name: str | None = None) -> tuple[Control, list[Finding]]:
    """A control from an SVG file, and what of the drawing it could not take over."""
    content = read_limited(path, LARGEST_FILE)
    title = path.stem.replace("_", " ").replace("-", " ").strip() or "Control"
    return import_svg(content, name or title[0].upper() + title[1:80], str(path))


def import_svg(content: bytes, name: str, source: str) -> tuple[Control, list[Finding]]:
    """A control with editable layers and proposed states, from the bytes of an SVG.

    Raises :class:`DrawingError` if it is no SVG or holds no shape that can be an outline.
    """
    with reading(source, DrawingError):
        return _control_of(read_drawing(content, source), name, source)


def _control_of(drawing: Drawing, name: str, source: str) -> tuple[Control, list[Finding]]:
    shapes = _Found()
    _collect(drawing, drawing.root, 1.0, shapes)
    if not shapes.shapes:
        reasons = "".join(f"\n  {entry}" for entry in drawing.leftovers[:5])
        raise DrawingError(
            f"{source}: no rounded box, capsule or ellipse in it that could be the button’s "
            f"outline.{reasons}"
        )
    body = _body(drawing, shapes)
    builder = _Builder(drawing, body)
    for node, shape, opacity in shapes.shapes:
        with _left_where_odd(drawing, node):
            builder.add_shape(node, shape, opacity)
    builder.layers += builder._inner
    builder._inner = []
    for node, opacity in shapes.texts:
        with _left_where_odd(drawing, node):
            builder.add_text(node, opacity)
    try:
        control = builder.control(name)
    except ValidationError as error:
        place, why = fault_of(error)
        raise DrawingError(f"{source}: {place}: {why}") from None
    except DocumentError as error:
        raise DrawingError(f"{source}: {error}") from None
    return control, sorted(drawing.leftovers, key=lambda entry: entry.place.line)


@contextlib.contextmanager
def _left_where_odd(drawing: Drawing, node: Node) -> Iterator[None]:
    """What an element holds that no layer can have is listed; the others are taken over."""
    try:
        yield
    except NotAShapeError as error:
        drawing.leave(node, str(error))
    except MektelError:
        raise
    except Exception:
        drawing.leave(node, "its values cannot be read")


def _collect(drawing: Drawing, node: Node, opacity: float, shapes: _Found) -> None:
    for child in node.children:
        if child.tag in SILENT:
            continue
        if child.get("display") == "none" or child.inherited("visibility") == "hidden":
            drawing.leave(child, "hidden in the drawing")
            continue
        for what in ("mask", "clip-path"):
            if child.get(what, "none") != "none":
                drawing.leave(child, f"its {what} is skipped")
        if child.get("mix-blend-mode", "normal") != "normal":
            drawing.leave(child, f"its blend mode {child.get('mix-blend-mode')} is drawn as normal")
        if child.get("style") and "transform" in child.attributes["style"]:
            drawing.leave(child, "a transform in its style is skipped")
        alpha = opacity * share(child.get("opacity", "1"))
        if alpha < opacity and _paints_twice(child):
            drawing.leave(
                child, "its opacity is given to each layer in it, so that they show through "
                "each other"
            )
        if child.tag in GROUPS:
            _collect(drawing, child, alpha, shapes)
        elif child.tag == "text":
            shapes.texts.append((child, alpha))
        elif child.tag in SHAPES:
            try:
                shapes.shapes.append((child, shape_of(child), alpha))
            except NotAShapeError as error:
                drawing.leave(child, str(error))
        else:
            drawing.leave(child, "this kind of element does not become a layer")


def _paints_twice(node: Node) -> bool:
    """Whether fading the whole is not the same as fading what it is painted with."""
    painted = [child for child in node.walk() if child.tag in SHAPES or child.tag == "text"]
    stroked = [child for child in painted if child.inherited("stroke", "none") != "none"
               and child.inherited("fill", "black") != "none"]
    return len(painted) > 1 or bool(stroked)


def _body(drawing: Drawing, shapes: _Found) -> Shape:
    """The largest shape, unless that is a backdrop as large as the canvas."""
    def area(entry: tuple[Node, Shape, float]) -> float:
        return entry[1].width * entry[1].height

    entries = sorted(shapes.shapes, key=area, reverse=True)
    box = [to_number(word) for word in drawing.root.get("viewBox").replace(",", " ").split()]
    width, height = box[2:] if len(box) == 4 else (number(drawing.root, "width"),
                                                   number(drawing.root, "height"))
    node, largest, _ = entries[0]
    if len(entries) > 1 and largest.width >= width - 0.5 and largest.height >= height - 0.5:
        inner = next((e for e in entries[1:] if not e[1].same_place(largest, 2.0)), None)
        if inner and largest.form == "box" and not any(largest.radii) and not node.get("filter"):
            for entry in entries:
                if entry[1].same_place(largest, 2.0):
                    drawing.leave(entry[0], "taken for the drawing’s backdrop")
                    shapes.shapes.remove(entry)
            return inner[1]
    # A stroked outline laid half its width inside the face is larger only by that stroke.
    filled = [e for e in entries if e[0].inherited("fill", "black") != "none"]
    return (filled or entries)[0][1]


class _Builder:
    """Gathers layers for one body, back to front."""

    def __init__(self, drawing: Drawing, body: Shape) -> None:
        self.drawing = drawing
        self.body = body
        self.layers: list[dict[str, Any]] = []
        # Inner shadows lie on all the shapes of the group that they belong to.
        self._inner: list[dict[str, Any]] = []
        self.text = ""
        self.label_at: tuple[Node, float, float] | None = None

    def _add(self, kind: str, name: str, **values: Any) -> None:
        self._add_to(self.layers, kind, name, **values)

    def _add_to(
        self, layers: list[dict[str, Any]], kind: str, name: str, **values: Any
    ) -> None:
        every = [*self.layers, *self._inner]
        if len(every) >= MOST_LAYERS:
            raise NotAShapeError(f"a control has at most {MOST_LAYERS} layers")
        taken = [layer["id"] for layer in every]
        count = sum(layer["kind"] == kind for layer in every)
        title = name if not count else f"{name} {count + 1}"
        layer = {"id": identifier(title, taken, kind), "name": title, "kind": kind, **values}
        try:
            KINDS[kind].model_validate(layer)
        except ValidationError as error:
            place, why = fault_of(error)
            raise NotAShapeError(f"its {name.lower()}, {place}: {why}") from None
        layers.append(layer)

    def add_shape(self, node: Node, shape: Shape, opacity: float) -> None:
        inset = self._even_inset(shape)
        if inset is None:
            self.drawing.leave(node, "it does not follow the button’s outline")
            return
        self._add_shadows(node)
        self._add_fill(node, shape, opacity, inset)
        self._add_line(node, opacity, inset)

    def _even_inset(self, shape: Shape) -> float | None:
        """By how much a shape lies inside the body on all sides alike (negative: outside)."""
        body = self.body
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
        return inset

    def _add_shadows(self, node: Node) -> None:
        walk: Node | None = node
        while walk is not None:
            value = walk.get("filter", "none")
            walk_node, walk = walk, walk.parent
            if value == "none" or walk_node.get("-seen"):
                continue
            walk_node.attributes["-seen"] = "yes"
            target = self.drawing.referred(value)
            if target is None:
                self.drawing.leave(walk_node, f"the filter {value[:40]} is not in the drawing")
                continue
            for shadow in shadows_of(target, self.drawing, scale_of(node)):
                kind, name = ("inner-shadow", "Inner shadow") if shadow.inner else (
                    "shadow", "Shadow")
                layers = self._inner if shadow.inner else self.layers
                self._add_to(
                    layers, kind, name, colour=shadow.colour, offset=(shadow.dx, shadow.dy),
                    blur=round(shadow.sigma * 2, 3), spread=shadow.spread,
                )

    def _add_fill(self, node: Node, shape: Shape, opacity: float, inset: float) -> None:
        paint = node.inherited("fill", "black")
        if paint == "none":
            return
        alpha = share(node.inherited("fill-opacity", "1"))
        values: dict[str, Any] = {"opacity": opacity * alpha, "expand": -inset + 0.0}
        server = self.drawing.referred(paint.split(")")[0] + ")") if "url(" in paint else None
        if server is not None and server.tag == "linearGradient":
            gradient = gradient_values(server, self.drawing, shape, node)
            if gradient is None:
                self.drawing.leave(server, "a gradient without stops")
                return
            self._add("fill", "Face", **values, **gradient)
            return
        if server is not None:
            stops = [n for n in server.walk() if n.tag == "stop"]
            middle = stops[len(stops) // 2].get("stop-color") if stops else ""
            self.drawing.leave(
                server, "only linear gradients become a fill; one flat colour stands in for it"
            )
            paint = middle or "#808080"
        colour = solid(paint, 1.0, node.inherited("color", "#000000"))
        if colour is None:
            self.drawing.leave(node, f"its fill “{paint[:40]}” is not a colour")
            return
        self._add("fill", "Face", style="solid", colour=colour, **values)

    def _add_line(self, node: Node, opacity: float, inset: float) -> None:
        paint = node.inherited("stroke", "none")
        if paint == "none":
            return
        width = to_number(node.inherited("stroke-width", "1"), 1.0) * scale_of(node)
        if width <= 0:
            return
        if node.inherited("stroke-dasharray", "none") != "none":
            self.drawing.leave(node, "its dashes; the line is drawn whole")
        if "url(" in paint:
            server = self.drawing.referred(paint)
            stops = [n for n in server.walk() if n.tag == "stop"] if server else []
            paint = stops[0].get("stop-color", "black") if stops else "black"
            self.drawing.leave(node, "its gradient line; the first stop’s colour is used")
        colour = solid(paint, 1.0, node.inherited("color", "#000000"))
        if colour is None:
            self.drawing.leave(node, f"its stroke “{paint[:40]}” is not a colour")
            return
        alpha = opacity * share(node.inherited("stroke-opacity", "1"))
        # A stroke lies half on either side of its shape; its place is that of its outer edge.
        edge = round(width / 2 - inset, 2)
        place = {0.0: "inside", round(width / 2, 2): "centre", round(width, 2): "outside"}.get(edge)
        gap = 0.0 if place else edge
        self._add(
            "line", "Line", colour=colour, width=width, opacity=alpha, place=place or "inside",
            gap=gap,
        )

    def add_text(self, node: Node, opacity: float) -> None:
        text = " ".join(node.all_text().split())
        if not text:
            return
        if self.label_at is not None:
            self.drawing.leave(node, "a second text; a label is one line", f"“{text[:40]}”")
            return
        spans = [n for n in node.walk() if n.tag == "tspan"]
        placed = spans[0] if spans else node
        family = node.inherited("font-family") or placed.get("font-family")
        first = family.split(",")[0].strip(" \"'")
        if first and first not in FAMILIES:
            self.drawing.leave(node, "it is set in Hanken Grotesk instead", f"the font “{first}”")
        scale = scale_of(node)
        size_text = placed.inherited("font-size") or "16"
        size = min(400.0, max(4.0, to_number(size_text, 16.0) * scale))
        colour = solid(placed.inherited("fill", "black"), 1.0) or "#000000"
        anchor = placed.inherited("text-anchor", "start")
        self.text = text[:200]
        x, y = number(placed, "x", number(node, "x")), number(placed, "y", number(node, "y"))
        at = matrix_of(node).point_in_matrix_space((x, y))
        self.label_at = (node, at.x - self.body.x, at.y - self.body.y)
        alpha = opacity * share(placed.inherited("fill-opacity", "1"))
        self._add(
            "label", "Label", size=size, weight=_weight(placed.inherited("font-weight", "400")),
            colour=colour, opacity=alpha, align={"middle": "centre", "end": "end"}.get(
                anchor, "start"),
        )

    def control(self, name: str) -> Control:
        body = self.body
        side = min(16.0, body.width / 8)
        control = Control.model_validate({
            "id": identifier(name, [], "control"),
            "name": name,
            "text": self.text,
            "size": (body.width, body.height),
            "outline": {"form": body.form, "corners": body.radii, "padding": (side, 4.0)},
            "layers": self.layers,
        })
        control = self._with_label_placed(control)
        return propose_states(Kit(), control)

    def _with_label_placed(self, control: Control) -> Control:
        """Turns where the drawing's text stands into alignment and a shift."""
        if self.label_at is None:
            return control
        node, x, y = self.label_at
        label = next(layer for layer in control.layers if layer.kind == "label")
        look = next(
            at for at in resolve(Kit(), control).layers if isinstance(at, LabelLook)
        ) if label.opacity > 0 else None
        if look is None:
            return control
        width, advance = float(control.size[0]), look.line().advance
        start = {"start": x, "centre": x - advance / 2, "end": x - advance}[label.align]
        off_centre = start + advance / 2 - width / 2
        align, dx = label.align, 0.0
        if abs(off_centre) <= 0.04 * width:
            # Exporters anchor centred text at its start, measured in their own font.
            align = "centre"
        else:
            padding = control.outline.padding[0]
            natural = {
                "start": padding, "centre": (width - advance) / 2,
                "end": width - padding - advance,
            }[align]
            dx = round(start - natural, 1)
        baseline = y
        if node.inherited("dominant-baseline") in ("middle", "central"):
            baseline = look.baseline + y - control.size[1] / 2
        dy = round(baseline - look.baseline, 1)
        shift = (dx, dy if abs(dy) >= 0.5 else 0.0)
        moved = label.model_copy(update={"align": align, "move": shift})
        layers = tuple(moved if layer.id == label.id else layer for layer in control.layers)
        return control.model_copy(update={"layers": layers})


def _weight(text: str) -> int:
    named = {"normal": 400, "bold": 700, "lighter": 400, "bolder": 700}
    try:
        wanted = named.get(text.strip()) or int(float(text))
    except (ValueError, OverflowError):
        wanted = 400
    return min(WEIGHTS, key=lambda weight: abs(weight - wanted))
