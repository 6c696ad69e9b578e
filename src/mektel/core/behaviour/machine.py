"""A pure state machine: events with their place and time in, states and signals out.

It is the reference for the try pad and for all shipped code; recorded traces (``traces.json``) hold
them to it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

LONG_PRESS_SECONDS = 0.6
CHECKABLE = ("two-position", "group")
Kind = Literal["move", "press", "release", "cancel", "key-down", "key-up", "focus", "blur",
               "disable", "enable", "busy", "idle", "wait"]


@dataclass(frozen=True)
class Event:
    """What happened, ``at`` so many seconds after the beginning.

    ``inside`` says of a pointer's event whether it was within the outline; ``key`` is ``space`` or
    ``enter``, ``repeat`` whether it is held down; ``by`` says of focus whether it came by ``key``
    or ``pointer``. ``place`` is where a pointer's event was, as shares of the control's box.
    ``cancel`` ends a pointer's press before it is let go: a
    gesture, a drag or another window has taken it over.
    """

    at: float
    kind: Kind
    inside: bool = False
    key: Literal["", "space", "enter"] = ""
    repeat: bool = False
    by: Literal["", "key", "pointer"] = ""
    place: tuple[float, float] | None = None


@dataclass(frozen=True)
class Situation:
    """All that decides how the next event is answered."""

    inside: bool = False
    # What presses it: the pointer, though it may have slid off, or the space bar.
    pressed_by: Literal["", "pointer", "space"] = ""
    pressed_at: float = 0.0
    sent_long: bool = False
    focused: bool = False
    by_keyboard: bool = False
    checked: bool = False
    disabled: bool = False
    busy: bool = False

    @property
    def is_down(self) -> bool:
        """Whether it is pressed now: a pointer that has slid off presses nothing."""
        return self.pressed_by == "space" or (self.pressed_by == "pointer" and self.inside)

    @property
    def states(self) -> frozenset[str]:
        """The states that hold, as the document names them."""
        lasting = {"checked"} if self.checked else set()
        if self.disabled:
            return frozenset(lasting | {"disabled"})
        holding = {"hover": self.inside, "pressed": self.is_down and not self.busy,
                   "focus": self.focused and self.by_keyboard, "busy": self.busy}
        return frozenset(lasting | {state for state, holds in holding.items() if holds})


def step(
    behaviour: str, before: Situation, event: Event
) -> tuple[Situation, tuple[str, ...]]:
    """What an event leads to, and the signals that the application receives, in their order.

    >>> inside, signals = step("push", Situation(), Event(0.0, "move", inside=True))
    >>> sorted(inside.states), signals
    (['hover'], ('entered',))
    """
    now, signals = _long_press(behaviour, before, event.at)
    made, more = _ANSWERS[event.kind](behaviour, now, event)
    return made, (*signals, *more)


def play(behaviour: str, events: Iterable[Event], start: Situation | None = None
         ) -> list[tuple[Situation, tuple[str, ...]]]:
    """Every event's result, from nothing or from ``start``."""
    results, now = [], start or Situation()
    for event in events:
        now, signals = step(behaviour, now, event)
        results.append((now, signals))
    return results


Result = tuple[Situation, tuple[str, ...]]


def _long_press(behaviour: str, now: Situation, at: float) -> Result:
    """A press that has lasted long enough says so, once."""
    if behaviour != "long-press" or not now.is_down or now.sent_long:
        return now, ()
    if at - now.pressed_at < LONG_PRESS_SECONDS:
        return now, ()
    return replace(now, sent_long=True), ("longPressed",)


def _click(behaviour: str, now: Situation) -> Result:
    if behaviour not in CHECKABLE:
        return now, ("clicked",)
    checked = True if behaviour == "group" else not now.checked
    signals = ("toggled", "clicked") if checked != now.checked else ("clicked",)
    return replace(now, checked=checked), signals


def _press(now: Situation, by: Literal["pointer", "space"], at: float) -> Result:
    return replace(now, pressed_by=by, pressed_at=at, sent_long=False), ("pressed",)


def _let_go(now: Situation) -> Result:
    """No longer pressed, and nothing came of it."""
    signals = ("released",) if now.is_down else ()
    return replace(now, pressed_by=""), signals


def _move(_behaviour: str, now: Situation, event: Event) -> Result:
    inside = event.inside and not now.disabled
    if inside == now.inside:
        return now, ()
    moved = replace(now, inside=inside)
    signals = ["entered" if inside else "left"]
    if now.pressed_by == "pointer":
        # Sliding off lets go for the time being; sliding back presses again, from anew.
        signals.append("pressed" if inside else "released")
        moved = replace(moved, pressed_at=event.at, sent_long=False)
    return moved, tuple(signals)


def _press_pointer(_behaviour: str, now: Situation, event: Event) -> Result:
    if now.disabled or now.busy or not event.inside:
        return now, ()
    return _press(replace(now, focused=True, by_keyboard=False), "pointer", event.at)


def _release_pointer(behaviour: str, now: Situation, _event: Event) -> Result:
    if now.pressed_by != "pointer":
        return now, ()
    released, signals = _let_go(now)
    if not now.is_down:
        return released, signals
    clicked, more = _click(behaviour, released)
    return clicked, (*signals, *more)


def _cancel(_behaviour: str, now: Situation, _event: Event) -> Result:
    return _let_go(now) if now.pressed_by == "pointer" else (now, ())


def _key_down(behaviour: str, now: Situation, event: Event) -> Result:
    if now.disabled or not now.focused:
        return now, ()
    now = replace(now, by_keyboard=True)
    if now.busy or event.repeat:
        return now, ()
    if event.key == "space":
        return (now, ()) if now.pressed_by else _press(now, "space", event.at)
    clicked, more = _click(behaviour, now)
    return clicked, ("pressed", "released", *more)


def _key_up(behaviour: str, now: Situation, event: Event) -> Result:
    if event.key != "space" or now.pressed_by != "space" or event.repeat:
        return now, ()
    released, signals = _let_go(now)
    clicked, more = _click(behaviour, released)
    return clicked, (*signals, *more)


def _focus(_behaviour: str, now: Situation, event: Event) -> Result:
    return replace(now, focused=True, by_keyboard=event.by == "key"), ()


def _blur(_behaviour: str, now: Situation, _event: Event) -> Result:
    # Without the focus it does not hear that a key comes up.
    let_go, signals = _let_go(now) if now.pressed_by == "space" else (now, ())
    return replace(let_go, focused=False), signals


def _disable(_behaviour: str, now: Situation, _event: Event) -> Result:
    let_go, signals = _let_go(now)
    left = ("left",) if now.inside else ()
    return replace(let_go, disabled=True, inside=False, focused=False), (*signals, *left)


def _enable(_behaviour: str, now: Situation, _event: Event) -> Result:
    return replace(now, disabled=False), ()


def _busy(_behaviour: str, now: Situation, _event: Event) -> Result:
    let_go, signals = _let_go(now)
    return replace(let_go, busy=True), signals


def _idle(_behaviour: str, now: Situation, _event: Event) -> Result:
    return replace(now, busy=False), ()


def _wait(_behaviour: str, now: Situation, _event: Event) -> Result:
    return now, ()


_ANSWERS = {
    "move": _move, "press": _press_pointer, "release": _release_pointer, "cancel": _cancel,
    "key-down": _key_down, "key-up": _key_up, "focus": _focus, "blur": _blur,
    "disable": _disable, "enable": _enable, "busy": _busy, "idle": _idle, "wait": _wait,
}
