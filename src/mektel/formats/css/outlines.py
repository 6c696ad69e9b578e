"""Boxes within boxes of a control, as shares of its size and px."""

from __future__ import annotations

from typing import Any

# Share of the control's size, and px.
Span = tuple[float, float]


def composed(spans: list[tuple[Span, Span]], inner: dict[str, Any]) -> dict[str, Any]:
    """A box within a part's box as a box of the control's."""
    made: dict[str, Any] = {}
    for (place, long), start, side in zip(spans, ("x", "y"), ("width", "height"), strict=True):
        offset, share = inner.get(start, (0.0, 0.0)), inner.get(side, (1.0, 0.0))
        made[start] = (place[0] + offset[0] * long[0], place[1] + offset[0] * long[1] + offset[1])
        made[side] = (share[0] * long[0], share[0] * long[1] + share[1])
    if inner.get("joins"):
        made["joins"] = [{**join, **composed(spans, join)} for join in inner["joins"]]
    return made
