"""Whether a picture's art was cut off at its edge."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mektel.core.remember import Remembered

SIDES = ("left", "top", "right", "bottom")
# A shadow or glow ends at alpha below this (of 255); more on so long a part of a side was cut.
SOFT, SOFT_SHARE = 5, 0.2
# Fainter edges than this are no outline.
FAINT = 60
# Rows of an edge that are looked at, px by which a rounded edge must widen in them to be one, and
# how little it widens in the first row where it begins in the middle of its curve.
ROWS, WIDENS, BEGINS = 12, 3.0, 1.0
_kept = Remembered(512)


def cropped_sides(straight: NDArray[np.uint8], key: str = "") -> tuple[str, ...]:
    """The sides at which art with straight alpha, (height, width, 4), seems to be cut off.

    Either a soft edge (a shadow, a glow) has not faded out there, or a round outline begins in the
    middle of its curve. A straight edge along a whole side is no sign of it.

    >>> y, x = np.mgrid[:40, :40]
    >>> disc = np.zeros((40, 40, 4), np.uint8)
    >>> disc[..., 3] = np.where(np.hypot(x - 19.5, y - 19.5) < 20, 255, 0)
    >>> cropped_sides(disc), cropped_sides(disc[6:])
    ((), ('top',))
    """
    if key:
        return _kept.get((key,), (), lambda: cropped_sides(straight))
    alpha = straight[:, :, 3].astype(int)
    views = (alpha.T, alpha, alpha[:, ::-1].T, alpha[::-1])
    return tuple(side for side, view in zip(SIDES, views, strict=True) if _is_cut(view))


def _is_cut(alpha: NDArray[np.int_]) -> bool:
    """Whether the first row of what is covered is no natural end."""
    edge = alpha[0]
    soft = (edge > SOFT) & (edge < 200)
    if soft.mean() > SOFT_SHARE and alpha[: ROWS].max() > edge.max():
        return True
    solid = alpha[:ROWS] > edge.max() / 2
    if len(solid) < 3 or edge.max() < FAINT:
        return False
    starts = np.array([row.argmax() if row.any() else len(row) for row in solid])
    ends = np.array([len(row) - row[::-1].argmax() if row.any() else 0 for row in solid])
    for inset in (starts, len(edge) - ends):
        widening = float(inset[0] - inset.min())
        if widening >= WIDENS and inset[0] - inset[1] <= BEGINS and inset[0] - inset[2] <= (
                2 * BEGINS) and inset[0] < len(edge) / 2:
            return True
    return False
