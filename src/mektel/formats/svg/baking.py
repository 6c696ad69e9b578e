"""What no layer can say, drawn by our own painter into a picture that is one."""

from __future__ import annotations

import math
from collections.abc import Sequence
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
from mektel.formats.svg.paint import NoLayerError, radial_colours, server_of, share
from mektel.formats.svg.pieces import Box, Piece
from mektel.formats.svg.shapes import NotAShapeError, matrix_of, scale_of, share_or_length

Floats = NDArray[np.float64]
# Sharp at three times the density of the drawing, less where it would be too large.
DENSITY, MOST_PIXELS = 3.0, 4_000_000
LARGEST = 4000.0


def baked(
    drawing: Drawing, node: Node, pieces: Sequence[Piece], *, filter_node: Node | None = None,
    clip: Any = None, mask: Sequence[Piece] | None = None, by_alpha: bool = False,
) -> Piece:
    """Pieces as one picture, after a filter, a clip or a mask.

    Raises :class:`NotAShapeError` where there is nothing to draw or it is too large.
    """
    box = _whole(_region(filter_node, node, pieces) if filter_node else _reach(pieces))
    if clip is not None:
        x0, y0, x1, y1 = clip.bounds or (0.0, 0.0, 0.0, 0.0)
        box = _whole((max(box[0], x0), max(box[1], y0), min(box[2], x1), min(box[3], y1)))
    width, height = box[2] - box[0], box[3] - box[1]
    if width <= 0 or height <= 0:
        raise NotAShapeError("nothing of it is visible")
    if max(width, height) > LARGEST:
        raise NotAShapeError(f"it is larger than {LARGEST:.0f} px")
    density = min(DENSITY, math.sqrt(MOST_PIXELS / (width * height)))
    if any(piece.kind == "text" for piece in pieces):
        drawing.leave(node, "its text becomes part of a picture")
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
    return _as_piece(node, picture, box)


def _as_piece(node: Node, picture: Floats, box: Box) -> Piece:
    pixels = np.clip(np.rint(picture * 255), 0, 255).astype(np.uint8)
    return Piece("picture", node, png=png_bytes(pixels), box=box)


def gradient_piece(drawing: Drawing, node: Node) -> Piece:
    """A fill whose radial gradient is turned, slanted or has a focus, as a picture."""
    server = server_of(drawing, node.inherited("fill", "black"))
    if server is None or server.tag != "radialGradient":
        raise NoLayerError("its line has a gradient that no layer has")
    commands = areas.placed(areas.commands_of(node), matrix_of(node))
    cover = areas.filled(areas.courses(commands), node.inherited("fill-rule") == "evenodd")
    box = _whole(cover.bounds)
    width, height = box[2] - box[0], box[3] - box[1]
    if not 0 < max(width, height) <= LARGEST:
        raise NotAShapeError(f"it is larger than {LARGEST:.0f} px")
    density = min(DENSITY, math.sqrt(MOST_PIXELS / (width * height)))
    white = Piece("fill", node, areas.text_of_area(cover), cover=cover,
                  paint={"style": "solid", "colour": "#FFFFFF"})
    alpha = _drawn(drawing, [white], box, density)[:, :, 3:]
    rows, columns = np.mgrid[: alpha.shape[0], : alpha.shape[1]]
    places = np.stack([(columns + 0.5) / density + box[0], (rows + 0.5) / density + box[1]], axis=2)
    units = areas.bounds_of(areas.courses(areas.commands_of(node), scale_of(node)))
    colours = radial_colours(server, drawing, units, node, places)
    opacity = share(node.inherited("fill-opacity", "1"))
    return _as_piece(node, colours * alpha * opacity, box)


def _drawn(drawing: Drawing, pieces: Sequence[Piece], box: Box, density: float) -> Floats:
    """Pieces on a clear ground: premultiplied RGBA, float, shape (height, width, 4)."""
    x0, y0, x1, y1 = box
    high, wide = (max(1, round((end - start) * density)) for start, end in ((y0, y1), (x0, x1)))
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


def _whole(box: Sequence[float]) -> Box:
    """Whole px that hold a box."""
    return (math.floor(box[0] + 1e-6), math.floor(box[1] + 1e-6), math.ceil(box[2] - 1e-6),
            math.ceil(box[3] - 1e-6))
