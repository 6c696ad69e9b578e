"""Runs shipped Qt controls in a Python process of their own, with Qt's offscreen platform."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

from mektel.core.kit import Kit
from mektel.targets.base import CancelledError, Shot, TargetError
from mektel.targets.sheet import sheet_of

RUNNER = Path(__file__).parent / "runner" / "run_controls.py"


def run(
    kit: Kit, batch: list[Shot], out: Path, backdrop: str, scale: int,
    named: Callable[[Shot], tuple[Path, str]], report: Callable[[int, str], bool],
) -> None:
    """Photographs shots of one density as N.png and N.json in ``out``; ``named`` gives the module
    and the class of a shot's control. Raises :class:`TargetError` where a control does not run.
    """
    jobs = []
    for shot in batch:
        file, class_name = named(shot)
        jobs.append(
            {
                "file": str(file),
                "class": class_name,
                "state": shot.state,
                "text": shot.text,
                "places": shot.places,
                "then": dict(shot.arguments),
                "arguments": {
                    parameter.name: parameter.default
                    for parameter in sheet_of(kit, shot.control).required
                    if parameter.type != "action"
                },
                "actions": [
                    parameter.name
                    for parameter in shot.control.parameters
                    if parameter.required and parameter.type == "action"
                ],
            }
        )
    (out / "jobs.json").write_text(json.dumps({"backdrop": backdrop, "jobs": jobs}))
    process = subprocess.Popen(
        [sys.executable, str(RUNNER), str(out)],
        env=_environment(scale),
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
    )
    assert process.stdout and process.stderr
    at = 0
    with process:
        for line in process.stdout:
            if not line.startswith("shot "):
                continue
            at = int(line.split()[1])
            if not report(at, f"{batch[min(at, len(batch) - 1)].control.name} in Qt"):
                process.kill()
                raise CancelledError("Stopped; the run in Qt was not finished.")
        fault = process.stderr.read()
    if process.returncode:
        shot = batch[min(at, len(batch) - 1)]
        raise TargetError(
            f"{shot.control.name}, {shot.state}: it did not run in Qt: {_exception_in(fault)}"
        )


def _exception_in(fault: str) -> str:
    """The exception that ended a process, from what it wrote; Qt's own warnings come after it."""
    lines = [line for line in fault.strip().splitlines() if line.strip()]
    raised = [line for line in lines if re.match(r"[\w.]*(Error|Exception|Warning)\b", line)]
    return (raised or lines or ["no message"])[-1]


def _environment(scale: int) -> dict[str, str]:
    foreign = ("QT_", "PYTHON")
    kept = {key: value for key, value in os.environ.items() if not key.startswith(foreign)}
    return kept | {"QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": str(scale)}
