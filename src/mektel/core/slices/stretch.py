"""Which columns and rows of a picture can be stretched without its looking different."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Signed = NDArray[np.int16]


@dataclass(frozen=True)
class StretchZones:
    """(start, length) in pixels of the largest run of columns and of rows that can stretch.

    None where fewer than two in a row can: that axis keeps its size.
    """

    columns: tuple[int, int] | None
    rows: tuple[int, int] | None

    def insets(self, width: int, height: int) -> tuple[int, int, int, int]:
        """Pixels at left, top, right and bottom that keep their form."""
        left, across = self.columns or (width, 0)
        top, down = self.rows or (height, 0)
        return left, top, width - left - across, height - top - down

    def smallest(self, width: int, height: int) -> tuple[int, int]:
        """The smallest size at which the corners keep their form: one pixel of each zone left."""
        left, top, right, bottom = self.insets(width, height)
        return left + right + (1 if self.columns else 0), top + bottom + (1 if self.rows else 0)


def stretch_zones(
    pictures: list[NDArray[np.uint8]], tolerance: int = 0,
    box: tuple[int, int, int, int] | None = None,
) -> StretchZones:
    """Zones shared by all pictures, which must have one shape ``(h, w, 4)``.

    They lie within ``box`` (left, top, right, bottom, in pixels) and are counted from its top left;
    what lies round it has to stretch with them. With ``tolerance`` 0 neighbouring columns must be
    equal: then a stretched picture is exact. Otherwise a run may also follow a gradient along the
    axis, as long as each value stays within ``tolerance`` of the straight line between the run's
    ends: stretching keeps that line.

    >>> import numpy as np
    >>> flat = np.zeros((3, 9, 4), np.uint8); flat[:, 0] = flat[:, 8] = 255
    >>> stretch_zones([flat])
    StretchZones(columns=(1, 7), rows=(0, 3))
    """
    whole = np.concatenate(pictures, axis=2)
    left, top, right, bottom = box or (0, 0, whole.shape[1], whole.shape[0])
    right, bottom = max(left, right), max(top, bottom)
    if tolerance:
        signed = whole.astype(np.int16)
        return StretchZones(_straight(np.moveaxis(signed[:, left:right], 1, 0), tolerance),
                            _straight(signed[top:bottom], tolerance))
    columns, rows = whole[:, left:right], whole[top:bottom]
    same_columns = (columns[:, 1:] == columns[:, :-1]).all(axis=(0, 2))
    same_rows = (rows[1:] == rows[:-1]).all(axis=(1, 2))
    return StretchZones(_longest(same_columns), _longest(same_rows))


def _straight(lines: Signed, tolerance: int) -> tuple[int, int] | None:
    """The longest run of lines along which every value runs straight; lines on axis 0.

    A run is grown from its start as long as it fits, then begun again a little further on; the
    ends are found by halving, so that the cost stays with the number of lines.
    """
    count = len(lines)
    if count < 2:
        return None
    # What is as its neighbour along the line says nothing new.
    fresh = np.append(True, (lines[:, 1:] != lines[:, :-1]).any(axis=(0, 2)))
    flat = lines[:, fresh].reshape(count, -1).astype(np.float32)
    # What is the same on every line says nothing about where it changes.
    flat = np.ascontiguousarray(flat[:, (flat != flat[0]).any(axis=0)])
    if not flat.shape[1]:
        return (0, count) if count > 1 else None
    best: tuple[int, int] | None = None
    start = 0
    while start < count - 1 and (best is None or count - start > best[1]):
        low, high = start + 1, count - 1
        if best is not None:
            # Only a longer run than the best is of interest.
            low = start + best[1]
            if not _fits(flat, start, low, tolerance):
                start += 1
                continue
        if not _fits(flat, start, start + 1, tolerance):
            start += 1
            continue
        while low < high:
            middle = (low + high + 1) // 2
            if _fits(flat, start, middle, tolerance):
                low = middle
            else:
                high = middle - 1
        length = low - start + 1
        if best is None or length > best[1]:
            best = (start, length)
        start += 1
    return best


def _fits(flat: NDArray[np.float32], first: int, last: int, tolerance: int) -> bool:
    run = flat[first : last + 1]
    # The middle tells most misfits at once.
    middle = (last - first) // 2
    guess = run[0] + (run[-1] - run[0]) * np.float32(middle / (last - first))
    if np.abs(run[middle] - guess).max() > tolerance:
        return False
    share = (np.arange(last - first + 1, dtype=np.float32) / (last - first))[:, None]
    straight = run[0] + (run[-1] - run[0]) * share
    # A step between neighbours that is not a gradient must not hide in a short run.
    if last == first + 1 and np.abs(run[1] - run[0]).max() > 2 * tolerance:
        return False
    return bool(np.abs(run - straight).max() <= tolerance)


def _longest(same: NDArray[np.bool_]) -> tuple[int, int] | None:
    best: tuple[int, int] | None = None
    start: int | None = None
    for at, equal in enumerate([*same.tolist(), False]):
        if equal and start is None:
            start = at
        elif not equal and start is not None:
            length = at - start + 1
            if best is None or length > best[1]:
                best = (start, length)
            start = None
    return best
