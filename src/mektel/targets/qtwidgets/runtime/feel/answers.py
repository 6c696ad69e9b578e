"""How a control answers the hand, and what moves without end: its values and its place then."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any, NamedTuple

from ..design import Part, States
from ..qt import QtCore
from .clock import clock, reduced_motion
from .courses import LEAST, Course, Timing, spring, swing
from .easing import ease
from .iris import Iris
from .motion import is_colour, numbers_of, value_of, versions
from .moving import Frame, Mark
from .sounds import play

if TYPE_CHECKING:
    from ..control import Control

MIDDLE = (0.5, 0.5)
MOST_TOUCHES, MOST_CUES = 6, 12
# How swings begin and end; how a shadow moves and softens as what casts it rises.
EASED = Timing("easing", 0.3, 0.0, ("bezier", 0.42, 0.0, 0.58, 1.0))
DOWN, SOFTER = 0.5, 1.0
_Event = QtCore.QEvent.Type
# What is done when it is touched: its kind and values.
Answer = dict[str, Any]


class Swing(NamedTuple):
    """What moves without end while states hold: a value, by the path to it, or the whole control.

    A number swings by ``amplitude`` within ``limits``, ``one_sided`` or about its own; a colour
    towards ``colour``.
    """

    part: str
    path: tuple[str | int, ...]
    wave: str
    period: float
    amplitude: float = 0.0
    phase: float = 0.0
    during: States = ()
    limits: tuple[float, float] = (0.0, 0.0)
    colour: str = ""
    turns: bool = False
    one_sided: bool = False


class Touch(NamedTuple):
    began: float
    place: tuple[float, float]
    ended: float | None = None


class Answers(QtCore.QObject):
    """What the hand did to a control, and what that gives at a moment."""

    def __init__(
        self, control: Control, answers: tuple[Answer, ...], swings: tuple[Swing, ...]
    ) -> None:
        super().__init__(control)
        self.control, self.answers, self.swings = control, answers, swings
        self.touches: list[Touch] = []
        self.cues: list[tuple[str, float]] = []
        self.followers: dict[Timing, Course] = {}
        # Of each swing: when it began, and the course of how much of it is there.
        self.levels: list[tuple[float, Course | None]] = [(0.0, None) for _ in self.swings]
        self._place: tuple[float, float] = MIDDLE
        self._inside = self._begun = False
        for signal, cause in ((control.entered, "enter"), (control.pressed, "press"),
                              (control.released, "release"), (control.toggled, "check")):
            signal.connect(lambda *_, cause=cause: self.due(cause))
        if hasattr(control, "busyChanged"):
            control.busyChanged.connect(lambda busy: None if busy else self.due("done"))
        control.installEventFilter(self)

    def due(self, cause: str) -> None:
        """Something that answers may be due to has happened."""
        now = clock().now()
        self.cues = [*self.cues, (cause, now)][-MOST_CUES:]
        if cause == "press":
            self.touches = [*self.touches, Touch(now, self._place)][-MOST_TOUCHES:]
        elif cause == "release":
            self.touches = [touch._replace(ended=now) if touch.ended is None else touch
                            for touch in self.touches]
        for answer in self.answers:
            if answer.get("cause") == cause and answer["kind"] == "sound":
                self._sound(answer["sound"], answer["gain"])
            if cause == "done" and answer["kind"] == "iris":
                self._open_iris(answer)
        self._update()

    def _sound(self, sound: str, gain: float) -> None:
        if play(self.control.design.files, f"sounds/{sound}.wav", gain):
            self.control.soundBegun.emit(sound, gain)

    def _open_iris(self, answer: Answer) -> None:
        """Covers the window by a disc that grows; at once where motion is to be little."""
        if reduced_motion(self.control) or not self.control.isVisible():
            self.control.nextDue.emit()
        else:
            Iris(self.control, answer)

    def _update(self) -> None:
        self.control.last_paint = None
        self.control.update()

    def eventFilter(self, watched: QtCore.QObject, event: QtCore.QEvent) -> bool:
        kind = event.type()
        if kind in (_Event.MouseButtonPress, _Event.MouseMove, _Event.Enter,
                    _Event.MouseButtonDblClick):
            self._point_at(event.position())  # type: ignore[attr-defined]
            if kind in (_Event.MouseButtonPress, _Event.MouseButtonDblClick) and self._inside and (
                    not self.control.isEnabled() or "busy" in self.control.states()):
                self.due("refuse")
        elif kind == _Event.KeyPress:
            self._place = MIDDLE
            if "busy" in self.control.states() and not event.isAutoRepeat():  # type: ignore[attr-defined]
                self.due("refuse")
        elif kind in (_Event.Leave, _Event.EnabledChange):
            self._leave()
        return False

    def _point_at(self, position: QtCore.QPointF) -> None:
        box = self.control.box()
        if box.isEmpty():
            return
        self._place = ((position.x() - box.x()) / box.width(),
                       (position.y() - box.y()) / box.height())
        self._inside = self.control.covers(position.toPoint())
        if not self._inside or not self.control.isEnabled():
            self._leave(inside=self._inside)
            return
        now = clock().now()
        for timing in self._timings():
            before = self.followers.get(timing)
            at = before.at(now) if before is not None else (*MIDDLE, 0.0)
            running = before if at[2] > 0 else None
            start = at if running is not None else (*self._place, 0.0)
            self.followers[timing] = Course(start, (*self._place, 1.0), now, timing, running)
            self._update()

    def _leave(self, inside: bool = False) -> None:
        self._inside, now = inside, clock().now()
        for timing, before in self.followers.items():
            if before.goal[2] > 0:
                at = before.at(now)
                self.followers[timing] = Course(
                    at, (at[0], at[1], 0.0), now, timing, before if at[2] > 0 else None)
                self._update()

    def _timings(self) -> set[Timing]:
        return {answer["timing"] for answer in self.answers
                if answer["kind"] in ("lean", "follow")}

    def follow(self, states: frozenset[str], moment: float) -> bool:
        """Takes over which states hold; whether anything moves."""
        for at, entry in enumerate(self.swings):
            began, level = self.levels[at]
            holds = states.issuperset(entry.during)
            if level is None:
                # As if it had been so for long.
                there = (float(holds),)
                self.levels[at] = moment, Course(there, there, moment, Timing("easing", 0.0))
            elif (level.goal == (1.0,)) != holds:
                now = level.at(moment)
                course = Course(now, (float(holds),), moment, EASED, level)
                self.levels[at] = moment if holds and now == (0.0,) else began, course
        swings = any(level is not None and (level.goal == (1.0,) or level.ends > moment)
                     for _, level in self.levels)
        return swings or self._ends() > moment

    def _ends(self) -> float:
        ends = [course.ends for course in self.followers.values()]
        for answer in self.answers:
            kind = answer["kind"]
            if kind == "ripple":
                ends += [touch.began + answer["seconds"] if touch.ended is None
                         else touch.ended + answer["fade"] for touch in self.touches]
            elif kind in ("press", "lift"):
                course = self._pressed(answer, (1.0,), (0.0,))
                ends += [course.ends] if course is not None else []
            elif kind in ("twist", "shake"):
                ends += [at + still_after(answer) for at in self._cued(answer)]
            elif kind == "flash":
                ends += [at + answer["seconds"] for at in self._cued(answer)]
        return max(ends, default=0.0)

    @property
    def holds(self) -> bool:
        """Whether the hand keeps an answer as it is."""
        pressed = bool(self.touches) and self.touches[-1].ended is None
        return pressed or any(course.goal[2] > 0 for course in self.followers.values())

    def _cued(self, answer: Answer) -> list[float]:
        return [at for cause, at in self.cues if cause == answer["cause"]]

    def _pressed(self, answer: Answer, pressed: tuple[float, ...], rest: tuple[float, ...]
                 ) -> Course | None:
        course: Course | None = None
        for at, touch in enumerate(self.touches, 1):
            course = Course(course.at(touch.began) if course else rest, pressed, touch.began,
                            answer["timing"], course)
            # One that began before this one was let go goes on.
            goes_on = any(later.began < (touch.ended or 0) for later in self.touches[at : at + 1])
            if touch.ended is not None and not goes_on:
                course = Course(
                    course.at(touch.ended), rest, touch.ended, answer["timing"], course)
        return course

    def play(self, frame: Frame, moment: float) -> None:
        """Lays every answer and swing of a moment into a frame."""
        for answer in self.answers:
            player = _PLAYERS.get(answer["kind"])
            if player is not None:
                player(self, answer, frame, moment)
        for entry, (began, level) in zip(self.swings, self.levels, strict=True):
            there = min(1.0, max(0.0, level.at(moment)[0])) if level is not None else 0.0
            if there > 0:
                _swing(frame, entry, there, (moment - began) / entry.period + entry.phase)

    def _ripple(self, answer: Answer, frame: Frame, moment: float) -> None:
        width, height = frame.size
        for touch in self.touches:
            left = 1.0
            if touch.ended is not None and moment > touch.ended:
                left = 1 - (moment - touch.ended) / max(answer["fade"], 1e-9)
            if left <= 0:
                continue
            share = min(1.0, (moment - touch.began) / max(answer["seconds"], 1e-9))
            x, y = touch.place if answer["origin"] == "touch" else MIDDLE
            x, y = x * width, y * height
            far = max(math.hypot(x - a, y - b) for a in (0, width) for b in (0, height))
            radius = far * max(0.0, ease(answer["shape"], share))
            # It is on the face, and goes with it.
            right, down = frame.parts["outline"].get("offset", (0.0, 0.0))
            frame.marks.append(Mark(
                answer["colour"], x + right, y + down, radius, left, answer["within"]))

    def _press(self, answer: Answer, frame: Frame, moment: float) -> None:
        course = self._pressed(answer, (answer["scale"], answer["sink"]), (1.0, 0.0))
        if course is not None:
            scale, sink = course.at(moment)
            frame.scale *= scale
            frame.y += sink

    def _lift(self, answer: Answer, frame: Frame, moment: float) -> None:
        course = self._pressed(answer, (answer["height"],), (0.0,))
        high = course.at(moment)[0] if course is not None else 0.0
        for name, part in frame.parts.items():
            if part.get("kind") == "shadow" and "--" not in name and high:
                x, y = part["offset"]
                frame.parts[name] = {**part, "offset": (x, y + DOWN * high),
                                     "blur": max(0.0, part["blur"] + SOFTER * high)}

    def _kick(self, answer: Answer, frame: Frame, moment: float) -> None:
        zeta, omega = spring(answer["bounce"], max(answer["seconds"], 1e-3))
        share = sum(swing(zeta, omega, moment - at, 0.0, blow(zeta, omega))[0]
                    for at in self._cued(answer) if at <= moment < at + still_after(answer))
        if answer["kind"] == "twist":
            frame.turn += share * answer["degrees"]
        else:
            frame.x += share * answer["distance"]

    def _lean(self, answer: Answer, frame: Frame, moment: float) -> None:
        x, y, inside = self._pointer(answer, moment)
        across, down = ((2 * place - 1) * inside * answer["degrees"] for place in (x, y))
        if answer["by"] == "turn":
            frame.turn += across
        else:
            frame.across += down
            frame.down += across

    def _follow(self, answer: Answer, frame: Frame, moment: float) -> None:
        x, y, inside = self._pointer(answer, moment)
        share, name = answer["share"] * inside, answer["value"]
        for part_name in versions(answer["part"]):
            part = frame.parts.get(part_name, {})
            if share and name in part:
                frame.parts[part_name] = {**part, name: _followed(
                    part[name], answer["unit"], (x, y), share, frame.size)}

    def _flash(self, answer: Answer, frame: Frame, moment: float) -> None:
        left = max((1 - (moment - at) / max(answer["seconds"], 1e-3)
                    for at in self._cued(answer)), default=0.0)
        if left > 0:
            width, height = frame.size
            frame.marks.append(Mark(
                answer["colour"], width / 2, height / 2, math.hypot(width, height), left, True))

    def _pointer(self, answer: Answer, moment: float) -> tuple[float, float, float]:
        course = self.followers.get(answer["timing"])
        if course is None:
            return (*MIDDLE, 0.0)
        x, y, inside = course.at(moment)
        return x, y, min(1.0, max(0.0, inside))


_PLAYERS: dict[str, Any] = {
    "ripple": Answers._ripple, "press": Answers._press, "lift": Answers._lift,
    "twist": Answers._kick, "shake": Answers._kick, "lean": Answers._lean,
    "follow": Answers._follow, "flash": Answers._flash}


def blow(zeta: float, omega: float) -> float:
    """The speed at which a spring at its goal first comes as far as 1."""
    swings = zeta / math.sqrt(1 - zeta * zeta) * math.acos(zeta) if zeta < 1 else 1.0
    return omega * math.exp(swings)


def still_after(answer: Answer) -> float:
    """Seconds after a blow from which on a spring stands still."""
    zeta, omega = spring(answer["bounce"], max(answer["seconds"], 1e-3))
    speed = blow(zeta, omega)
    if zeta >= 1:
        return 2 * math.log(2 * speed / omega / LEAST) / omega
    return math.log(speed / (omega * math.sqrt(1 - zeta * zeta)) / LEAST) / (zeta * omega)


def _followed(value: Any, unit: str, place: tuple[float, float], share: float,
              size: tuple[float, float]) -> Any:
    if unit == "°":
        towards = math.degrees(math.atan2((place[0] - 0.5) * size[0], (0.5 - place[1]) * size[1]))
        return value + ((towards - value + 180) % 360 - 180) * min(1.0, share)
    if unit == "%":
        return tuple(old + (new - old) * share for old, new in zip(value, place, strict=True))
    return tuple(old + (new - 0.5) * length * share
                 for old, new, length in zip(value, place, size, strict=True))


def wave(shape: str, at: float) -> float:
    """A wave of period 1, from -1 to 1; a pulse is 1, then 0."""
    at %= 1.0
    if shape == "sine":
        return math.sin(2 * math.pi * at)
    if shape == "triangle":
        return 1 - 4 * abs((at + 0.25) % 1 - 0.5)
    if shape == "saw":
        return 2 * ((at + 0.5) % 1) - 1
    return 1.0 if at < 0.5 else 0.0


def away(shape: str, at: float) -> float:
    """How far a colour has gone to the other one, or what swings to one side."""
    at %= 1.0
    if shape == "sine":
        return (1 - math.cos(2 * math.pi * at)) / 2
    if shape == "triangle":
        return 1 - abs(2 * at - 1)
    return at if shape == "saw" else wave(shape, at)


def _swing(frame: Frame, entry: Swing, level: float, at: float) -> None:
    by = level * entry.amplitude * (away if entry.one_sided else wave)(entry.wave, at)
    if entry.part == "control":
        if entry.path[0] == "size":
            frame.scale *= max(0.05, 1 + by)
        else:
            setattr(frame, str(entry.path[0]), getattr(frame, str(entry.path[0])) + by)
        return
    for name in versions(entry.part):
        part = frame.parts.get(name)
        if part is not None:
            share = part.get("share", 1) if entry.path == ("opacity",) else 1
            some = level * away(entry.wave, at)
            frame.parts[name] = _moved(part, entry, entry.path, share * by, some)


def _moved(value: Any, entry: Swing, path: tuple[str | int, ...], by: float, some: float) -> Any:
    """A value with what a path leads to where the swing has it."""
    if not path:
        if is_colour(value):
            mixed = [a + (b - a) * some for a, b in zip(
                numbers_of(value), numbers_of(entry.colour), strict=True)]
            return value_of(iter(mixed), value)
        low, high = entry.limits
        moved = value + by
        if entry.turns:
            moved = (moved + 360) % 720 - 360
        return min(high, max(low, moved))
    step, rest = path[0], path[1:]
    if isinstance(value, dict):
        if step not in value:
            return value
        changed: Part = {**value, str(step): _moved(value[step], entry, rest, by, some)}
        return changed
    assert isinstance(step, int)
    made = [*value[:step], _moved(value[step], entry, rest, by, some), *value[step + 1 :]]
    return made if isinstance(value, list) else tuple(made)
