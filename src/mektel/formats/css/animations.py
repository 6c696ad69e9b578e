"""Endless animations of a sheet as swings: what goes to and fro, round and round, on and off."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

from mektel.core.kit import OUTLINE, REST, Stop, parse_flags
from mektel.core.kit.answers import MOST_SWINGS
from mektel.core.kit.control import CONTROL
from mektel.formats.css.borders import border_of
from mektel.formats.css.cascade import Style
from mektel.formats.css.declarations import PADDING, TRANSFORM, Built, build
from mektel.formats.css.described import Described, of_look
from mektel.formats.css.keyframes import Animation, animations_of, frames_of, without
from mektel.formats.css.lengths import Scale
from mektel.formats.css.parts import part_layers
from mektel.formats.css.reader import Reader
from mektel.formats.css.tokens import CssError

# Part and path of a value.
Channel = tuple[str, str]
Values = dict[Channel, float | str]
# Shares of the time that what swings may rest at an end, and how far from the middle it may turn.
PAUSE, ASIDE, NEAR = 0.3, 0.16, 1e-6
PERIODS = (0.1, 20.0)


@dataclass(frozen=True)
class Course:
    """A value over one round: from ``start`` to ``end``, back again unless it begins anew."""

    wave: str
    start: float | str
    end: float | str
    periods: float = 1.0


def swings_of(described: Described, built: dict[str, Built]) -> list[dict[str, Any]]:
    """The swings of a control; what cannot be one is listed.

    ``built`` holds what each state comes to. An animation of a state runs while that state holds;
    that of rest always does.
    """
    swings: list[dict[str, Any]] = []
    at_rest: set[tuple[str, str]] = set()
    for state, shown in built.items():
        if len(parse_flags(state)) > 1:
            continue  # each by itself says so already
        style = described.styles[state]
        for owner, own in (("", style), *style.parts.items()):
            for animation in animations_of(own.values):
                key = (owner, animation.name)
                if state == REST:
                    at_rest.add(key)
                elif key in at_rest:
                    continue
                moving = _Moving(described, state, shown, owner, own, animation)
                for swing in moving.swings():
                    swings.append({**swing, "during": state})
    for swing in swings[MOST_SWINGS:]:
        described.leave(described.first_line, f"endless motion of {swing['part']}, "
                        f"{swing['value']}: more than {MOST_SWINGS} values move")
    return swings[:MOST_SWINGS]


@dataclass
class _Moving:
    described: Described
    state: str
    built: Built
    # ``before`` or ``after``; empty for the element itself.
    owner: str
    style: Style
    animation: Animation

    def swings(self) -> Iterator[dict[str, Any]]:
        animation, content = self.animation, self.described.keyframes.get(self.animation.name)
        if content is None:
            self._leave("the sheet has no such keyframes")
        elif not animation.endless or animation.seconds <= 0:
            self._leave("it ends; only what goes on without end is taken")
        else:
            for name, frames in frames_of(content, self.style).items():
                try:
                    yield from self._of_property(name, frames)
                except CssError as error:
                    self._leave(f"{name}: {error}")

    def _leave(self, why: str) -> None:
        self.described.leave(self.animation.line, f"animation {self.animation.name}: {why}")

    def _of_property(
        self, name: str, frames: list[tuple[float, Style]]
    ) -> Iterator[dict[str, Any]]:
        still = self._values(name, self.style)
        listed = [(offset, self._values(name, style)) for offset, style in frames]
        if any(values.keys() != still.keys() for _, values in listed):
            raise CssError("something that is not there at rest")
        moved = [channel for channel in still
                 if any(values[channel] != still[channel] for _, values in listed)]
        if not moved and any(style.values.get(name) != self.style.values.get(name)
                             for _, style in frames):
            raise CssError("it is not a value that can swing")
        for channel in moved:
            course = _course([(offset, values[channel]) for offset, values in listed],
                             self.animation)
            if course is None:
                raise CssError("it does not go between two values and back")
            yield self._swing(channel, course, still[channel])

    def _swing(self, channel: Channel, course: Course, still: float | str) -> dict[str, Any]:
        animation, period = self.animation, course.periods * self.animation.seconds
        if not PERIODS[0] <= period <= PERIODS[1]:
            raise CssError(f"a round of {period:g} s; it may take {PERIODS[0]:g} to "
                           f"{PERIODS[1]:g} s")
        placed = _placed(course, still)
        if placed is None:
            raise CssError("it begins or ends beside what the control has at rest")
        if course.wave == "saw" and animation.easing != "linear":
            self._leave("it moves evenly, without its easing")
        phase = (placed.pop("phase") - animation.delay / period) % 1.0
        part, value = channel
        return {"part": part, "value": value, "wave": course.wave, "period": round(period, 3),
                "phase": round(phase, 3) % 1.0, **placed}

    # What a style comes to, as numbers and colours

    def _values(self, name: str, style: Style) -> Values:
        described, em = self.described, Scale(style.em, style.root_em)
        if not self.owner and name in TRANSFORM:
            return self._of_whole(style, em)
        if self.owner:
            element = described.styles[self.state]
            outer, own_em = described.states[self.state], Scale(element.em, element.root_em)
            edges = border_of(Reader(described, outer, PADDING), own_em, "#000000").widths
            padding = Reader(described, outer).padding(own_em) if described.empty else None
            layers, _ = part_layers(
                described, self.owner, style, self.built.size, edges, padding)
            return _numbers(layers)
        frame = replace(described, states={"frame": without(of_look(style.values), TRANSFORM)},
                        parts={"frame": {}})
        made = build(frame, "frame")
        if made.size != self.built.size:
            raise CssError("the control keeps its size")
        return _numbers({OUTLINE: without(made.outline, ("offset",)), **made.layers})

    def _of_whole(self, style: Style, scale: Scale) -> Values:
        """How the whole is moved, turned and scaled beside how it is at rest."""
        size = self.built.size
        (x, y), turn, (across, down) = Reader(
            self.described, style.values).transform(scale, size)
        (x0, y0), turn0, (across0, down0) = Reader(
            self.described, self.style.values).transform(scale, size)
        share = (across / across0, down / down0) if across0 and down0 else (1.0, 1.0)
        if abs(share[0] - share[1]) > NEAR:
            raise CssError("it grows one way more than the other")
        return {(CONTROL, "x"): x - x0, (CONTROL, "y"): y - y0, (CONTROL, "turn"): turn - turn0,
                (CONTROL, "size"): share[0] - 1}


def _numbers(parts: dict[str, dict[str, Any]]) -> Values:
    """Every number and colour of layers, by its path."""
    values: Values = {}
    for part, own in parts.items():
        for name, value in own.items():
            if isinstance(value, float | int) and not isinstance(value, bool):
                values[part, name] = float(value)
            elif isinstance(value, str) and name.endswith("colour"):
                values[part, name] = value
            elif isinstance(value, tuple) and all(isinstance(one, float | int) for one in value):
                values |= {(part, f"{name}.{at}"): float(one) for at, one in enumerate(value)}
            elif isinstance(value, tuple) and all(isinstance(one, Stop) for one in value):
                values |= {(part, f"{name}.{at}.colour"): stop.colour
                           for at, stop in enumerate(value)}
    return values


def _course(points: list[tuple[float, float | str]], animation: Animation) -> Course | None:
    """What goes on in one round; None for what is not between two values."""
    steady: list[list[Any]] = []
    for offset, value in points:
        if steady and steady[-1][2] == value:
            steady[-1][1] = offset
        else:
            steady.append([offset, offset, value])
    if len(steady) < 2:
        return None
    start, end = steady[0][2], steady[1][2]
    if animation.reversed and len(steady) == 2:
        start, end = end, start
    if len(steady) == 2 and animation.alternates:
        rests = steady[0][1] + 1 - steady[1][0]
        wave = "pulse" if animation.in_steps or rests > 1 - 0.1 else _to_and_fro(animation)
        return Course(wave, start, end, 2.0) if (
            wave == "pulse" or rests <= PAUSE) else None
    if len(steady) == 2:
        first, then = steady[0][1], steady[1][0]
        if then - first < 0.1:
            return Course("pulse", start, end) if abs(first - 0.5) <= ASIDE else None
        return Course("saw", start, end) if first == 0 and then >= 1 - PAUSE else None
    if len(steady) == 3 and steady[0][2] == steady[2][2] and not animation.alternates:
        turn, rests = (steady[1][0] + steady[1][1]) / 2, steady[1][1] - steady[1][0]
        if abs(turn - 0.5) <= ASIDE and rests <= PAUSE:
            return Course("pulse" if animation.in_steps else _to_and_fro(animation), start, end)
    return None


def _to_and_fro(animation: Animation) -> str:
    return "triangle" if animation.easing == "linear" else "sine"


def _placed(course: Course, still: float | str) -> dict[str, Any] | None:
    """How far it swings, to which sides and where in the round it begins; None if neither end nor
    the middle is where the value is without it.
    """
    start, end = course.start, course.end
    # A pulse is away in the first half.
    begins = 0.5 if course.wave == "pulse" else 0.0
    if isinstance(still, str) or isinstance(start, str) or isinstance(end, str):
        if start == still:
            return {"colour": end, "amplitude": 0.0, "phase": begins}
        if end == still and course.wave != "saw":
            return {"colour": start, "amplitude": 0.0, "phase": 0.5 - begins}
        return None
    if abs(start - still) <= NEAR:
        return {"amplitude": round(end - start, 3), "sides": "one", "phase": begins}
    if abs(end - still) <= NEAR and course.wave != "saw":
        return {"amplitude": round(start - end, 3), "sides": "one", "phase": 0.5 - begins}
    if abs((start + end) / 2 - still) <= NEAR and course.wave != "pulse":
        return {"amplitude": round((end - start) / 2, 3),
                "phase": 0.5 if course.wave == "saw" else 0.75}
    return None
