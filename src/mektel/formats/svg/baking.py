"""What no layer can say, drawn by our own painter into a picture that is one."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.kit import Control, Kit
from mektel.core.look import Margins, resolve
from mektel.core.paint import render
from mektel.formats.png import png_bytes
from mektel.formats.svg import areas
from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.filters import LUMINANCE, filtered
from mektel.formats.svg.frame import MOST_LAYERS, Frame
from mektel.formats.svg.paint import gradient_colours
from mektel.formats.svg.patterns import Pattern, colours_of
from mektel.formats.svg.pieces import Box, Piece
from mektel.formats.svg.sampling import PLACES
from mektel.formats.svg.shapes import NotAShapeError, matrix_of, scale_of, share_or_length

Floats = NDArray[np.float64]
# Drawn at three densities, the densest first; at a lower one where that would be too large.
DENSITIES, MOST_PIXELS = (3.0, 2.0, 1.0), 4_000_000
LARGEST = 4000.0


def baked(
    drawing: Drawing, node: Node, pieces: Sequence[Piece], *, filter_node: Node | None = None,
    clip: Any = None, mask: Sequence[Piece] | None = None, by_alpha: bool = False,
) -> Piece:
    """Pieces as one picture, after a filter, a clip or a mask.

    Raises :class:`NotAShapeError` where there is nothing to draw or it is too large.
    """
    box = whole_box(_region(filter_node, node, pieces) if filter_node else _reach(pieces))
    if clip is not None:
        x0, y0, x1, y1 = clip.bounds or (0.0, 0.0, 0.0, 0.0)
        box = whole_box((max(box[0], x0), max(box[1], y0), min(box[2], x1), min(box[3], y1)))
    width, height = box[2] - box[0], box[3] - box[1]
    if width <= 0 or height <= 0:
        raise NotAShapeError("nothing of it is visible")
    if max(width, height) > LARGEST:
        raise NotAShapeError(f"it is larger than {LARGEST:.0f} px")
    if any(piece.kind == "text" for piece in pieces):
        drawing.leave(node, "its text becomes part of a picture")

    def picture_at(density: float) -> Floats:
        picture = _drawn(drawing, pieces, box, density)
        if filter_node is not None:
            x0, y0, x1, y1 = _bounds(pieces)
            picture = filtered(picture, filter_node, drawing, density * scale_of(node),
                               ((x1 - x0) * density, (y1 - y0) * density))
        if clip is not None:
            face = Piece("fill", node, cover=clip, path=areas.text_of_area(clip),
                         paint={"style": "solid", "colour": "#FFFFFF"})
            picture = picture * _drawn(drawing, [face], box, density)[:, :, 3:]
        if mask is not None:
            through = _drawn(drawing, mask, box, density)
            # Premultiplied colours have their alpha in them already.
            cover = through[:, :, 3] if by_alpha else through[:, :, :3] @ LUMINANCE
            picture = picture * cover[:, :, None]
        return picture

    return as_piece(node, box, picture_at)


def as_piece(node: Node, box: Box, picture_at: Callable[[float], Floats]) -> Piece:
    """A picture in a box of whole px, from one that is worked out for a density: premultiplied
    RGBA, 0 to 1, shape (height, width, 4).
    """
    most = math.sqrt(MOST_PIXELS / ((box[2] - box[0]) * (box[3] - box[1])))
    densities = [density for density in DENSITIES if density <= most] or [most]
    png, *coarser = (
        png_bytes(np.clip(np.rint(picture_at(density) * 255), 0, 255).astype(np.uint8))
        for density in densities)
    return Piece("picture", node, png=png, box=box, coarser=tuple(coarser))


def shaded(drawing: Drawing, piece: Piece) -> Piece:
    """A piece whose gradient is turned, slanted, far away or has a focus, as a picture."""
    assert piece.server is not None
    server, units = piece.server
    return _coloured(drawing, piece, lambda places, _: gradient_colours(
        server, drawing, units, piece.node, places))


def tiled(
    drawing: Drawing, piece: Piece, pattern: Pattern, tile: Sequence[Piece]
) -> Piece | None:
    """A piece painted with a pattern, as a picture; ``tile`` is what stands in the pattern, px."""
    if not tile:
        return None
    width, height = pattern.size
    finest = PLACES * min(DENSITIES[0], math.sqrt(MOST_PIXELS / (width * height)) / PLACES)
    if finest * min(width, height) < 1:
        raise NotAShapeError("its pattern’s tile is too long and thin")
    pictures: dict[float, Floats] = {}

    def colours(places: Floats, density: float) -> Floats:
        fine = min(finest, density * PLACES)
        if fine not in pictures:
            pictures[fine] = _drawn(drawing, tile, (0.0, 0.0, width, height), fine)
        return colours_of(pattern, pictures[fine], places, density)

    return _coloured(drawing, piece, colours)


def _coloured(
    drawing: Drawing, piece: Piece, colours: Callable[[Floats, float], Floats]
) -> Piece:
    """A picture of a piece that has colours of its own at each place, for a density."""
    box = whole_box(piece.area.bounds)
    if not 0 < max(box[2] - box[0], box[3] - box[1]) <= LARGEST:
        raise NotAShapeError(f"it is larger than {LARGEST:.0f} px")
    white = Piece("fill", piece.node, areas.text_of_area(piece.area), cover=piece.area,
                  paint={"style": "solid", "colour": "#FFFFFF"})

    def picture_at(density: float) -> Floats:
        alpha = _drawn(drawing, [white], box, density)[:, :, 3:]
        return colours(places_of(box, density), density) * alpha

    return replace(as_piece(piece.node, box, picture_at), opacity=piece.opacity)


def places_of(box: Box, density: float) -> Floats:
    """Where the pixels of a picture in a box have their middles, px: shape (height, width, 2)."""
    wide, high = pixels_of(box, density)
    rows, columns = np.mgrid[:high, :wide]
    return np.stack([(columns + 0.5) / density + box[0], (rows + 0.5) / density + box[1]], axis=2)


def pixels_of(box: Box, density: float) -> tuple[int, int]:
    """Width and height of a picture in a box."""
    x0, y0, x1, y1 = box
    return max(1, round((x1 - x0) * density)), max(1, round((y1 - y0) * density))


def _drawn(drawing: Drawing, pieces: Sequence[Piece], box: Box, density: float) -> Floats:
    """Pieces on a clear ground: premultiplied RGBA, float, shape (height, width, 4)."""
    x0, y0, x1, y1 = box
    wide, high = pixels_of(box, density)
    picture = np.zeros((high, wide, 4))
    for at in range(0, len(pieces), MOST_LAYERS):
        frame = Frame(drawing, (x0, y0, max(x1, x0 + 4.0), max(y1, y0 + 4.0)))
        for piece in pieces[at : at + MOST_LAYERS]:
            frame.add(piece)
        control = Control.model_validate(frame.values("Picture"))
        kit = Kit(assets=tuple(frame.pictures), controls=(control,))
        look = resolve(kit, frame.settled(kit, control))
        front = render(look, density, Margins()).rgba[:high, :wide] / 255.0
        picture = front + picture * (1 - front[:, :, 3:])
    return picture


def _reach(pieces: Sequence[Piece]) -> Box:
    boxes = [piece.reach for piece in pieces]
    return (min(box[0] for box in boxes), min(box[1] for box in boxes),
            max(box[2] for box in boxes), max(box[3] for box in boxes))


def _bounds(pieces: Sequence[Piece]) -> Box:
    boxes = [piece.bounds for piece in pieces]
    return (min(box[0] for box in boxes), min(box[1] for box in boxes),
            max(box[2] for box in boxes), max(box[3] for box in boxes))


def _region(filter_node: Node, node: Node, pieces: Sequence[Piece]) -> Box:
    """The filter region (Filter Effects 1), px."""
    x0, y0, x1, y1 = _bounds(pieces)
    width, height = x1 - x0, y1 - y0
    boxed = filter_node.get("filterUnits", "objectBoundingBox") == "objectBoundingBox"
    values = [share_or_length(filter_node.get(name), default) for name, default in (
        ("x", -0.1), ("y", -0.1), ("width", 1.2), ("height", 1.2))]
    if boxed or not all(filter_node.get(name) for name in ("x", "y", "width", "height")):
        x, y, wide, high = values
        return (x0 + x * width, y0 + y * height, x0 + (x + wide) * width, y0 + (y + high) * height)
    x, y, wide, high = values
    matrix = matrix_of(node)
    corners = [matrix.point_in_matrix_space(spot) for spot in (
        (x, y), (x + wide, y), (x, y + high), (x + wide, y + high))]
    return (min(float(spot.x) for spot in corners), min(float(spot.y) for spot in corners),
            max(float(spot.x) for spot in corners), max(float(spot.y) for spot in corners))


def whole_box(box: Sequence[float]) -> Box:
    """Whole px that hold a box."""
    return (math.floor(box[0] + 1e-6), math.floor(box[1] + 1e-6), math.ceil(box[2] - 1e-6),
            math.ceil(box[3] - 1e-6))
