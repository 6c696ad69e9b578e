"""Where the pixels that two pictures have in common lie on each other."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from mektel.core.remember import Remembered

Floats = NDArray[np.float64]
# Values from 0 to 255 within which pixels are the same.
SAME = 10.0
PEAKS = 6
# A part of a pixel counts only where it explains this much more than whole ones.
BETTER = 0.7
# A mean difference below this, from 0 to 255, is none.
EXACT = 0.05
_kept = Remembered(64)


@dataclass(frozen=True)
class Offset:
    """Where the second picture's top left lies in the first one's pixels; ``shared`` is how much
    of what the smaller one covers is the same there, 0 to 1.
    """

    x: float
    y: float
    shared: float


def offset_between(first: NDArray[np.uint8], second: NDArray[np.uint8]) -> Offset:
    """Lays two premultiplied pictures, (height, width, 4), on each other by their common pixels.

    Candidates are the peaks of the phase correlation (Kuglin and Hines 1975) of their edges, and
    middle on middle; the one at which most pixels are the same is taken. A part of a pixel is
    looked for where whole ones leave a difference.
    """
    key = tuple(hashlib.sha256(picture.tobytes()).digest() + str(picture.shape).encode()
                for picture in (first, second))
    return _kept.get((), key, lambda: _offset(first.astype(float), second.astype(float)))


def _offset(a: Floats, b: Floats) -> Offset:
    candidates = _peaks(a, b)
    middle = (round((a.shape[1] - b.shape[1]) / 2), round((a.shape[0] - b.shape[0]) / 2))
    best = max([middle, *candidates], key=lambda spot: _shared(a, b, *spot))
    shared = _shared(a, b, *best)
    finer = _within_a_pixel(a, b, *best)
    return Offset(best[0] + finer[0], best[1] + finer[1], min(1.0, shared))


def _moved(picture: Floats, dx: float, dy: float) -> Floats:
    """A picture moved by a part of a pixel, its neighbours mixed."""
    for axis, by in ((1, dx), (0, dy)):
        if by:
            other = np.roll(picture, 1 if by > 0 else -1, axis)
            picture = picture * (1 - abs(by)) + other * abs(by)
    return picture


def _peaks(a: Floats, b: Floats) -> list[tuple[int, int]]:
    height = a.shape[0] + b.shape[0]
    width = a.shape[1] + b.shape[1]
    total = np.zeros((height, width))
    for one, two in zip(_features(a), _features(b), strict=True):
        product = np.fft.rfft2(one, (height, width)) * np.conj(np.fft.rfft2(two, (height, width)))
        total += np.fft.irfft2(product / np.maximum(np.abs(product), 1e-6), (height, width))
        total += 4 * np.fft.irfft2(product, (height, width)) / max(1e-6, float(np.abs(
            np.fft.irfft2(product, (height, width))).max()))
    spots = []
    for _ in range(PEAKS):
        y, x = (int(part) for part in np.unravel_index(total.argmax(), total.shape))
        total[max(0, y - 1) : y + 2, max(0, x - 1) : x + 2] = -np.inf
        spots.append((x - width if x >= a.shape[1] else x, y - height if y >= a.shape[0] else y))
    return spots


def _features(picture: Floats) -> list[Floats]:
    """Edges of the colours and of what is covered."""
    grey = picture[:, :, :3].mean(axis=2)
    return [np.hypot(ndimage.sobel(plane, 0), ndimage.sobel(plane, 1))
            for plane in (grey, picture[:, :, 3])]


def _overlap(a: Floats, b: Floats, x: int, y: int) -> tuple[Floats, Floats]:
    rows = slice(max(0, y), min(a.shape[0], y + b.shape[0]))
    columns = slice(max(0, x), min(a.shape[1], x + b.shape[1]))
    return (a[rows, columns],
            b[rows.start - y : max(rows.start, rows.stop) - y,
              columns.start - x : max(columns.start, columns.stop) - x])


def _shared(a: Floats, b: Floats, x: int, y: int) -> float:
    one, two = _overlap(a, b, x, y)
    if not one.size:
        return 0.0
    covered = (one[:, :, 3] > 128) & (two[:, :, 3] > 128)
    same = covered & (np.abs(one - two).max(axis=2) <= SAME)
    # Flat faces are the same at many places; edges are not.
    detail = np.hypot(*np.gradient(one[:, :, :3].mean(axis=2))) if min(one.shape[:2]) > 1 else 0.0
    edges = same & (detail > 2 * SAME)
    inked = np.abs(one[:, :, 3] - two[:, :, 3]) <= 2 * SAME
    smaller = max(1.0, min((a[:, :, 3] > 128).sum(), (b[:, :, 3] > 128).sum()))
    score = same.sum() + 4 * edges.sum() + 0.5 * (inked & covered).sum()
    return float(score / smaller / 2)


def _within_a_pixel(a: Floats, b: Floats, x: int, y: int) -> tuple[float, float]:
    """How much further the second lies, from -0.5 to 0.5 each way."""
    # Blurred alike, so that it is the place that counts and not how sharp they are.
    a, b = (ndimage.gaussian_filter(picture, (1.0, 1.0, 0)) for picture in (a, b))

    def off(dx: float, dy: float) -> float:
        one, two = _overlap(a, _moved(b, dx, dy), x, y)
        return float(np.minimum(np.abs(one - two), 60.0).mean()) if one.size else 0.0

    whole = off(0.0, 0.0)
    best, least = (0.0, 0.0), whole
    step = 0.25
    while step >= 0.06 and whole > EXACT:
        for dx in (-step, 0.0, step):
            for dy in (-step, 0.0, step):
                spot = (best[0] + dx, best[1] + dy)
                value = off(*spot)
                if value < least - 1e-9:
                    best, least = spot, value
        step /= 2
    return best if least < BETTER * whole else (0.0, 0.0)
