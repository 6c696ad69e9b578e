"""Where what moves goes: the paths of a control's parts over a time."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from mektel.core.kit.control import CONTROL
from mektel.core.look.look import LayerLook, mapped
from mektel.core.look.resolve import look_of
from mektel.core.motion.timeline import Motion
from mektel.core.remember import unkept

Spot = tuple[float, float]
# Moments that a path is made of, and px that it has to reach to be one.
MOMENTS, LEAST = 33, 0.75
# What of the whole control is followed, as shares of the box: its middle, or else a corner.
WHOLE = {"middle": (0.5, 0.5), "corner": (0.0, 0.0)}


@dataclass(frozen=True)
class Trail:
    """The path of a part: the places (px from the box's top left) of its middle, or of a corner of
    the whole control where that turns or changes its size about its middle; at equal times, so
    that they lie far apart where it is fast.
    """

    part: str
    spots: tuple[Spot, ...]


def trails_of(motion: Motion, begin: float, end: float, moments: int = MOMENTS
              ) -> tuple[Trail, ...]:
    """The paths of a motion's parts from ``begin`` to ``end`` (s); none of what stays in place.

    What moves with the whole control is one path; of layers there are those that move in it.
    """
    whole: dict[str, list[Spot]] = {name: [] for name in WHOLE}
    within: dict[str, list[Spot]] = {}
    placed: dict[str, list[Spot]] = {}
    for at in range(moments):
        pose = motion.at(begin + (end - begin) * at / (moments - 1))
        with unkept():
            look = look_of(replace(pose, matrix=None))
        matrix = pose.matrix or (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)
        for name, (x, y) in WHOLE.items():
            whole[name].append(mapped(matrix, x * look.width, y * look.height))
        for name, spot in {layer.id: _middle(layer) for layer in reversed(look.layers)}.items():
            within.setdefault(name, []).append(spot)
            placed.setdefault(name, []).append(mapped(matrix, *spot))
    trails = [Trail(CONTROL, tuple(spots)) for spots in whole.values()
              if _reach(spots) >= LEAST][:1]
    trails += [Trail(name, tuple(placed[name])) for name, spots in within.items()
               if _reach(spots) >= LEAST]
    # What moves together, as a face and its line, has one path: that of the rearmost.
    by_path = {tuple((round(x, 1), round(y, 1)) for x, y in trail.spots): trail
               for trail in trails}
    return tuple(by_path.values())


def _middle(layer: LayerLook) -> Spot:
    left, top, right, bottom = layer.extent()
    return (left + right) / 2, (top + bottom) / 2


def _reach(spots: Sequence[Spot]) -> float:
    """How far the farthest place is from the first, in px."""
    return max((math.dist(spots[0], spot) for spot in spots), default=0.0)
