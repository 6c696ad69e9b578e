"""A drawing that is part of something else: its pieces as layers in a box of a given size."""

from __future__ import annotations

from typing import Any

from mektel.core.errors import reading
from mektel.formats.svg.collecting import collect
from mektel.formats.svg.drawing import Drawing, DrawingError, Node, read_drawing
from mektel.formats.svg.expansion import expand, number_in
from mektel.formats.svg.frame import Frame
from mektel.formats.svg.shapes import NotAShapeError

# CSS Images 3, 5.1: what has neither size nor proportions.
USUAL = (300.0, 150.0)
Natural = tuple[float | None, float | None, float | None]


def natural_size(content: bytes, source: str) -> Natural:
    """Width and height in px and their ratio, as far as the drawing gives them (SVG 2, 8.3).

    Raises :class:`DrawingError`.
    """
    with reading(source, DrawingError):
        root = read_drawing(content, source).root
    width, height = (_given(root, name) for name in ("width", "height"))
    box = root.get("viewBox").replace(",", " ").split()
    ratio = None
    if width and height:
        ratio = width / height
    elif len(box) == 4 and float(box[2]) > 0 < float(box[3]):
        ratio = float(box[2]) / float(box[3])
    return width, height, ratio


def layers_within(
    content: bytes, size: tuple[float, float], source: str
) -> tuple[list[dict[str, Any]], list[str]]:
    """Its layers, back to front, each with an outline of its own in a box of ``size`` px; and what
    was skipped, in words.

    Raises :class:`DrawingError`.
    """
    with reading(source, DrawingError):
        drawing = read_drawing(content, source)
        root = drawing.root
        if not root.get("viewBox"):
            width, height = (_given(root, name) or usual for name, usual in zip(
                ("width", "height"), USUAL, strict=True))
            root.attributes["viewBox"] = f"0 0 {width:g} {height:g}"
        root.attributes |= {"width": f"{size[0]:.6g}", "height": f"{size[1]:.6g}"}
        expand(drawing, source)
        frame = Frame(drawing, (0.0, 0.0, *size))
        for piece in collect(drawing, root):
            _add(frame, piece, drawing)
        skipped = [entry.message for entry in drawing.leftovers]
        return frame.layers, skipped


def _add(frame: Frame, piece: Any, drawing: Drawing) -> None:
    if piece.kind in ("text", "picture"):
        drawing.leave(piece.node, "only its shapes are taken")
        return
    try:
        frame.add(piece)
    except NotAShapeError as error:
        drawing.leave(piece.node, str(error))


def _given(root: Node, name: str) -> float | None:
    text = root.get(name)
    if not text or text.endswith("%") or text == "auto":
        return None
    return number_in(root, name) or None
