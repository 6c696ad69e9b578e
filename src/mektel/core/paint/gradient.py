"""Gradients as premultiplied planes."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from mektel.core.look.paints import Gradient

Floats = NDArray[np.float32]


def planes_of(paint: Gradient, width: int, height: int) -> list[Floats]:
    """Four premultiplied planes from 0 to 1, broadcastable to (height, width).

    As in CSS Images 4: colours are interpolated premultiplied; a conic gradient starts at the top
    and runs clockwise. A gradient along an axis stays one row or column.
    """
    x = np.arange(width, dtype=np.float64)[None, :] + 0.5
    y = np.arange(height, dtype=np.float64)[:, None] + 0.5
    return planes_at(paint, x, y)


def planes_at(
    paint: Gradient, x: NDArray[np.float64], y: NDArray[np.float64]
) -> list[Floats]:
    """The same at points in the gradient's own coordinates, which broadcast together."""
    if paint.tile is not None:
        left, top, width, height = paint.tile
        x = left + np.mod(x - left, max(width, 1e-6))
        y = top + np.mod(y - top, max(height, 1e-6))
    share = _shares(paint, x, y)
    if paint.spread == "repeat":
        # What repeats is the stretch from the first stop to the last.
        first, last = paint.stops[0][0], paint.stops[-1][0]
        share = first + np.mod(share - first, max(last - first, 1e-6))
    elif paint.spread == "mirror":
        first, last = paint.stops[0][0], paint.stops[-1][0]
        length = max(last - first, 1e-6)
        share = first + length - np.abs(np.mod(share - first, 2 * length) - length)
    positions = [position for position, _ in paint.stops]
    planes = []
    for channel in range(4):
        values = [c[channel] * c[3] if channel < 3 else c[3] for _, c in paint.stops]
        planes.append(np.interp(share, positions, values).astype(np.float32))
    return planes


def _shares(
    paint: Gradient, x: NDArray[np.float64], y: NDArray[np.float64]
) -> NDArray[np.float64]:
    if paint.kind == "radial":
        cx, cy, rx, ry = paint.geometry
        return np.asarray(np.hypot((x - cx) / rx, (y - cy) / ry))
    if paint.kind == "conic":
        cx, cy, start = paint.geometry
        turn = np.arctan2(x - cx, cy - y) - math.radians(start)
        return np.asarray(np.mod(turn / (2 * np.pi), 1))
    x0, y0, x1, y1 = paint.geometry
    dx, dy = x1 - x0, y1 - y0
    length = max(dx * dx + dy * dy, 1e-12)
    if abs(dx) < 1e-9 * abs(dy):
        return np.asarray((y - y0) / dy)
    if abs(dy) < 1e-9 * abs(dx):
        return np.asarray((x - x0) / dx)
    return np.asarray(((x - x0) * dx + (y - y0) * dy) / length)
