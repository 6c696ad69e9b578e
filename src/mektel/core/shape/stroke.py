"""Coverage of lines with round ends and joins."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]


def stroke_coverage(
    lines: Sequence[Points], thick: float, width: int, height: int
) -> NDArray[np.float32]:
    """Share of each pixel within ``thick`` / 2 of any of the polylines, shape (height, width).

    A stroke with round ends and joins is all that lies so near, so that the distance to the
    nearest segment says it; near the edge each pixel is looked at in four quarters.
    """
    fine = np.full((2 * height, 2 * width), np.inf, np.float32)
    half = thick  # pixels are halved, so this is thick / 2 in half pixels
    for line in lines:
        spots = np.asarray(line) * 2
        for (x0, y0), (x1, y1) in pairwise(spots):
            left, right = min(x0, x1) - half - 2, max(x0, x1) + half + 2
            top, bottom = min(y0, y1) - half - 2, max(y0, y1) + half + 2
            columns = slice(max(0, int(left)), max(0, min(2 * width, int(right) + 1)))
            rows = slice(max(0, int(top)), max(0, min(2 * height, int(bottom) + 1)))
            if columns.start >= columns.stop or rows.start >= rows.stop:
                continue
            x = np.arange(columns.start, columns.stop)[None, :] + 0.5 - x0
            y = np.arange(rows.start, rows.stop)[:, None] + 0.5 - y0
            dx, dy = x1 - x0, y1 - y0
            share = np.clip((x * dx + y * dy) / max(dx * dx + dy * dy, 1e-12), 0, 1)
            away = (x - share * dx) ** 2 + (y - share * dy) ** 2
            block = fine[rows, columns]
            np.minimum(block, away, out=block)
    share = np.clip(half + 0.5 - np.sqrt(fine), 0, 1)
    return np.asarray(share.reshape(height, 2, width, 2).mean(axis=(1, 3)), np.float32)
