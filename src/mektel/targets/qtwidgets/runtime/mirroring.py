"""Layouts from right to left: what stands at the start of a control stands at its right."""

from __future__ import annotations

from .design import Part
from .frames import Cache, Same

_flips: Cache[Part] = Cache(128, lambda _shape: 1)
SIDES = {"start": "end", "end": "start"}


def mirrored(part: Part) -> Part:
    """A part's places, moves and outline the other way round; its light stays as it is, and so do
    icons and symbols.
    """
    made = dict(part)
    if "align" in made:
        made["align"] = SIDES.get(made["align"], made["align"])
    for name in ("own_box", "box"):
        if name in made:
            x, width = made[name]["x"], made[name]["width"]
            made[name] = mirrored({**made[name], "x": (1 - x[0] - width[0], -x[1] - width[1])})
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
    if "shape" in made and "position" not in made:
        made["shape"] = _flips.get(Same(made["shape"]), lambda: _flipped(**made["shape"]))
    return made


def _flipped(size: tuple[float, float], rings: Part, box: tuple[float, ...] = ()) -> Part:
    """A shape the other way round."""
    turned: Part = {"size": size, "rings": {
        by: [[(size[0] - x, y) for x, y in ring] for ring in some] for by, some in rings.items()}}
    if box:
        turned["box"] = (size[0] - box[0] - box[2], *box[1:])
    return turned
