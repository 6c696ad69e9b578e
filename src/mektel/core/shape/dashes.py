"""A dashed line as closed strips along an outline."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mektel.core.shape.free import Contour

Points = NDArray[np.float64]
MOST = 2000


def dashes(contours: tuple[Contour, ...], width: float, dash: float, gap: float) -> list[Points]:
    """Strips of shape (n, 2) with flat ends, so stretched that whole dashes and gaps close."""
    strips: list[Points] = []
    for contour in contours:
        points = np.array([*contour, contour[0]])
        steps = np.hypot(*np.diff(points, axis=0).T)
        keep = np.concatenate([[True], steps > 1e-9])
        points, steps = points[keep], steps[steps > 1e-9]
        along = np.concatenate([[0.0], np.cumsum(steps)])
        total = along[-1]
        if total <= 0:
            continue
        count = min(MOST, max(1, round(total / max(dash + gap, 0.1))))
        share = total / count / (dash + gap)
        for at in range(count):
            start = at * total / count
            end = min(start + dash * share, total)
            inner = along[(along > start) & (along < end)]
            places = np.concatenate([[start], inner, [end]])
            line = np.stack([np.interp(places, along, points[:, axis]) for axis in (0, 1)], axis=1)
            strips.append(_strip(line, width))
    return strips


def _strip(line: Points, width: float) -> Points:
    edges = np.diff(line, axis=0)
    edges /= np.maximum(np.hypot(edges[:, 0], edges[:, 1]), 1e-12)[:, None]
    normals = np.stack([edges[:, 1], -edges[:, 0]], axis=1)
    before = np.concatenate([normals[:1], normals])
    after = np.concatenate([normals, normals[-1:]])
    mitre = before + after
    mitre *= (2 / np.maximum((mitre**2).sum(axis=1), 0.5))[:, None] * (width / 2)
    return np.concatenate([line + mitre, (line - mitre)[::-1]])
