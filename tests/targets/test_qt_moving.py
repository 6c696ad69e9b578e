"""Shipped Qt controls on the move, by real input in a window of their own, with both bindings."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from mektel.core.kit import Kit
from mektel.targets import TARGETS, write_files
from tests.slices import count_of, in_all

QT = TARGETS["qtwidgets"]
MOVING = Path(__file__).parent / "qt_moving.py"


@pytest.fixture(scope="module")
def packages(demo_kit: Kit, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo kit as a package, as a module, and as a package in which nothing moves."""
    folder = tmp_path_factory.mktemp("moving")
    files = QT.files(demo_kit, demo_kit.controls)
    write_files(files, folder / "controls")
    module = QT.single(demo_kit, demo_kit.controls, files)
    (folder / "controls_module.py").write_text(module.text)
    still = demo_kit.model_copy(update={"controls": tuple(
        control.model_copy(update={"timings": {}, "answers": (), "swings": ()})
        for control in demo_kit.controls)})
    write_files(QT.files(still, still.controls), folder / "still_controls")
    return folder


def moved(folder: Path, binding: str, part: str, module: str = "controls", *more: str
          ) -> dict[str, Any]:
    env = {key: value for key, value in os.environ.items() if not key.startswith(("QT_", "PYTHON"))}
    done = subprocess.run(
        [sys.executable, str(MOVING), binding, part, module, *more], cwd=folder, timeout=300,
        capture_output=True, text=True, check=False,
        env=env | {"QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": "2"})
    assert done.returncode == 0, done.stderr[-2000:]
    results: dict[str, Any] = json.loads(done.stdout.splitlines()[-1])
    assert results.pop("errors") == []
    return results


@pytest.mark.parametrize("binding, more", [
    ("PySide6", ()), ("PyQt6", ("rtl",)), in_all("PySide6", ("rtl",)), in_all("PyQt6", ())])
def test_what_has_moved_stands_as_it_was_designed(
    packages: Path, binding: str, more: tuple[str, ...]
) -> None:
    results = moved(packages, binding, "hands", "controls", *more)
    assert results["moved"] >= 15 and results["unlike"] == []


def test_a_plan_of_a_frame_paints_what_is_painted_without(packages: Path) -> None:
    assert moved(packages, "PySide6", "plans") == {"unlike": {}, "tried": 19}


@pytest.mark.parametrize("seed", range(3))
def test_whatever_is_done_it_comes_to_rest(packages: Path, seed: int) -> None:
    binding = ("PySide6", "PyQt6")[seed % 2]
    times = str(count_of(25, 250))
    assert moved(packages, binding, "at_random", "controls", str(seed), times) == {"unlike": []}


def test_a_large_control_comes_to_what_it_is_at_last(packages: Path) -> None:
    assert max(moved(packages, "PySide6", "unfinished")["unlike"]) <= 1


def test_one_module_moves_as_the_package_does(packages: Path) -> None:
    package = moved(packages, "PySide6", "frames")
    assert package == moved(packages, "PySide6", "frames", "controls_module")
    assert all(moves for frames in package.values() for _, moves in frames[:2])
    assert len({total for total, _ in package["SlowButton"]}) >= 3


@pytest.mark.parametrize("binding", ["PySide6", "PyQt6"])
def test_where_nothing_moves_states_change_at_once(packages: Path, binding: str) -> None:
    results = moved(packages, binding, "at_once", "still_controls")
    assert results["changed"] >= 17 and not results["moving"] and not results["clock"]
