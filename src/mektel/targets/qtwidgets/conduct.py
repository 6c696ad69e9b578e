"""How shipped Qt controls are tried, and what is to be seen of one that is as designed."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import Any

from mektel.core.kit import Kit
from mektel.formats.png import pixels_from_png
from mektel.targets.base import Pixels
from mektel.targets.conduct import Observed, Trial
from mektel.targets.qtwidgets.module import overhang, stretches
from mektel.targets.qtwidgets.running import arguments_of, run_jobs
from mektel.targets.sheet import Sheet, sheet_of

ROLES = {"two-position": "CheckBox", "group": "RadioButton"}
HAND, ARROW = "PointingHandCursor", "ArrowCursor"


def expected(sheet: Sheet, trial: Trial) -> Mapping[str, Any]:
    """As Qt's own buttons have it, and as the design says."""
    left, top, right, bottom = overhang(sheet)
    size = [round(sheet.size[0]) + left + right, round(sheet.size[1]) + top + bottom]
    can_be_checked = "checked" in sheet.states
    text = sheet.text
    facts: dict[str, Any] = {
        "accessibility": {
            "name": text or sheet.name, "role": ROLES.get(sheet.behaviour, "Button"),
            "is disabled": False, "can be checked": can_be_checked, "is checked": False,
            "can take the focus": True},
        "focus policy": "StrongFocus",
        "size policy": ["Minimum", "Fixed"] if stretches(sheet) else ["Fixed", "Fixed"],
        "size hint": size, "minimum size hint": size, "tool tip": "",
        "cursor": HAND, "signals of other mouse buttons": [],
        "cursor while disabled": ARROW, "accessibility while disabled": True}
    if can_be_checked:
        facts["accessibility while checked"] = True
    if trial.other_text:
        facts |= {"text that is set": trial.other_text,
                  "accessible name of a text that is set": trial.other_text,
                  "a text that is set is shown": True}
        if stretches(sheet) and sheet.text_part is not None:
            facts |= {"tool tip of a text without room": shown_as_tip(trial.other_text),
                      "a text without room stays inside": True}
    return facts


def shown_as_tip(text: str) -> str:
    """A text as the runtime makes a tool tip of it, in which Qt sees no markup."""
    return "<qt>" + text.replace("&", "&amp;").replace("<", "&lt;") if "<" in text else text


def observe(
    kit: Kit, trials: Sequence[Trial], backdrop: str, out: Path,
    named: Callable[[Trial], tuple[Path, str]], report: Callable[[int, str], bool],
) -> list[Observed]:
    """Tries controls in a process of its own; ``named`` gives the module and class of each."""
    jobs = []
    for trial in trials:
        file, class_name = named(trial)
        margins = sheet_of(kit, trial.control).margins
        jobs.append({
            **arguments_of(kit, trial.control), "file": str(file), "class": class_name,
            "text": None, "then": {}, "traces": trial.traces, "schemes": trial.schemes,
            "other_text": trial.other_text,
            "margins": (margins.left, margins.top, margins.right, margins.bottom)})
    names = [trial.control.name for trial in trials]
    run_jobs("try_controls.py", jobs, names, out, backdrop, 1, report)
    observed = []
    for at, trial in enumerate(trials):
        seen = json.loads((out / f"{at}.json").read_text())
        pictures = tuple(_picture(out / f"{at}-{number}.png")
                         for number in range(len(trial.schemes)))
        observed.append(Observed(tuple(seen["traces"]), seen["facts"], pictures))
    return observed


def _picture(path: Path) -> Pixels:
    return pixels_from_png(path.read_bytes())[:, :, :3]
