"""Signed distances to rounded boxes and ellipses."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.shape.outline import Outline


def signed_distance(outline: Outline, x: Any, y: Any) -> NDArray[np.float64]:
    """Distance in px from points to the outline: negative inside, positive outside.

    ``x`` and ``y`` broadcast against each other; the result has their common shape.

    >>> from mektel.core.shape import outline_for
    >>> box = outline_for("box", (0, 0, 0, 0), 40, 20)
    >>> signed_distance(box, [-3.0, 20.0], [10.0, 10.0]).tolist()
    [3.0, -10.0]
    """
    px, py = np.broadcast_arrays(np.asarray(x, float), np.asarray(y, float))
    dx, dy = px - outline.x, py - outline.y
    ex, ey = np.minimum(dx, outline.width - dx), np.minimum(dy, outline.height - dy)
    inside = -np.minimum(ex, ey)
    outside = np.hypot(np.maximum(-ex, 0), np.maximum(-ey, 0))
    distance: NDArray[np.float64] = np.where((ex < 0) | (ey < 0), outside, inside)
    for at, (rx, ry) in enumerate(zip(outline.rx, outline.ry, strict=True)):
        if rx <= 0 or ry <= 0:
            continue
        qx = rx - (dx if at in (0, 3) else outline.width - dx)
        qy = ry - (dy if at in (0, 1) else outline.height - dy)
        corner = (qx > 0) & (qy > 0)
        if corner.any():
            near = ellipse_distance(qx[corner], qy[corner], rx, ry)
            # Deep inside, the opposite sides may be nearer than this corner's arc.
            far = np.minimum(outline.width - rx + qx, outline.height - ry + qy)[corner]
            distance[corner] = np.maximum(near, -far)
    return distance


def ellipse_distance(
    x: NDArray[np.float64], y: NDArray[np.float64], a: float, b: float
) -> NDArray[np.float64]:
    """Signed distance in px from points in the first quadrant to an ellipse about the origin.

    A circle is exact. Otherwise the foot of the perpendicular is found by moving along the
    evolute's centres of curvature, which converges cubically; four rounds leave < 1e-6 px for
    the sizes a control has.
    """
    if abs(a - b) < 1e-9:
        return np.hypot(x, y) - a
    tx = ty = np.full(np.shape(x), np.sqrt(0.5))
    for _ in range(4):
        ox, oy = (a * a - b * b) * tx**3 / a, (b * b - a * a) * ty**3 / b
        r = np.hypot(a * tx - ox, b * ty - oy)
        qx, qy = x - ox, y - oy
        q = np.maximum(np.hypot(qx, qy), 1e-12)
        tx = np.clip((qx * r / q + ox) / a, 0, 1)
        ty = np.clip((qy * r / q + oy) / b, 0, 1)
        t = np.maximum(np.hypot(tx, ty), 1e-12)
        tx, ty = tx / t, ty / t
    foot = np.hypot(x - a * tx, y - b * ty)
    within = (x / a) ** 2 + (y / b) ** 2 < 1
    return np.where(within, -foot, foot)
