"""Signed distance to an outline, and the share of each pixel that it covers."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mektel.core.shape.distance import ellipse_distance
from mektel.core.shape.free import AnyOutline, FreeOutline, free_coverage
from mektel.core.shape.outline import Outline

Floats = NDArray[np.float32]
# The radius in pixels up to which all corners of a box are drawn at once.
SMALL = 40.0


def span_coverage(start: float, length: float, count: int) -> Floats:
    """Share of each of ``count`` unit pixels covered by [start, start + length]; exact."""
    edges = np.arange(count, dtype=np.float32)
    right = np.minimum(edges + 1, start + length)
    return np.maximum(right - np.maximum(edges, start), 0).astype(np.float32, copy=False)


def coverage(outline: AnyOutline, width: int, height: int) -> Floats:
    """Share of each pixel covered by the outline, shape ``(height, width)``, 0 to 1.

    The outline is in pixels. Straight edges are exact areas. Along a circular arc the distance at
    a pixel's middle says how much of it is covered; along an elliptical one each pixel that the
    edge may cross is looked at in four quarters. Only the corner blocks pay for the distance.
    """
    if isinstance(outline, FreeOutline):
        return free_coverage(outline, width, height)
    mask = np.multiply.outer(
        span_coverage(outline.y, outline.height, height),
        span_coverage(outline.x, outline.width, width),
    )
    if outline.width <= 0 or outline.height <= 0:
        return mask
    radius = outline.rx[0]
    if outline.rx == outline.ry == (radius,) * 4 and radius <= SMALL:
        if radius > 0:
            _round_off(mask, outline, radius)
        return mask
    arcs: dict[tuple[float, ...], Floats] = {}
    for at, (rx, ry) in enumerate(zip(outline.rx, outline.ry, strict=True)):
        if rx <= 0 or ry <= 0:
            continue
        on_left, on_top = at in (0, 3), at in (0, 1)
        left = outline.x if on_left else outline.x + outline.width - rx
        top = outline.y if on_top else outline.y + outline.height - ry
        rows, columns = _pixels(top, ry, height), _pixels(left, rx, width)
        if rows.start >= rows.stop or columns.start >= columns.stop:
            continue
        cx = left + rx if on_left else left
        cy = top + ry if on_top else top
        # Distances from the arc's centre, outward; corners alike are then worked out once.
        qx = np.arange(columns.start, columns.stop) + 0.5 - cx
        qy = np.arange(rows.start, rows.stop) + 0.5 - cy
        qx, qy = (-qx[::-1] if on_left else qx), (-qy[::-1] if on_top else qy)
        key = (rx, ry, round(qx[0], 6), len(qx), round(qy[0], 6), len(qy))
        if key not in arcs:
            arc = _arc_coverage(qx, qy, rx, ry)
            beyond = (qx > 0)[None, :] & (qy > 0)[:, None]
            arcs[key] = np.where(beyond, arc, np.float32(1))
        arc = arcs[key][:: -1 if on_top else 1, :: -1 if on_left else 1]
        block = mask[rows, columns]
        np.minimum(block, arc, out=block)
    return mask


def _round_off(mask: Floats, outline: Outline, radius: float) -> None:
    """Takes off all four corners of a box at once, where they are alike and circular: with small
    ones it counts how often something is worked out, not how much.
    """
    height, width = mask.shape
    x, y = (np.arange(count) + 0.5 for count in (width, height))
    # How far a pixel's middle lies beyond the centres of the arcs.
    across = np.maximum(outline.x + radius - x, x - (outline.x + outline.width - radius))
    down = np.maximum(outline.y + radius - y, y - (outline.y + outline.height - radius))
    columns, rows = (np.flatnonzero((past > 0) & (past < radius + 1)) for past in (across, down))
    arc = np.add.outer(down[rows] ** 2, across[columns] ** 2)
    np.subtract(radius + 0.5, np.sqrt(arc, out=arc), out=arc)
    place = np.ix_(rows, columns)
    mask[place] = np.minimum(mask[place], np.maximum(arc, 0, out=arc))


def lost_at_corner(
    rx: float, ry: float, left: float, top: float, width: int, height: int
) -> Floats:
    """Share of each pixel that the arc of a box's top left corner cuts off, ``(height, width)``;
    the box begins at (left, top) and ends beyond.
    """
    lost = np.multiply.outer(*(span_coverage(start, 2.0 * count + abs(start), count)
                               for start, count in ((top, height), (left, width))))
    rows, columns = _pixels(top, ry, height), _pixels(left, rx, width)
    qx = left + rx - np.arange(columns.start, columns.stop) - 0.5
    qy = top + ry - np.arange(rows.start, rows.stop) - 0.5
    block = lost[rows, columns]
    kept = np.where((qx > 0)[None, :] & (qy > 0)[:, None], _arc_coverage(qx, qy, rx, ry), 1)
    cut = np.maximum(block - kept, 0)
    lost[:] = 0
    block[:] = cut
    return lost


def _arc_coverage(
    qx: NDArray[np.float64], qy: NDArray[np.float64], rx: float, ry: float
) -> Floats:
    """Share covered by a quarter ellipse, of pixels with middles (qx, qy) from its centre."""
    x, y = np.maximum(qx, 0), np.maximum(qy, 0)
    if abs(rx - ry) < 1e-6:
        away = np.add.outer(y * y, x * x)
        np.sqrt(away, out=away)
        np.subtract(rx + 0.5, away, out=away)
        return np.minimum(np.maximum(away, 0, out=away), 1, out=away).astype(np.float32)
    x, y = x[None, :], y[:, None]
    # Implicit value over gradient: a distance good enough to tell which pixels are in question.
    value = (x / rx) ** 2 + (y / ry) ** 2 - 1
    slope = 2 * np.sqrt((x / rx**2) ** 2 + (y / ry**2) ** 2) + 1e-9
    cover = (value < 0).astype(np.float32)
    rows, columns = np.nonzero(np.abs(value) < 1.2 * slope + 0.7 * (1 / rx**2 + 1 / ry**2))
    ex, ey = qx[columns], qy[rows]
    share = np.zeros(len(ex))
    for dx in (-0.25, 0.25):
        for dy in (-0.25, 0.25):
            px, py = np.maximum(ex + dx, 0), np.maximum(ey + dy, 0)
            share += np.clip(0.5 - 2 * ellipse_distance(px, py, rx, ry), 0, 1)
    cover[rows, columns] = share / 4
    return cover


def _pixels(start: float, length: float, count: int) -> slice:
    first, last = int(np.floor(start)), int(np.ceil(start + length))
    return slice(max(0, first), max(0, min(count, last)))
