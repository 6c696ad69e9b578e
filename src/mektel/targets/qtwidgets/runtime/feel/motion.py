"""Values on their way from state to state."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, Any

from ..design import Part, Parts, States
from ..painting import is_opaque
from ..qt import QtGui
from .courses import Course, Timing

if TYPE_CHECKING:
    from ..control import Control

# Earlier versions of a part that still fade.
MOST_FADING = 3
# Numbers that name something: there is nothing between two of them.
NAMES = ("picture", "weight")
# The states, parts and values that a timing is for, empty for all; later ones win.
Timings = tuple[tuple[States, tuple[str, ...], tuple[str, ...], Timing | None], ...]


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

    def __init__(self, control: Control, timings: Timings) -> None:
        self.control, self.variant, self.timings = control, control.variant(), timings
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
        now, goal = self._moving(moment), self.variant.parts(states)
        for name, part in goal.items():
            before, shown = self.aim[name], self._presence(name, moment) > 0
            unlike: dict[str, Timing] = {}
            for value in {**before, **part}:
                if value == "kind" or before.get(value) == part.get(value):
                    continue
                timing = timing_of(self.timings, states, name, value)
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
        """Every part's values at a moment; earlier ones that fade stand before it, marked ``~``.
        What comes, goes or fades has a ``share``: how much of its own opacity is left to it.
        """
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
                values |= {"visible": there > 0, "opacity": values.get("opacity", 1) * there,
                           "share": there}
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
                drawn.append(now | {"opacity": now.get("opacity", 1) * there, "share": there})
            if len(drawn) == len(older) + 1 > 1:
                _faded(drawn[-1], weight / seen_through)
            made |= {name + "~" * at: drawn[at] for at in reversed(range(len(drawn)))}
        return made


def _faded(part: Part, share: float) -> float:
    """Has a part show through; how much of what lies beneath it hides."""
    hides = is_opaque(part)
    for value in ("opacity", "share"):
        part[value] = part.get(value, 1) * min(1.0, share)
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
