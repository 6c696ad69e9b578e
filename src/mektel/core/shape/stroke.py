"""Coverage of lines with round ends and joins."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]
# Segments up to this long (half pixels) are measured many at once: curves are made of them.
SHORT = 16.0
# Beyond this thickness (px) one at a time is quicker.
THIN = 24.0
# Distances that are worked out at once.
AT_ONCE = 1 << 20


def stroke_coverage(
    lines: Sequence[Points], thick: float, width: int, height: int
) -> NDArray[np.float32]:
    """Share of each pixel within ``thick`` / 2 of any of the polylines, shape (height, width).

    A stroke with round ends and joins is all that lies so near, so that the distance to the
    nearest segment says it; near the edge each pixel is looked at in four quarters.
    """
    half = thick  # pixels are halved, so this is thick / 2 in half pixels
    spots = [np.asarray(line, np.float64) * 2 for line in lines]
    joined = [np.hstack([line[:-1], line[1:]]) for line in spots if len(line) > 1]
    ends = np.concatenate(joined) if joined else np.empty((0, 4))
    reach = np.abs(ends[:, 2:] - ends[:, :2]).max(axis=1, initial=0.0)
    short = reach <= (SHORT if half < THIN else -1)
    # Room on all sides, so that what lies across the edge needs no cutting.
    size = int(np.ceil(reach[short].max(initial=0.0) + 2 * half)) + 3
    padded = np.full((2 * height + 2 * size, 2 * width + 2 * size), np.inf, np.float32)
    _near_short(ends[short], half, size, padded)
    fine = padded[size : size + 2 * height, size : size + 2 * width]
    for segment in ends[~short]:
        _near_long(segment, half, fine)
    share = np.clip(half + 0.5 - np.sqrt(fine), 0, 1)
    return np.asarray(share.reshape(height, 2, width, 2).mean(axis=(1, 3)), np.float32)


def _near_short(ends: Points, half: float, size: int, padded: NDArray[np.float32]) -> None:
    """Puts the squared distances to many short segments, each within a square of ``size`` about
    it, where they are less than what is there.
    """
    high, wide = (side - size for side in padded.shape)
    steps = np.arange(size)
    for part in np.array_split(ends, max(1, len(ends) * size * size // AT_ONCE)):
        corner = np.floor(np.minimum(part[:, :2], part[:, 2:]) - half - 1).astype(int)
        # Seen from where each begins, places are small numbers.
        x, y = ((corner + 0.5 - part[:, :2]).T[..., None] + steps).astype(np.float32)
        dx, dy = (part[:, 2:] - part[:, :2]).T.astype(np.float32)[..., None, None]
        away = _squared(x[:, None, :], y[:, :, None], dx, dy)
        left, top = np.clip(corner + size, 0, (wide, high)).T
        spots = (top[:, None, None] + steps[:, None]) * padded.shape[1] + (
            left[:, None, None] + steps)
        np.minimum.at(padded.reshape(-1), spots.ravel(), away.ravel())


def _near_long(segment: Points, half: float, fine: NDArray[np.float32]) -> None:
    height, width = fine.shape
    x0, y0, x1, y1 = segment
    left, right = min(x0, x1) - half - 2, max(x0, x1) + half + 2
    top, bottom = min(y0, y1) - half - 2, max(y0, y1) + half + 2
    columns = slice(max(0, int(left)), max(0, min(width, int(right) + 1)))
    rows = slice(max(0, int(top)), max(0, min(height, int(bottom) + 1)))
    if columns.start >= columns.stop or rows.start >= rows.stop:
        return
    x = np.arange(columns.start, columns.stop)[None, :] + 0.5 - x0
    y = np.arange(rows.start, rows.stop)[:, None] + 0.5 - y0
    block = fine[rows, columns]
    np.minimum(block, _squared(x, y, x1 - x0, y1 - y0), out=block, casting="same_kind")


def _squared(x: Any, y: Any, dx: Any, dy: Any) -> Any:
    """The squared distances from places, seen from where a segment begins, to the segment."""
    share = np.clip((x * dx + y * dy) / np.maximum(dx * dx + dy * dy, 1e-12), 0, 1)
    return (x - share * dx) ** 2 + (y - share * dy) ** 2
