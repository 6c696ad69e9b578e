"""Shipped Qt controls in windows, forms and dialogs, with every binding that is named."""

from __future__ import annotations

import ast
import json
import os
import subprocess
import sys
from collections import Counter
from pathlib import Path
from typing import Any

import pytest

from mektel.core.kit import Kit, edit
from mektel.core.look import resolve, settled, shared_margins
from mektel.core.look.scene import rgba
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.formats.png import pixels_from_png
from mektel.targets import TARGETS, write_files
from mektel.targets.writing import MANIFEST
from tests.slices import count_of, some_of

QT = TARGETS["qtwidgets"]
USE = Path(__file__).parent / "qt_use.py"
BINDINGS = ("PySide6", "PyQt6")


@pytest.fixture(scope="module")
def package(demo_kit: Kit, tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("qt")
    write_files(QT.files(demo_kit, demo_kit.controls), folder / "controls")
    return folder


def run(folder: Path, *arguments: str, scale: str = "1") -> str:
    env = {key: value for key, value in os.environ.items() if not key.startswith(("QT_", "PYTHON"))}
    done = subprocess.run(
        [sys.executable, *arguments], cwd=folder, capture_output=True, text=True, timeout=300,
        env=env | {"QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": scale}, check=False)
    assert done.returncode == 0, done.stderr[-2000:]
    return done.stdout


def used(folder: Path, binding: str, part: str) -> dict[str, Any]:
    return json.loads(run(folder, str(USE), binding, part))


@pytest.mark.parametrize("binding", BINDINGS)
def test_any_size_will_do(package: Path, binding: str) -> None:
    assert used(package, binding, "sizes") == {"heights": [0]}


@pytest.mark.parametrize("binding", BINDINGS)
def test_the_box_is_what_layouts_and_clicks_know(package: Path, binding: str) -> None:
    assert used(package, binding, "layouts") == {
        "left": 0, "middles": 0, "kept": [True, True], "shadow": True, "clicked beyond": 0,
        "painted on moves": 0, "painted on an update": True, "scrolled": True,
        "under another effect": True}


@pytest.mark.parametrize("binding", BINDINGS)
def test_they_have_the_manners_of_qt(package: Path, binding: str) -> None:
    results = used(package, binding, "manners")
    # No parameter takes the place of what every control has.
    assert set(results.pop("names")) <= QT.taken
    assert results == {
        "heard": ["board", "go"], "name": "board", "mnemonic": ["Alt+G", "Go"],
        "letter": ["", "&Go"], "colours": ["#ff0000", "#00ff00"], "animated": 9.0,
        "refused": ["BoardButton: its icon", "BoardButton: its font"],
        "dotted": "A long label that has no room", "whole": "", "lines": True,
        "faults": ["ValueError"], "thumb": [True, True, True]}


@pytest.mark.parametrize("binding", BINDINGS)
def test_what_is_resized_is_rough_for_a_moment_only(package: Path, binding: str) -> None:
    results = used(package, binding, "dragged")
    assert results.pop("rough") > 10
    assert results == {"taken": [], "stays": []}
    results = used(package, binding, "large")
    assert all(results["coarse"]) and max(results["unlike"]) <= 1


def test_many_through_a_hundred_sizes_keep_to_their_memory(package: Path) -> None:
    count = count_of(120, 1000)
    half, whole = json.loads(run(package, str(USE), "PySide6", "many", str(count)))["megabytes"]
    assert whole - half < 30 and whole < 300


FORM = """<ui version="4.0"><class>Form</class><widget class="QWidget" name="Form">
<layout class="QVBoxLayout"><item><widget class="BoardButton" name="board">
<property name="text"><string>&amp;Sail</string></property></widget></item>
<item><widget class="PassageButton" name="passage"><property name="thickness"><double>3.0</double>
</property><property name="face"><color><red>255</red><green>0</green><blue>0</blue></color>
</property></widget></item></layout></widget>
<customwidgets><customwidget><class>BoardButton</class><extends>QPushButton</extends>
<header>controls.board_button</header></customwidget><customwidget><class>PassageButton</class>
<extends>QPushButton</extends><header>controls.passage_button</header></customwidget>
</customwidgets></ui>"""
LOADED = """
import sys, warnings
sys.path.insert(0, ".")
warnings.simplefilter("ignore")
from PySide6.QtUiTools import QUiLoader
from PySide6.QtWidgets import QApplication, QWidget
application = QApplication([])
from form import Ui_Form
window, form, loader = QWidget(), Ui_Form(), QUiLoader()
form.setupUi(window)
from controls import BoardButton, PassageButton
loader.registerCustomWidget(BoardButton)
loader.registerCustomWidget(PassageButton)
loaded = loader.load("form.ui")
for of in (window, loaded):
    passage = of.findChild(PassageButton)
    print(of.findChild(BoardButton).shortcut().toString(), passage.face.name(), passage.thickness)
# Qt Designer runs a script without saying where it lies.
import os
os.environ["PYSIDE_DESIGNER_PLUGINS"] = os.pathsep.join(["elsewhere", "controls"])
exec(open("controls/register_designer.py").read(), {"__name__": "__main__"})
PassageButton(None)  # as it makes what was dropped on a form
"""


def test_forms_load_them(package: Path) -> None:
    """Code made by uic, a form loaded while running, and what Qt Designer is told."""
    (package / "form.ui").write_text(FORM)
    uic = Path(sys.executable).parent / "pyside6-uic"
    subprocess.run([str(uic), "form.ui", "-o", "form.py"], cwd=package, check=True)
    assert run(package, "-c", LOADED).splitlines() == ["Alt+S #ff0000 3.0"] * 2


def test_the_code_passes_linter_and_type_checker(
    demo_kit: Kit, package: Path, tmp_path: Path
) -> None:
    """As a package, which is of a reviewer's size, as one without motion, and as one module."""
    module = QT.single(demo_kit, demo_kit.controls, QT.files(demo_kit, demo_kit.controls))
    write_files([module], tmp_path)
    assert json.loads(run(tmp_path, str(USE), "PySide6", "sizes")) == {"heights": [0]}
    names = Counter(name for node in ast.parse(module.text).body for name in defined(node))
    assert not [name for name, count in names.items() if count > 1]
    kit = demo_kit.model_copy(update={"controls": tuple(
        control.model_copy(update={"timings": {}, "answers": (), "swings": ()})
        for control in demo_kit.controls)})
    still = tmp_path / "still"
    write_files(QT.files(kit, kit.controls), still / "controls")
    assert used(still, "PySide6", "sizes") == {"heights": [0]}
    every = ((package, "controls"), (still, "controls"), (tmp_path, "controls.py"))
    for folder, name in every:
        run(folder, "-m", "ruff", "check", "--isolated", "--no-cache", name)
    for folder, name in some_of(every, 2):
        run(folder, "-m", "mypy", "--strict", "--cache-dir", str(tmp_path / "mypy"), name)
    # What plays motion, and what modules say of it, is a good quarter of the lines.
    for folder, most_lines, most_bytes in ((still, 4000, 400_000), (package, 5640, 490_000)):
        lines, size = size_of(folder)
        assert lines <= most_lines and size <= most_bytes


def defined(node: ast.stmt) -> list[str]:
    """The names that a statement of a module gives."""
    if isinstance(node, ast.FunctionDef | ast.ClassDef):
        return [node.name]
    targets = node.targets if isinstance(node, ast.Assign) else [getattr(node, "target", None)]
    return [name.id for target in targets if target is not None
            for name in ast.walk(target) if isinstance(name, ast.Name)]


def size_of(folder: Path) -> tuple[int, int]:
    """Lines of Python, and bytes of all files that an application needs."""
    files = [path for path in folder.rglob("controls/**/*") if path.is_file()
             and "__pycache__" not in path.parts and path.name != MANIFEST]
    return (sum(len(path.read_text().splitlines()) for path in files if path.suffix == ".py"),
            sum(path.stat().st_size for path in files))


@pytest.mark.parametrize("scale", ["1.25", "1.5"])
def test_parts_of_pixels_are_crisp(demo_kit: Kit, package: Path, scale: str) -> None:
    """At densities between whole ones they look as our own picture of that density."""
    board = demo_kit.control("board")
    margins = shared_margins(demo_kit, board)
    run(package, "-c", f"""
import sys
sys.path.insert(0, ".")
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QApplication, QWidget
application = QApplication([])
from controls import BoardButton
window = QWidget()
palette = window.palette()
palette.setColor(palette.ColorRole.Window, QColor("#E9E2D3"))
window.setPalette(palette)
board = BoardButton("", window)
board.move({margins.left}, {margins.top})
board.resize(168, 48)
window.resize(board.size().grownBy(board.bleed()))
window.grab().save("shot.png")
""", scale=scale)
    taken = pixels_from_png((package / "shot.png").read_bytes())[:, :, :3]
    look = resolve(demo_kit, board, (), settled(demo_kit, board).size, "")
    ours = on_backdrop(
        render(look, float(scale), margins).rgba, rgba(demo_kit, "#E9E2D3"))[:, :, :3]
    high, wide = (min(sides) for sides in zip(taken.shape[:2], ours.shape[:2], strict=True))
    assert difference(ours[:high, :wide], taken[:high, :wide]).mean <= 1.0


@pytest.mark.parametrize("name, size", [("pennant", (300, 90)), ("fog", (320, 100))])
def test_odd_outlines_look_as_designed_at_other_sizes(
    demo_kit: Kit, package: Path, name: str, size: tuple[int, int]
) -> None:
    """Beside our own picture of that size, with the focus ring: what lies along an outline that is
    stretched keeps its width, and its shadows their blur.
    """
    kit = edit.set_field(demo_kit, name, "size", tuple(map(float, size)))
    control = kit.control(name)
    margins = shared_margins(kit, control)
    results = json.loads(run(package, str(USE), "PySide6", "stretched", name, *map(str, size),
                             str(margins.left), str(margins.top), scale="2"))
    assert results == {"states": ["focus"]}
    taken = pixels_from_png((package / f"{name}.png").read_bytes())[:, :, :3]
    look = resolve(kit, control, ("focus",), settled(kit, control).size, "")
    ours = on_backdrop(render(look, 2, margins).rgba, rgba(kit, "#E9E2D3"))[:, :, :3]
    high, wide = (min(sides) for sides in zip(taken.shape[:2], ours.shape[:2], strict=True))
    assert high > 2 * size[1] and wide > 2 * size[0]
    assert difference(ours[:high, :wide], taken[:high, :wide]).mean <= 0.75
