"""Shipped controls in motion: as the core has it, frame by frame, and at rest at no cost."""

from __future__ import annotations

import importlib
import math
import random
import sys
from pathlib import Path

import pytest
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from mektel.core.easing import easing_from_text
from mektel.core.kit import Kit
from mektel.core.kit.timing import Timing
from mektel.core.kit.timing_edits import set_timing
from mektel.core.motion.course import Course, course_to
from mektel.targets import TARGETS
from mektel.targets.base import TargetError, write_files
from mektel.targets.motion import verify_motion
from mektel.targets.qtwidgets.runtime import motion as shipped
from mektel.targets.sheet import sheet_of
from mektel.targets.timings import timing_table
from tests.core.test_motion import EASINGS
from tests.targets.test_web_in_use import page_at

QT, WEB = TARGETS["qtwidgets"], TARGETS["web"]


def own(timing: Timing) -> shipped.Timing:
    """A timing as the Qt target writes it, read again."""
    from mektel.targets.qtwidgets.motion import timing_source

    made = eval(timing_source(timing), {"runtime": shipped})
    return made or shipped.Timing("easing", 0.0, 0.0, ("linear", ((0, 0), (1, 1))))


def test_the_shipped_courses_are_those_of_the_core() -> None:
    """Recorded changes of mind, of every kind of timing: the same values at the same moments."""
    chance = random.Random(12)
    every = [Timing(seconds=0.3, easing=text) for text in EASINGS]
    every += [Timing(kind="spring", seconds=0.4, bounce=bounce) for bounce in (0, 0.1, 0.6)]
    every += [Timing(kind="follow", seconds=0.3), Timing(seconds=0.2, delay=0.1)]
    for timing in every:
        ours: Course | None = None
        theirs: shipped.Course | None = None
        at, moment = (0.0, 1.0), 0.0
        for _ in range(6):
            goal = tuple(chance.choice([0.0, 1.0, 3.0]) for _ in at)
            ours = course_to(goal, moment, timing, at, ours)
            theirs = shipped.Course(at if theirs is None or theirs.ends <= moment else theirs.at(
                moment), goal, moment, own(timing), theirs)
            later = moment + chance.uniform(0.05, 0.5)
            for step in range(12):
                when = moment + (later - moment) * step / 11
                assert theirs.at(when) == pytest.approx(ours.at(when), abs=2e-3), (timing, when)
            at, moment = ours.at(later), later


@pytest.mark.parametrize("names", [("board", "ramp"), ("deck-lamp", "fare")])
def test_qt_controls_move_as_designed(demo_kit: Kit, names: tuple[str, ...]) -> None:
    matches = verify_motion(demo_kit, [demo_kit.control(name) for name in names], QT)
    assert len(matches) >= 14 and all(len(match.means) == 12 for match in matches)
    assert all(match.passes for match in matches), [
        (match.control, match.way, match.means) for match in matches if not match.passes]


def test_elements_move_as_designed_by_transitions_alone(demo_kit: Kit, tmp_path: Path) -> None:
    kit = set_timing(demo_kit, "board", "pressed", Timing(
        seconds=0.3, delay=0.05, easing="linear(0, 0.7 30%, 0.4 60%, 1)"), "face", "stops")
    kit = set_timing(kit, "board", "hover", Timing(seconds=0.9, easing="linear"))
    write_files(WEB.files(kit, [kit.control("board")]), tmp_path)
    matches = verify_motion(kit, [kit.control("board")], WEB, folder=tmp_path)
    assert len(matches) == 8 and all(match.passes for match in matches), [
        (match.way, match.means) for match in matches if not match.passes]
    # Something moves in between, and what is compared is not the end all along.
    (tmp_path / "page.html").write_text(
        "<!doctype html><script src=runtime.js></script><script src=board-button.js></script>"
        "<board-button style='margin:40px'></board-button>")
    count = """() => { const root = document.querySelector("board-button").shadowRoot;
        return [root.getAnimations().length, window.frames_asked]; }"""
    with page_at(tmp_path, "page.html") as (page, errors):
        page.evaluate("""() => { window.frames_asked = 0;
            const ask = window.requestAnimationFrame;
            window.requestAnimationFrame = (act) => {
              window.frames_asked++; return ask(act); } }""")
        assert page.evaluate(count) == [0, 0]
        page.screenshot()  # from its first frame on it moves
        page.mouse.move(100, 60)
        moving, _ = page.evaluate(count)
        page.wait_for_timeout(1200)
        assert moving > 0 and page.evaluate(count) == [0, 0] and not errors
        page.emulate_media(reduced_motion="reduce")
        page.mouse.move(1, 1)
        assert page.evaluate(count)[0] == 0


def test_the_plan_names_what_is_there_at_once(demo_kit: Kit) -> None:
    told = {(control.id, entry.layer) for control in demo_kit.controls
            for entry in WEB.plan(demo_kit, control) if "at once" in entry.why}
    assert {("pennant", "Shadow"), ("fog", "Glass")} <= told
    assert not any(control in ("board", "ramp", "night-watch") for control, _ in told)


def load(kit: Kit, folder: Path, name: str):
    write_files(QT.files(kit, list(kit.controls)), folder / name)
    sys.path.insert(0, str(folder))
    try:
        return importlib.import_module(name)
    finally:
        sys.path.remove(str(folder))


def test_a_qt_application_has_one_clock_and_none_at_rest(
    demo_kit: Kit, tmp_path: Path, qtbot,
) -> None:
    kit = demo_kit.model_copy(update={"controls": demo_kit.controls[:2]})
    for state in ("hover", "rest"):
        kit = set_timing(kit, "board", state, Timing(seconds=1.2, easing="linear"))
    package = load(kit, tmp_path, "moving_controls")
    runtime = importlib.import_module("moving_controls.runtime")
    window = QWidget()
    qtbot.addWidget(window)
    buttons = [package.BoardButton("One", window), package.CastOffButton("Two", window)]
    for at, button in enumerate(buttons):
        button.move(40, 40 + 80 * at)
    window.resize(300, 260)
    window.show()
    qtbot.waitExposed(window)
    clock = runtime.clock()
    handle = window.windowHandle()
    QTest.mouseMove(handle, window.rect().topLeft())
    qtbot.waitUntil(lambda: not clock.runs)
    seen = []
    QTest.mouseMove(handle, buttons[0].geometry().center())
    window.grab()
    assert clock.runs and buttons[0].moving() is not None
    while (frame := buttons[0].moving()) is not None:
        seen.append(frame.parts["face"]["stops"][0][1])
        QTest.qWait(10)
    assert len(set(seen)) >= 3 and seen == sorted(seen)
    qtbot.waitUntil(lambda: not clock.runs, timeout=3000)
    assert buttons[0].moving() is None and buttons[1].moving() is None

    # Hidden in the middle, it is shown again as it is then; deleted, nothing is missed.
    QTest.mouseMove(handle, window.rect().topLeft())
    window.grab()
    assert clock.runs
    buttons[0].hide()
    buttons[0].show()
    assert buttons[0].moving() is None
    QTest.mouseMove(handle, buttons[0].geometry().center())
    window.grab()
    buttons[0].deleteLater()
    qtbot.waitUntil(lambda: not clock.runs, timeout=3000)

    runtime.set_reduced_motion(True)
    QTest.mouseMove(handle, buttons[1].geometry().center())
    window.grab()
    assert buttons[1].moving() is None and "hover" in buttons[1].states()
    QApplication.processEvents()


def test_timings_ship_as_few_rows_and_a_still_control_ships_none(demo_kit: Kit) -> None:
    rows = timing_table(sheet_of(demo_kit, demo_kit.control("night-watch")))
    assert [(states, part) for states, part, _, _ in rows][:3] == [
        ((), ""), (("hover",), ""), (("pressed",), "")]
    assert {part for _, part, _, _ in rows} == {"", "aura", "wake"}
    still = demo_kit.control("board").model_copy(update={"timings": {}})
    kit = demo_kit.model_copy(update={"controls": (still,)})
    assert timing_table(sheet_of(kit, still)) == []
    files = [file for target in (QT, WEB) for file in target.files(kit, [still])]
    own_files = [file.text for file in files if "board" in file.path.name]
    assert own_files and not any("transition:" in text or "timings=" in text for text in own_files)
    with pytest.raises(TargetError, match="plays no motion"):
        verify_motion(kit, [still], TARGETS["sprites"])
    assert math.isclose(easing_from_text("ease").at(0.5), 0.8024, abs_tol=1e-3)
