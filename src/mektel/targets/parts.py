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
from mektel.core.proof.parts import DIRECTIONS, PartDifference, part_difference
from mektel.targets.base import Pixels
from mektel.targets.match import Compared, PartMatch

# By target, pixels per px and layer kind, the most that an honest control differs by: written by
# tools/learn_limits.py.
TABLE = Path(__file__).with_name("limits.json")
# At more pixels per px the same limits hold.
FINEST = 2
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
        without = draw(replace(look, layers=tuple(
            other for other in others if other is not layer)))
        measured = part_difference(compared.designed, without, compared.judged, compared.scale)
        if measured is not None:
            matches.append(PartMatch(kind, name, measured, limits(target, kind, compared.scale)))
    return tuple(matches)


def kind_of(values: Any) -> str:
    """Which limits a layer has, by its values in a state: toolkits draw the seam of a conic
    gradient each in another way.
    """
    conic = getattr(values, "style", "") == "conic"
    return f"{values.kind}, conic" if conic else str(values.kind)


def limits(target: str, kind: str, scale: float) -> PartDifference | None:
    """The most that honest layers of a kind differ by in a target; of a kind that was not among
    them, the most of any. None for a target that was never tried.
    """
    at_scale = table().get(target, {}).get(str(max(1, min(FINEST, int(scale)))))
    if not at_scale:
        return None
    if kind in at_scale:
        return PartDifference(**at_scale[kind])
    return PartDifference(**{
        name: max(own[name] for own in at_scale.values()) for name in DIRECTIONS})


@cache
def table() -> Mapping[str, Mapping[str, Mapping[str, Mapping[str, float]]]]:
    if not TABLE.exists():
        return {}
    return dict(json.loads(TABLE.read_text(encoding="utf-8")))
