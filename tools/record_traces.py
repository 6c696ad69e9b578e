"""Writes the traces that the try pad and all shipped code are held to, as the state machine in
``mektel.core.behaviour`` answers them. Read the difference before you commit it.

Run: .venv/bin/python tools/record_traces.py
"""

from __future__ import annotations

import json
from dataclasses import asdict
from typing import Any

from mektel.core.behaviour import Event, play
from mektel.core.behaviour.traces import FILE

COMMON = ("clicked", "toggled", "longPressed")
IN, OUT = {"kind": "move", "inside": True}, {"kind": "move", "inside": False}
PRESS, RELEASE = {"kind": "press", "inside": True}, {"kind": "release"}
CANCEL = {"kind": "cancel"}
TAB, AWAY = {"kind": "focus", "by": "key"}, {"kind": "blur"}
SPACE, SPACE_UP = {"kind": "key-down", "key": "space"}, {"kind": "key-up", "key": "space"}
ENTER, ENTER_UP = {"kind": "key-down", "key": "enter"}, {"kind": "key-up", "key": "enter"}
AGAIN = {"repeat": True}
# What happens one after the other, 0.05 s apart where it is not said when.
SCRIPTS: dict[str, tuple[str, list[dict[str, Any]]]] = {
    "click": ("push", [IN, PRESS, RELEASE, OUT]),
    "press outside": ("push", [OUT, {"kind": "press"}, RELEASE, IN, OUT]),
    "slide off and release": ("push", [IN, PRESS, OUT, RELEASE, IN]),
    "slide off and back": ("push", [IN, PRESS, OUT, IN, RELEASE]),
    "cancelled": ("push", [IN, PRESS, CANCEL, RELEASE, OUT, IN, PRESS, RELEASE]),
    "focus by key": ("push", [TAB, SPACE, SPACE_UP, AWAY]),
    "focus by pointer": ("push", [IN, PRESS, RELEASE, OUT, SPACE, SPACE_UP, AWAY]),
    "enter": ("push", [TAB, ENTER, ENTER_UP]),
    "enter held down": ("push", [TAB, ENTER, ENTER | AGAIN, ENTER | AGAIN, ENTER_UP]),
    "space held down": ("push", [TAB, SPACE, SPACE | AGAIN, SPACE | AGAIN, SPACE_UP]),
    "keys without focus": ("push", [SPACE, SPACE_UP, ENTER, ENTER_UP]),
    "disabled": ("push", [{"kind": "disable"}, IN, PRESS, RELEASE, OUT, {"kind": "enable"}, IN,
                          PRESS, RELEASE]),
    "disabled while pressed": ("push", [IN, PRESS, {"kind": "disable"}, RELEASE, OUT,
                                        {"kind": "enable"}]),
    "two-position by pointer": ("two-position", [IN, PRESS, RELEASE, PRESS, RELEASE]),
    "two-position by keys": ("two-position", [TAB, SPACE, SPACE_UP, ENTER, ENTER_UP]),
    "two-position slid off": ("two-position", [IN, PRESS, OUT, RELEASE]),
    "group stays on": ("group", [IN, PRESS, RELEASE, PRESS, RELEASE]),
    "long press": ("long-press", [IN, PRESS, {"kind": "wait", "at": 1.2}, RELEASE]),
    "long press too short": ("long-press", [IN, PRESS, RELEASE, {"kind": "wait", "at": 1.2}]),
    "long press by key": ("long-press", [TAB, SPACE, {"kind": "wait", "at": 1.2}, SPACE_UP]),
    "long press slid off": ("long-press", [IN, PRESS, OUT, {"kind": "wait", "at": 1.4}, RELEASE]),
    "long press cancelled": (
        "long-press", [IN, PRESS, CANCEL, RELEASE, {"kind": "wait", "at": 1.4}, OUT]),
    "busy": ("busy", [{"kind": "busy"}, IN, PRESS, RELEASE, {"kind": "idle"}, PRESS, RELEASE]),
    "busy by keys": ("busy", [TAB, {"kind": "busy"}, SPACE, SPACE_UP, ENTER, ENTER_UP,
                              {"kind": "idle"}, ENTER, ENTER_UP]),
}


def main() -> None:
    made = []
    for name, (behaviour, script) in SCRIPTS.items():
        at, events = 0.0, []
        for entry in script:
            at = float(entry.get("at", at + 0.05))
            events.append(Event(**{**entry, "at": round(at, 3)}))
        steps = []
        for event, (situation, signals) in zip(events, play(behaviour, events), strict=True):
            plain = {key: value for key, value in asdict(event).items() if value}
            steps.append({"event": {"at": event.at, **plain}, "states": sorted(situation.states),
                          "signals": [one for one in signals if one in COMMON]})
        made.append({"name": name, "behaviour": behaviour, "steps": steps})
    lines = ",\n".join(
        f'  {{"name": {json.dumps(one["name"])}, "behaviour": "{one["behaviour"]}", "steps": [\n'
        + ",\n".join(f"    {json.dumps(step)}" for step in one["steps"]) + "\n  ]}" for one in made)
    FILE.write_text(f'{{"traces": [\n{lines}\n]}}\n', encoding="utf-8")
    print(f"{len(made)} traces, {sum(len(one['steps']) for one in made)} events")


if __name__ == "__main__":
    main()
