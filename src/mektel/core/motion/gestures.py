"""Gestures: what a hand does to a control, as events with their moments and places."""

from __future__ import annotations

import re

from mektel.core.behaviour import Event
from mektel.core.errors import MektelError

MIDDLE = (0.5, 0.5)
TAP = re.compile(r"tap(?:@(-?\d*\.?\d+),(-?\d*\.?\d+))?")
GESTURES = ("hover", "press", "tap", "keys", "busy")


class GestureError(MektelError):
    """Text that names no gesture, or events that are none."""


def gesture(name: str) -> tuple[Event, ...]:
    """A gesture by name: ``tap@0.2,0.5`` is a touch at that place, as shares of the box.

    >>> [event.kind for event in gesture("hover")]
    ['move', 'move']
    >>> gesture("tap@0.2,0.5")[1].place
    (0.2, 0.5)
    """
    tap = TAP.fullmatch(name)
    if tap:
        return touch((float(tap[1]), float(tap[2])) if tap[1] else MIDDLE)
    if name not in _NAMED:
        raise GestureError(f"There is no gesture “{name}”. Available: {', '.join(GESTURES)}, and "
                           "tap@x,y with x and y as shares of the control’s width and height.")
    return _NAMED[name]


def touch(place: tuple[float, float], begin: float = 0.1, lasts: float = 0.12
          ) -> tuple[Event, ...]:
    """A finger set down and lifted: it is inside only while it touches."""
    inside = all(0 <= share <= 1 for share in place)
    return (Event(begin, "move", inside=inside, place=place),
            Event(begin, "press", inside=inside, place=place),
            Event(begin + lasts, "release", inside=inside, place=place),
            Event(begin + lasts, "move", place=place))


_ENTER = Event(0.1, "move", inside=True, place=(0.3, 0.5))
_PRESS = (_ENTER, Event(0.4, "press", inside=True, place=(0.3, 0.5)),
          Event(0.65, "release", inside=True, place=(0.3, 0.5)))
_NAMED: dict[str, tuple[Event, ...]] = {
    "hover": (_ENTER, Event(0.8, "move")),
    "press": (*_PRESS, Event(1.2, "move")),
    "keys": (Event(0.1, "focus", by="key"), Event(0.4, "key-down", key="space"),
             Event(0.65, "key-up", key="space"), Event(1.2, "blur")),
    "busy": (*_PRESS, Event(0.65, "busy"), Event(2.4, "idle"), Event(3.2, "move")),
}
