"""How far two pictures of the same size are apart."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Pixels = NDArray[np.uint8]


@dataclass(frozen=True)
class Difference:
    """Absolute difference per colour channel, in steps of 255.

    ``mean`` over all pixels and channels; ``high`` is the 99.9th percentile; ``worst`` the
    largest.
    """

    mean: float
    high: float
    worst: int


def difference(one: Pixels, two: Pixels) -> Difference:
    """Compares two pictures of shape ``(h, w, 3 or 4)``; raises ValueError if shapes differ."""
    if one.shape != two.shape:
        raise ValueError(f"pictures of different size: {one.shape[1::-1]} and {two.shape[1::-1]}")
    apart = np.abs(one.astype(np.int16) - two.astype(np.int16))
    return Difference(
        round(float(apart.mean()), 4), float(np.percentile(apart, 99.9)), int(apart.max())
    )


def difference_picture(one: Pixels, two: Pixels, gain: float = 8.0) -> Pixels:
    """The difference made visible, ``gain`` times as strong, opaque RGBA of the same size."""
    apart = np.abs(one[:, :, :3].astype(np.float32) - two[:, :, :3].astype(np.float32))
    out = np.full((*one.shape[:2], 4), 255, np.uint8)
    out[:, :, :3] = np.minimum(apart * gain, 255)
    return out
