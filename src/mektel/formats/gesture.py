"""Gestures in files: what happened to a control and when, as JSON."""

from __future__ import annotations

import itertools
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field, ValidationError

from mektel.core.behaviour import Event
from mektel.core.kit.control import fault_of
from mektel.core.kit.value_types import Frozen
from mektel.core.motion.gestures import GestureError
from mektel.formats.json_text import json_from_text

Moment = Annotated[float, Field(ge=0, le=600)]
Share = Annotated[float, Field(ge=-100, le=100)]


class WrittenEvent(Frozen):
    at: Moment
    kind: Literal["move", "press", "release", "cancel", "key-down", "key-up", "focus", "blur",
                  "disable", "enable", "busy", "idle", "wait"]
    inside: bool = False
    key: Literal["", "space", "enter"] = ""
    repeat: bool = False
    by: Literal["", "key", "pointer"] = ""
    place: tuple[Share, Share] | None = None


class WrittenGesture(Frozen):
    gesture: Literal[1] = 1
    events: Annotated[tuple[WrittenEvent, ...], Field(min_length=1, max_length=2000)]


def gesture_from_text(text: str, source: str) -> tuple[Event, ...]:
    """The events of a gesture file, in order; raises :class:`GestureError` with the place."""
    data = json_from_text(text, source, GestureError, 8)
    try:
        events = WrittenGesture.model_validate(data).events
    except ValidationError as error:
        place, reason = fault_of(error)
        raise GestureError(f"{source}: {place or 'the file'}: {reason}.") from None
    for before, after in itertools.pairwise(events):
        if after.at < before.at:
            raise GestureError(f"{source}: events must stand in the order of their times; "
                               f"{after.at:g} s comes after {before.at:g} s.")
    return tuple(Event(**dict(event)) for event in events)


def read_gesture(path: Path) -> tuple[Event, ...]:
    """A gesture file; raises :class:`GestureError`."""
    try:
        text = path.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        why = error.strerror if isinstance(error, OSError) else "it is not UTF-8"
        raise GestureError(f"{path} cannot be read: {why}.") from None
    return gesture_from_text(text, str(path))


def gesture_text(events: tuple[Event, ...]) -> str:
    """A gesture as a file has it."""
    written = tuple(WrittenEvent(**vars(event)) for event in events)
    return WrittenGesture(events=written).model_dump_json(indent=2, exclude_defaults=True) + "\n"
