"""Shipped controls at work with what is new in them: other sizes, other texts, names, pictures."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from mektel.core.kit import (
    Bevel,
    Control,
    ControlOutline,
    Fill,
    Glow,
    Icon,
    Kit,
    Label,
    Line,
    Shadow,
    Stop,
    edit,
)
from mektel.core.kit.conditions import combined_states
from mektel.core.kit.timing import Timing
from mektel.core.look import resolve, shared_margins
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.formats.png import pixels_from_png
from mektel.targets import TARGETS
from mektel.targets.baking import slices_of
from mektel.targets.sheet import sheet_of
from mektel.targets.writing import write_files
from tests.chromium import page_on

QT, WEB = TARGETS["qtwidgets"], TARGETS["web"]
GROUND = (0xE9 / 255, 0xE2 / 255, 0xD3 / 255, 1.0)

SHOW = """
import json, sys
from PySide6.QtGui import QColor
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QWidget
import controls.{module} as module
application = QApplication([])
window = QWidget()
window.setStyleSheet("background: #E9E2D3")
button = module.{name}({text!r}, window)
bleed = button.bleed()
button.setGeometry(bleed.left(), bleed.top(), {width}, {height})
window.resize(button.size().grownBy(bleed))
window.show()
application.processEvents()
window.grab().save("shown.png")
print(json.dumps({{"name": button.accessibleName(), "hint": [button.sizeHint().width(),
      button.sizeHint().height()], "hit": button.hitButton(button.rect().center())}}))
"""


def in_qt(control: Control, size: tuple[int, int], folder: Path, text: str = "") -> tuple[
    np.ndarray, dict
]:
    """The shipped widget at a size of its box, photographed, and what it says of itself."""
    kit = Kit(controls=(control,))
    write_files(QT.files(kit, [control]), folder / "controls")
    code = SHOW.format(module=QT.main_file(control).stem, name=QT.class_name(control), text=text,
                       width=size[0], height=size[1])
    env = {k: v for k, v in os.environ.items() if not k.startswith(("PYTHON", "QT_"))}
    done = subprocess.run([sys.executable, "-c", code], cwd=folder, text=True, timeout=60,
                          env=env | {"QT_QPA_PLATFORM": "offscreen"}, capture_output=True,
                          check=False)
    assert done.returncode == 0, done.stderr
    return pixels_from_png((folder / "shown.png").read_bytes()), json.loads(done.stdout)


def designed(control: Control, size: tuple[int, int], text: str = "") -> np.ndarray:
    kit = Kit(controls=(control,))
    look = resolve(kit, control, (), size, text)
    picture = render(look, 1, shared_margins(kit, control))
    return on_backdrop(picture.rgba, GROUND)


def made(*layers: object, size: tuple[int, int] = (140, 50), **body: object) -> Control:
    outline = ControlOutline(**{"corners": (14,) * 4, **body})  # type: ignore[arg-type]
    return Control(id="thing", name="Deck thing", size=size, layers=layers, outline=outline)


FACE = Fill(id="face", name="Face", style="linear", stops=(
    Stop(position=0, colour="#3AA2A8"), Stop(position=1, colour="#175A66")))


@pytest.mark.parametrize(("layers", "body", "bar"), [
    ((FACE, Line(id="line", name="Line", width=2)), {}, 0.4),
    ((FACE.model_copy(update={"style": "radial"}),), {}, 0.4),
    ((FACE, Line(id="line", name="Line", width=3)), {"form": "superellipse"}, 1.5),
    ((FACE, Line(id="line", name="Line", width=3, style="linear", stops=FACE.stops)), {}, 0.4),
    ((Shadow(id="s", name="S", blur=8), FACE), {"corners": (20, 6, 14, 0)}, 0.4),
    ((FACE, Bevel(id="b", name="B")), {}, 0.6),  # baked, in nine slices
    # Odd outlines stretch, as the plan says.
    ((Glow(id="g", name="G", blur=8), FACE), {"form": "cut"}, 2.0),
])
def test_qt_controls_keep_their_look_at_other_sizes(
    layers: tuple, body: dict, bar: float, tmp_path: Path
) -> None:
    control = made(*layers, **body)
    shown, _ = in_qt(control, (230, 50), tmp_path)
    found = difference(shown[:, :, :3], designed(control, (230, 50))[:, :, :3])
    assert found.mean <= bar, (layers, found)


def test_qt_labels_wrap_and_fit_as_designed(tmp_path: Path) -> None:
    for flow in ("wrap", "fit"):
        control = made(FACE, Label(id="l", name="L", flow=flow, size=18, relief="sunken"),
                       size=(120, 70))
        text = "Cast off from the north bank"
        shown, told = in_qt(control, (120, 70), tmp_path / flow, text)
        found = difference(shown[:, :, :3], designed(control, (120, 70), text)[:, :, :3])
        assert found.mean <= 1.5 and told["hint"][0] <= 120 + 20, (flow, found)


def test_an_icon_alone_has_a_name_for_those_who_cannot_see_it(tmp_path: Path) -> None:
    control = made(FACE, Icon(id="i", name="I", icon="anchor"))
    _, told = in_qt(control, (140, 50), tmp_path / "qt")
    assert told["name"] == "Deck thing" and told["hit"]
    write_files(WEB.files(Kit(controls=(control,)), [control]), tmp_path / "web")
    with page_on((tmp_path / "web" / "index.html").read_text(), tmp_path / "web") as page:
        assert page.get_by_role("button", name="Deck thing").count() == 2
        assert page.evaluate(
            "document.querySelector('thing-button').shadowRoot.querySelector('path')"
            ".getAttribute('d').split('M').length") > 2
        page.evaluate("document.querySelector('thing-button').label = 'Drop anchor'")
        assert page.get_by_role("button", name="Drop anchor").count() == 1


def test_web_labels_wrap_fit_and_leave_the_size_alone(tmp_path: Path) -> None:
    for flow in ("wrap", "fit"):
        control = made(FACE, Label(id="l", name="L", flow=flow, size=18), size=(120, 70))
        folder = tmp_path / flow
        write_files(WEB.files(Kit(controls=(control,)), [control]), folder)
        with page_on((folder / "index.html").read_text(), folder) as page:
            measure = """text => { const e = document.querySelector('thing-button');
                e.label = text; const s = e.shadowRoot.querySelector('[part=l]');
                return document.fonts.ready.then(() => [e.offsetWidth, s.offsetHeight,
                    parseFloat(getComputedStyle(s).fontSize)]); }"""
            short = page.evaluate(measure, "Go")
            long = page.evaluate(measure, "Cast off from the north bank")
        assert short[0] == long[0] == 120
        if flow == "wrap":
            assert long[1] >= short[1] + 20 and long[2] == 18
        else:
            assert long[2] < short[2] == 18 and long[1] <= short[1]


def test_a_transition_is_the_browsers_own(tmp_path: Path) -> None:
    control = made(FACE).model_copy(update={
        "transition": Timing(seconds=0.25, easing="ease-out"),
        "states": {"hover": {"face": {"opacity": 0.5}}}})
    write_files(WEB.files(Kit(controls=(control,)), [control]), tmp_path)
    with page_on((tmp_path / "index.html").read_text(), tmp_path) as page:
        told = page.evaluate("""() => { const s = getComputedStyle(
            document.querySelector('thing-button').shadowRoot.querySelector('[part=face]'));
            return [s.transitionDuration, s.transitionTimingFunction]; }""")
    assert told == ["0.25s", "ease-out"]


def test_only_what_a_state_changes_stands_in_its_rules() -> None:
    control = made(FACE, Line(id="line", name="Line"))
    kit = Kit(controls=(control,))
    for name, value in (("rotate", 8.0), ("blend", "multiply")):
        kit = edit.set_value(kit, "thing", "hover", "face", name, value)
    css = WEB.files(kit, kit.controls)[0].text
    rule = css.split("button:hover")[1].split("}")[0]
    assert "rotate: 8deg" in rule and "mix-blend-mode: multiply" in rule
    assert rule.count(":") - 1 <= 4 and "isolation: isolate" in css
    assert "button:active" not in css.replace("button:active .hit", "")


def test_only_the_outline_answers_where_it_is_odd(tmp_path: Path) -> None:
    control = made(FACE, size=(120, 100), form="star")
    _, told = in_qt(control, (120, 100), tmp_path / "qt")
    assert told["hit"]
    folder = tmp_path / "web"
    write_files(WEB.files(Kit(controls=(control,)), [control]), folder)
    with page_on((folder / "index.html").read_text(), folder) as page:
        page.evaluate("""() => { window.count = 0; const e = document.querySelector('thing-button');
            e.addEventListener('click', () => { window.count += 1; }); }""")
        box = page.locator("thing-button").first.bounding_box()
        page.mouse.click(box["x"] + 6, box["y"] + 6)
        assert page.evaluate("window.count") == 0
        page.mouse.click(box["x"] + 60, box["y"] + 55)
        assert page.evaluate("window.count") == 1


# Pictures of layers

def test_a_baked_picture_is_cropped_and_lies_where_the_layer_was() -> None:
    control = made(FACE, Bevel(id="b", name="B"), offset=(0, 3))
    kit = Kit(controls=(control,))
    sheet, rest = sheet_of(kit, control), frozenset[str]()
    bevel = [sheet.part("b")]
    picture, still = sheet.picture(bevel, rest), sheet.picture(bevel, rest, still=True)
    assert picture and still and picture.place == (0, 3, 140, 50) and still.place == (0, 0, 140, 50)
    sizes = [Image.open(__import__("io").BytesIO(png)).size for png in picture.pngs]
    assert sizes == [(140, 50), (280, 100), (420, 150)]
    left, top, right, bottom = picture.slices
    assert 10 <= left <= 20 and left == right and 10 <= top <= 24 and abs(top - bottom) <= 1
    assert sheet.picture([], rest) is None
    assert len(combined_states("push")) == 9 and len(combined_states("two-position")) == 18


def test_slices_follow_gradients_but_not_steps() -> None:
    ramp = np.zeros((10, 60, 4), np.uint8)
    ramp[:, :, 3] = 255
    ramp[:, :, 0] = np.linspace(0, 120, 60)
    left, top, right, bottom = slices_of(ramp)
    assert left + right <= 4 and top + bottom <= 1
    ramp[:, 20:, 1] = 200
    left, _, right, _ = slices_of(ramp)
    assert left == 20 and right <= 2
    ramp[:, 40:, 2] = 200
    left, _, right, _ = slices_of(ramp)
    assert (left, right) in ((20, 20), (0, 40), (40, 0), (20, 21), (40, 2), (1, 40), (0, 41))
