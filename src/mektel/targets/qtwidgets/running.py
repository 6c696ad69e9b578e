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

from mektel.core.kit import Control, Kit
from mektel.targets.base import CancelledError, Shot, TargetError
from mektel.targets.motion import MotionShot
from mektel.targets.sheet import sheet_of

AnyShot = Shot | MotionShot
RUNNER = Path(__file__).parent / "runner"


def run(
    kit: Kit, batch: Sequence[AnyShot], out: Path, backdrop: str, scale: int,
    named: Callable[[AnyShot], tuple[Path, str]], report: Callable[[int, str], bool],
) -> None:
    """Photographs shots of one density as N.png and N.json in ``out``, the frames of a change of
    state as N-0.png and so on; ``named`` gives the module and the class of a shot's control.
    Raises :class:`TargetError` where a control does not run.
    """
    jobs = [_job(kit, shot, *named(shot)) for shot in batch]
    run_jobs("run_controls.py", jobs, [f"{shot.control.name}, {shot.state}" for shot in batch],
             out, backdrop, scale, report)


def run_jobs(
    program: str, jobs: Sequence[dict[str, Any]], names: Sequence[str], out: Path, backdrop: str,
    scale: int, report: Callable[[int, str], bool],
) -> None:
    """Has a program of the runner do jobs, one after the other; results lie in ``out``. Raises
    :class:`TargetError` naming the job at which it ended.
    """
    (out / "jobs.json").write_text(json.dumps({"backdrop": backdrop, "jobs": jobs}))
    at, faults = 0, out / "faults.txt"
    # To a file: a pipe that nobody reads while it fills would stop the process.
    with faults.open("w") as log, subprocess.Popen(
            [sys.executable, str(RUNNER / program), str(out)], env=_environment(scale),
            stdout=subprocess.PIPE, stderr=log, text=True) as process:
        assert process.stdout
        for line in process.stdout:
            if not line.startswith("shot "):
                continue
            at = int(line.split()[1])
            if not report(at, f"{names[min(at, len(names) - 1)].split(', ')[0]} in Qt"):
                process.kill()
                raise CancelledError("Stopped; the run in Qt was not finished.")
    fault = faults.read_text(errors="replace")
    if process.returncode:
        raise TargetError(f"{names[min(at, len(names) - 1)]}: it did not run in Qt: "
                          f"{_exception_in(fault)}")


def arguments_of(kit: Kit, control: Control) -> dict[str, Any]:
    """What a control has to be given: arguments, and the names of actions."""
    return {
        "arguments": {parameter.name: parameter.default
                      for parameter in sheet_of(kit, control).required
                      if parameter.type != "action"},
        "actions": [parameter.name for parameter in control.parameters
                    if parameter.required and parameter.type == "action"]}


def _job(kit: Kit, shot: AnyShot, file: Path, class_name: str) -> dict[str, Any]:
    job = {"file": str(file), "class": class_name, "state": shot.state, "text": shot.text,
           "places": (), "then": {}, **arguments_of(kit, shot.control)}
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
