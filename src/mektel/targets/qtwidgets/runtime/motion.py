"""Values on their way from state to state: one clock for all controls, none while nothing moves."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from copy import copy
from math import cos, exp, hypot, log, pi, sin, sqrt
from typing import TYPE_CHECKING, Any

from .design import Part, Parts, Timing, Timings
from .easing import ease
from .painting import is_opaque
from .qt import QtCore, QtGui, QtWidgets

if TYPE_CHECKING:
    from .control import Control

# Milliseconds from frame to frame; what is this share of its way from its goal has arrived.
FRAME, LEAST, SETTLED = 16, 1e-4, 0.01
CRITICAL = 6.638352067993813
# Earlier versions of a part that still fade.
MOST_FADING = 3
# Numbers that name something: there is nothing between two of them.
NAMES = ("picture", "weight")
Numbers = tuple[float, ...]


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


# Values as numbers, and back

def is_colour(value: Any) -> bool:
    return isinstance(value, str) and value.startswith("#")


def numbers_of(value: Any) -> list[float]:
    """All numbers of a value, colours premultiplied; words and the like have none."""
    if isinstance(value, int | float) and not isinstance(value, bool):
        return [float(value)]
    if is_colour(value):
        colour = QtGui.QColor(value)
        alpha = colour.alphaF()
        return [colour.redF() * alpha, colour.greenF() * alpha, colour.blueF() * alpha, alpha]
    if isinstance(value, dict):
        value = list(value.values())
    if isinstance(value, tuple | list):
        return [number for inner in value for number in numbers_of(inner)]
    return []


def value_of(numbers: Iterator[float], like: Any) -> Any:
    """A value like another one, made of the next of ``numbers``."""
    kind = type(like)
    if kind is float or kind is int:
        return next(numbers)
    if kind is str:
        return _colour_of(numbers) if is_colour(like) else like
    if kind is dict:
        return {key: value_of(numbers, inner) for key, inner in like.items()}
    if kind is tuple or kind is list:
        return kind([value_of(numbers, inner) for inner in like])
    return like


def _colour_of(numbers: Iterator[float]) -> str:
    red, green, blue, alpha = next(numbers), next(numbers), next(numbers), next(numbers)
    if alpha <= 0:
        return "#00000000"
    parts = min(1.0, alpha), red / alpha, green / alpha, blue / alpha
    return "#{:02x}{:02x}{:02x}{:02x}".format(
        *(255 if part >= 1 else 0 if part <= 0 else int(part * 255 + 0.5) for part in parts))


def _shape(value: Any) -> Any:
    """What two values that have something between them have in common."""
    if isinstance(value, dict):
        return {key: _shape(inner) for key, inner in value.items()}
    if isinstance(value, tuple | list):
        return [_shape(inner) for inner in value]
    if is_colour(value):
        return "#"
    return 0 if isinstance(value, int | float) and not isinstance(value, bool) else value


class Motion:
    """Where every value of a control is between two sets of states."""

    def __init__(self, control: Control) -> None:
        self.control, self.variant = control, control.variant()
        self.states = frozenset(control.states())
        self.aim = self.variant.parts(self.states)
        self.courses: dict[tuple[str, str], Course] = {}
        # By part: earlier values, the oldest first, and how much of those after them is there.
        self.fading: dict[str, list[tuple[Part, Course]]] = {}

    def follow(self, moment: float) -> bool:
        """Takes over what holds now; whether anything moves."""
        variant, states = self.control.variant(), frozenset(self.control.states())
        if variant is not self.variant:
            # Other parameters, another size: there at once.
            self.variant, self.states = variant, states
            self.aim, self.courses, self.fading = variant.parts(states), {}, {}
        elif states != self.states:
            self._towards(states, moment)
        self.courses = {key: one for key, one in self.courses.items() if one.ends > moment}
        self.fading = {key: kept for key, older in self.fading.items() if (
            kept := [one for one in older if one[1].ends > moment])}
        return bool(self.courses or self.fading)

    def _towards(self, states: frozenset[str], moment: float) -> None:
        timings = self.control.design.timings
        now, goal = self._moving(moment), self.variant.parts(states)
        for name, part in goal.items():
            before, shown = self.aim[name], self._presence(name, moment) > 0
            unlike: dict[str, Timing] = {}
            for value in {**before, **part}:
                if value == "kind" or before.get(value) == part.get(value):
                    continue
                timing = timing_of(timings, states, name, value)
                was = self.courses.pop((name, value), None)
                if timing is None or timing.seconds + timing.delay <= 0:
                    continue
                if value == "visible":
                    start, end = self._presence(name, moment), float(part["visible"])
                    self.courses[name, value] = Course((start,), (end,), moment, timing, was)
                    continue
                if not shown:
                    continue  # what nobody saw has no place to start from
                old, new = now.get(name, {}).get(value, before.get(value)), part.get(value)
                first, last = numbers_of(old), numbers_of(new)
                if value not in NAMES and first and last and _shape(old) == _shape(new):
                    self.courses[name, value] = Course(
                        tuple(first), tuple(last), moment, timing, was)
                else:
                    unlike[value] = timing
            if unlike and part["kind"] != "group" and name != "outline":
                self._fade(name, {**before, **now.get(name, {})}, part, unlike, moment)
        self.aim, self.states = goal, states

    def _fade(
        self, name: str, older: Part, part: Part, unlike: dict[str, Timing], moment: float
    ) -> None:
        """Has a part's values fade into others; what turns back goes on from where it is."""
        kept = [one for one in self.fading.get(name, ()) if one[1].ends > moment]
        share = Course((0.0,), (1.0,), moment, next(iter(unlike.values())))
        if kept and all(kept[-1][0].get(value) == part.get(value) for value in unlike):
            back = kept.pop()[1].turned()
            share = Course(back.at(moment), (1.0,), moment, share.timing, back)
        self.fading[name] = [*kept, (older, share)][-MOST_FADING:]

    def _presence(self, name: str, moment: float) -> float:
        course = self.courses.get((name, "visible"))
        if course is not None:
            return min(1.0, max(0.0, course.at(moment)[0]))
        return float(self.aim[name].get("visible", True))

    def _moving(self, moment: float) -> Parts:
        """The values of parts that are on their way."""
        made: Parts = {}
        for (name, value), course in self.courses.items():
            part = self.aim[name]
            if value != "visible" and value in part:
                made.setdefault(name, {})[value] = value_of(iter(course.at(moment)), part[value])
        return made

    def values(self, moment: float) -> Parts:
        """Every part's values at a moment; earlier ones that fade stand before it, marked ``~``."""
        made: Parts = {}
        every = self._moving(moment)
        for name, part in self.aim.items():
            moving, older = every.get(name, {}), self.fading.get(name, ())
            comes = (name, "visible") in self.courses
            if not moving and not older and not comes:
                made[name] = part
                continue
            values = {**part, **moving}
            there = 1.0
            if comes:
                there = self._presence(name, moment)
                values |= {"visible": there > 0, "opacity": values.get("opacity", 1) * there}
            drawn = [values]
            # From the top: each is as opaque as its weight needs under what lies on it.
            weight = seen_through = 1.0
            for earlier, course in reversed(older):
                share = min(1.0, max(0.0, course.at(moment)[0]))
                seen_through *= 1 - _faded(drawn[-1], weight * share / seen_through)
                weight *= 1 - share
                if weight <= 0 or seen_through <= 0:
                    break
                now = {**earlier, **{k: v for k, v in moving.items() if k in earlier}}
                drawn.append(now | {"opacity": now.get("opacity", 1) * there})
            if len(drawn) == len(older) + 1 > 1:
                _faded(drawn[-1], weight / seen_through)
            made |= {name + "~" * at: drawn[at] for at in reversed(range(len(drawn)))}
        return made


def _faded(part: Part, share: float) -> float:
    """Has a part show through; how much of what lies beneath it hides."""
    hides = is_opaque(part)
    part["opacity"] = part.get("opacity", 1) * min(1.0, share)
    return min(1.0, share) * hides


def versions(name: str) -> list[str]:
    """The names of a part and of its earlier versions in a frame."""
    return [name + "~" * at for at in range(MOST_FADING + 1)]


def timing_of(timings: Timings, states: frozenset[str], part: str, value: str) -> Timing | None:
    """The last timing that is for a value while these states hold."""
    for needed, parts, values, timing in timings[::-1]:
        if (not parts or part in parts) and (not values or value in values) and (
                states.issuperset(needed)):
            return timing
    return None


class Clock(QtCore.QObject):
    """Repaints what moves, some 60 times a second; stands still while nothing does."""

    def __init__(self) -> None:
        super().__init__()
        self.now: Callable[[], float] = time.monotonic
        self._moving: set[Control] = set()
        self._timer = QtCore.QTimer(
            self, interval=FRAME, timerType=QtCore.Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._tick)

    def watch(self, control: Control) -> None:
        """Has a control repainted until it stands still."""
        self._moving.add(control)
        if not self._timer.isActive():
            self._timer.start()

    @property
    def runs(self) -> bool:
        return bool(self._timer.isActive())

    def _tick(self) -> None:
        moving, self._moving = self._moving, set()
        for control in moving:
            with suppress(RuntimeError):  # deleted meanwhile
                control.update()  # painted, it says whether it still moves
        if not moving:
            self._timer.stop()


_clocks: list[Clock] = []
_reduced: list[bool | None] = [None]


def clock() -> Clock:
    """The clock of all controls of the application."""
    if not _clocks:
        _clocks.append(Clock())
    return _clocks[0]


def set_reduced_motion(reduced: bool | None) -> None:
    """True makes states change at once; None follows the platform: a style without animations."""
    _reduced[0] = reduced


def reduced_motion(control: QtWidgets.QWidget) -> bool:
    if _reduced[0] is not None:
        return _reduced[0]
    hint = QtWidgets.QStyle.StyleHint.SH_Widget_Animation_Duration
    return bool(control.style().styleHint(hint, None, control) <= 0)
