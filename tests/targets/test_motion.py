"""Shipped controls in motion: as the core has it, frame by frame, and at rest at no cost."""

from __future__ import annotations

import importlib
import math
import random
import sys
from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import QRectF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget
from shiboken6 import isValid

from mektel.core.easing import easing_from_text
from mektel.core.kit import Kit
from mektel.core.kit.answers import (
    Flash,
    Follow,
    Iris,
    Lean,
    Press,
    Ripple,
    Shake,
    Sound,
    Swing,
    Twist,
)
from mektel.core.kit.timing import Timing
from mektel.core.kit.timing_edits import set_answers, set_swings, set_timing
from mektel.core.motion.arrivals import Arrival
from mektel.core.motion.course import Course, course_to
from mektel.targets import TARGETS
from mektel.targets.base import TargetError
from mektel.targets.motion import BAR, FARTHEST, verify_motion
from mektel.targets.qtwidgets.runtime.feel import courses as shipped
from mektel.targets.sheet import sheet_of
from mektel.targets.timings import timing_table
from mektel.targets.writing import write_files
from tests.core.test_motion import EASINGS
from tests.slices import in_all, some_of
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
    # As states have it: each change by its own, an easing turned back by a spring among them.
    mixed = [[chance.choice(every) for _ in range(6)] for _ in range(60)]
    for timings in [*([timing] * 6 for timing in every), *mixed]:
        ours: Course | None = None
        theirs: shipped.Course | None = None
        at, moment = (0.0, 1.0), 0.0
        for timing in timings:
            goal = tuple(chance.choice([0.0, 1.0, 3.0]) for _ in at)
            ours = course_to(goal, moment, timing, at, ours)
            theirs = shipped.Course(at if theirs is None or theirs.ends <= moment else theirs.at(
                moment), goal, moment, own(timing), theirs)
            later = moment + chance.uniform(0.05, 0.5)
            for step in range(12):
                when = moment + (later - moment) * step / 11
                assert theirs.at(when) == pytest.approx(ours.at(when), abs=2e-3), (timing, when)
            at, moment = ours.at(later), later


@pytest.mark.parametrize("name", ["fog", in_all("ramp"), in_all("fare")])
def test_qt_controls_move_as_designed(demo_kit: Kit, name: str) -> None:
    matches = verify_motion(demo_kit, [demo_kit.control(name)], QT)
    assert len(matches) >= 10 and all(len(match.means) == 12 for match in matches)
    assert all(match.passes for match in matches), [
        (match.control, match.way, match.means) for match in matches if not match.passes]


def lively(kit: Kit) -> Kit:
    """The demo kit with every kind of answer and of endless motion."""
    kit = set_answers(kit, "board", (
        Ripple(), Press(), Twist(), Flash(cause="press"), Shake(cause="enter"), Lean(by="turn")))
    kit = set_answers(kit, "night-watch", (
        Follow(part="wake", value="centre"), Follow(part="aura", value="move", share=0.1),
        Lean(degrees=8), Ripple(colour="#FFFFFF40", origin="centre", within=False, seconds=0.2)))
    kit = set_swings(kit, "night-watch", (
        Swing(value="y", amplitude=-5, period=0.5, sides="one", during="hover"),))
    kit = set_swings(kit, "deck-lamp", (
        Swing(value="y", amplitude=3), Swing(value="size", amplitude=0.05, period=3, phase=0.3),
        Swing(value="turn", amplitude=4, wave="triangle", during="hover"),
        Swing(part="lamp", value="opacity", amplitude=-0.8, wave="pulse", period=0.8)))
    return set_swings(kit, "half", (
        Swing(part="label", value="colour", colour="#FF0000", period=1.5, wave="saw"),
        Swing(value="x", amplitude=4, wave="saw", period=0.9),
        Swing(value="turn", amplitude=9, wave="saw", period=0.7, sides="one")))


ON, DOWN, UP = Arrival("rest", "hover"), Arrival("hover", "pressed"), Arrival("pressed", "hover")
BUSY, DONE = Arrival("rest", "busy"), Arrival("busy", "rest")
OFF = Arrival("hover", "rest")


@pytest.mark.parametrize("target", [QT, WEB], ids=["qtwidgets", "web"])
def test_answers_and_endless_motion_are_played_as_in_the_core(demo_kit: Kit, target) -> None:
    kit = lively(demo_kit)
    chosen = {"board": [DOWN], "night-watch": [ON], "cast-off": [BUSY]}
    if target is QT:  # where it takes a tenth of the time
        chosen |= {"cast-off": [DONE], "deck-lamp": [OFF], "half": [ON], "horn": [UP]}
    chosen = {name: chosen[name] for name in some_of(list(chosen), 2)}
    for name, ways in chosen.items():
        matches = verify_motion(kit, [kit.control(name)], target, ways=ways)
        assert len(matches) == len(ways)
        # Where a browser turns a clipped disc, a fringe of what lies beneath shows at its edge.
        edges = FARTHEST if target is QT else np.inf
        assert all(match.worst <= BAR and match.shift <= edges for match in matches), [
            (name, match.way, match.means, match.shifts) for match in matches]


def test_what_comes_and_goes_in_css_moves_too(demo_kit: Kit) -> None:
    """Shadows of odd outlines, a lamp that blinks, pictures: within the bars, but for edges that
    stand on whole pixels on the way, which the plan says.
    """
    kit = demo_kit
    for name, way in (("pennant", UP), ("fog", UP), ("half", DOWN),
                      ("deck-lamp", Arrival("disabled", "rest"))):
        (match,) = verify_motion(kit, [kit.control(name)], WEB, ways=[way])
        assert match.worst <= BAR and match.shift <= 2 * FARTHEST, (name, match.means, match.shifts)
        assert "Moving edges" in [plan.layer for plan in WEB.plan(kit, kit.control(name))]
    springs = [plan for plan in WEB.plan(kit, kit.control("slow")) if plan.layer == "Springs"]
    assert [plan.how for plan in springs] == ["partly"]


def test_what_browsers_do_otherwise_on_the_way_is_named(demo_kit: Kit) -> None:
    """A change that is over a bar is one that the plan says something of."""
    for name, way in some_of([
            ("ramp", Arrival("rest", "checked")), ("slow", Arrival("hover", "pressed", True)),
            ("cast-off", Arrival("hover", "pressed", True)), ("queue", DOWN)], 2):
        (match,) = verify_motion(demo_kit, [demo_kit.control(name)], WEB, ways=[way])
        named = {plan.layer for plan in WEB.plan(demo_kit, demo_kit.control(name))}
        assert match.shift <= FARTHEST or "Moving edges" in named, (name, match.shifts)
        assert match.worst <= BAR or named & {"Springs", "Moving edges"}, (name, match.means)
        # At either end it is as designed, whatever happens on the way.
        assert match.means[0] <= 0.5 and match.means[-1] <= 0.5, (name, match.means)


def test_qt_controls_answer_the_hand_and_rest(demo_kit: Kit, tmp_path: Path, qtbot) -> None:
    kit = set_answers(demo_kit, "cast-off", (
        Iris(seconds=0.15, next=0.5), Sound(cause="refuse", sound="deny"), Shake(),
        Sound(cause="press", sound="pop", gain=0.5), Ripple(seconds=0.1, fade=0.1)))
    package = load(kit, tmp_path, "answering_controls")
    runtime = importlib.import_module("answering_controls.runtime")
    assert sorted(path.name for path in (tmp_path / "answering_controls/sounds").iterdir()) == [
        "deny.wav", "horn.wav", "pop.wav", "switch-on.wav"]
    window = QWidget()
    qtbot.addWidget(window)
    button = package.CastOffButton("Go", window)
    button.move(60, 60)
    window.resize(400, 300)
    window.show()
    qtbot.waitExposed(window)
    handle, clock, middle = window.windowHandle(), runtime.clock(), button.geometry().center()
    heard: list[object] = []
    button.soundBegun.connect(lambda name, gain: heard.append((name, gain)))
    button.nextDue.connect(lambda: heard.append("next"))
    QTest.mouseMove(handle, middle)
    QTest.mousePress(handle, Qt.MouseButton.LeftButton, pos=middle)
    qtbot.waitUntil(lambda: bool(button.moving() and button.moving().marks))
    QTest.mouseRelease(handle, Qt.MouseButton.LeftButton, pos=middle)
    button.setBusy(True)
    QTest.mousePress(handle, Qt.MouseButton.LeftButton, pos=middle)
    QTest.mouseRelease(handle, Qt.MouseButton.LeftButton, pos=middle)
    assert heard == [("pop", 0.5), ("deny", 0.6)] and clock.runs  # the spinner turns
    button.setBusy(False)
    iris = next(child for child in window.children() if type(child).__name__ == "Iris")
    began, run = clock.now(), clock.now
    clock.now = lambda: began + 0.2
    box = QRectF(button.pos(), button.size())
    assert iris.radius() > math.hypot(400 - box.center().x(), 300 - box.center().y())
    qtbot.waitUntil(lambda: heard[2:] == ["next"])
    clock.now = lambda: began + 1
    qtbot.waitUntil(lambda: not isValid(iris))
    clock.now = run
    QTest.mouseMove(handle, window.rect().topLeft())
    qtbot.waitUntil(lambda: not clock.runs, timeout=5000)
    runtime.set_reduced_motion(True)
    button.setBusy(True)
    assert button.moving() is None and not clock.runs
    button.setBusy(False)
    assert heard[3:] == ["next"]
    runtime.set_reduced_motion(None)


def test_elements_answer_the_hand_and_rest(demo_kit: Kit, tmp_path: Path) -> None:
    kit = set_answers(demo_kit, "cast-off", (
        Iris(seconds=0.1, next=0.5), Sound(cause="press", sound="pop"), Ripple(seconds=0.1,
                                                                              fade=0.05)))
    write_files(WEB.files(kit, [kit.control("cast-off"), kit.control("night-watch")]), tmp_path)
    (tmp_path / "page.html").write_text(
        "<!doctype html><script src=runtime.js></script><script src=cast-off-button.js></script>"
        "<script src=night-watch-button.js></script><body style='margin:40px'>"
        "<cast-off-button></cast-off-button><night-watch-button></night-watch-button>")
    state = """() => { const button = document.querySelector("cast-off-button");
        return [window.heard.join(), button.shadowRoot.querySelector(".marks").childElementCount,
          document.querySelectorAll("body > div").length,
          button.shadowRoot.getAnimations().length]; }"""
    led = """() => getComputedStyle(document.querySelector("night-watch-button").shadowRoot
        .querySelector(".layers")).getPropertyValue("--mektel-x-0")"""
    with page_at(tmp_path, "page.html") as (page, errors):
        page.evaluate("""() => { window.heard = [];
            const button = document.querySelector("cast-off-button");
            button.addEventListener("sound", ({ detail }) => heard.push(detail.sound));
            button.addEventListener("next", () => heard.push("next")); }""")
        page.screenshot()
        page.mouse.move(100, 60)
        page.mouse.down()
        assert page.evaluate(state)[:2] == ["pop", 1]
        page.mouse.up()
        page.wait_for_function("""() => !document.querySelector("cast-off-button").shadowRoot
            .querySelector(".marks").childElementCount""")
        page.evaluate("document.querySelector('cast-off-button').busy = true")
        page.wait_for_timeout(500)
        assert page.evaluate(state)[3] > 0  # the spinner turns
        page.evaluate("document.querySelector('cast-off-button').busy = false")
        page.wait_for_function("() => document.querySelectorAll('body > div').length === 1")
        page.wait_for_function("() => document.querySelectorAll('body > div').length === 0")
        page.mouse.move(5, 5)
        page.wait_for_function("""() => !document.querySelector("cast-off-button").shadowRoot
            .getAnimations().length""")
        assert page.evaluate(state) == ["pop,next", 0, 0, 0]
        box = page.locator("night-watch-button").bounding_box()
        page.mouse.move(box["x"] + 0.9 * box["width"], box["y"] + 0.5 * box["height"])
        page.wait_for_function(f"() => Math.abs(({led})() - 0.9) < 0.02")
        page.emulate_media(reduced_motion="reduce")
        page.mouse.move(100, 60)
        page.mouse.down()
        assert page.evaluate(state)[1] == 0 and page.evaluate(state)[0] == "pop,next,pop"
        assert not errors


def test_elements_move_as_designed_by_transitions_alone(demo_kit: Kit, tmp_path: Path) -> None:
    kit = set_timing(demo_kit, "board", "pressed", Timing(
        seconds=0.3, delay=0.05, easing="linear(0, 0.7 30%, 0.4 60%, 1)"), "face", "stops")
    kit = set_timing(kit, "board", "hover", Timing(seconds=0.9, easing="linear"))
    write_files(WEB.files(kit, [kit.control("board")]), tmp_path)
    ways = some_of((DOWN, UP, Arrival("rest", "hover", True)), 2)
    matches = verify_motion(kit, [kit.control("board")], WEB, folder=tmp_path, ways=ways)
    assert len(matches) == len(ways) and all(match.passes for match in matches), [
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
    still = demo_kit.control("board").model_copy(
        update={"timings": {}, "answers": ()})
    kit = demo_kit.model_copy(update={"controls": (still,)})
    assert timing_table(sheet_of(kit, still)) == []
    files = [file for target in (QT, WEB) for file in target.files(kit, [still])]
    own_files = [file.text for file in files if "board" in file.path.name]
    assert own_files and not any("transition:" in text or "timings=" in text for text in own_files)
    with pytest.raises(TargetError, match="plays no motion"):
        verify_motion(kit, [still], TARGETS["sprites"])
    assert math.isclose(easing_from_text("ease").at(0.5), 0.8024, abs_tol=1e-3)


def test_what_looks_the_same_is_painted_from_its_last_picture(
    demo_kit: Kit, tmp_path: Path, qtbot, monkeypatch: pytest.MonkeyPatch,
) -> None:
    kit = set_answers(demo_kit, "board", (Shake(cause="refuse", seconds=0.2),))
    package = load(kit, tmp_path, "still_controls")
    shown = importlib.import_module("still_controls.runtime.shown")
    anew: list[bool] = []
    paint_anew = shown._paint_anew
    monkeypatch.setattr(shown, "_paint_anew", lambda control, *rest: (
        anew.append(control.moving() is not None), paint_anew(control, *rest)))
    window = QWidget()
    qtbot.addWidget(window)
    window.resize(400, 300)
    button = package.BoardButton("Go", window)
    button.move(60, 60)
    window.show()
    qtbot.waitExposed(window)

    def painted() -> list[bool]:
        """For every time that it was not its last picture, whether something moved."""
        anew.clear()
        button.repaint()
        return anew[:]

    qtbot.waitUntil(lambda: painted() or button.last_paint is not None)
    before = window.grab().toImage()
    assert painted() == [] and window.grab().toImage() == before
    for change in (
        lambda: button.setText("Stop"), lambda: button.resize(300, 60),
        lambda: button.setLayoutDirection(Qt.LayoutDirection.RightToLeft),
        lambda: shown.pictures._kept.clear(),
        lambda: button.hide() or button.show(),
    ):
        change()
        assert painted() == [False]
        qtbot.waitUntil(lambda: button.resizing is None)
        assert painted() == []
    button.setDown(True)
    assert painted() == [True]  # a spring
    qtbot.waitUntil(lambda: not painted())
    # Its states stay the same, and yet it shakes.
    button.setDown(False)
    button.setEnabled(False)
    qtbot.waitUntil(lambda: not painted())
    QTest.mousePress(window.windowHandle(), Qt.MouseButton.LeftButton,
                     pos=button.geometry().center())
    assert painted() == [True]
    qtbot.waitUntil(lambda: not painted())
