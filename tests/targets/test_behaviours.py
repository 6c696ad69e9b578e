"""What shipped controls do: stay on, exclude each other, take long presses, are busy, follow
schemes.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from mektel.core.kit import Kit, palette_edits, parameter_edits, state_edits
from mektel.core.kit.parameters import Parameter
from mektel.core.look import settle
from mektel.targets import TARGETS
from mektel.targets.sheet import sheet_of
from mektel.targets.writing import write_files
from tests.chromium import page_on

KINDS = ("two-position", "group", "long-press", "busy")
QT = """
import json, sys
from importlib import import_module
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QHBoxLayout, QWidget
application = QApplication([])
window = QWidget()
row = QHBoxLayout(window)
made, heard = {}, []
for name, count in (("two_position", 1), ("group", 2), ("long_press", 1), ("busy", 1)):
    module = import_module(f"controls.{name}_kind_button")
    kind = next(v for k, v in vars(module).items() if k.endswith("Button"))
    for number in range(count):
        widget = made[f"{name}{number}"] = kind("Go", window)
        row.addWidget(widget)
        for signal in ("clicked", "toggled", "longPressed", "busyChanged"):
            if hasattr(widget, signal):
                getattr(widget, signal).connect(
                    lambda *a, n=f"{name}{number}", s=signal: heard.append([n, s, *a]))
window.show()
QTest.qWaitForWindowExposed(window)
def click(name):
    QTest.mouseClick(made[name], Qt.MouseButton.LeftButton)
told = {}
click("two_position0")
two = made["two_position0"]
told["two"] = [two.isChecked(), sorted(two.states() & {"checked"})]
QTest.keyClick(made["two_position0"], Qt.Key.Key_Return)
told["two by key"] = made["two_position0"].isChecked()
click("group0"); click("group1"); click("group1")
told["group"] = [made["group0"].isChecked(), made["group1"].isChecked()]
made["busy0"].setBusy(True)
before = len(heard)
click("busy0"); QTest.keyClick(made["busy0"], Qt.Key.Key_Space)
QTest.keyClick(made["busy0"], Qt.Key.Key_Return)
told["busy"] = [len(heard) - before, "busy" in made["busy0"].states(), made["busy0"].isBusy()]
made["busy0"].setBusy(False)
click("busy0")
told["after"] = heard[-1][:2]
QTest.mousePress(made["long_press0"], Qt.MouseButton.LeftButton)
for _ in range(100):  # a busy machine takes longer to see 0.6 s pass
    if ["long_press0", "longPressed"] in [h[:2] for h in heard]:
        break
    QTest.qWait(50)
QTest.mouseRelease(made["long_press0"], Qt.MouseButton.LeftButton)
told["long"] = [h[1] for h in heard if h[0] == "long_press0"]
click("long_press0")
told["short"] = [h[1] for h in heard if h[0] == "long_press0"]
print(json.dumps(told))
"""


def kit_of_kinds(kit: Kit) -> Kit:
    for kind in KINDS:
        board = kit.control("board").model_copy(
            update={"id": f"{kind}-kind", "name": kind.capitalize(), "behaviour": kind})
        kit = kit.model_copy(update={"controls": (*kit.controls, board)})
    return kit


def in_qt(script: str, folder: Path) -> subprocess.CompletedProcess[str]:
    """A script beside a shipped package, in a process of its own."""
    return subprocess.run(
        [sys.executable, "-c", script], cwd=folder, text=True, capture_output=True,
        env=os.environ | {"QT_QPA_PLATFORM": "offscreen"},
    )


def test_behaviours_in_qt(demo_kit: Kit, tmp_path: Path) -> None:
    kit = kit_of_kinds(demo_kit)
    chosen = [kit.control(f"{kind}-kind") for kind in KINDS]
    write_files(TARGETS["qtwidgets"].files(kit, chosen), tmp_path / "controls")
    ran = subprocess.run([sys.executable, "-c", QT], cwd=tmp_path, capture_output=True, text=True,
                         env=os.environ | {"QT_QPA_PLATFORM": "offscreen"})
    assert ran.returncode == 0, ran.stderr
    told = json.loads(ran.stdout)
    assert told["two"] == [True, ["checked"]] and told["two by key"] is False
    assert told["group"] == [False, True]
    assert told["busy"] == [0, True, True] and told["after"] == ["busy0", "clicked"]
    assert told["long"] == ["longPressed", "clicked"]
    assert told["short"] == ["longPressed", "clicked", "clicked"]


def test_behaviours_on_the_web(demo_kit: Kit, tmp_path: Path) -> None:
    kit = kit_of_kinds(demo_kit)
    chosen = [kit.control(f"{kind}-kind") for kind in KINDS]
    write_files(TARGETS["web"].files(kit, chosen), tmp_path)
    tags = {kind: f"{kind}-kind-button" for kind in KINDS}
    markup = "<script src=runtime.js></script>" + "".join(
        f"<script src={tag}.js></script>" for tag in tags.values()) + (
        f"<{tags['two-position']} id=two>A</{tags['two-position']}>"
        f"<{tags['group']} id=one group=pier>B</{tags['group']}>"
        f"<{tags['group']} id=other group=pier>C</{tags['group']}>"
        f"<{tags['long-press']} id=long>D</{tags['long-press']}>"
        f"<{tags['busy']} id=busy>E</{tags['busy']}>"
        "<script>heard = []; for (const e of document.body.children) for (const n of "
        "['click', 'change', 'longpress']) e.addEventListener(n, () => heard.push(e.id + ' ' + n));"
        "</script>")
    with page_on(markup, tmp_path, size=(1200, 300)) as page:
        page.click("#two")
        assert page.evaluate("[two.checked, heard.splice(0)]") == [
            True, ["two change", "two click"]]
        assert page.evaluate("two.shadowRoot.querySelector('button').ariaChecked") == "true"
        page.click("#one")
        page.click("#other")
        page.click("#other")
        assert page.evaluate("[one.checked, other.checked]") == [False, True]
        page.evaluate("heard.length = 0; busy.busy = true")
        page.click("#busy")
        assert page.evaluate("heard") == []
        page.evaluate("busy.busy = false")
        page.click("#busy")
        assert page.evaluate("heard.splice(0)") == ["busy click"]
        box = page.evaluate("(() => { const b = long.getBoundingClientRect();"
                            " return [b.x + b.width / 2, b.y + b.height / 2] })()")
        page.mouse.move(*box)
        page.mouse.down()
        page.wait_for_function("heard.includes('long longpress')", timeout=20_000, polling=50)
        page.mouse.up()
        assert page.evaluate("heard.splice(0)") == ["long longpress", "long click"]
        page.evaluate("long.focus()")  # a key holds it as the pointer does
        page.keyboard.down("Space")
        page.wait_for_function("heard.includes('long longpress')", timeout=20_000, polling=50)
        page.keyboard.up("Space")
        assert page.evaluate("heard.splice(0)") == ["long longpress", "long click"]


def test_schemes_are_switched_in_shipped_code(demo_kit: Kit, tmp_path: Path) -> None:
    kit = palette_edits.set_swatch(demo_kit, "mist", "#1B2A29", "night")
    fare = kit.control("fare")
    sheet = sheet_of(kit, fare)
    assert sheet.schemes == ("day", "night") and sheet.palette["mist"]["night"] == "#1B2A29"
    assert [
        (driver.condition, driver.part, driver.path, driver.parameter) for driver in sheet.driven
    ] == [("pressed", "face", "colour", "mist")]
    write_files(TARGETS["web"].files(kit, [fare]), tmp_path)
    markup = (
        "<script src=runtime.js></script><script src=fare-button.js></script>"
        "<fare-button id=one>A</fare-button>"
    )
    with page_on(markup, tmp_path) as page:
        read = """() => getComputedStyle(one.shadowRoot.querySelector('button'))
            .getPropertyValue('--mist')"""
        assert page.evaluate(read) == ""  # as designed: its style sheet says it
        for scheme, colour in (("night", "#1B2A29"), ("day", "#E9E2D3")):
            page.evaluate(f"one.scheme = '{scheme}'")
            assert page.evaluate(read) == colour
    qt = TARGETS["qtwidgets"].files(kit, [fare])[0].text
    assert 'schemes=("day", "night")' in qt and "'#1B2A29'" not in qt and '"#1B2A29"' in qt


@pytest.mark.parametrize(
    ("target", "path", "formula", "told"),
    [
        ("qtwidgets", ("edge", "depth"), "size_of_it", "in a picture"),
        ("web", ("edge", "depth"), "size_of_it", "in a picture"),
        ("web", ("label", "weight"), "700 if size_of_it > 2 else 600", "with others"),
        ("qtwidgets", ("outline", "form"), "'box'", ""),
    ],
)
def test_what_cannot_follow_is_named_before_writing(
    demo_kit: Kit, target: str, path: tuple[str, str], formula: str, told: str
) -> None:
    kit = parameter_edits.add_parameter(
        demo_kit,
        "ring-up",
        Parameter(name="size_of_it", type="length", default=3.0, min=1.0, max=6.0),
    )
    part, value = path
    kit = parameter_edits.set_formula(kit, "ring-up", "rest", part, value, formula)
    control = kit.control("ring-up")
    plans: list[Any] = TARGETS[target].plan(kit, control)
    said = [plan.why for plan in plans if "is fixed" in plan.why]
    assert (told in " ".join(said)) if told else not said
    assert not settle(kit, control).problems
    if told:
        assert f"{value} is fixed" in said[0]


def test_a_text_from_a_kit_never_becomes_code(demo_kit: Kit, tmp_path: Path) -> None:
    """Formulas, help, choices and defaults, written into both languages, stay what they are."""
    evil = "\"'`${alert(1)}</script>\\\n<!--"
    kit = parameter_edits.add_parameter(
        demo_kit,
        "board",
        Parameter(
            name="tale",
            type="choice",
            default=evil,
            choices=(evil, "plain"),
            help=f"{evil} */ {evil}",
        ),
    )
    kit = parameter_edits.set_formula(
        kit, "board", "rest", "control", "text", 'tale + " </script>`${x}` \\\\ end"'
    )
    board = kit.control("board")
    write_files(TARGETS["qtwidgets"].files(kit, [board]), tmp_path / "qt/controls")
    script = (
        "import sys; sys.path.insert(0, '.'); from PySide6.QtWidgets import QApplication\n"
        "a = QApplication([]); from controls import BoardButton\n"
        "b = BoardButton(); print(ascii(b.tale), ascii(b.plain_text()))"
    )
    ran = in_qt(script, tmp_path / "qt")
    wanted = settle(kit, board).control.text
    assert ran.stdout.strip() == f"{evil!a} {wanted!a}", ran.stderr
    write_files(TARGETS["web"].files(kit, [board]), tmp_path / "web")
    source = (tmp_path / "web" / "board-button.js").read_text()
    source = source.split("(() => {", 1)[1]  # the head shows how it is loaded
    assert "</script" not in source and "<!--" not in source
    with page_on(
        "<script>alerted = 0; alert = () => alerted++</script>"
        "<script src=runtime.js></script><script src=board-button.js></script>"
        "<board-button id=one></board-button>",
        tmp_path / "web",
    ) as page:
        assert page.evaluate("[alerted, one.tale]") == [0, evil]
        assert page.evaluate("one.shadowRoot.querySelector('slot').textContent") == wanted


def test_links_reach_shipped_code(demo_kit: Kit) -> None:
    kit = state_edits.link_state(demo_kit, "passage", "focus", "pressed")
    values = [
        driver
        for driver in sheet_of(kit, kit.control("passage")).driven
        if driver.condition == "focus"
    ]
    assert {(one.part, one.path) for one in values} >= {
        ("face", "stops.0.colour"),
        ("shadow", "offset.1"),
    }


def test_a_size_follows_what_the_control_stands_in(demo_kit: Kit, tmp_path: Path) -> None:
    """One formula: half as wide as the parent, and again when the parent changes."""
    kit = parameter_edits.set_formula(
        demo_kit, "cargo", "rest", "control", "size.0", "max(120, parent_width / 2)"
    )
    cargo = kit.control("cargo")
    assert settle(kit, cargo, parent=(500.0, 300.0)).control.size[0] == 250.0
    write_files(TARGETS["qtwidgets"].files(kit, [cargo]), tmp_path / "qt/controls")
    script = (
        "import sys; sys.path.insert(0, '.'); from PySide6.QtWidgets import *\n"
        "a = QApplication([]); from controls import CargoButton\n"
        "w = QWidget(); w.resize(500, 200); b = CargoButton('Cargo', w); w.show()\n"
        "a.processEvents(); one = b.box().width(); w.resize(700, 200)\n"
        "a.processEvents(); print(one, b.box().width())"
    )
    ran = in_qt(script, tmp_path / "qt")
    assert ran.stdout.split() == ["250.0", "350.0"], ran.stderr
    write_files(TARGETS["web"].files(kit, [cargo]), tmp_path / "web")
    markup = (
        "<body style='margin:0'><script src=runtime.js></script>"
        "<script src=cargo-button.js></script><div id=around "
        "style='width:500px'><cargo-button id=one>Cargo</cargo-button></div>"
    )
    with page_on(markup, tmp_path / "web", size=(900, 200)) as page:
        wide = "one.getBoundingClientRect().width"
        page.wait_for_function(f"{wide} === 250", timeout=20_000, polling=50)
        page.evaluate("document.getElementById('around').style.width = '700px'")
        page.screenshot()  # a frame, at which sizes are observed
        page.wait_for_function(f"{wide} === 350", timeout=20_000, polling=50)


def test_sprites_say_what_does_not_follow(demo_kit: Kit) -> None:
    plans = TARGETS["sprites"].plan(demo_kit, demo_kit.control("passage"))
    face = next(plan for plan in plans if plan.layer == "Face")
    assert "stops.0.colour is fixed: it is a picture" in face.why
