"""Generated Qt controls, run in processes of their own."""

from __future__ import annotations

import ast
import inspect
import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mektel.core.formula import colours
from mektel.core.kit import (
    Control,
    ControlOutline,
    Fill,
    Kit,
    Label,
    Shadow,
    edit,
)
from mektel.core.look import resolve, shared_margins
from mektel.core.look.scene import rgba
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.formats.png import pixels_from_png
from mektel.targets import TARGETS, TargetError, write_files
from mektel.targets.qtwidgets.expressions import formulas_source
from mektel.targets.qtwidgets.literals import pretty
from mektel.targets.sheet import sheet_of
from mektel.targets.verify import verify
from tests.chromium import page_on, photograph
from tests.conftest import labelled_horn
from tests.slices import states_at

QT = TARGETS["qtwidgets"]


def run_in_qt(script: str, folder: Path, scale: int = 1) -> str:
    """Runs a script beside the generated modules, with nothing of Mektel’s to import."""
    env = {key: value for key, value in os.environ.items() if not key.startswith("QT_")}
    done = subprocess.run(
        [sys.executable, "-I", "-c", f"import sys; sys.path.insert(0, {str(folder)!r})\n{script}"],
        env=env | {"QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": str(scale)},
        capture_output=True, text=True, timeout=60, check=False,
    )
    assert done.returncode == 0, done.stderr
    return done.stdout


@pytest.mark.parametrize("scale", [1, 2, 3])
def test_every_demo_control_runs_as_designed(demo_kit: Kit, scale: int) -> None:
    chosen, only = states_at(demo_kit, scale)
    matches = verify(demo_kit, chosen, QT, scale=scale, only=only)
    assert len(matches) >= sum(map(len, only.values())) and len(matches) >= 4
    for match in matches:
        assert match.passes, match.as_data()
        # In a small picture, edges are a larger share.
        small = match.designed.shape[0] * match.designed.shape[1] < 9000 * scale**2
        assert (match.without_text or match.with_text).mean <= (0.75 if small else 0.5)


def test_a_control_that_runs_otherwise_is_found_out(demo_kit: Kit, tmp_path: Path) -> None:
    """The measure measures: a module changed after writing no longer passes."""
    control = demo_kit.control("cargo")
    write_files(QT.files(demo_kit, [control]), tmp_path)
    module = tmp_path / "cargo_button.py"
    module.write_text(module.read_text().replace('"width": 2', '"width": 5', 1))
    matches = verify(demo_kit, [control], QT, folder=tmp_path)
    assert not any(match.passes for match in matches if match.state == "rest")
    module.write_text("raise RuntimeError('no wind')")
    with pytest.raises(TargetError, match="no wind"):
        verify(demo_kit, [control], QT, folder=tmp_path)


BEHAVIOUR = """
import json
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QVBoxLayout, QWidget
from controls.horn_button import HornButton

app = QApplication([])
window = QWidget()
layout = QVBoxLayout(window)
before, horn, after = QLineEdit(), HornButton("Toot && go"), QLineEdit()
for widget in (before, horn, after):
    layout.addWidget(widget)
window.show()
QTest.qWaitForWindowActive(window)
told = []
for name in ("entered", "left", "pressed", "released", "clicked"):
    getattr(horn, name).connect(lambda *_, name=name: told.append(name))
handle = window.windowHandle()
box = horn.box()
middle = horn.mapTo(window, box.center().toPoint())
corner = horn.mapTo(window, box.topLeft().toPoint() + QPoint(3, 3))
found = {}

def take(name):
    found[name] = [list(told), sorted(horn.states())]
    told.clear()

QTest.mouseMove(handle, corner); take("outside the circle, inside its box")
QTest.mouseClick(handle, Qt.LeftButton, pos=corner); take("pressed there")
QTest.mouseMove(handle, middle); take("inside")
QTest.mousePress(handle, Qt.LeftButton, pos=middle); take("held down")
QTest.mouseMove(handle, corner); take("dragged off")
QTest.mouseRelease(handle, Qt.LeftButton, pos=corner); take("let go outside")
QTest.mouseMove(handle, middle)
QTest.mouseClick(handle, Qt.LeftButton, pos=middle); told.remove("entered"); take("clicked")
QTest.mouseMove(handle, QPoint(1, 1)); told.clear()
before.setFocus()
QTest.keyClick(handle, Qt.Key_Tab); take("tabbed to")
QTest.keyPress(handle, Qt.Key_Space); take("space down")
QTest.keyRelease(handle, Qt.Key_Space); take("space up")
QTest.keyClick(handle, Qt.Key_Return); take("enter")
QTest.keyClick(handle, Qt.Key_Tab); found["focus moves on"] = after.hasFocus()
horn.setEnabled(False)
QTest.mouseMove(handle, middle)
QTest.mouseClick(handle, Qt.LeftButton, pos=middle)
horn.click(); take("disabled")
horn.setEnabled(True)
hint = horn.sizeHint()
horn.setText("A much longer horn")
found["grows"] = horn.sizeHint().width() - hint.width()
found["text"] = [horn.text(), horn.shortcut().toString()]
bleed = horn.bleed()
found["bleed"] = [bleed.left(), bleed.top(), bleed.right(), bleed.bottom()]
found["modules"] = sorted({name.split(".")[0] for name in __import__("sys").modules}
                          & {"mektel", "numpy", "PIL"})
print(json.dumps(found))
"""


@pytest.mark.parametrize("scale", [1, 3])
def test_a_pointer_that_comes_in_on_the_very_edge_hovers(
    scale: int, demo_kit: Kit, tmp_path: Path
) -> None:
    """At three pixels per px Qt leaves out that the pointer entered: the edge lies within a px."""
    cargo = demo_kit.control("cargo")
    write_files(QT.files(demo_kit, [cargo]), tmp_path / "ui")
    assert run_in_qt("""
from PySide6.QtCore import QPoint
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget
from ui.cargo_button import CargoButton
application = QApplication([])
window = QWidget()
window.resize(300, 200)
control = CargoButton(parent=window)
control.move(77, 77)
window.show()
QTest.qWaitForWindowExposed(window)
for y in (0, 1, 2):
    for x in (30, 31, 60):
        QTest.mouseMove(window.windowHandle(), QPoint(2, 2))
        application.processEvents()
        for step in range(x, x + 40, 4):
            QTest.mouseMove(window.windowHandle(), control.mapTo(window, QPoint(step, y)))
            application.processEvents()
            print("hover" in control.states())
""", tmp_path, scale).split() == ["True"] * 90


def test_it_behaves_as_a_button_does(demo_kit: Kit, tmp_path: Path) -> None:
    control = labelled_horn(demo_kit)
    write_files(QT.files(demo_kit, [control]), tmp_path / "controls")
    found = json.loads(run_in_qt(BEHAVIOUR, tmp_path))
    assert found["outside the circle, inside its box"] == [[], []]
    assert found["pressed there"] == [[], []]
    assert found["inside"] == [["entered"], ["hover"]]
    assert found["held down"] == [["pressed"], ["hover", "pressed"]]
    assert "clicked" not in found["dragged off"][0] + found["let go outside"][0]
    assert found["dragged off"][1] == []
    assert found["clicked"] == [["pressed", "released", "clicked"], ["hover"]]
    assert found["tabbed to"] == [[], ["focus"]]
    assert found["space down"] == [["pressed"], ["focus", "pressed"]]
    assert found["space up"] == [["released", "clicked"], ["focus"]]
    assert found["enter"][0] == ["pressed", "released", "clicked"]
    assert found["focus moves on"] and found["disabled"] == [[], ["disabled"]]
    assert found["grows"] > 60 and found["text"] == ["A much longer horn", ""]
    margins = sheet_of(demo_kit, control).widest_margins
    assert found["bleed"] == [margins.left, margins.top, margins.right, margins.bottom]
    assert found["modules"] == []


GRAB = """
import importlib, json, sys
from PySide6.QtGui import QColor, QPalette
from PySide6.QtWidgets import QApplication, QWidget
app = QApplication([])
window = QWidget()
palette = window.palette(); palette.setColor(QPalette.Window, QColor("#E9E2D3"))
window.setPalette(palette)
button = getattr(importlib.import_module("controls.x_button"), "XButton")("", window)
bleed = button.bleed()
button.setGeometry(bleed.left(), bleed.top(), {width}, {height})
window.resize(button.size().grownBy(bleed)); window.show(); app.processEvents()
button.clearFocus(); app.processEvents()
window.grab().save({out!r})
"""

SHADOW = Shadow(id="s", name="S", colour="#143237AA", offset=(3, 6), blur=14, spread=2)


@pytest.mark.parametrize(("body", "fill", "size"), [
    (ControlOutline(corners=(12, 4, 20, 0)), "#2F8C93", (300, 120)),
    (ControlOutline(corners=(12, 12, 12, 12)), "#2F8C9340", (220, 90)),
    (ControlOutline(form="capsule"), "#2F8C93", (340, 64)),
    (ControlOutline(form="capsule"), "#2F8C93", (300, 110)),
    (ControlOutline(form="ellipse"), "#2F8C93", (160, 64)),
    (ControlOutline(form="ellipse"), "#2F8C9340", (260, 120)),
])
def test_a_shadow_fits_other_sizes(
    body: ControlOutline, fill: str, size: tuple[int, int], tmp_path: Path
) -> None:
    """At any size it is still as our own picture at that size."""
    control = Control(
        id="x", name="X", size=(160, 64), outline=body,
        layers=(SHADOW, Fill(id="f", name="F", colour=fill)),
    )
    kit = Kit(controls=(control,))
    write_files(QT.files(kit, [control]), tmp_path / "controls")
    out = tmp_path / "shot.png"
    run_in_qt(GRAB.format(width=size[0], height=size[1], out=str(out)), tmp_path)
    look = resolve(kit, control, size=size)
    ours = render(look, 1, shared_margins(kit, control)).rgba
    found = difference(
        on_backdrop(ours, rgba(kit, "#E9E2D3"))[:, :, :3],
        pixels_from_png(out.read_bytes())[:, :, :3],
    )
    assert found.mean <= 0.5, found
    plans = QT.plan(kit, control)
    assert [plan.how for plan in plans] == ["native", "native"]


def test_pictures_of_a_spot_keep_their_size_and_place_at_other_sizes(
    demo_kit: Kit, tmp_path: Path
) -> None:
    """A lamp stays a lamp beside its label, a gloss keeps to the corners; on the web, too."""
    size = (280, 70)
    for name in ("deck-lamp", "ring-up"):
        control = demo_kit.control(name).model_copy(update={"id": "x"})
        kit = demo_kit.model_copy(update={"controls": (control,)})
        look, room = resolve(kit, control, size=size, text=""), shared_margins(kit, control)
        ours = on_backdrop(render(look, 1, room).rgba, rgba(kit, "#E9E2D3"))[:, :, :3]
        write_files(QT.files(kit, [control]), tmp_path / name / "controls")
        out = tmp_path / f"{name}.png"
        run_in_qt(GRAB.format(width=size[0], height=size[1], out=str(out)), tmp_path / name)
        assert difference(ours, pixels_from_png(out.read_bytes())[:, :, :3]).mean <= 0.7, name
        write_files(TARGETS["web"].files(kit, [control]), tmp_path / name)
        with page_on(
            f"<body style='margin:0;background:#E9E2D3'><script src='runtime.js'></script>"
            f"<script src='x-button.js'></script>"
            f"<x-button label='' style='position:absolute;left:{room.left}px;top:{room.top}px;"
            f"width:{size[0]}px;height:{size[1]}px'></x-button>", tmp_path / name,
            size=ours.shape[1::-1], exact=True,
        ) as page:
            page.evaluate("document.fonts.ready")
            assert difference(ours, photograph(page)).mean <= 0.7, name


NASTY = [
    '"); import os #', "</button><script>alert(1)</script>", "'''\"\"\"\\", "\\N{BULLET} {0} %s",
    "}} {{ 7*7 }} {% raw %}", "\u202eevil\u2066", "line\u2028break", "R&D &Open", "${alert(1)}`",
]


@pytest.mark.parametrize("text", NASTY)
def test_text_only_ever_becomes_text(text: str, tmp_path: Path) -> None:
    control = Control(id="x", name=text[:80], text=text, layers=(Label(id="l", name="L"),))
    kit = edit.rename_kit(Kit(controls=(control,)), text[:80])
    module, package = (file for file in QT.files(kit, kit.controls)
                       if str(file.path) in ("x_button.py", "__init__.py"))
    ast.parse(package.text)
    tree = ast.parse(module.text)
    calls = {node.func.id for node in ast.walk(tree)
             if isinstance(node, ast.Call) and isinstance(node.func, ast.Name)}
    assert not calls & {"alert", "exec", "eval", "__import__"}
    imported = {name.name for node in ast.walk(tree) if isinstance(node, ast.Import)
                for name in node.names}
    assert not imported
    write_files(QT.files(kit, kit.controls), tmp_path / "controls")
    said = run_in_qt(
        "from PySide6.QtWidgets import QApplication\napp = QApplication([])\n"
        "from controls import XButton\nimport json\nprint(json.dumps(XButton().plain_text()))",
        tmp_path,
    )
    assert json.loads(said) == text


def test_pictures_are_taken_of_different_states(demo_kit: Kit) -> None:
    matches = verify(demo_kit, [demo_kit.control("board")], QT, scale=1)
    pictures = {match.state: match.taken for match in matches}
    assert not np.array_equal(pictures["rest"], pictures["hover"])
    assert not np.array_equal(pictures["hover"], pictures["pressed"])


PLAIN = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(max_size=30),
    lambda inner: st.lists(inner, max_size=6) | st.tuples(inner, inner) | st.tuples(inner)
    | st.dictionaries(st.text(max_size=12) | st.tuples(st.text(max_size=5)), inner, max_size=6),
    max_leaves=40)


@settings(max_examples=150, deadline=None)
@given(PLAIN, st.integers(0, 24), st.integers(0, 30))
def test_values_are_written_as_what_they_are(value: object, indent: int, used: int) -> None:
    source = pretty(value, indent, indent + used)
    assert ast.literal_eval(source) == value


@pytest.mark.parametrize("names", [["mix"], ["text_of", "round_"], ["readable_on"], ["whole"],
                                   ["lighten", "darken", "wash", "translucent", "modulo"]])
def test_formulas_are_shipped_as_far_as_they_are_called(names: list[str]) -> None:
    source = formulas_source(names)
    shipped: dict[str, Any] = {}
    exec(compile(source, "formulas.py", "exec"), shipped)
    for name in names:
        takes = len(inspect.signature(getattr(colours, name)).parameters)
        for given_to in (("#237A82", 0.2, 0.3), ("#FFFDF780", "#14323740", 0.4), (7.5, 2.0, 3.0)):
            try:
                expected = getattr(colours, name)(*given_to[:takes])
            except (TypeError, ValueError):
                continue
            assert shipped[name](*given_to[:takes]) == expected
    unneeded = {name for name, of in vars(colours).items() if inspect.isfunction(of)} - set(shipped)
    assert unneeded and len(source) < len(inspect.getsource(colours))
