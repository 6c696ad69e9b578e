"""From a drawing to a control: which piece is the outline, and every piece as a layer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from pydantic import ValidationError

from mektel.core.errors import DocumentError, reading
from mektel.core.finding import Finding
from mektel.core.kit import Control, Kit
from mektel.core.kit.conditions import REST
from mektel.core.kit.control import fault_of
from mektel.core.kit.document import Asset
from mektel.core.kit.merging import Layered, merged
from mektel.core.look import propose_states
from mektel.formats.kitfile import read_limited
from mektel.formats.svg import baking
from mektel.formats.svg.collecting import collect, with_effects
from mektel.formats.svg.drawing import (
    LARGEST_FILE,
    Drawing,
    DrawingError,
    Node,
    read_drawing,
)
from mektel.formats.svg.expansion import VIEWPORT, expand
from mektel.formats.svg.frame import MOST_LAYERS, Frame, moved
from mektel.formats.svg.paint import share
from mektel.formats.svg.pieces import SHAPES, Box, Piece
from mektel.formats.svg.shapes import NotAShapeError, matrix_of
from mektel.formats.svg.states import DRAWN, state_groups

# Of the box that all is painted in, what the control's outline takes at least, and of the canvas
# what is painted, where there is no outline.
BODY, FILLED = 0.6, 0.5
SMALLEST, LARGEST, MOST_SHAPES = 4.0, 4000.0, 3000


@dataclass(frozen=True)
class Imported:
    """A control from a drawing, what was skipped, and the pictures that the control needs.

    ``box`` is where the control's box is in the drawing: left, top, right, bottom in px.
    """

    control: Control
    leftovers: list[Finding]
    pictures: tuple[Asset, ...]
    box: Box


def read_svg(path: Path, name: str | None = None) -> Imported:
    """A control from an SVG file; by default it has the file's name."""
    content = read_limited(path, LARGEST_FILE)
    title = path.stem.replace("_", " ").replace("-", " ").strip() or "Control"
    return import_svg(content, name or title[0].upper() + title[1:80], str(path))


def import_svg(content: bytes, name: str, source: str) -> Imported:
    """A control with editable layers, from the bytes of an SVG; states that it does not show are
    proposed.

    Raises :class:`DrawingError` if it is no SVG or nothing in it is painted.
    """
    with reading(source, DrawingError):
        drawing = read_drawing(content, source)
        expand(drawing, source)
        try:
            return _Importer(drawing, name, source).run()
        except ValidationError as error:
            place, why = fault_of(error)
            raise DrawingError(f"{source}: {place}: {why}") from None
        except DocumentError as error:
            raise DrawingError(f"{source}: {error}") from None


class _Importer:
    def __init__(self, drawing: Drawing, name: str, source: str) -> None:
        self.drawing, self.name, self.source = drawing, name, source
        self.pictures: dict[str, Asset] = {}
        self.box: Box = (0.0, 0.0, 0.0, 0.0)

    def run(self) -> Imported:
        shapes = sum(node.tag in SHAPES for node in self.drawing.root.walk())
        if shapes > MOST_SHAPES:
            raise DrawingError(f"{self.source}: more than {MOST_SHAPES} shapes; join some of them "
                               "or import a part of the drawing.")
        groups = state_groups(self.drawing)
        states = self._of_states(groups) if groups else {REST: self._only()}
        first, *_ = states.values()
        together = merged(states)
        if len(together.layers) > MOST_LAYERS:
            self.drawing.leave(self.drawing.root, "its states differ too much to be one control; "
                               "only the first is imported")
            together = merged({REST: first})
        kit = Kit(assets=tuple(self.pictures.values()))
        control = Control.model_validate(dict(first.control) | {
            "layers": tuple(together.layers), "states": together.states,
            "behaviour": "two-position" if any(
                "checked" in condition for condition in together.states) else "push",
            "outline": first.control.outline.model_copy(update={"opacity": first.opacity})})
        control = propose_states(kit, control)
        left = sorted(self.drawing.leftovers, key=lambda entry: entry.place.line)
        return Imported(control, left, kit.assets, self.box)

    def _only(self) -> Layered:
        node, opacity = self.drawing.root, 1.0
        while True:
            drawn = [child for child in node.children if child.tag in DRAWN]
            if len(drawn) != 1 or drawn[0].tag not in ("g", "a") or any(
                    drawn[0].get(name, "none") != "none"
                    for name in ("filter", "mask", "clip-path", "display")):
                break
            node = drawn[0]
            opacity *= share(node.get("opacity", "1"))
            if opacity < 1:
                node.attributes["opacity"] = "1"
        pieces = collect(self.drawing, node)
        frame = self._frame(self._without_backdrop(pieces))
        return self._layered(frame, self._without_backdrop(pieces), opacity)

    def _of_states(self, groups: dict[str, Node]) -> dict[str, Layered]:
        order = sorted(groups, key=lambda condition: condition != REST)
        gathered: dict[str, tuple[list[Piece], float]] = {}
        for condition in order:
            group = groups[condition]
            opacity = share(group.get("opacity", "1"))
            for name, value in (("opacity", "1"), ("display", "inline")):
                group.attributes[name] = value
            if group.get("visibility") in ("hidden", "collapse"):
                group.attributes["visibility"] = "visible"
            pieces = with_effects(self.drawing, group, collect(self.drawing, group))
            gathered[condition] = (pieces, opacity)
        first = order[0]
        frame = self._frame(gathered[first][0])
        made = {first: self._layered(frame, gathered[first][0], gathered[first][1])}
        home = (frame.x, frame.y, frame.x + frame.width, frame.y + frame.height)
        for condition in order[1:]:
            pieces, opacity = gathered[condition]
            if not pieces:
                continue
            box = _box_of(self._body(pieces), pieces)
            if not _meet(box, home):
                pieces = [moved(piece, home[0] - box[0], home[1] - box[1]) for piece in pieces]
            other = Frame(self.drawing, home, frame.body)
            made[condition] = self._layered(other, pieces, opacity)
        return made

    def _layered(self, frame: Frame, pieces: Sequence[Piece], opacity: float) -> Layered:
        for piece in self._few(pieces, frame.body):
            try:
                frame.add(piece)
            except NotAShapeError as error:
                self.drawing.leave(piece.node, str(error))
        self.pictures |= {asset.id: asset for asset in frame.pictures}
        control = Control.model_validate(frame.values(self.name))
        kit = Kit(assets=tuple(frame.pictures), controls=(control,))
        return Layered(frame.settled(kit, control), frame.text, opacity)

    def _few(self, pieces: Sequence[Piece], body: Piece | None) -> list[Piece]:
        """As many pieces as a control may have layers: of more, the longest run is a picture."""
        kept = list(pieces)
        while len(kept) > MOST_LAYERS:
            begin, end = _longest_run(kept, body)
            if end - begin < 2:
                break
            self.drawing.leave(kept[begin].node, f"{end - begin} shapes become one picture, since "
                               f"a control has at most {MOST_LAYERS} layers")
            kept[begin:end] = [baking.baked(self.drawing, kept[begin].node, kept[begin:end])]
        return kept

    def _frame(self, pieces: Sequence[Piece]) -> Frame:
        if not pieces:
            reasons = "".join(f"\n  {entry}" for entry in self.drawing.leftovers[:5])
            raise DrawingError(f"{self.source}: nothing in it is painted.{reasons}")
        body = self._body(pieces)
        box = _box_of(body, pieces)
        if body is None:
            canvas = self._canvas()
            filled = [(box[at + 2] - box[at]) / max(1e-9, canvas[at + 2] - canvas[at])
                      for at in (0, 1)]
            if max(filled) >= FILLED or min(box[2] - box[0], box[3] - box[1]) < SMALLEST:
                box = canvas
        if min(box[2] - box[0], box[3] - box[1]) < SMALLEST:
            raise DrawingError(f"{self.source}: what it paints is less than {SMALLEST:g} px wide "
                               "or high, which is too small for a control.")
        if max(box[2] - box[0], box[3] - box[1]) > LARGEST:
            raise DrawingError(f"{self.source}: what it paints is larger than {LARGEST:g} px; "
                               "scale it down.")
        self.box = box = tuple(round(side, 4) + 0.0 for side in box)  # type: ignore[assignment]
        return Frame(self.drawing, box, body)

    def _canvas(self) -> Box:
        root = self.drawing.root
        x, y, width, height = (float(part) for part in root.get(VIEWPORT).split())
        matrix = matrix_of(root)
        start = matrix.point_in_matrix_space((x, y))
        end = matrix.point_in_matrix_space((x + width, y + height))
        return (float(start.x), float(start.y), float(end.x), float(end.y))

    def _body(self, pieces: Sequence[Piece]) -> Piece | None:
        """The largest face, or else the largest line along a form, if it is most of the whole."""
        faces = [piece for piece in pieces
                 if piece.kind == "fill" and piece.values.get("name") != "Line"]
        lines = [piece for piece in pieces if piece.kind == "line"]
        whole = _area(_box_of(None, pieces))
        for candidates in (faces, lines):
            largest = max(candidates, key=lambda piece: _area(piece.bounds), default=None)
            if largest is not None and _area(largest.bounds) >= BODY * whole > 0:
                return largest
        return None

    def _without_backdrop(self, pieces: list[Piece]) -> list[Piece]:
        """Without a plain box as large as the canvas that other things stand on."""
        if len(pieces) < 2:
            return pieces
        canvas, (first, *others) = self._canvas(), pieces
        shape = first.shape
        plain = shape is not None and shape.form == "box" and not any(shape.radii)
        covers = all(first.bounds[at] <= canvas[at] + 0.5 for at in (0, 1)) and all(
            first.bounds[at] >= canvas[at] - 0.5 for at in (2, 3))
        inner = [piece for piece in others if piece.kind in ("fill", "line", "picture")
                 and not _same(piece.bounds, first.bounds)]
        if first.kind != "fill" or not plain or not covers or not inner:
            return pieces
        self.drawing.leave(first.node, "taken for the drawing’s backdrop")
        return [piece for piece in others if not (
            piece.kind in ("fill", "line") and _same(piece.bounds, first.bounds))]


def _same(one: Box, two: Box) -> bool:
    return all(abs(a - b) <= 1.0 for a, b in zip(one, two, strict=True))


def _area(box: Box) -> float:
    return (box[2] - box[0]) * (box[3] - box[1])


def _meet(one: Box, two: Box) -> bool:
    return one[0] < two[2] and two[0] < one[2] and one[1] < two[3] and two[1] < one[3]


def _box_of(body: Piece | None, pieces: Sequence[Piece]) -> Box:
    """The box of the control: its outline's, or that of all that is painted."""
    if body is not None and body.shape is not None:
        shape = body.shape
        return (shape.x, shape.y, shape.x + shape.width, shape.y + shape.height)
    if body is not None:
        return body.bounds
    boxes = [piece.bounds for piece in pieces if "shadow" not in piece.kind]
    boxes = boxes or [piece.bounds for piece in pieces]
    lefts, tops, rights, bottoms = zip(*boxes, strict=True)
    return min(lefts), min(tops), max(rights), max(bottoms)


def _longest_run(pieces: Sequence[Piece], body: Piece | None) -> tuple[int, int]:
    """Where the most pieces follow each other that may be one picture."""
    best, begin = (0, 0), 0
    for at in range(len(pieces) + 1):
        fits = at < len(pieces) and pieces[at] is not body and pieces[at].kind != "text" and (
            pieces[at].blend == "normal")
        if not fits:
            if at - begin > best[1] - best[0]:
                best = (begin, at)
            begin = at + 1
    return best

