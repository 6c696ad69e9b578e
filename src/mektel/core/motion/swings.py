"""Endless motion: values that swing while a condition holds.

Each begins and ends with a level that grows and goes within ``EASED``, so that nothing jumps.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from mektel.core.kit import parse_flags
from mektel.core.kit.answers import WHOLE_VALUES, Swing
from mektel.core.kit.control import CONTROL, is_colour
from mektel.core.kit.layers import OUTLINE
from mektel.core.kit.moved_values import measure_at
from mektel.core.kit.paths import changed_by, value_at
from mektel.core.kit.timing import Timing
from mektel.core.motion.answers.frame import Frame
from mektel.core.motion.course import Course, course_to
from mektel.core.motion.values import Hex, colour_vector, hex_of

EASED = Timing(seconds=0.3, easing="ease-in-out")
EVER = float("inf")


def wave(shape: str, at: float) -> float:
    """A wave of period 1 at a moment, from -1 to 1; it begins at 0 and rises. A pulse is 1 in the
    first half and 0 in the other.

    >>> [round(wave("sine", at / 4), 6) for at in range(4)], wave("triangle", 0.25)
    ([0.0, 1.0, 0.0, -1.0], 1.0)
    """
    at %= 1.0
    if shape == "sine":
        return math.sin(2 * math.pi * at)
    if shape == "triangle":
        return 1 - 4 * abs((at + 0.25) % 1 - 0.5)
    if shape == "saw":
        return 2 * ((at + 0.5) % 1) - 1
    return 1.0 if at < 0.5 else 0.0


def share(shape: str, at: float) -> float:
    """How far a colour has gone to the other one, 0 to 1; it begins at 0, a pulse at 1. So does
    what swings to one side.
    """
    at %= 1.0
    if shape == "sine":
        return (1 - math.cos(2 * math.pi * at)) / 2
    if shape == "triangle":
        return 1 - abs(2 * at - 1)
    return at if shape == "saw" else wave(shape, at)


@dataclass(frozen=True)
class Swinging:
    """A swing that began at a moment (s), and the course of how much of it is there."""

    swing: Swing
    began: float
    level: Course

    @property
    def holds(self) -> bool:
        return self.level.goal == (1.0,)

    @property
    def ends(self) -> float:
        return EVER if self.holds else self.level.ends if self.level.start != (0.0,) else 0.0

    def towards(self, flags: frozenset[str], moment: float) -> Swinging:
        """As it goes on once these states hold."""
        holds = parse_flags(self.swing.during) <= flags
        if holds == self.holds:
            return self
        level = course_to((float(holds),), moment, EASED, self.level.at(moment), self.level)
        anew = holds and self.level.at(moment) == (0.0,)
        return Swinging(self.swing, moment if anew else self.began, level)

    def play(self, moment: float, frame: Frame, hexed: Hex) -> Frame:
        """A frame with the value where it is at a moment."""
        level = min(1.0, max(0.0, self.level.at(moment)[0]))
        if level <= 0:
            return frame
        swing = self.swing
        at = (moment - self.began) / swing.period + swing.phase
        if swing.part == CONTROL:
            return _placed(frame, swing.value, level * self._by(at))
        if swing.part == OUTLINE:
            return replace(frame, outline=frame.outline.model_copy(
                update=self._changed(frame.outline, level, at, hexed)))
        return frame.changed(swing.part, lambda layer: self._changed(
            layer.values, level, at, hexed, layer.share if swing.value == "opacity" else 1.0))

    def _by(self, at: float) -> float:
        of = share if self.swing.sides == "one" else wave
        return self.swing.amplitude * of(self.swing.wave, at)

    def _changed(
        self, values: Any, level: float, at: float, hexed: Hex, share_of_it: float = 1.0
    ) -> dict[str, Any]:
        swing = self.swing
        value = value_at(values, swing.value)
        if is_colour(swing.value.rsplit(".", 1)[-1]):
            some = level * share(swing.wave, at)
            now, other = (colour_vector(hexed(colour), "srgb")
                          for colour in (value, swing.colour or value))
            mixed = tuple(a + (b - a) * some for a, b in zip(now, other, strict=True))
            return changed_by(values, swing.value, hex_of(mixed, "srgb"))
        moved = value + share_of_it * level * self._by(at)
        measure = measure_at(values, swing.value)
        if measure.unit == "°":
            moved = (moved + 360) % 720 - 360
        return changed_by(values, swing.value, min(measure.high, max(measure.low, moved)))


def _placed(frame: Frame, value: str, by: float) -> Frame:
    assert value in WHOLE_VALUES
    if value == "turn":
        return replace(frame, turn=frame.turn + by)
    if value == "size":
        return replace(frame, scale=frame.scale * max(0.05, 1 + by))
    return frame.shifted(*((by, 0.0) if value == "x" else (0.0, by)))


def swinging(swings: Sequence[Swing], flags: frozenset[str]) -> tuple[Swinging, ...]:
    """Swings from 0 s on, those that hold in these states as if they had for long."""
    made = []
    for swing in swings:
        there = (float(parse_flags(swing.during) <= flags),)
        made.append(Swinging(swing, 0.0, Course(there, there, 0.0, EASED, 0.0, (0.0,), there)))
    return tuple(made)
