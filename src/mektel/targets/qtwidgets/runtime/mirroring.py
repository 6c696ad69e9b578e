"""Layouts from right to left: what stands at the start of a control stands at its right."""

from __future__ import annotations

from typing import Any

from .design import Part
from .frames import Cache, Same

_flips: Cache[dict[str, Any]] = Cache(128, lambda _paths: 1)
SIDES = {"start": "end", "end": "start"}


def mirrored(part: Part, width: float) -> Part:
    """A part's places, moves and outline the other way round; its light stays as it is, and so do
    icons and symbols. ``width`` is the control's as designed, in px.
    """
    made = dict(part)
    if "align" in made:
        made["align"] = SIDES.get(made["align"], made["align"])
    for name in ("own_box", "box"):
        if name in made:
            made[name] = {**made[name], "x": _across(made[name]["x"], made[name]["width"])}
    for name in ("position", "pivot"):
        if name in made:
            x, y = made[name]
            made[name] = (1 - x, y)
    if "move" in made:
        dx, dy = made["move"]
        made["move"] = (-dx, dy)
    for name in ("corners", "vertical_radii"):
        if made.get(name):
            first, second, third, fourth = made[name]
            made[name] = (second, first, fourth, third)
    if "paths" in made and "position" not in made:
        paths = made["paths"]
        made["paths"] = _flips.get((Same(paths), width), lambda: {
            name: _flipped(value, width) for name, value in paths.items()})
    return made


def _across(start: tuple[float, float], length: tuple[float, float]) -> tuple[float, float]:
    """Where a length, shares and px, begins when it is measured from the other side."""
    return 1 - start[0] - length[0], -start[1] - length[1]


def _flipped(value: Any, width: float) -> Any:
    if isinstance(value, tuple):  # a box: x, y, width, height
        x, y, wide, high = value
        return width - x - wide, y, wide, high
    return [[(width - x, y) for x, y in ring] for ring in value]
