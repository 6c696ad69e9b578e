"""The Gaussian blur of a rounded box, without ever blurring a picture.

A rounded box is its rectangle less four corner bits. Blurring is linear and a Gaussian is
separable, so the rectangle's blur is an outer product of two error-function profiles, and each
corner bit, a small block, is blurred by two small matrix products. This is exact up to the
corner's own antialiasing and costs about as much as one pass over the picture.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from scipy.special import erf

from mektel.core.shape import Outline, coverage

Floats = NDArray[np.float32]
REACH = 3.0


def edge_profile(start: float, length: float, sigma: float, count: int) -> Floats:
    """Blurred box function [start, start + length] averaged over each of ``count`` pixels.

    The average of a Gaussian's integral over a pixel has a closed form; shape ``(count,)``.
    """
    edges = np.arange(count + 1, dtype=float)

    def integral(offset: float) -> NDArray[np.float64]:
        # Antiderivative of the normal distribution function.
        z = (edges - offset) / sigma
        phi = np.exp(-0.5 * z * z) / np.sqrt(2 * np.pi)
        return np.asarray(sigma * (z * 0.5 * (1 + erf(z / np.sqrt(2))) + phi))

    return np.diff(integral(start) - integral(start + length)).astype(np.float32)


def gaussian_matrix(source: int, fine: int, first: int, count: int, sigma: float) -> Floats:
    """Weights from ``source`` cells at 0… to ``count`` pixels at ``first``…; (count, source).

    ``fine`` cells make a pixel. A cell's mass sits at its middle; its Gaussian is averaged over
    the target pixel.
    """
    middles = (np.arange(source)[None, :] + 0.5) / fine
    edges = np.arange(first, first + count + 1)[:, None]
    steps = 0.5 * erf((edges - middles) / (sigma * np.sqrt(2)))
    return np.asarray((steps[1:] - steps[:-1]) / fine).astype(np.float32)


def blurred_coverage(outline: Outline, sigma: float, width: int, height: int) -> Floats:
    """Gaussian-blurred coverage of an outline in pixels, shape ``(height, width)``, 0 to 1."""
    if sigma < 0.1:
        return coverage(outline, width, height)
    if outline.width <= 0 or outline.height <= 0:
        return np.zeros((height, width), np.float32)
    mask = np.multiply.outer(
        edge_profile(outline.y, outline.height, sigma, height),
        edge_profile(outline.x, outline.width, sigma, width),
    )
    reach = int(np.ceil(REACH * sigma))
    # The finer the blur, the more it matters where in a pixel the corner's bits lie.
    fine = 4 if sigma < 2 else 2 if sigma < 5 else 1
    known: dict[tuple[float, ...], Floats] = {}
    for at, (rx, ry) in enumerate(zip(outline.rx, outline.ry, strict=True)):
        if rx <= 0 or ry <= 0:
            continue
        left = outline.x if at in (0, 3) else outline.x + outline.width - rx
        top = outline.y if at in (0, 1) else outline.y + outline.height - ry
        x0, y0 = int(np.floor(left)), int(np.floor(top))
        nx, ny = int(np.ceil(left + rx)) - x0, int(np.ceil(top + ry)) - y0
        columns = slice(max(0, x0 - reach), min(width, x0 + nx + reach))
        rows = slice(max(0, y0 - reach), min(height, y0 + ny + reach))
        if columns.start >= columns.stop or rows.start >= rows.stop:
            continue
        # A whole-pixel block of the corner, with what the arc leaves out of the box.
        local = outline.moved(-x0, -y0).scaled(fine)
        square = replace(local, rx=(0.0,) * 4, ry=(0.0,) * 4)
        nx, ny = nx * fine, ny * fine
        lost = _only(coverage(square, nx, ny) - coverage(local, nx, ny), local, at)
        across = _matrix(known, nx, fine, columns.start - x0, columns.stop - columns.start, sigma)
        down = _matrix(known, ny, fine, rows.start - y0, rows.stop - rows.start, sigma)
        mask[rows, columns] -= down @ lost @ across.T
    return np.maximum(mask, 0)


def _matrix(
    known: dict[tuple[float, ...], Floats], source: int, fine: int, first: int, count: int,
    sigma: float,
) -> Floats:
    key = (source, fine, first, count, sigma)
    if key not in known:
        known[key] = gaussian_matrix(source, fine, first, count, sigma)
    return known[key]


def _only(lost: Floats, local: Outline, at: int) -> Floats:
    """Blanks what belongs to a neighbouring corner where blocks share a pixel column or row."""
    height, width = lost.shape
    rx, ry = local.rx[at], local.ry[at]
    x = np.arange(width) + 0.5
    y = np.arange(height) + 0.5
    middle_x = local.x + rx if at in (0, 3) else local.x + local.width - rx
    middle_y = local.y + ry if at in (0, 1) else local.y + local.height - ry
    in_x = x <= middle_x if at in (0, 3) else x >= middle_x
    in_y = y <= middle_y if at in (0, 1) else y >= middle_y
    return np.where(in_y[:, None] & in_x[None, :], lost, np.float32(0))
