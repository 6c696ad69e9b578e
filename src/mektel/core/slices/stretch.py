"""Which columns and rows of a picture can be repeated without its looking different."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class StretchZones:
    """(start, length) in pixels of the largest run of equal columns and of equal rows.

    None where fewer than two in a row are equal: that axis cannot stretch.
    """

    columns: tuple[int, int] | None
    rows: tuple[int, int] | None


def stretch_zones(pictures: list[NDArray[np.uint8]]) -> StretchZones:
    """Zones shared by all pictures, which must have one shape ``(h, w, 4)``; exact equality.

    >>> import numpy as np
    >>> flat = np.zeros((3, 9, 4), np.uint8); flat[:, 0] = flat[:, 8] = 255
    >>> stretch_zones([flat])
    StretchZones(columns=(1, 7), rows=(0, 3))
    """
    whole = np.concatenate(pictures, axis=2)
    same_columns = (whole[:, 1:] == whole[:, :-1]).all(axis=(0, 2))
    same_rows = (whole[1:] == whole[:-1]).all(axis=(1, 2))
    return StretchZones(_longest(same_columns), _longest(same_rows))


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
