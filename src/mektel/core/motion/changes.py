"""Changes of state, brought about as a person or the application would."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from mektel.core.behaviour import Event, step
from mektel.core.kit import Control, Kit
from mektel.core.look.settle import NOTHING
from mektel.core.motion.answers.frame import MIDDLE, Cue
from mektel.core.motion.hands import handled
from mektel.core.motion.timeline import Motion, motion_of

Place = tuple[float, float]
# Seconds for which what held before has held.
LONG = 1000.0


def events_between(before: frozenset[str], after: frozenset[str], at: float, place: Place
                   ) -> list[Event]:
    """What happens at a moment (s), in its order; checking is left to the application."""
    events = []
    on, off = after - before, before - after
    if "pressed" in off:
        events.append(Event(at, "release", inside=True, place=place))
    if "disabled" in on | off:
        events.append(Event(at, "disable" if "disabled" in on else "enable"))
    if "busy" in on | off:
        events.append(Event(at, "busy" if "busy" in on else "idle"))
    if "focus" in on | off:
        events.append(Event(at, "focus", by="key") if "focus" in on else Event(at, "blur"))
    if "hover" in on:
        events.append(Event(at, "move", inside=True, place=place))
    elif "hover" in off:
        events.append(Event(at, "move"))
    if "pressed" in on:
        events.append(Event(at, "press", inside=True, place=place))
    return events


def brought(motion: Motion, flags: frozenset[str], at: float, place: Place = MIDDLE) -> Motion:
    """The motion once other states hold, all of them from one moment on; the pointer is at a place
    (shares of the box) while it is inside.
    """
    control, hand, situation = motion.settled.control, motion.hand, motion.situation
    checked = "checked" in flags
    if checked != situation.checked:
        situation = replace(situation, checked=checked)
        hand = replace(hand, cues=(*hand.cues, Cue("check", at)))
    for event in events_between(motion.situation.states, flags, at, place):
        before = situation
        situation, signals = step(control.behaviour, before, event)
        situation = replace(situation, checked=checked)
        hand = handled(control.answers, hand, event, (before, situation), signals)
    return replace(motion, situation=situation, hand=hand).towards(situation.states, at)


def change(
    kit: Kit, control: Control, before: frozenset[str], after: frozenset[str],
    size: tuple[float, float] | None = None, arguments: Mapping[str, Any] = NOTHING,
    place: Place = MIDDLE,
) -> Motion:
    """The motion from some states, that have held for long, to others from 0 s on; answers play as
    to a pointer at a place (shares of the box).
    """
    start = motion_of(kit, control, size, arguments=arguments)
    return brought(brought(start, before, -LONG, place), after, 0.0, place)
