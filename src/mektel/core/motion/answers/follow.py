"""Following: a place or a direction of a layer goes with the pointer."""

from __future__ import annotations

import math
from typing import Any

from mektel.core.kit import measure_of
from mektel.core.kit.answers import Follow
from mektel.core.motion.answers.frame import Frame, Hand


def ends(answer: Follow, hand: Hand) -> float:
    return hand.pointed(answer.timing)


def play(answer: Follow, hand: Hand, moment: float, frame: Frame) -> Frame:
    x, y, inside = hand.pointer(answer.timing, moment)
    share = answer.share * inside
    if not share:
        return frame
    return frame.changed(answer.part, lambda layer: {
        answer.value: followed(layer.values, answer.value, (x, y), share, frame.size)})


def followed(values: Any, name: str, place: tuple[float, float], share: float,
             size: tuple[float, float]) -> Any:
    """A value gone ``share`` of the way to a place (shares of the box of ``size`` px)."""
    value, unit = getattr(values, name), measure_of(type(values), name).unit
    if unit == "°":
        # Of light: 0° is from above, 90° from the right; the shorter way round.
        towards = math.degrees(math.atan2((place[0] - 0.5) * size[0], (0.5 - place[1]) * size[1]))
        return value + ((towards - value + 180) % 360 - 180) * min(1.0, share)
    if unit == "%":
        return tuple(old + (new - old) * share for old, new in zip(value, place, strict=True))
    return tuple(old + (new - 0.5) * length * share
                 for old, new, length in zip(value, place, size, strict=True))
