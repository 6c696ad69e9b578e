"""How far one part of a picture is from its design: a layer, told apart by what it adds.

A part that is fainter, moved, blurred or grown a little differs from its design in a pattern known
beforehand. Measured along that pattern, a difference too small for any block to show stands out,
and rounding at its edges cancels.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass, fields

import numpy as np
from numpy.typing import NDArray

from mektel.core.proof.compare import Pixels

Values = NDArray[np.float32]

# A part that adds less than so many steps of 255 anywhere cannot be told from what lies behind it.
FAINT = 6.0
# Its colour is measured where it adds at least this share of the most that it adds.
SOLID = 0.5
# A part that covers fewer px² with all of a px is what edges leave of one that is covered; a field
# of it has no tone of its own.
SMALL, SMALL_FIELD = 4.0, 24.0
# A corner has an edge if that is so many px long.
EDGE_LENGTH = 4.0
# Blur is looked for in what remains of a part once it is smoothed by so many px.
SMOOTH = 1.5


@dataclass(frozen=True)
class PartDifference:
    """How far a part is off in each of its own directions: the mean difference, in steps of 255,
    where such a fault would show, weighted by how much it would.

    ``tone`` is by how much it is lighter or darker as a whole, ``field`` in a third of its width or
    height. ``strength`` is how much more of it there is; ``right`` and ``down`` how far it has
    moved, ``softness`` how much it is blurred, ``growth`` how much its edges lie farther out, and
    ``corner`` that in the corner of its box where it is most. Each may be negative.
    """

    tone: float = 0.0
    field: float = 0.0
    strength: float = 0.0
    right: float = 0.0
    down: float = 0.0
    softness: float = 0.0
    growth: float = 0.0
    corner: float = 0.0

    def by_direction(self) -> dict[str, float]:
        return asdict(self)


DIRECTIONS = tuple(field.name for field in fields(PartDifference))


def part_difference(
    designed: Pixels, without: Pixels, taken: Pixels, scale: float = 1.0
) -> PartDifference | None:
    """Measures in ``taken`` the part that ``designed`` has and ``without`` has not; each of shape
    (h, w, 3), uint8, with ``scale`` pixels per px. None where the part is too faint or too thin to
    be seen.
    """
    from scipy.ndimage import gaussian_filter, laplace, minimum_filter

    added = designed.astype(np.float32) - without
    strength = np.abs(added).max(axis=2)
    peak = float(strength.max(initial=0.0))
    if peak < FAINT:
        return None
    across = max(1, round(scale))
    if (minimum_filter(strength, across) > peak / 4).sum() < SMALL * scale**2:
        return None
    rows, columns = (np.flatnonzero((strength > 1).any(axis=axis)) for axis in (1, 0))
    pad = round(4 * scale)
    area = (slice(max(0, rows[0] - pad), rows[-1] + pad + 1),
            slice(max(0, columns[0] - pad), columns[-1] + pad + 1))
    added, strength = added[area], strength[area] / peak
    apart = taken[area].astype(np.float32) - designed[area]
    solid = np.where(strength > SOLID, strength, 0)
    tones = [_tone(apart[field], solid[field], SMALL_FIELD * scale**2)
             for field in _thirds(solid.shape)]
    down, right = np.gradient(added, axis=0), np.gradient(added, axis=1)
    grown = np.sign(added) * np.hypot(down, right)
    smooth = laplace(gaussian_filter(added, (SMOOTH * scale, SMOOTH * scale, 0)), axes=(0, 1))
    corners = [_along(apart[corner], grown[corner], EDGE_LENGTH * scale * peak)
               for corner in _corners(solid.shape)]
    measured = (
        _tone(apart, solid, SMALL), max(tones, key=abs), _along(apart, added),
        -_along(apart, right), -_along(apart, down), _along(apart, smooth),
        _along(apart, grown), max(corners, key=abs))
    return PartDifference(*(round(value, 3) for value in measured))


def _tone(apart: Values, weight: Values, least: float) -> float:
    """The mean of the channel that is most off; 0 for too small an area."""
    total = float(weight.sum())
    if total < least:
        return 0.0
    channels = np.einsum("yxc,yx->c", apart, weight) / total
    return float(max(channels, key=abs))


def _along(apart: Values, pattern: Values, least: float = 0.0) -> float:
    """The mean of a difference in the direction of a pattern."""
    total = float(np.abs(pattern).sum())
    return float(np.vdot(apart, pattern)) / total if total > max(least, 1e-6) else 0.0


def _thirds(shape: tuple[int, ...]) -> list[tuple[slice, slice]]:
    """The three bands of the height, and of the width."""
    every = slice(None)
    bands = [[slice(0, side // 3), slice(side // 3, side - side // 3),
              slice(side - side // 3, side)] for side in shape[:2]]
    return [(band, every) for band in bands[0]] + [(every, band) for band in bands[1]]


def _corners(shape: tuple[int, ...]) -> list[tuple[slice, slice]]:
    side = max(1, min(shape[:2]) // 2)
    ends = (slice(0, side), slice(-side, None))
    return [(row, column) for row in ends for column in ends]
