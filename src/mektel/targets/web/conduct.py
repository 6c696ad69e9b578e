"""How shipped elements are tried in Chromium, and what is to be seen of one that is as designed."""

from __future__ import annotations

import contextlib
import json
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from mektel.core.kit import STATES, Kit, states_of
from mektel.core.kit.conditions import REST
from mektel.targets.base import CancelledError, Progress, Shot, TargetError
from mektel.targets.chromium import AROUND, PATIENCE, QUIET, Camera, chromium
from mektel.targets.conduct import Observed, Trial, is_cancelled
from mektel.targets.sheet import Sheet, sheet_of
from mektel.targets.web.runner import show
from mektel.targets.web.stylesheet import button_in

ROLES_TOLD = ("button", "switch", "radio", "checkbox", "link")
ROLES = {"two-position": "switch", "group": "radio"}
KEYS = {"space": "Space", "enter": "Enter"}
SIGNALS = {"click": "clicked", "change": "toggled", "longpress": "longPressed"}
# Milliseconds after which a state that is not there will not come.
COMES = 800
OUTSIDE = (2, 2)
BEGIN = """([tag, signals]) => {
    window.it = document.querySelector(tag);
    window.inner = it.shadowRoot.querySelector("button");
    window.heard = [];
    for (const [name, signal] of Object.entries(signals))
        it.addEventListener(name, () => heard.push(signal));
}"""
RESET = """() => {
    it.disabled = false; it.checked = false; it.busy = false;
    document.querySelector("input").focus();
    heard.length = 0;
}"""
# When an element is disabled under the pointer, a browser may look only at the next move where that
# is; how it looks is judged with the other looks.
HOLDING = """pseudo => Object.entries(pseudo).filter(([state, how]) => inner.matches(how)
    && !(state === "hover" && inner.disabled)).map(([state]) => state).sort()"""
NOW = f"pseudo => [({HOLDING})(pseudo), heard.splice(0)]"
FOUND = f"([pseudo, wanted]) => JSON.stringify(({HOLDING})(pseudo)) === wanted"


def expected(sheet: Sheet, trial: Trial) -> Mapping[str, Any]:
    """As WAI-ARIA has it for the behaviour, and as the design says."""
    can_be_checked = "checked" in sheet.states
    facts: dict[str, Any] = {
        "accessibility": _accessible(
            ROLES.get(sheet.behaviour, "button"), sheet.text or sheet.name,
            checked="false" if can_be_checked else None),
        "accessibility while disabled": _accessible(
            ROLES.get(sheet.behaviour, "button"), sheet.text or sheet.name, disabled=True,
            checked="false" if can_be_checked else None),
        "cursor": "pointer", "cursor while disabled": "default", "touch action": "manipulation",
        "signals of other mouse buttons": [],
        "forced colours": {"outline": "solid 2px", "adjust": "none"}}
    if can_be_checked:
        facts["accessibility while checked"] = _accessible(
            ROLES[sheet.behaviour], sheet.text or sheet.name, checked="true")
    if trial.other_text:
        facts |= {"accessible name of a text that is set": _folded(trial.other_text),
                  "a text that is set is shown": True}
    return facts


def _accessible(
    role: str, name: str, checked: str | None = None, disabled: bool = False
) -> dict[str, Any]:
    told: dict[str, Any] = {"role": role, "name": _folded(name)}
    if checked is not None:
        told["checked"] = checked
    if disabled:
        told["disabled"] = True
    else:
        told["focusable"] = True
    return told


def _folded(name: str) -> str:
    """A name without what a style sheet makes of its letters, which browsers tell as well."""
    return " ".join(name.split()).casefold()


def observe(
    kit: Kit, trials: Sequence[Trial], folder: Path, backdrop: str, progress: Progress, target: Any
) -> list[Observed]:
    """One page for each control."""
    from playwright.sync_api import Error

    seen: list[Observed] = []
    try:
        # Nothing is looked at closely: the path that draws quickest will do.
        with chromium(QUIET) as browser:
            for trial in trials:
                if not progress(len(seen), len(trials), f"{trial.control.name} in Chromium"):
                    raise CancelledError("Stopped; the run in Chromium was not finished.")
                with browser.new_context(reduced_motion="reduce") as pages:
                    pages.set_default_timeout(PATIENCE)
                    seen.append(_Try(kit, trial, pages.new_page(), folder, backdrop, target).seen())
    except Error as error:
        first = str(error).strip().splitlines()[0]
        raise TargetError(f"The element did not run in Chromium: {first}") from None
    return seen


class _Try:
    """A control on a page of its own."""

    def __init__(
        self, kit: Kit, trial: Trial, page: Any, folder: Path, backdrop: str, target: Any
    ) -> None:
        self.page, self.trial = page, trial
        sheet = sheet_of(kit, trial.control)
        self.shot = Shot(trial.control, sheet.size, sheet.margins, REST, frozenset(), None, 1)
        show(page, kit, self.shot, folder, backdrop, target)
        self.camera = Camera(page, 1)
        page.evaluate(BEGIN, [target.tag(trial.control), SIGNALS])
        self.middle = page.evaluate("(() => { const b = it.getBoundingClientRect();"
                                    " return [b.x + b.width / 2, b.y + b.height / 2] })()")
        self.pseudo = {state: button_in((state,), sheet.behaviour) for state in STATES}

    def seen(self) -> Observed:
        facts = self._facts()
        pictures = []
        for scheme in self.trial.schemes:
            self.page.evaluate("scheme => { it.scheme = scheme; }", scheme)
            pictures.append(self._picture()[:, :, :3])
        if self.trial.schemes:
            self.page.evaluate("it.removeAttribute('scheme')")
        traces = tuple(self._played(trace) for trace in self.trial.traces)
        return Observed(traces, facts, tuple(pictures))

    def _picture(self) -> Any:
        margins, (width, height) = self.shot.margins, self.shot.size
        return self.camera.take((AROUND, AROUND, width + margins.left + margins.right,
                                 height + margins.top + margins.bottom))

    def _told(self) -> dict[str, Any]:
        """What the browser's accessibility tree has of the element."""
        client = self.camera.client
        for node in client.send("Accessibility.getFullAXTree")["nodes"]:
            role = node.get("role", {}).get("value")
            if node.get("ignored") or role not in ROLES_TOLD:
                continue
            kept = {entry["name"]: entry["value"].get("value") for entry in node["properties"]
                    if entry["name"] in ("checked", "disabled", "focusable")}
            if kept:
                return {"role": role, "name": _folded(node["name"]["value"])} | kept
        return {}

    def _facts(self) -> dict[str, Any]:
        page = self.page
        page.evaluate(RESET)
        self.camera.client.send("Accessibility.enable")
        style = "getComputedStyle(inner)"
        facts: dict[str, Any] = {
            "accessibility": self._told(), "cursor": page.evaluate(f"{style}.cursor"),
            "touch action": page.evaluate(f"{style}.touchAction")}
        page.mouse.click(*self.middle, button="right")
        page.mouse.click(*self.middle, button="middle")
        page.mouse.move(*OUTSIDE)
        facts["signals of other mouse buttons"] = page.evaluate("heard.splice(0)")
        page.evaluate("it.disabled = true")
        facts["cursor while disabled"] = page.evaluate(f"{style}.cursor")
        facts["accessibility while disabled"] = self._told()
        page.evaluate("it.disabled = false")
        if "checked" in states_of(self.trial.control.behaviour):
            page.evaluate("it.checked = true")
            facts["accessibility while checked"] = self._told()
        page.evaluate(RESET)
        page.emulate_media(forced_colors="active", reduced_motion="reduce")
        facts["forced colours"] = page.evaluate(
            f"({{outline: {style}.outlineStyle + ' ' + {style}.outlineWidth,"
            f" adjust: {style}.forcedColorAdjust}})")
        page.emulate_media(forced_colors="none", reduced_motion="reduce")
        if self.trial.other_text:
            before = self._picture()
            page.evaluate("text => { it.label = text; }", self.trial.other_text)
            facts["accessible name of a text that is set"] = self._told().get("name")
            facts["a text that is set is shown"] = bool((self._picture() != before).any())
            page.evaluate("it.removeAttribute('label')")
        return facts

    # Traces

    def _played(self, trace: Mapping[str, Any]) -> list[list[Any]]:
        """After each step the states that the element is in and the signals it sent; it ends where
        a state does not come.
        """
        page, results, clock, held = self.page, [], 0.0, is_cancelled(trace)
        page.mouse.move(*OUTSIDE)
        page.evaluate(RESET)
        page.evaluate(f"it.draggable = {json.dumps(held)}")
        for step in trace["steps"]:
            event = step["event"]
            bring_about(page, event, clock, self.middle)
            clock = event["at"]
            if held:
                # Whoever drives a browser cannot have it end a drag as a hand does: it goes on
                # showing the press. What the application hears can be told.
                results.append([None, page.evaluate("heard.splice(0)")])
                continue
            results.append(page.evaluate(NOW, self.pseudo))
            if results[-1][0] == sorted(step["states"]):
                continue
            # A browser looks anew where the pointer is a moment after an element has changed.
            wanted = json.dumps(sorted(step["states"]), separators=(",", ":"))
            with contextlib.suppress(self._error):
                page.wait_for_function(FOUND, arg=[self.pseudo, wanted], timeout=COMES, polling=10)
            states, late = page.evaluate(NOW, self.pseudo)
            results[-1] = [states, results[-1][1] + late]
            if states != sorted(step["states"]):
                break
        page.mouse.up()
        for key in KEYS.values():
            page.keyboard.up(key)
        return results

    @property
    def _error(self) -> Any:
        from playwright.sync_api import TimeoutError

        return TimeoutError


def bring_about(
    page: Any, event: Mapping[str, Any], clock: float, middle: tuple[float, float]
) -> None:
    """What a person or the application does at a step of a trace, ``clock`` seconds after the one
    before; ``it`` is the element, ``middle`` a place on it, and an input takes the focus from it.
    """
    kind, key = event["kind"], KEYS.get(event.get("key") or "", "")
    if kind == "wait":
        page.wait_for_timeout(1000 * (event["at"] - clock))
    elif kind == "move":
        page.mouse.move(*(middle if event.get("inside") else OUTSIDE))
    elif kind == "press":
        page.mouse.down()
    elif kind == "release":
        page.mouse.up()
    elif kind == "cancel":  # it is dragged away, and dropped where it was
        for across in (6, 12):
            page.mouse.move(middle[0] + across, middle[1])
        page.mouse.up()
    elif kind == "key-down":
        page.keyboard.down(key)  # once more is a repeat
    elif kind == "key-up":
        page.keyboard.up(key)
    elif kind == "focus":
        page.keyboard.press("Tab")
    elif kind == "blur":
        page.focus("input")
    else:
        page.evaluate(f"it.{'busy' if kind in ('busy', 'idle') else 'disabled'} = "
                      f"{'true' if kind in ('busy', 'disable') else 'false'}")
