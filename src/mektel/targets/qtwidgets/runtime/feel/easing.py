"""Easing functions of CSS Easing 2, from the numbers that a control's module holds."""

from __future__ import annotations

from itertools import pairwise
from typing import Any


def ease(shape: tuple[Any, ...], share: float) -> float:
    """How far a value has gone at a share of its time."""
    kind, *values = shape
    share = min(1.0, max(0.0, share))
    if kind == "bezier":
        return _along_curve(values, share)
    if kind == "steps":
        return _in_steps(values[0], values[1], share)
    return _through_points(values[0], share)


def _along_curve(values: list[float], share: float) -> float:
    """A cubic Bézier curve from (0, 0) to (1, 1)."""
    x1, y1, x2, y2 = values
    if share <= 0 or share >= 1:
        return share
    low, high = 0.0, 1.0
    along = share
    for _ in range(40):
        rest = 1 - along
        x = 3 * rest * rest * along * x1 + 3 * rest * along * along * x2 + along**3
        if abs(x - share) < 1e-7:
            break
        low, high = (along, high) if x < share else (low, along)
        # Along the tangent, or to the middle where that leads out.
        slope = 3 * (rest * rest * x1 + 2 * rest * along * (x2 - x1) + along * along * (1 - x2))
        along -= (x - share) / max(slope, 1e-9)
        if not low < along < high:
            along = (low + high) / 2
    rest = 1 - along
    return 3 * rest * rest * along * y1 + 3 * rest * along**2 * y2 + along**3


def _in_steps(count: int, jump: str, share: float) -> float:
    taken = int(share * count + 1e-9) + (jump in ("jump-start", "jump-both"))
    jumps = count + {"jump-both": 1, "jump-none": -1}.get(jump, 0)
    return min(1.0, max(0.0, min(taken, jumps) / jumps))


def _through_points(points: tuple[tuple[float, float], ...], share: float) -> float:
    for (x0, y0), (x1, y1) in pairwise(points):
        if share < x1 or (x1, y1) == points[-1]:
            return y1 if x0 == x1 else y0 + (y1 - y0) * (share - x0) / (x1 - x0)
    return points[-1][1]
