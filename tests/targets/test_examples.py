"""The example applications, run with controls as they ship: arguments, reactions, refusals."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from mektel.core.kit import (
    Control,
    Fill,
    Kit,
    Line,
    OwnOutline,
    Parameter,
    palette_edits,
    parameter_edits,
    state_edits,
)
from mektel.core.kit.parameter_edits import lift, set_parameter
from mektel.core.look import resolve, shared_margins
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.targets import TARGETS
from mektel.targets.verify import verify
from mektel.targets.writing import write_files
from tests.chromium import page_on
from tests.slices import some_of

NAMES = ("passage", "ramp", "board")
SOME_STATES = ("rest", "hover", "pressed", "focus", "disabled")
USE = """
import json, sys
sys.path.insert(0, ".")
import kiosk_qt as kiosk
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from controls.passage_button import PassageButton

kiosk.window.show()
told = [kiosk.told.text()]
def click(widget):
    QTest.mouseClick(widget, Qt.MouseButton.LeftButton)
    told.append(kiosk.told.text())
click(kiosk.board)          # disabled: nothing is heard
before = kiosk.single.rest()["line"]["colour"]
click(kiosk.bicycle)
click(kiosk.single)
click(kiosk.ramp)
click(kiosk.board)
faults = []
for arguments in ({}, {"text": "x"}, {"text": "x", "on_press": print, "face": "mud"},
                  {"text": "x", "on_press": print, "thickness": 99},
                  {"text": "x", "on_press": 3}):
    try:
        PassageButton(**arguments)
    except (TypeError, ValueError) as error:
        faults.append(f"{type(error).__name__}: {error}")
kiosk.bicycle.window().grab().save("kiosk.png")
area = kiosk.bicycle.geometry().marginsAdded(kiosk.bicycle.bleed())
kiosk.bicycle.window().grab(area).save("bicycle.png")
print(json.dumps({"told": told, "faults": faults, "face": kiosk.single.face.name(),
                  "before": before,
                  "after": kiosk.single.rest()["line"]["colour"],
                  "checked": kiosk.ramp.isChecked(),
                  "radius": kiosk.bicycle.rest()["outline"]["corners"]}))
"""


def designed(kit: Kit, name: str, arguments: dict, text: str, scale: int = 1) -> np.ndarray:
    control = kit.control(name)
    look = resolve(kit, control, text=text, arguments=arguments)
    margins = shared_margins(kit, control, text=text, arguments=arguments)
    return on_backdrop(render(look, scale, margins).rgba, (233 / 255, 226 / 255, 211 / 255, 1.0))


def test_the_qt_application(demo_kit: Kit, examples: Path, tmp_path: Path) -> None:
    controls = [demo_kit.control(name) for name in NAMES]
    write_files(TARGETS["qtwidgets"].files(demo_kit, controls), tmp_path / "controls")
    shutil.copy(examples / "apps" / "kiosk_qt.py", tmp_path)
    ran = subprocess.run([sys.executable, "-c", USE], cwd=tmp_path, capture_output=True, text=True,
                         env=os.environ | {"QT_QPA_PLATFORM": "offscreen"})
    assert ran.returncode == 0, ran.stderr
    found = json.loads(ran.stdout)
    assert found["told"] == [
        "No ticket yet", "No ticket yet", "1 sold, the last one: With a bicycle",
        "2 sold, the last one: One way", "2 sold, the last one: One way", "On board, ramp down"]
    assert found["checked"] and found["radius"] == pytest.approx([7.2] * 4)
    # What is driven by a parameter follows it at run time, formulas too.
    assert found["face"] == "#cb622a" and found["before"] != found["after"]
    missing, no_action, mud, deep, no_call = found["faults"]
    assert missing.endswith("PassageButton needs text and on_press")
    assert no_action.endswith("PassageButton needs on_press")
    assert mud.startswith("ValueError: face must be a colour") and "from 0.0 to 14.0" in deep
    assert no_call.startswith("TypeError: on_press must be callable")
    assert len((examples / "apps" / "kiosk_qt.py").read_text().splitlines()) <= 42


def test_other_arguments_look_as_designed(demo_kit: Kit, tmp_path: Path) -> None:
    """Shipped with the designed defaults, run with other arguments, against our own picture."""
    def asked(kit: Kit, **values: object) -> Kit:
        for name in ("face", "thickness", "roundness"):
            more = {"default": values[name]} if name in values else {}
            kit = set_parameter(kit, "passage", name, required=True, **more)
        return kit

    kit = asked(demo_kit)
    other = asked(demo_kit, face="#8A3B5C", thickness=11.0, roundness=0.4)
    for target in ("qtwidgets", "web"):
        folder = tmp_path / target
        write_files(TARGETS[target].files(kit, [kit.control("passage")]), folder)
        for match in verify(other, [other.control("passage")], TARGETS[target], folder=folder,
                            only={"passage": some_of(SOME_STATES, 2)}):
            assert match.same_box and match.with_text.mean <= 1.6, (target, match.state,
                                                                    match.with_text)


def test_a_held_look_follows_while_it_runs(demo_kit: Kit, tmp_path: Path) -> None:
    """A count within a button, shipped with one value and run with another."""
    kit = set_parameter(demo_kit, "queue", "waiting", required=True)
    other = set_parameter(kit, "queue", "waiting", default=8.0)
    for target in ("qtwidgets", "web"):
        folder = tmp_path / target
        write_files(TARGETS[target].files(kit, [kit.control("queue")]), folder)
        for match in verify(other, [other.control("queue")], TARGETS[target], folder=folder,
                            only={"queue": some_of(SOME_STATES, 2)}):
            assert match.passes and match.with_text.mean < 0.6, (target, match.state)
        plan = TARGETS[target].plan(kit, kit.control("queue"))
        assert {one.how for one in plan if one.layer.startswith("Tally")} <= {"native", "baked"}
    night = parameter_edits.set_formula(kit, "queue", "rest", "tally", "width", "waiting + 30")
    lost = [one for one in TARGETS["web"].plan(night, night.control("queue")) if "width" in one.why]
    assert lost[0].layer == "Tally" and lost[0].how == "partly"
    with page_on('<script src="web/runtime.js"></script><script src="web/queue-button.js"></script>'
                 '<queue-button waiting="0">'
                 '</queue-button>', tmp_path) as page:
        seen = """(() => { const root = document.querySelector('queue-button').shadowRoot;
            const tally = root.querySelector('[part="tally--face"]');
            return [getComputedStyle(tally).visibility,
                    root.querySelector('[part="tally--label"]').textContent] })()"""
        assert page.evaluate(seen) == ["hidden", "0"]
        page.evaluate("document.querySelector('queue-button').waiting = 12")
        assert page.evaluate(seen) == ["visible", "12"]


def test_a_box_of_a_layers_own_follows_while_it_runs(tmp_path: Path) -> None:
    def made(inset: float, wide: float) -> Kit:
        names = {"inset": inset, "wide": wide}
        return Kit(controls=(Control(
            id="frame", name="Frame", size=(200, 60), layers=(
                Fill(id="face", name="Face"),
                Line(id="border", name="Border", width=3, outline=OwnOutline(
                    x=(0, 6), y=(0, 6), width=(1, -12), height=(1, -12), corners=(9,) * 4)),
                Fill(id="bar", name="Bar", colour="#F3C25B", outline=OwnOutline(
                    form="capsule", x=(0, 20), y=(1, -14), width=(0, 60), height=(0, 6)))),
            parameters=[Parameter(name=name, type="length", default=value, required=True)
                        for name, value in names.items()],
            formulas={"rest": {"bar": {"outline.width.1": "wide"}, "border": {
                "outline.x.1": "inset", "outline.y.1": "inset", "outline.width.1": "-2 * inset",
                "outline.height.1": "-2 * inset"}}}),))

    shipped, other = made(6, 60), made(10, 110)
    for target in ("qtwidgets", "web"):
        write_files(TARGETS[target].files(shipped, shipped.controls), tmp_path / target)
        for match in verify(other, other.controls, TARGETS[target], folder=tmp_path / target):
            assert match.with_text.mean < 0.1, (target, match.state, match.with_text)
    kit, _ = lift(shipped, "frame", "rest", "bar", "outline.y.1")
    parameter = kit.control("frame").parameters[-1]
    assert (parameter.type, parameter.default, parameter.min) == ("length", -14.0, -2000.0)


def test_the_page(demo_kit: Kit, examples: Path, tmp_path: Path) -> None:
    controls = [demo_kit.control(name) for name in NAMES]
    write_files(TARGETS["web"].files(demo_kit, controls), tmp_path / "elements")
    with page_on((examples / "apps" / "kiosk.html").read_text(), tmp_path) as page:
        faults: list[str] = []
        page.on("pageerror", lambda error: faults.append(str(error)))
        told = lambda: page.evaluate("told.value")  # noqa: E731
        page.evaluate("document.fonts.ready")
        page.mouse.click(*page.evaluate(
            "(() => { const b = board.getBoundingClientRect(); return [b.x + 20, b.y + 20] })()"))
        assert told() == "No ticket yet"  # disabled: nothing is heard
        page.click("#bicycle")
        page.click("#single")
        assert told() == "2 sold, the last one: One way"
        page.click("#ramp")
        page.click("#board")
        assert told() == "On board, ramp down"
        page.evaluate("new Promise((done) => setTimeout(done, 600))")  # all has settled
        styles = page.evaluate("""() => [single, bicycle].map((one) => getComputedStyle(
            one.shadowRoot.querySelector('[part="face"]')).backgroundImage)""")
        assert "rgb(203, 98, 42)" in styles[0] and "rgb(39, 76, 119)" in styles[1]
        assert page.evaluate("getComputedStyle(bicycle.shadowRoot.querySelector('button'))"
                             ".borderRadius") == "7.2px"
        page.evaluate("document.body.append(document.createElement('passage-button'))")
        page.evaluate("new Promise((done) => setTimeout(done, 30))")
        assert any("needs label and on_press" in one for one in faults), faults
        page.evaluate("try { single.thickness = 99 } catch (e) { told.value = e.message }")
        assert told() == "<passage-button>: thickness must be from 0 to 14, not 99"
        page.evaluate("single.scheme = 'night'; single.removeAttribute('face')")


def test_sprites_in_a_game(demo_kit: Kit, examples: Path, tmp_path: Path) -> None:
    """The ramp is pressed in a game loop, and stands there checked."""
    controls = [demo_kit.control(name) for name in NAMES]
    write_files(TARGETS["sprites"].files(demo_kit, controls), tmp_path / "sprites")
    for name in ("kiosk_sprites.py", "pygame_controls.py"):
        shutil.copy(examples / "apps" / name, tmp_path)
    ran = subprocess.run(
        [sys.executable, "kiosk_sprites.py", "sprites", "frame.png"], cwd=tmp_path,
        capture_output=True, text=True, env=os.environ | {"SDL_VIDEODRIVER": "dummy"})
    assert ran.returncode == 0 and "Ramp checked hover" in ran.stdout, ran.stderr
    frame = np.asarray(Image.open(tmp_path / "frame.png").convert("RGB")).astype(int)
    ramp = resolve(demo_kit, demo_kit.control("ramp"), {"checked"})
    drawn = render(ramp, 2.0, shared_margins(demo_kit, demo_kit.control("ramp")))
    left, top = (round(v) for v in drawn.box[:2])
    wanted = on_backdrop(drawn.rgba, (233 / 255, 226 / 255, 211 / 255, 1.0))[:, :, :3]
    shown = frame[180 - top : 180 - top + wanted.shape[0], 60 - left : 60 - left + wanted.shape[1]]
    assert difference(wanted, shown.astype(np.uint8)).mean < 0.5
    assert (frame[40:136, 60:396] != (233, 226, 211)).any()


def test_what_follows_in_every_state_and_mode(demo_kit: Kit) -> None:
    """A link, derived colours and palette schemes, run in both toolkits."""
    kit = state_edits.link_state(demo_kit, "passage", "focus", "hover")
    night = palette_edits.in_scheme(kit, "night")
    for target in ("qtwidgets", "web"):
        for match in verify(kit, [kit.control("passage")], TARGETS[target]):
            assert match.passes, (target, match.control, match.state, match.with_text)
    assert (designed(kit, "passage", {}, "x") != designed(night, "passage", {}, "x")).any()
