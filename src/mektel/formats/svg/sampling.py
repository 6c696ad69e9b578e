"""Several places within each pixel of a picture, whose mean it has."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

# So many places each way.
PLACES = 3


def asides(density: float) -> Iterator[NDArray[np.float64]]:
    """How far each place lies from a pixel's middle, px: shape (2,)."""
    for part in range(PLACES**2):
        yield ((np.array([part % PLACES, part // PLACES]) + 0.5) / PLACES - 0.5) / density
