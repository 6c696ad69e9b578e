"""Patterns of a drawing: the tile, where it lies, and the colours that it gives (SVG 2, 14.3)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from svgelements import Matrix

from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.expansion import fitted, view_box
from mektel.formats.svg.paint import CHAIN, Box
from mektel.formats.svg.sampling import PLACES, asides
from mektel.formats.svg.shapes import NotAShapeError, matrix_of, scale_of, share_or_length

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Pattern:
    """A tile and how it is laid. ``content`` is what is drawn in it, by ``matrix`` in px from the
    tile's corner; ``size`` is the tile's in px; ``laid`` goes from there to px of the drawing.
    """

    content: Node
    matrix: Matrix
    size: tuple[float, float]
    laid: Matrix


def pattern_of(drawing: Drawing, server: Node, units: Box, owner: Node) -> Pattern | None:
    """``units`` is the box of what is painted in its own units; None for a pattern that paints
    nothing. Raises :class:`NotAShapeError` for a transform that cannot be read.
    """
    attributes: dict[str, str] = {}
    content: Node | None = None
    node: Node | None = server
    for _ in range(CHAIN):
        if node is None:
            break
        attributes = {**node.attributes, **attributes}
        content = content or (node if node.children else None)
        node = drawing.referred(node.get("href")) if node.get("href") else None
    x0, y0, width, height = units[0], units[1], units[2] - units[0], units[3] - units[1]
    boxed = attributes.get("patternUnits", "objectBoundingBox") == "objectBoundingBox"
    x, y, wide, high = (share_or_length(attributes.get(name, ""), 0.0)
                        for name in ("x", "y", "width", "height"))
    if boxed:
        x, y, wide, high = x0 + x * width, y0 + y * height, wide * width, high * height
    if content is None or wide <= 0 or high <= 0:
        return None
    merged = Node("pattern", attributes, server.line)
    if view_box(merged):
        inner = fitted(merged, wide, high)
    elif attributes.get("patternContentUnits") == "objectBoundingBox":
        inner = Matrix(width, 0, 0, height, 0, 0)
    else:
        inner = Matrix()
    try:
        own = Matrix(attributes.get("patternTransform", "") or "")
    except (ValueError, TypeError, IndexError):
        raise NotAShapeError("its pattern’s transform cannot be read") from None
    scale = scale_of(owner) * (math.sqrt(abs(own.a * own.d - own.b * own.c)) or 1.0)
    laid = Matrix(1 / scale, 0, 0, 1 / scale, 0, 0) * Matrix(1, 0, 0, 1, x, y) * own * (
        matrix_of(owner))
    return Pattern(content, inner * Matrix(scale, 0, 0, scale, 0, 0), (wide * scale, high * scale),
                   laid)


def colours_of(pattern: Pattern, tile: Floats, places: Floats, density: float) -> Floats:
    """Premultiplied colours (height, width, 4) of pixels whose middles lie at ``places`` (height,
    width, 2) in px; ``tile`` is the tile's picture, premultiplied, 0 to 1.
    """
    table = np.array([[pattern.laid.a, pattern.laid.c], [pattern.laid.b, pattern.laid.d]], float)
    if abs(np.linalg.det(table)) < 1e-12:
        return np.zeros((*places.shape[:2], 4))
    inverse = np.linalg.inv(table)
    high, wide = tile.shape[:2]
    total: Any = 0.0
    for aside in asides(density):
        own = (places + aside - (float(pattern.laid.e), float(pattern.laid.f))) @ inverse.T
        column = np.floor(own[..., 0] / pattern.size[0] % 1.0 * wide).astype(int) % wide
        row = np.floor(own[..., 1] / pattern.size[1] % 1.0 * high).astype(int) % high
        total = total + tile[row, column]
    return np.asarray(total / PLACES**2)
