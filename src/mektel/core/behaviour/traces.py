"""Recorded traces: what happens to a control, and what it and its application must then know."""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

from mektel.core.behaviour.machine import Event

FILE = Path(__file__).parent / "traces.json"


@dataclass(frozen=True)
class Trace:
    """A behaviour, events, and after each the states that hold and the signals it sent.

    Of the signals those are listed that every target has: clicked, toggled, longPressed.
    """

    name: str
    behaviour: str
    events: tuple[Event, ...]
    states: tuple[frozenset[str], ...]
    signals: tuple[tuple[str, ...], ...]


def traces() -> tuple[Trace, ...]:
    """All that are shipped, for each to be played in a target."""
    made = []
    for entry in json.loads(FILE.read_text(encoding="utf-8"))["traces"]:
        steps = entry["steps"]
        made.append(Trace(
            entry["name"], entry["behaviour"],
            tuple(Event(**step["event"]) for step in steps),
            tuple(frozenset(step["states"]) for step in steps),
            tuple(tuple(step["signals"]) for step in steps)))
    return tuple(made)
