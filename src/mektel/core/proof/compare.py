"""How far two pictures of the same size are apart."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image

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


def difference(first: Pixels, second: Pixels) -> Difference:
    """Compares two pictures of shape ``(h, w, 3 or 4)``; raises ValueError if shapes differ."""
    if first.shape != second.shape:
        raise ValueError(
            f"pictures of different size: {first.shape[1::-1]} and {second.shape[1::-1]}")
    apart = _steps(first, second)
    return Difference(
        round(float(apart.mean()), 4), float(np.percentile(apart, 99.9)), int(apart.max())
    )


@dataclass(frozen=True)
class LocalDifference:
    """Where two pictures differ most, whatever they have in common elsewhere.

    ``block`` is the largest mean absolute difference of a block of ``BLOCK`` × ``BLOCK`` pixels,
    ``tone`` the largest by which a block is lighter or darker in a channel; both beyond what edges
    make of it that lie up to ``EDGE`` px elsewhere, as browsers round them;
    ``stray`` counts pixels unlike any within ``REACH`` px in the other picture (and at least a
    pixel), by more than ``STRAY_STEP``: lines and letters that are missing, moved or too many.
    ``at`` is the pixel (x, y) of the worst block's middle. In steps of 255.
    """

    block: float
    tone: float
    stray: int
    at: tuple[int, int]


BLOCK, REACH, STRAY_STEP = 8, 0.5, 24
EDGE = 0.6
# Up to so many steps a pixel is the same; where all are, there is nothing to look at.
SMALLEST = 2


def local_difference(first: Pixels, second: Pixels, scale: float = 1.0) -> LocalDifference:
    """Compares two pictures of shape ``(h, w, 3)``, with ``scale`` pixels per px, round every
    pixel.
    """
    from scipy.ndimage import maximum_filter, minimum_filter, uniform_filter

    steps = _steps(first, second)
    rows, columns = (np.flatnonzero((steps > SMALLEST).any(axis=(axis, 2))) for axis in (1, 0))
    if not len(rows):
        return LocalDifference(0.0, 0.0, 0, (0, 0))
    # Only what differs is looked at, with as much round it as a block reaches.
    top, left = max(0, rows[0] - BLOCK), max(0, columns[0] - BLOCK)
    area = (slice(top, rows[-1] + BLOCK + 1), slice(left, columns[-1] + BLOCK + 1))
    before, after = (picture[area].astype(np.float32) for picture in (first, second))
    apart = after - before
    # Each block by its middle; beyond the edge the pictures go on as they end.
    means = uniform_filter(apart, (BLOCK, BLOCK, 0), mode="nearest")
    slope = sum(np.abs(np.gradient(before, axis=axis)) for axis in (0, 1))
    # An edge beside the block may lie within it in the other picture.
    wider = BLOCK + 2 * int(EDGE * scale)
    allowed = EDGE * scale * (wider / BLOCK) ** 2 * uniform_filter(
        slope, (wider, wider, 0), mode="nearest")
    tones = np.maximum(0, np.abs(means) - allowed).max(axis=2)
    differing = uniform_filter(np.abs(apart), (BLOCK, BLOCK, 0), mode="nearest")
    blocks = np.maximum(0, differing - allowed).mean(axis=2)
    stray = 0
    if steps.max() > STRAY_STEP:
        reach = max(1, math.ceil(REACH * scale))
        size = (2 * reach + 1, 2 * reach + 1, 1)
        strays = np.zeros(apart.shape[:2], bool)
        for here, there in ((before, after), (after, before)):
            low, high = minimum_filter(there, size), maximum_filter(there, size)
            strays |= (np.maximum(low - here, here - high) > STRAY_STEP).any(axis=2)
        stray = int(strays.sum())
    y, x = np.unravel_index(int(np.argmax(blocks + tones)), blocks.shape)
    return LocalDifference(round(float(blocks.max()), 3), round(float(tones.max()), 3), stray,
                           (int(x) + int(left), int(y) + int(top)))


def _steps(first: Pixels, second: Pixels) -> Pixels:
    """Absolute difference of each channel, uint8."""
    return np.subtract(np.maximum(first, second), np.minimum(first, second))


def opaque_part(picture: Pixels) -> Pixels:
    """The colours of an opaque picture (h, w, 3 or 4) alone, side by side in memory: comparing is
    many times as fast so.
    """
    if picture.shape[2] == 3:
        return np.ascontiguousarray(picture)
    return np.array(Image.fromarray(picture).convert("RGB"))


def largest_difference(first: Pixels, second: Pixels) -> int:
    """The largest of :func:`difference` alone."""
    return int(_steps(first, second).max(initial=0))


def mean_difference(first: Pixels, second: Pixels) -> float:
    """The mean of :func:`difference` alone."""
    return float(_steps(first, second).mean())


def difference_picture(first: Pixels, second: Pixels, gain: float = 8.0) -> Pixels:
    """The difference of the colours made visible, ``gain`` times as strong: (h, w, 3)."""
    stronger = np.minimum(np.arange(256) * gain, 255).astype(np.uint8)
    return stronger[_steps(opaque_part(first), opaque_part(second))]
