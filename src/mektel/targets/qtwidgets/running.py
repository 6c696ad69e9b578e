"""Runs shipped Qt controls in a Python process of their own, with Qt's offscreen platform."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from mektel.core.kit import Kit
from mektel.targets.base import CancelledError, Shot, TargetError
from mektel.targets.motion import MotionShot
from mektel.targets.sheet import sheet_of

AnyShot = Shot | MotionShot
RUNNER = Path(__file__).parent / "runner" / "run_controls.py"


def run(
    kit: Kit, batch: Sequence[AnyShot], out: Path, backdrop: str, scale: int,
    named: Callable[[AnyShot], tuple[Path, str]], report: Callable[[int, str], bool],
) -> None:
    """Photographs shots of one density as N.png and N.json in ``out``, the frames of a change of
    state as N-0.png and so on; ``named`` gives the module and the class of a shot's control.
    Raises :class:`TargetError` where a control does not run.
    """
    jobs = [_job(kit, shot, *named(shot)) for shot in batch]
    (out / "jobs.json").write_text(json.dumps({"backdrop": backdrop, "jobs": jobs}))
    at, faults = 0, out / "faults.txt"
    # To a file: a pipe that nobody reads while it fills would stop the process.
    with faults.open("w") as log, subprocess.Popen(
            [sys.executable, str(RUNNER), str(out)], env=_environment(scale),
            stdout=subprocess.PIPE, stderr=log, text=True) as process:
        assert process.stdout
        for line in process.stdout:
            if not line.startswith("shot "):
                continue
            at = int(line.split()[1])
            if not report(at, f"{batch[min(at, len(batch) - 1)].control.name} in Qt"):
                process.kill()
                raise CancelledError("Stopped; the run in Qt was not finished.")
    fault = faults.read_text(errors="replace")
    if process.returncode:
        shot = batch[min(at, len(batch) - 1)]
        raise TargetError(
            f"{shot.control.name}, {shot.state}: it did not run in Qt: {_exception_in(fault)}"
        )


def _job(kit: Kit, shot: AnyShot, file: Path, class_name: str) -> dict[str, Any]:
    parameters = shot.control.parameters
    job = {
        "file": str(file), "class": class_name, "state": shot.state, "text": shot.text,
        "places": (), "then": {},
        "arguments": {parameter.name: parameter.default
                      for parameter in sheet_of(kit, shot.control).required
                      if parameter.type != "action"},
        "actions": [parameter.name for parameter in parameters
                    if parameter.required and parameter.type == "action"]}
    if isinstance(shot, MotionShot):
        margins = shot.margins
        return job | {
            "way": [sorted(flags) for flags in shot.way.flags], "moments": shot.moments,
            "place": shot.place, "turns_at": shot.turns_at,
            "margins": (margins.left, margins.top, margins.right, margins.bottom)}
    return job | {"places": shot.places, "then": dict(shot.arguments)}


def _exception_in(fault: str) -> str:
    """The exception that ended a process, from what it wrote; Qt's own warnings come after it."""
    lines = [line for line in fault.strip().splitlines() if line.strip()]
    raised = [line for line in lines if re.match(r"[\w.]*(Error|Exception|Warning)\b", line)]
    return (raised or lines or ["no message"])[-1]


def _environment(scale: int) -> dict[str, str]:
    foreign = ("QT_", "PYTHON")
    kept = {key: value for key, value in os.environ.items() if not key.startswith(foreign)}
    return kept | {"QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": str(scale)}
