"""Where a fit begins: the box from the strongest edges, seen from outside."""

from __future__ import annotations

from itertools import product

import numpy as np
from numpy.typing import NDArray

from mektel.core.fit.masks import Geometry, Mask

Floats = NDArray[np.float64]
# An edge is stronger than this, of 255, and than this share of the strongest of its side.
LEAST_STEP, SHARE = 5.0, 0.12
# What stands out differs by more than this share of the most; by less where a label differs far
# more than the face that it stands on.
STRONG = (0.25, 0.08)
# How many edges of a side are looked at, from outside.
MOST_EDGES = 3
# A row or column in which so large a share differs so much from the backdrop belongs to the button
# or its shadow; so many pixels more, or half of its shorter side, are backdrop to go by.
FAINT, SOME, MARGIN = 3 / 255, 0.02, 32
# The band of rows or columns in the middle that is looked at.
BAND = (0.35, 0.65)
# What is so long along a side of the face, and no thicker than this, is no label.
ALONG, ACROSS = 0.7, 0.25
# How deep the edge of a face is, in pixels.
RIM = 4


def backdrop_of(pixels: Floats) -> Floats:
    """The backdrop, as a plane through the pixels of the rim: (height, width, 3)."""
    height, width = pixels.shape[:2]
    rows, columns = np.mgrid[:height, :width]
    rim = np.zeros((height, width), dtype=bool)
    deep = max(1, min(height, width) // 20)
    rim[:deep], rim[-deep:], rim[:, :deep], rim[:, -deep:] = True, True, True, True
    basis = np.stack([np.ones_like(rows), columns / width, rows / height], axis=-1).astype(float)
    plane, *_ = np.linalg.lstsq(basis[rim], pixels[rim], rcond=None)
    return np.asarray(basis @ plane)


def around(pixels: Floats) -> tuple[slice, slice]:
    """Rows and columns of what stands out, with its shadow and some backdrop: the rest of a picture
    says nothing about a button. All of them where much of the rim differs from a plane.
    """
    differs = np.abs(pixels - backdrop_of(pixels)).max(axis=2) > FAINT
    ends = []
    for axis in (1, 0):
        used = np.flatnonzero(differs.mean(axis=axis) > SOME)
        ends.append((int(used[0]), int(used[-1]) + 1) if used.size else (0, pixels.shape[1 - axis]))
    more = max(MARGIN, min(last - first for first, last in ends) // 2)
    (top, bottom), (left, right) = ends
    return (slice(max(0, top - more), min(pixels.shape[0], bottom + more)),
            slice(max(0, left - more), min(pixels.shape[1], right + more)))


def boxes_of(pixels: Floats) -> list[tuple[float, float, float, float]]:
    """Boxes (x, y, width, height) that the edges of the picture allow; none where nothing stands
    out.
    """
    differs = np.abs(pixels - backdrop_of(pixels)).max(axis=2)
    most = float(np.quantile(differs, 0.995))
    if most < 3 / 255:
        return []
    for share in STRONG:
        strong = differs > share * most
        rows, columns = np.flatnonzero(strong.any(axis=1)), np.flatnonzero(strong.any(axis=0))
        if rows.size < 4 or columns.size < 4:
            continue
        left, right = _sides(pixels, rows, 1)
        top, bottom = _sides(pixels, columns, 0)
        boxes = [(x, y, far - x, low - y) for x, far, y, low in product(left, right, top, bottom)
                 if far - x > 4 and low - y > 4]
        if boxes:
            return boxes
    return []


def _sides(
    pixels: Floats, extent: NDArray[np.intp], axis: int
) -> tuple[list[float], list[float]]:
    """Edges along an axis, in the middle of the other one's extent: from either end inwards."""
    first, last = int(extent[0]), int(extent[-1]) + 1
    low, high = (first + round((last - first) * share) for share in BAND)
    band = pixels[low:max(high, low + 1)] if axis == 1 else pixels[:, low:max(high, low + 1)]
    step = np.abs(np.diff(band, axis=axis)).max(axis=2)
    edge = np.median(step, axis=1 - axis)
    half = edge.size // 2
    near = [at + 1.0 for at in _peaks(edge[:half])]
    far = [edge.size - at for at in _peaks(edge[half:][::-1])]
    return near, far


def _peaks(edge: NDArray[np.float64]) -> list[int]:
    """Where an edge is stronger than beside it, the outermost first."""
    if edge.size < 3:
        return []
    least = max(LEAST_STEP / 255, SHARE * float(edge.max()))
    padded = np.concatenate([[0.0], edge, [0.0]])
    peak = (edge >= least) & (edge >= padded[:-2]) & (edge >= padded[2:])
    return [int(at) for at in np.flatnonzero(peak)[:MOST_EDGES]]


def first_guess(box: tuple[float, float, float, float]) -> Geometry:
    x, y, width, height = box
    return Geometry(x, y, width, height, min(width, height) / 5)


def _without_edges(found: NDArray[np.bool_], face: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Without what runs along a side of the face, and specks at its edge: what is left of a light
    or shade there is no label.
    """
    from scipy import ndimage

    rows, columns = np.flatnonzero(face.any(axis=1)), np.flatnonzero(face.any(axis=0))
    high, wide = rows[-1] - rows[0] + 1, columns[-1] - columns[0] + 1
    labels, _ = ndimage.label(found, np.ones((3, 3), int))
    rim = face & ~ndimage.binary_erosion(face, iterations=RIM)
    made = found.copy()
    for at, (down, across) in enumerate(ndimage.find_objects(labels), 1):
        tall, broad = down.stop - down.start, across.stop - across.start
        small = tall < ACROSS * high and broad < ACROSS * high
        if small and (rim[down, across] & (labels[down, across] == at)).any():
            made[labels == at] = False
        if (broad > ALONG * wide and tall < ACROSS * high) or (
                tall > ALONG * high and broad < ACROSS * wide):
            made[labels == at] = False
    return made


def standing_out(residual: Mask, face: Mask, least: float = 10 / 255) -> NDArray[np.bool_]:
    """Pixels of the face that no face explains: those of a label or an icon."""
    from scipy import ndimage

    off = np.abs(residual).max(axis=2)
    within = face > 0.999
    if not within.any():
        return np.zeros(off.shape, dtype=bool)
    usual = float(np.median(off[within]))
    found = _without_edges(within & (off > max(least, 5 * usual)), within)
    return np.asarray(ndimage.binary_dilation(
        ndimage.binary_closing(found, iterations=2), iterations=2)) & (face > 0)
