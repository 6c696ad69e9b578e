"""Exact area coverage of filled polygons (glyphs) on the pixel grid."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray


def polygon_coverage(
    contours: Sequence[NDArray[np.float64]], width: int, height: int
) -> NDArray[np.float32]:
    """Share of each pixel covered by closed polygons, shape ``(height, width)``, 0 to 1.

    Contours are ``(n, 2)`` arrays in pixels, y downward; the filling rule is non-zero for
    outlines that do not overlap themselves, as in fonts. Each edge, cut at pixel borders, adds
    its signed area to its own pixel and its full height to all pixels to the right; a running
    sum along rows then gives exact areas (the accumulation-buffer method of FreeType's and
    font-rs's smooth rasterisers).
    """
    buffer = np.zeros(height * (width + 2) + 2)
    if not contours:
        return np.zeros((height, width), np.float32)
    starts = np.concatenate(contours)
    ends = np.concatenate([np.roll(contour, -1, axis=0) for contour in contours])
    keep = starts[:, 1] != ends[:, 1]
    pieces = _cut(starts[keep], ends[keep], axis=1)
    pieces = _cut(*pieces, axis=0)
    (x0, y0), (x1, y1) = pieces[0].T, pieces[1].T
    rows = np.floor((y0 + y1) / 2).astype(int)
    middle = (x0 + x1) / 2
    columns = np.floor(middle).astype(int)
    rise = y1 - y0
    # Left of the picture an edge still fills everything to its right.
    share = np.where(columns < 0, 1.0, 1 - (middle - columns))
    columns = np.clip(columns, 0, width)
    inside = (rows >= 0) & (rows < height)
    at = (rows * (width + 2) + columns)[inside]
    np.add.at(buffer, at, (rise * share)[inside])
    np.add.at(buffer, at + 1, (rise * (1 - share))[inside])
    grid = buffer[: height * (width + 2)].reshape(height, width + 2)
    return np.minimum(np.abs(np.cumsum(grid, axis=1)[:, :width]), 1).astype(np.float32)


def _cut(
    starts: NDArray[np.float64], ends: NDArray[np.float64], axis: int
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Cuts segments where they cross whole numbers on one axis."""
    a, b = starts[:, axis], ends[:, axis]
    low, high = np.minimum(a, b), np.maximum(a, b)
    first = np.floor(low) + 1
    crossings = np.maximum(0, np.ceil(high) - first).astype(int)
    # Where each one's pieces stand among all.
    lasts = np.cumsum(crossings + 1) - 1
    firsts = lasts - crossings
    owner = np.repeat(np.arange(len(a)), crossings + 1)
    falling = a > b
    nearest, way = np.where(falling, first + crossings - 1, first), np.where(falling, -1.0, 1.0)
    nearest, slope = nearest - a, 1 / np.where(b == a, 1.0, b - a)
    order = np.arange(len(owner)) - firsts[owner]
    share = (nearest[owner] + way[owner] * order) * slope[owner]
    share[lasts] = 1.0
    # Each piece ends at a crossing, and the next begins there.
    to = starts[owner] + (ends - starts)[owner] * np.clip(share, 0.0, 1.0)[:, None]
    since = np.empty_like(to)
    since[1:] = to[:-1]
    since[firsts] = starts
    return since, to
