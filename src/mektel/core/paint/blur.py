"""The Gaussian blur of a rounded box, without ever blurring a picture.

A rounded box is its rectangle less four corner bits. Blurring is linear and a Gaussian is
separable, so the rectangle's blur is an outer product of two error-function profiles, and each
corner bit, a small block, is blurred by two small matrix products. This is exact up to the
corner's own antialiasing and costs about as much as one pass over the picture.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from threadpoolctl import threadpool_limits

from mektel.core.remember import is_passing
from mektel.core.shape import AnyOutline, FreeOutline, Outline, coverage, lost_at_corner

Floats = NDArray[np.float32]
REACH = 3.0
# Cells along a radius, and pixels of the picture, up to which all corners of a box are blurred at
# once.
FEW, SMALL = 64, 40_000
# Our products are small: threads that wait for a core another program has would only hold them up.
threadpool_limits(limits=1, user_api="blas")


def erf(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """SciPy's error function, loaded when first needed: that takes a third of a second."""
    from scipy.special import erf as error_function

    return np.asarray(error_function(values))


def edge_profile(start: float, length: float, sigma: float, count: int) -> Floats:
    """Blurred box function [start, start + length] averaged over each of ``count`` pixels.

    The average of a Gaussian's integral over a pixel has a closed form; shape ``(count,)``.
    """
    ends = np.array([[start], [start + length]])
    z = (np.arange(count + 1, dtype=float) - ends) / sigma
    # Antiderivative of the normal distribution function.
    integral = sigma * (z * 0.5 * (1 + erf(z / np.sqrt(2))) + np.exp(-0.5 * z * z) / np.sqrt(
        2 * np.pi))
    profile = np.diff(integral[0] - integral[1])
    return np.maximum(profile, 0).astype(np.float32)  # rounding leaves a hair below nothing


# Kept for outlines that are moved by parts of a pixel. To be read only.
@lru_cache(maxsize=64)
def gaussian_matrix(source: int, fine: int, first: int, count: int, sigma: float) -> Floats:
    """Weights from ``source`` cells at 0… to ``count`` pixels at ``first``…; (count, source).

    ``fine`` cells make a pixel. A cell's mass sits at its middle; its Gaussian is averaged over
    the target pixel.
    """
    middles = (np.arange(source)[None, :] + 0.5) / fine
    edges = np.arange(first, first + count + 1)[:, None]
    steps = 0.5 * erf((edges - middles) / (sigma * np.sqrt(2)))
    return np.asarray((steps[1:] - steps[:-1]) / fine).astype(np.float32)


def gaussian(mask: Floats, sigma: float) -> Floats:
    """A picture blurred by a Gaussian, nothing beyond its edge; same shape.

    A large blur is done on fewer pixels: what lies below a quarter of sigma is gone anyway, and
    nobody sees what lies below a half in a frame that passes.
    """
    if sigma < 0.1:
        return mask
    step = _cell(sigma)
    if step < 2:
        from scipy.ndimage import gaussian_filter

        return np.asarray(gaussian_filter(mask, sigma, mode="constant", truncate=REACH))
    height, width = mask.shape
    return _widened(reduced(mask, step), sigma, step)[:height, :width]


def _cell(sigma: float) -> int:
    """The pixels of a side of the cells that are enough for a blur."""
    return int(sigma // (1.5 if is_passing() else 4))


def _widened(small: Floats, sigma: float, step: int) -> Floats:
    """Means of cells, blurred, as pixels again."""
    from scipy.ndimage import gaussian_filter

    soft = gaussian_filter(small, rest_of(sigma, step), mode="constant", truncate=REACH)
    return np.ascontiguousarray(enlarged(enlarged(soft, step).T, step).T, np.float32)


def rest_of(sigma: float, step: int) -> float:
    """The sigma, in cells, that is left to blur: averaging over cells of ``step`` pixels is itself
    a blur, and so is the way back.
    """
    return math.sqrt(max(sigma**2 - step**2 / 6, 0.01)) / step


def reduced(mask: Floats, step: int, beyond: Literal["constant", "edge"] = "constant") -> Floats:
    """The means of cells of ``step`` by ``step`` pixels, the last ones filled up."""
    rows, columns = (-length % step for length in mask.shape)
    padded = np.pad(mask, ((0, rows), (0, columns)), mode=beyond) if rows or columns else mask
    # The same as a mean over both axes at once, which takes three times as long.
    thin = padded.reshape(padded.shape[0] // step, step, padded.shape[1]).sum(axis=1)
    small = thin[:, ::step].copy()
    for at in range(1, step):
        small += thin[:, at::step]
    small /= mask.dtype.type(step**2)
    return small


def enlarged(small: NDArray[Any], step: int) -> NDArray[Any]:
    """``step`` rows for every one, straight from the middle of one to the next; same dtype."""
    count = len(small)
    padded = np.concatenate([small[:1], small, small[-1:]])
    made = np.empty((count, step, *small.shape[1:]), small.dtype)
    for row in range(step):
        way = (row + 0.5) / step + 0.5  # from the row before
        first = int(way)
        start, end = padded[first : first + count], padded[first + 1 : first + 1 + count]
        np.multiply(end - start, small.dtype.type(way - first), out=made[:, row])
        made[:, row] += start
    return made.reshape(count * step, *small.shape[1:])


def blurred_coverage(outline: AnyOutline, sigma: float, width: int, height: int) -> Floats:
    """Gaussian-blurred coverage of an outline in pixels, shape ``(height, width)``, 0 to 1."""
    if sigma < 0.1:
        return coverage(outline, width, height)
    if isinstance(outline, FreeOutline):
        # What lies outside the picture shines in, too. Coverage is a share of an area: that of
        # cells is as exact as the mean of that of their pixels.
        step = max(1, _cell(sigma))
        more = math.ceil(REACH * sigma / step)
        wide, high = (-(-length // step) + 2 * more for length in (width, height))
        mask = coverage(outline.moved(more * step, more * step).scaled(1 / step), wide, high)
        soft = gaussian(mask, sigma) if step < 2 else _widened(mask, sigma, step)
        return np.ascontiguousarray(soft[more * step : more * step + height,
                                         more * step : more * step + width])
    if outline.width <= 0 or outline.height <= 0:
        return np.zeros((height, width), np.float32)
    mask = np.multiply.outer(
        edge_profile(outline.y, outline.height, sigma, height),
        edge_profile(outline.x, outline.width, sigma, width),
    )
    reach = int(np.ceil(REACH * sigma))
    # The finer the blur, the more it matters where in a pixel the corner's bits lie.
    fine = 4 if sigma < 2 else 2 if sigma < 5 else 1
    radius = outline.rx[0]
    few = radius * fine <= FEW and mask.size <= SMALL
    if few and outline.rx == outline.ry == (radius,) * 4:
        if radius > 0:
            mask -= _all_corners_loss(outline, radius, sigma, fine, width, height)
            np.maximum(mask, 0, out=mask)
        return mask
    known: dict[tuple[float, ...], Floats] = {}
    for at, (rx, ry) in enumerate(zip(outline.rx, outline.ry, strict=True)):
        if rx <= 0 or ry <= 0:
            continue
        on_left, on_top = at in (0, 3), at in (0, 1)
        left = outline.x if on_left else outline.x + outline.width - rx
        top = outline.y if on_top else outline.y + outline.height - ry
        x0, y0 = math.floor(left), math.floor(top)
        x1, y1 = math.ceil(left + rx), math.ceil(top + ry)
        columns = slice(max(0, x0 - reach), min(width, x1 + reach))
        rows = slice(max(0, y0 - reach), min(height, y1 + reach))
        if columns.start >= columns.stop or rows.start >= rows.stop:
            continue
        # How far the arc's outer ends lie inside their pixels: corners alike are done once.
        inset_x = left - x0 if on_left else x1 - left - rx
        inset_y = top - y0 if on_top else y1 - top - ry
        key = (rx, ry, round(inset_x, 6), round(inset_y, 6), x1 - x0, y1 - y0)
        if key not in known:
            known[key] = _corner_loss(
                rx, ry, inset_x, inset_y, x1 - x0, y1 - y0, sigma, reach, fine
            )
        loss = known[key][:: 1 if on_top else -1, :: 1 if on_left else -1]
        mask[rows, columns] -= loss[
            rows.start - y0 + reach : rows.stop - y0 + reach,
            columns.start - x0 + reach : columns.stop - x0 + reach,
        ]
        np.maximum(mask[rows, columns], 0, out=mask[rows, columns])
    return mask


def _all_corners_loss(
    outline: Outline, radius: float, sigma: float, fine: int, width: int, height: int
) -> Floats:
    """Blur of what the arcs of all four corners cut off, where they are alike and circular, as a
    picture ``(height, width)``: with small ones it counts how often something is worked out, not
    how much.
    """
    across, covered_x, columns = _ends(outline.x, outline.width, radius, fine)
    down, covered_y, rows = _ends(outline.y, outline.height, radius, fine)
    arc = np.add.outer(np.maximum(down, 0) ** 2, np.maximum(across, 0) ** 2)
    np.subtract(radius * fine + 0.5, np.sqrt(arc, out=arc), out=arc)
    kept = np.clip(arc, 0, 1, out=arc)
    kept[down <= 0] = 1
    kept[:, across <= 0] = 1
    lost = np.maximum(np.multiply.outer(covered_y, covered_x) - kept, 0).astype(np.float32)
    weights_y = _weights_of_ends(rows, fine, height, sigma)
    return weights_y @ lost @ _weights_of_ends(columns, fine, width, sigma).T


def _ends(
    start: float, length: float, radius: float, fine: int
) -> tuple[NDArray[np.float64], NDArray[np.float64], tuple[int, int, int, int]]:
    """The cells of whole pixels in which the arcs at both ends of a side lie: how far the middle of
    each is beyond the arc's centre, how much of each lies within the side, and the first pixel and
    number of pixels of either end.
    """
    end = start + length
    first, last = math.floor(start), math.floor(end - radius)
    count, others = math.ceil(start + radius) - first, math.ceil(end) - last
    near, far = np.arange(count * fine), np.arange(others * fine)
    beyond = np.concatenate([(start + radius - first) * fine - near - 0.5,
                             far + 0.5 - (end - radius - last) * fine])
    within = np.concatenate([near + 1 - (start - first) * fine, (end - last) * fine - far])
    return beyond, np.clip(within, 0, 1), (first, count, last, others)


@lru_cache(maxsize=64)
def _weights_of_ends(
    ends: tuple[int, int, int, int], fine: int, count: int, sigma: float
) -> Floats:
    """Weights from the cells of both ends of a side to each of ``count`` pixels."""
    first, cells, last, others = ends
    return np.hstack([gaussian_matrix(cells * fine, fine, -first, count, sigma),
                      gaussian_matrix(others * fine, fine, -last, count, sigma)])


def _corner_loss(
    rx: float, ry: float, inset_x: float, inset_y: float, columns: int, rows: int,
    sigma: float, reach: int, fine: int,
) -> Floats:
    """Blur of what a top left corner's arc cuts off its box.

    The corner spans ``columns`` × ``rows`` whole pixels, the box beginning at the insets; the
    result has ``reach`` pixels more on every side.
    """
    lost = lost_at_corner(rx * fine, ry * fine, inset_x * fine, inset_y * fine,
                          columns * fine, rows * fine)
    across = gaussian_matrix(columns * fine, fine, -reach, columns + 2 * reach, sigma)
    down = across if rows == columns else gaussian_matrix(
        rows * fine, fine, -reach, rows + 2 * reach, sigma)
    return np.asarray(down @ lost @ across.T, np.float32)
