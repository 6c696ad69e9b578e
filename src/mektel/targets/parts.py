"""The layers of a control as it ran, each judged by itself against limits learned from honest
controls.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Collection, Mapping
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import Any

from mektel.core.kit import Control, Kit
from mektel.core.look import Look, settled
from mektel.core.look.look import LayerLook, LensLook, ShadowLook
from mektel.core.proof.parts import DIRECTIONS, PartDifference, part_difference
from mektel.core.shape import AnyOutline
from mektel.targets.base import Pixels
from mektel.targets.match import Compared, PartMatch

# By target, pixels per px and layer kind, the most that an honest control was seen to differ by:
# written by tools/learn_limits.py.
TABLE = Path(__file__).with_name("worst.json")
# The limit is so many times as much and so many steps of 255 more; and no less than what rounding
# makes of a colour, or of an edge.
TIMES, STEPS = 1.15, 0.15
LEAST, LEAST_AT_EDGES = 0.8, 2.5
EDGES = frozenset({"right", "down", "growth", "corner"})
# At more pixels per px the same limits hold.
FINEST = 2
# What a kind is called where it is judged apart.
SEAM, BETWEEN, LENS, ROUND = ", conic", ", between pixels", ", at a lens", ", round"
# Where the edge of a circle crosses the diagonal of its box, as a share of that.
DIAGONAL = 0.1464
ON_PIXEL = 0.02
Box = tuple[float, float, float, float]
Draw = Callable[[Look], Pixels]


def part_matches(
    kit: Kit, control: Control, look: Look, target: str, draw: Draw, full: Compared,
    bare: Compared | None, kinds: Mapping[str, str], labels: Collection[str],
    skipped: Collection[str],
) -> tuple[PartMatch, ...]:
    """Each layer of a look, but for those in ``skipped``: with text in ``full``, where it is one of
    ``labels``, the others in ``bare`` if there is a picture without. ``draw`` gives the picture of
    a look, opaque (h, w, 3).
    """
    scale = full.scale
    names = {layer.id: layer.name for layer in settled(kit, control).layers}
    matches = []
    for layer in look.layers:
        if layer.id in skipped or layer.id not in kinds:
            continue
        kind, name = kinds[layer.id], names[layer.id]
        compared, others = full, look.layers
        if bare is not None and layer.id not in labels:
            compared = bare
            others = tuple(other for other in others if other.id not in labels)
        if compared.is_same:
            continue
        if _between_pixels(layer, [other for other in others if other.id not in labels], scale):
            kind += BETWEEN
        if isinstance(layer, ShadowLook) and _is_circle(layer.outline):
            kind += ROUND
        if any(isinstance(other, LensLook) for other in others if other is not layer):
            kind += LENS
        without = draw(replace(look, layers=tuple(
            other for other in others if other is not layer)))
        measured = part_difference(compared.designed, without, compared.judged, scale)
        if measured is not None:
            matches.append(PartMatch(kind, name, measured, limits(target, kind, scale)))
    return tuple(matches)


def kind_of(values: Any) -> str:
    """Which limits a layer has, by its values in a state: toolkits draw the seam of a conic
    gradient each in another way.
    """
    conic = getattr(values, "style", "") == "conic"
    return f"{values.kind}{SEAM}" if conic else str(values.kind)


def _between_pixels(layer: LayerLook, others: Collection[LayerLook], scale: float) -> bool:
    """Whether a layer, or any other that reaches into it, has an edge within a pixel: toolkits move
    such an edge to the nearest one.
    """
    own = layer.extent()
    return any(
        any(abs(side * scale - round(side * scale)) > ON_PIXEL for side in other.extent())
        for other in others if not isinstance(other, ShadowLook)
        and (other is layer or _meet(own, other.extent())))


def _is_circle(outline: AnyOutline) -> bool:
    """Whether its shadow is that of a circle, which browsers blur in a way of its own."""
    x0, y0, side = outline.x, outline.y, outline.width
    if abs(outline.height - side) > ON_PIXEL:
        return False
    x1, y1 = x0 + side, y0 + side
    return all(outline.contains(x + across * far * side, y + down * far * side) == (far > DIAGONAL)
               for x, across in ((x0, 1), (x1, -1)) for y, down in ((y0, 1), (y1, -1))
               for far in (DIAGONAL - 0.02, DIAGONAL + 0.02))


def _meet(first: Box, second: Box) -> bool:
    return (first[0] < second[2] and second[0] < first[2]
            and first[1] < second[3] and second[1] < first[3])


def limits(target: str, kind: str, scale: float) -> PartDifference | None:
    """The most that honest layers of a kind differ by in a target; of a kind that was not among
    them, the most of any like it. None for a target that was never tried.
    """
    at_scale = table().get(target, {}).get(str(max(1, min(FINEST, int(scale)))))
    if not at_scale:
        return None
    like = [at_scale[kind]] if kind in at_scale else [
        own for name, own in at_scale.items() if name.split(",")[0] == kind.split(",")[0]]
    worst = {name: max(own[name] for own in like or at_scale.values()) for name in DIRECTIONS}
    return PartDifference(**{
        name: max(LEAST_AT_EDGES if name in EDGES else LEAST, value * TIMES + STEPS)
        for name, value in worst.items()})


@cache
def table() -> Mapping[str, Mapping[str, Mapping[str, Mapping[str, float]]]]:
    if not TABLE.exists():
        return {}
    return dict(json.loads(TABLE.read_text(encoding="utf-8")))
