"""The map of a control's states: which of them it goes between, and the curve it goes by."""

from __future__ import annotations

import math
from dataclasses import dataclass

from mektel.core.easing import easing_from_text
from mektel.core.kit import REST, Control, parse_flags, states_of
from mektel.core.kit.answers import Answer
from mektel.core.kit.timing import Timing
from mektel.core.kit.timing_edits import lasting
from mektel.core.motion.spring import following, spring_of


@dataclass(frozen=True)
class Arrival:
    """A way from one state to another; the timing of ``goal`` is the one that counts. One that
    ``turns`` goes back before it has come to its end.
    """

    start: str
    goal: str
    turns: bool = False

    def __str__(self) -> str:
        return " → ".join([self.start, self.goal, *([self.start] if self.turns else [])])

    @property
    def flags(self) -> tuple[frozenset[str], frozenset[str]]:
        """The states that hold before and after: what is pressed has the pointer on it."""
        before, after = ("hover+pressed" if name == "pressed" else name
                         for name in (self.start, self.goal))
        return parse_flags(before), parse_flags(after)


def arrivals_of(control: Control) -> tuple[Arrival, ...]:
    """Every way on the map, those that a pointer takes first."""
    pairs = [(REST, "hover"), ("hover", "pressed"), ("pressed", "hover"), ("hover", REST)]
    for state in states_of(control.behaviour):
        if state not in ("hover", "pressed"):
            pairs += [(REST, state), (state, REST)]
    return tuple(Arrival(*pair) for pair in pairs)


def timing_at(control: Control, goal: str) -> Timing | None:
    """The timing of all of a control when it arrives in a state; None where it jumps."""
    return control.timing_of("control", "all", Arrival(REST, goal).flags[1])


def lasts(timing: Timing) -> float:
    """Seconds from the change of state until all of it has settled, as far as is seen."""
    return timing.delay + timing.seconds


def curve(timing: Timing, seconds: float, count: int = 120) -> list[tuple[float, float]]:
    """Moments (s) up to ``seconds``, and the share of the way gone then: 0 at first, 1 at last."""
    return [(at / count * seconds, share_at(timing, at / count * seconds))
            for at in range(count + 1)]


def share_at(timing: Timing, moment: float) -> float:
    """The share of its way that a value has gone ``moment`` seconds after a change of state."""
    elapsed = moment - timing.delay
    if elapsed <= 0:
        return 0.0
    if timing.kind == "easing":
        easing = easing_from_text(timing.easing)
        return easing.at(min(1.0, elapsed / timing.seconds) if timing.seconds else 1.0)
    if timing.kind == "follow":
        return 1 - math.exp(-following(timing.seconds) * elapsed)
    return 1 - spring_of(timing.bounce, timing.seconds).at(elapsed, 1.0, 0.0)[0]


def overshoot(timing: Timing) -> float:
    """How far it passes its goal, as a share of the way."""
    if timing.kind == "spring":
        return timing.bounce
    highest = max(share for _, share in curve(timing, timing.delay + timing.seconds, 400))
    return max(0.0, highest - 1)


def summary(timing: Timing | None) -> str:
    """A timing in a few words.

    >>> summary(Timing(seconds=0.14, easing="ease-out"))
    '140 ms · ease-out'
    """
    if timing is None or lasts(timing) == 0:
        return "at once"
    time = f"{timing.seconds * 1000:.0f} ms"
    if timing.kind == "spring":
        return f"spring · {time}"
    if timing.kind == "follow":
        return f"follows · {time}"
    name = timing.easing.split("(")[0]
    return f"{time} · {'curve' if name == 'cubic-bezier' else name}"


def answers_on(control: Control, goal: str) -> list[tuple[int, Answer]]:
    """The answers that play while a control arrives in a state, each with its number."""
    causes = {"pressed": {"press"}, "hover": {"enter", "release"}, "checked": {"check"},
              REST: {"check", "done"}}.get(goal, set())
    held = {"pressed": ("ripple", "press", "lift"), "hover": ("lean", "follow"),
            REST: ("iris",)}.get(goal, ())
    return [(at, answer) for at, answer in enumerate(control.answers)
            if answer.kind != "sound" and (
                answer.kind in held or getattr(answer, "cause", "") in causes)]


def way_lasts(control: Control, goal: str) -> float:
    """Seconds until the last timing of a state, and the last answer on the way to it, is over."""
    timings = [timing for by_name in control.timings.get(goal, {}).values()
               for timing in by_name.values()]
    return max([0.0, *map(lasts, timings),
                *(lasting(answer) for _, answer in answers_on(control, goal))])
