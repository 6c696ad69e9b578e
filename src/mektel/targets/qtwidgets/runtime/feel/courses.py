"""How a value moves: easings, springs, and what follows its goal; begun anew wherever it is."""

from __future__ import annotations

from copy import copy
from math import cos, exp, hypot, log, pi, sin, sqrt
from typing import Any, NamedTuple

from .easing import ease

# What is this share of its way from its goal has arrived, or has settled.
LEAST, SETTLED = 1e-4, 0.01
CRITICAL = 6.638352067993813
Numbers = tuple[float, ...]


class Timing(NamedTuple):
    """How a value moves: ``easing`` (its curve in ``shape``), ``spring`` or ``follow``; seconds,
    and the bounce of a spring as a share of the way.
    """

    kind: str
    seconds: float
    delay: float = 0.0
    shape: tuple[Any, ...] = ()
    bounce: float = 0.0


def spring(bounce: float, seconds: float) -> tuple[float, float]:
    """Damping ratio and frequency of the spring that overshoots by ``bounce`` and has settled
    within 1 % after so many seconds.
    """
    if bounce < 1e-3:
        return 1.0, CRITICAL / seconds
    damping = -log(bounce) / hypot(pi, log(bounce))
    return damping, log(1 / (SETTLED * sqrt(1 - damping * damping))) / (damping * seconds)


def swing(zeta: float, omega: float, t: float, x: float, v: float) -> tuple[float, float]:
    """Displacement and speed of a damped spring, ``t`` seconds after ``x`` and ``v``."""
    fade = exp(-zeta * omega * t)
    if zeta >= 1:
        rise = v + omega * x
        return fade * (x + rise * t), fade * (v - omega * rise * t)
    turning = omega * sqrt(1 - zeta * zeta)
    side = (v + zeta * omega * x) / turning
    c, s = cos(turning * t), sin(turning * t)
    return fade * (x * c + side * s), fade * (v * c - (zeta * omega * side + turning * x) * s)


class Course:
    """Numbers on their way from ``start`` to ``goal``, begun at a moment in seconds."""

    def __init__(self, start: Numbers, goal: Numbers, moment: float, timing: Timing,
                 before: Course | None = None) -> None:
        self.start, self.goal, self.timing = start, goal, timing
        self.began, self.seconds = moment + timing.delay, max(timing.seconds, 1e-3)
        self.speed: Numbers = (0.0,) * len(goal)
        self.turned_from, self.shortened = start, 1.0
        if before is not None and before.ends > moment:
            self._take_over(before, moment)
        self.ends: float = self.began + self._lasts()

    def _take_over(self, before: Course, moment: float) -> None:
        """A spring keeps the speed; an easing that turns back takes as much shorter as it had not
        come far (CSS Transitions 1, 3.1).
        """
        if self.timing.delay == 0:
            self.speed = before.speed_at(moment)
        if self.goal == before.turned_from and before.timing.kind == "easing":
            share = min(1.0, max(0.0, (moment - before.began) / before.seconds))
            output = ease(before.timing.shape, share)
            factor = abs(output * before.shortened + 1 - before.shortened)
            self.shortened = min(1.0, max(0.0, factor))
            if self.timing.kind == "easing":
                self.seconds *= self.shortened
            self.turned_from = before.goal

    def turned(self) -> Course:
        """What is left of it, a share of 1."""
        made = copy(self)
        for name in ("start", "goal", "turned_from"):
            setattr(made, name, tuple(1 - at for at in getattr(self, name)))
        made.speed = tuple(-v for v in self.speed)
        return made

    def _lasts(self) -> float:
        if self.timing.kind == "easing":
            return self.seconds
        if self.timing.kind == "follow":
            return self.seconds * log(LEAST) / log(SETTLED)
        zeta, omega = spring(self.timing.bounce, self.seconds)
        way = max(abs(a - b) for a, b in zip(self.start, self.goal, strict=True))
        size = max(hypot(a - b, v / omega)
                   for a, b, v in zip(self.start, self.goal, self.speed, strict=True))
        far = log(max(size, 1e-9) / (LEAST * max(way, 1e-9))) / (zeta * omega)
        return 2.0 * max(0.0, far)

    def at(self, moment: float) -> Numbers:
        t = moment - self.began
        if t <= 0:
            return self.start
        if moment >= self.ends:
            return self.goal
        pairs = zip(self.start, self.goal, self.speed, strict=True)
        if self.timing.kind == "spring":
            zeta, omega = spring(self.timing.bounce, self.seconds)
            return tuple(b + swing(zeta, omega, t, a - b, v)[0] for a, b, v in pairs)
        share = (ease(self.timing.shape, t / self.seconds) if self.timing.kind == "easing"
                 else 1 - exp(log(SETTLED) * t / self.seconds))
        return tuple(a + (b - a) * share for a, b, _ in pairs)

    def speed_at(self, moment: float) -> Numbers:
        if not self.began < moment < self.ends:
            return (0.0,) * len(self.goal)
        if self.timing.kind == "spring":
            zeta, omega = spring(self.timing.bounce, self.seconds)
            return tuple(swing(zeta, omega, moment - self.began, a - b, v)[1]
                         for a, b, v in zip(self.start, self.goal, self.speed, strict=True))
        step = 1e-4
        before, now = self.at(moment - step), self.at(moment)
        return tuple((b - a) / step for a, b in zip(before, now, strict=True))
