"""How far the edges in two pictures of the same size lie apart."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mektel.core.proof.compare import Pixels

# Pixels of the square in which a shift is looked for, and from one square's middle to the next.
SQUARE, STRIDE = 11, 3
# An edge is a step of so many of 255 across a third of the square, or more.
STEP = 40.0
SOFTENED = 1.0
# What keeps a shift along an edge, of which nothing can be seen, at none.
DAMPING = 0.05


def edge_shift(first: Pixels, second: Pixels) -> float:
    """The farthest, in pixels, that an edge of ``second`` lies from where ``first`` has it, both of
    shape ``(h, w, 3)``; 0 where there are no edges.

    In squares round every few pixels a shift, a change of tone and one of contrast are fitted
    together, by least squares of the brightness and its slope (Lucas and Kanade, An Iterative Image
    Registration Technique, 1981, with the gain and offset of Baker, Gross and Matthews, 2003); so
    what is merely lighter is not taken for moved. Beyond about a pixel it says less than it is.
    """
    from scipy.ndimage import gaussian_filter, uniform_filter

    if first.shape != second.shape:
        raise ValueError(f"pictures of different size: {first.shape[1::-1]}, {second.shape[1::-1]}")
    differing = (first != second).any(axis=2)
    rows, columns = (np.flatnonzero(differing.any(axis=axis)) for axis in (1, 0))
    if not len(rows):
        return 0.0
    area = tuple(slice(max(0, found[0] - SQUARE), found[-1] + SQUARE + 1)
                 for found in (rows, columns))
    # Softened, an edge changes evenly while it moves from one pixel to the next.
    before, after = (gaussian_filter(_brightness(picture[area]), SOFTENED)
                     for picture in (first, second))
    middle = (before + after) / 2
    slopes = np.gradient(middle)
    terms = np.stack([*slopes, np.ones_like(middle), middle / 255])
    apart = before - after

    def sums(values: NDArray[np.float32]) -> NDArray[np.float32]:
        sizes = (*(1,) * (values.ndim - 2), SQUARE, SQUARE)
        summed = uniform_filter(values, sizes, mode="constant") * SQUARE**2
        return np.asarray(summed[..., ::STRIDE, ::STRIDE])

    products = sums(terms[:, None] * terms[None, :])
    steep = products[0, 0] + products[1, 1]
    # So much of it has a straight edge of one step, softened.
    edges = steep >= SQUARE / 3 * STEP**2 / (2 * np.sqrt(np.pi) * SOFTENED)
    if not edges.any():
        return 0.0
    matrix = np.moveaxis(products[:, :, edges], 2, 0)
    level = DAMPING * steep[edges]
    matrix[:, 0, 0] += level
    matrix[:, 1, 1] += level
    matrix[:, [2, 3], [2, 3]] += 1e-3 * SQUARE**2
    wanted = np.moveaxis(sums(terms * apart)[:, edges], 1, 0)
    shift = np.linalg.solve(matrix, wanted[:, :, None])[:, :2, 0]
    return float(np.hypot(*shift.T).max() * (1 + DAMPING))


def _brightness(picture: Pixels) -> NDArray[np.float32]:
    """Rec. 709 weights of the coded values: enough to find edges by."""
    weights = np.array([0.2126, 0.7152, 0.0722], np.float32)
    return np.asarray(picture[..., :3].astype(np.float32) @ weights)
