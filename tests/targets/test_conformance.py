"""The recorded traces, played with real input in the try pad, in Qt and on the web: each must show
the states and send the signals that the state machine has.
"""

from __future__ import annotations

import contextlib
import json
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Error

from mektel.core.behaviour import play, traces
from mektel.core.behaviour.traces import FILE
from mektel.core.kit import STATES, Control, Fill, Kit
from mektel.targets import TARGETS, write_files
from mektel.targets.conduct import conducts, is_cancelled
from mektel.targets.shipping import ship
from mektel.targets.web.conduct import bring_about
from tests.chromium import page_on

BEHAVIOURS = ("push", "two-position", "group", "long-press", "busy")
DATA = json.loads(FILE.read_text(encoding="utf-8"))["traces"]


def kit() -> Kit:
    """A control of each behaviour that shows every state by a layer of its own."""
    controls = []
    for behaviour in BEHAVIOURS:
        states = [one for one in STATES if one not in ("checked", "busy") or ((
            one == "checked") == (behaviour in ("two-position", "group"))
            and (one == "busy") == (behaviour == "busy"))]
        controls.append(Control(
            id=behaviour, name=behaviour, text="", behaviour=behaviour, size=(120, 40),
            layers=(Fill(id="face", name="Face"),
                    *(Fill(id=state, name=state, visible=False) for state in states)),
            states={state: {state: {"visible": True}} for state in states}))
    return Kit(controls=tuple(controls))


def wanted(trace: dict[str, Any]) -> list[list[Any]]:
    return [[step["states"], step["signals"]] for step in trace["steps"]]


def test_the_machine_answers_as_it_was_recorded() -> None:
    assert {trace.behaviour for trace in traces()} == set(BEHAVIOURS)
    for trace in traces():
        for (situation, signals), states, common in zip(
                play(trace.behaviour, trace.events), trace.states, trace.signals, strict=True):
            assert situation.states == states, trace.name
            assert tuple(one for one in signals
                         if one in ("clicked", "toggled", "longPressed")) == common, trace.name


def test_qt_controls_follow_the_traces() -> None:
    made = kit()
    for conduct in conducts(made, made.controls, TARGETS["qtwidgets"]):
        assert conduct.tried > len(DATA) / len(BEHAVIOURS) and conduct.passes, conduct.faults


@pytest.mark.parametrize("behaviour", BEHAVIOURS)
def test_elements_follow_the_traces(behaviour: str, tmp_path: Path) -> None:
    web, made = TARGETS["web"], kit()
    control = made.control(behaviour)
    write_files(ship(web, made, [control]), tmp_path)
    tag = web.tag(control)
    for trace in (one for one in DATA if one["behaviour"] == behaviour):
        markup = (f"<!doctype html><script src='runtime.js'></script>"
                  f"<script src='{tag}.js'></script><body style='padding:40px'>"
                  f"<input id=before><{tag} id=it></{tag}><script>heard = [];"
                  "for (const [name, told] of [['click', 'clicked'], ['change', 'toggled'], "
                  "['longpress', 'longPressed']])"
                  " it.addEventListener(name, () => heard.push(told));</script>")
        with page_on(markup, tmp_path, size=(500, 200)) as page:
            answered, meant = played(page, trace), wanted(trace)
            if is_cancelled(trace):
                # Whoever drives a browser cannot have it end a drag as a hand does: it goes on
                # showing the press. What the application hears can be told.
                answered, meant = ([signals for _, signals in steps]
                                   for steps in (answered, meant))
            assert answered == meant, trace["name"]


SHOWN = """names => names.filter(name => {
    const layer = it.shadowRoot.querySelector(`[part="${name}"]`);
    return layer && getComputedStyle(layer).visibility === "visible"; }).sort()"""


def played(page: Any, trace: dict[str, Any]) -> list[list[Any]]:
    """After each step the states that the element shows and the signals it sent."""
    box = page.evaluate("(() => { const b = it.getBoundingClientRect();"
                        " return [b.x + b.width / 2, b.y + b.height / 2] })()")
    results, clock = [], 0.0
    page.mouse.move(2, 2)
    page.focus("#before")
    page.evaluate(f"it.draggable = {json.dumps(is_cancelled(trace))}")
    for step in trace["steps"]:
        event = step["event"]
        bring_about(page, event, clock, box)
        clock = event["at"]
        # A browser looks anew where the pointer is a moment after an element has changed.
        if is_cancelled(trace):
            results.append([[], page.evaluate("heard.splice(0)")])
            continue
        with contextlib.suppress(Error):
            page.wait_for_function(f"([names, wanted]) => "
                                   f"JSON.stringify(({SHOWN})(names)) === wanted",
                                   arg=[list(STATES), json.dumps(step["states"],
                                                                 separators=(",", ":"))],
                                   timeout=5000, polling=20)
        results.append([page.evaluate(SHOWN, list(STATES)),
                        page.evaluate("heard.splice(0)")])
    return results
