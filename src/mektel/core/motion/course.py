"""One value on its way: from where it was and how fast, to where a state wants it."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

from mektel.core.easing import easing_from_text
from mektel.core.kit.timing import Timing
from mektel.core.motion.spring import following, spring_of

Vector = tuple[float, ...]
# What is this share of its way from its goal has arrived: below one step of 255.
LEAST = 1e-4


@dataclass(frozen=True)
class Course:
    """A vector of numbers from ``start``, which it leaves ``began`` seconds into the timeline, to
    ``goal``. ``speed`` (1/s) is what it had then; ``seconds`` how long an easing takes.

    ``turned_from`` and ``shortened`` are the reversing-adjusted start value and the reversing
    shortening factor of CSS Transitions 1, 3.1.
    """

    start: Vector
    goal: Vector
    began: float
    timing: Timing
    seconds: float
    speed: Vector
    turned_from: Vector
    shortened: float = 1.0

    def at(self, moment: float) -> Vector:
        """Where it is at a moment of the timeline, in seconds."""
        elapsed = moment - self.began
        if elapsed <= 0:
            return self.start
        if moment >= self.ends:
            return self.goal
        if self.timing.kind == "easing":
            share = easing_from_text(self.timing.easing).at(elapsed / self.seconds)
            return tuple(a + (b - a) * share
                         for a, b in zip(self.start, self.goal, strict=True))
        if self.timing.kind == "follow":
            left = math.exp(-following(self.timing.seconds) * elapsed)
            return tuple(b + (a - b) * left for a, b in zip(self.start, self.goal, strict=True))
        spring = spring_of(self.timing.bounce, self.timing.seconds)
        return tuple(b + spring.at(elapsed, a - b, v)[0]
                     for a, b, v in zip(self.start, self.goal, self.speed, strict=True))

    def turned(self) -> Course:
        """What is left of it, a share of 1."""
        start, goal, turned_from = (
            tuple(1 - at for at in vector) for vector in (self.start, self.goal, self.turned_from))
        return replace(self, start=start, goal=goal, turned_from=turned_from,
                       speed=tuple(-v for v in self.speed))

    def speed_at(self, moment: float) -> Vector:
        """How fast it goes there, per second."""
        elapsed = moment - self.began
        if elapsed <= 0 or moment >= self.ends:
            return (0.0,) * len(self.start)
        if self.timing.kind == "spring":
            spring = spring_of(self.timing.bounce, self.timing.seconds)
            return tuple(spring.at(elapsed, a - b, v)[1]
                         for a, b, v in zip(self.start, self.goal, self.speed, strict=True))
        step = 1e-4
        return tuple((b - a) / step for a, b in zip(
            self.at(moment - step), self.at(moment), strict=True))

    @cached_property
    def ends(self) -> float:
        """The moment from which on it stands at its goal."""
        timing = self.timing
        if timing.kind == "easing":
            return self.began + self.seconds
        way = max(abs(a - b) for a, b in zip(self.start, self.goal, strict=True))
        least = LEAST * max(way, 1e-9)
        if timing.kind == "follow":
            return self.began + math.log(1 / LEAST) / following(timing.seconds)
        spring = spring_of(timing.bounce, timing.seconds)
        return self.began + max(
            spring.calm(a - b, v, least)
            for a, b, v in zip(self.start, self.goal, self.speed, strict=True))


def course_to(
    goal: Vector, moment: float, timing: Timing, start: Vector, before: Course | None = None,
) -> Course:
    """The course to a new goal, from ``start`` or from where another course is just then.

    An easing that turns back takes as much shorter as it had not come far, a spring keeps its
    speed (CSS Transitions 1, 3.1, for the first).
    """
    began = moment + timing.delay
    still = (0.0,) * len(goal)
    if before is None or before.ends <= moment:
        return Course(start, goal, began, timing, timing.seconds, still, start)
    start = before.at(moment)
    speed = before.speed_at(moment) if timing.delay == 0 else still
    if goal == before.turned_from and before.timing.kind == "easing":
        share = (moment - before.began) / before.seconds if before.seconds else 1.0
        output = easing_from_text(before.timing.easing).at(min(1.0, max(0.0, share)))
        factor = output * before.shortened + (1 - before.shortened)
        factor = min(1.0, max(0.0, abs(factor)))
        return Course(start, goal, began, timing, timing.seconds * factor, speed,
                      before.goal, factor)
    return Course(start, goal, began, timing, timing.seconds, speed, start)
