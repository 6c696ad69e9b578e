"""Shipped controls that were tampered with: each fault is caught, and no honest control fails."""

from __future__ import annotations

import io
import json
from collections.abc import Callable, Iterable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from mektel.core.kit import Control, Kit, Parameter, edit
from mektel.core.kit.parameter_edits import add_parameter, set_formula
from mektel.targets import TARGETS, ship, write_files
from mektel.targets.match import Match
from mektel.targets.verify import verify
from tests import slices
from tests.slices import some_of

# Which control each fault is tried on: all else of it stays as it was shipped.
FAULTS = {
    "label missing": "board", "label black": "board", "label red": "board",
    "label 2 px right": "board", "label 2 px down": "board", "another text": "board",
    "letters reversed": "board", "1 px line gone": "board", "top light gone": "board",
    "focus ring missing": "board", "focus ring always": "board", "focus ring blue": "board",
    "hover lost": "board", "hover and pressed swapped": "board", "disabled face other": "board",
    "shadow 2 px aside": "board", "shadow gone": "board", "corners square": "board",
    "face 6 of 255 off": "board", "hit area of the whole picture": "board",
    "hit area 4 px too small": "board", "hole in the hit area": "board",
    "checked+hover lost": "ramp", "text does not follow": "counted",
    "wide shadow: focus ring missing": "wide", "wide shadow: hover lost": "wide",
    "wide shadow: face green": "wide", "wide shadow: corners square": "wide",
}
QT = {
    "label missing": 'REST["label"]["visible"] = False',
    "label black": 'REST["label"]["colour"] = "#000000"',
    "label red": 'REST["label"]["colour"] = "#D02020"',
    "label 2 px right": 'REST["label"]["move"] = (2, 0)',
    "label 2 px down": 'REST["label"]["move"] = (0, 2)',
    "another text": 'CLASS.text = lambda self: super(CLASS, self).text().replace("oa", "ao")',
    "letters reversed": "CLASS.text = lambda self: super(CLASS, self).text()[::-1]",
    "1 px line gone": 'REST["line"]["visible"] = False',
    "top light gone": 'REST["top-light"]["visible"] = False',
    "focus ring missing": 'CHANGES.pop(("focus",))',
    "focus ring always": 'REST["focus-ring"]["visible"] = True',
    "focus ring blue": 'REST["focus-ring"]["colour"] = "#3B7FE5"',
    "hover lost": 'CHANGES.pop(("hover",))',
    "hover and pressed swapped": 'CHANGES[("hover",)], CHANGES[("pressed",)] = ('
                                 'CHANGES[("pressed",)], CHANGES[("hover",)])',
    "disabled face other": 'CHANGES[("disabled",)]["face"]["stops"] = REST["face"]["stops"]',
    "shadow 2 px aside": 'REST["shadow"]["offset"] = (2, 6)',
    "shadow gone": 'REST["shadow"]["visible"] = False',
    "corners square": 'REST["outline"] |= {"form": "box", "corners": (0, 0, 0, 0)}',
    "face 6 of 255 off": 'REST["face"]["stops"] = [(0, "#35929A"), (1, "#1D606C")]',
    "hit area of the whole picture": "CLASS.covers = lambda self, position: True",
    "hit area 4 px too small": """
def _covers(self, at):
    return all(super(CLASS, self).covers(at + type(at)(x, y)) for x in (-4, 4) for y in (-4, 4))
CLASS.covers = _covers""",
    "hole in the hit area": """
def _covers(self, at):
    middle = self.rect().center()
    return super(CLASS, self).covers(at) and (at - middle).manhattanLength() > 6
CLASS.covers = _covers""",
    "checked+hover lost": 'CHANGES.pop(("checked", "hover"))',
    "text does not follow": "CLASS.follow_text = lambda self: None",
    "wide shadow: focus ring missing": 'CHANGES.pop(("focus",))',
    "wide shadow: hover lost": 'CHANGES.pop(("hover",))',
    "wide shadow: face green": 'REST["face"]["colour"] = "#2F9352"',
    "wide shadow: corners square": 'REST["outline"]["corners"] = (0, 0, 0, 0)',
}


def _css(part: str, declared: str, state: str = "") -> str:
    return f'button{state} [part="{part}"]{{{declared}}}'


WEB = {
    "label missing": _css("label", "visibility:hidden"),
    "label black": _css("label", "--colour:#000"),
    "label red": _css("label", "--colour:#d02020"),
    "label 2 px right": _css("label", "margin-left:4px"),
    "label 2 px down": _css("label", "top:2px"),
    "another text": (('text: "Board"', 'text: "Baord"'),),
    "letters reversed": (('text: "Board"', 'text: "draoB"'),),
    "1 px line gone": _css("line", "visibility:hidden"),
    "top light gone": _css("top-light", "visibility:hidden"),
    "focus ring missing": _css("focus-ring", "visibility:hidden", ":focus-visible"),
    "focus ring always": _css("focus-ring", "visibility:visible;opacity:1"),
    "focus ring blue": _css("focus-ring", "--colour:#3b7fe5"),
    "hover lost": _css("face", "--stops:#2f8c93 0%, #175a66 100%", ":hover:not(:active)"),
    "hover and pressed swapped": (("button:hover", "button:HOVER"), ("button:active",
                                  "button:hover"), ("button:HOVER", "button:active")),
    "disabled face other": _css("face", "--stops:#2f8c93 0%, #175a66 100%", ":disabled"),
    "shadow 2 px aside": _css("shadow", "--x:2px"),
    "shadow gone": _css("shadow", "visibility:hidden"),
    "corners square": ".layer{border-radius:0 !important}button{border-radius:0 !important}",
    "face 6 of 255 off": _css("face", "--stops:#35929a 0%, #1d606c 100%"),
    "hit area of the whole picture": "button{border-radius:0}button::before{content:'';"
                                     "position:absolute;inset:-8px;pointer-events:auto}",
    "hit area 4 px too small": ".hit, button{clip-path:inset(4px round 99px)}",
    "hole in the hit area": "button::after{content:'';position:absolute;inset:0;margin:auto;"
                            "width:9px;height:9px;pointer-events:auto}",
    "checked+hover lost": (('[aria-checked="true"]:hover', '[aria-checked="true"]:never'),),
    "text does not follow": (("textOf: (", "gone: ("),),
    "wide shadow: focus ring missing": _css("focus-ring", "visibility:hidden", ":focus-visible"),
    "wide shadow: hover lost": (("button:hover", "button:nth-child(99)"),),
    "wide shadow: face green": _css("face", "--colour:#2f9352"),
    "wide shadow: corners square": ".layer{border-radius:0 !important}",
}
STATES = ("focus", "hover", "pressed", "disabled", "checked+hover")
Paint = Callable[[np.ndarray], np.ndarray]


def tried_kit(demo: Kit, faults: Iterable[str]) -> tuple[Kit, dict[str, str]]:
    """A copy of a control for each fault, and one of each without any."""
    kit = demo.model_copy(update={"controls": tuple(
        control for control in demo.controls if control.id in ("board", "ramp")), "schemes": ()})
    wide = Control.model_validate({
        "id": "wide", "name": "Wide", "text": "", "size": (120, 40),
        "outline": {"corners": (6,) * 4},
        "layers": [
            {"id": "shadow", "name": "S", "kind": "shadow", "blur": 120, "spread": 30,
             "colour": "#00000030"},
            {"id": "face", "name": "F", "kind": "fill", "colour": "#2F8C93"},
            {"id": "focus-ring", "name": "R", "kind": "line", "width": 2, "gap": 2,
             "place": "outside", "colour": "#E5A43B", "visible": False}],
        "states": {"focus": {"focus-ring": {"visible": True}},
                   "hover": {"face": {"colour": "#338F96"}}}})
    counted = Control.model_validate({
        "id": "counted", "name": "Counted", "text": "x", "size": (120, 40), "layers": [
            {"id": "face", "name": "F", "kind": "fill", "colour": "#2F8C93"},
            {"id": "label", "name": "L", "kind": "label", "colour": "#FFFFFF"}]})
    kit = kit.model_copy(update={"controls": (*kit.controls, wide, counted)})
    kit = add_parameter(kit, "counted", Parameter(name="count", type="number", default=3.0))
    kit = set_formula(kit, "counted", "rest", "control", "text", '"Queue " + text(count)')
    kit = edit.set_value(kit, "ramp", "checked+hover", "track", "colour", "#3FA3A9")
    ids: dict[str, str] = {}
    for fault in faults:
        kit = edit.copy_control(kit, FAULTS[fault])
        ids[fault] = kit.controls[-1].id
    return kit, ids


def tampered(target: str, kit: Kit, ids: dict[str, str], folder: Path) -> None:
    shipped = TARGETS[target]
    for fault, control_id in ids.items():
        control = kit.control(control_id)
        if target == "sprites":
            continue
        path = folder / shipped.main_file(control)
        text = path.read_text(encoding="utf-8")
        if target == "qtwidgets":
            fault = QT[fault].replace("CLASS", shipped.class_name(control))
            path.write_text(f"{text}\n\n{fault}\n", encoding="utf-8")
            continue
        change = WEB[fault]
        if isinstance(change, str):
            change = (("`,\n  });", f"{change}`,\n  }});"),)
        for old, new in change:
            assert old in text, fault
            text = text.replace(old, new)
        path.write_text(text, encoding="utf-8")


def verdicts(matches: list[Match]) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for match in matches:
        found.setdefault(match.control, []).extend(match.faults)
    return found


@pytest.mark.parametrize("target", ["qtwidgets", "web"])
def test_a_control_that_was_tampered_with_is_caught(
    target: str, demo_kit: Kit, tmp_path: Path
) -> None:
    # In Chromium, where each takes long, every fifth fault.
    faults = list(FAULTS) if target == "qtwidgets" else some_of(list(FAULTS), 5)
    kit, ids = tried_kit(demo_kit, faults)
    write_files(ship(TARGETS[target], kit, kit.controls), tmp_path)
    tampered(target, kit, ids, tmp_path)
    only = {control_id: {"rest", *(state for state in STATES if state in fault)}
            for fault, control_id in ids.items()}
    honest = ("board", "ramp", "wide", "counted")
    if not slices.every_case:
        only |= {control_id: {"rest", *STATES} for control_id in honest}
    found = verdicts(verify(kit, kit.controls, TARGETS[target], None, 1, tmp_path, only))
    assert not any(found[control_id] for control_id in honest), found
    passed = [fault for fault, control_id in ids.items() if not found[control_id]]
    assert not passed, passed


SPRITES: dict[str, tuple[str, Paint]] = {
    "a state upside down": ("hover", lambda own: own[::-1]),
    "2 px aside": ("rest", lambda own: np.roll(own, 4, axis=1)),
    "a row gone": ("rest", lambda own: _without(own, slice(44, 46))),
    "6 of 255 off": ("rest", lambda own: np.where(
        own[:, :, 3:] == 255, own + np.array([6, 6, 6, 0], np.uint8), own)),
    "nothing there": ("disabled", np.zeros_like),
    "a text gone": ("pressed:label", np.zeros_like),
}


def _without(own: np.ndarray, rows: slice) -> np.ndarray:
    own = own.copy()
    own[rows] = 0
    return own


@pytest.mark.parametrize("fault", SPRITES)
def test_a_sprite_that_was_tampered_with_is_caught(
    fault: str, demo_kit: Kit, tmp_path: Path
) -> None:
    board = demo_kit.control("board")
    write_files(ship(TARGETS["sprites"], demo_kit, [board]), tmp_path)
    assert all(one.passes for one in verify(
        demo_kit, [board], TARGETS["sprites"], folder=tmp_path))
    region, paint = SPRITES[fault]
    index = json.loads((tmp_path / "sprites.json").read_text())
    x, y, w, h = index["controls"]["board"]["densities"]["2"]["pictures"][region]["at"]
    path = tmp_path / "atlas@2x.png"
    atlas = np.asarray(Image.open(io.BytesIO(path.read_bytes())).convert("RGBA")).copy()
    atlas[y : y + h, x : x + w] = paint(atlas[y : y + h, x : x + w])
    Image.fromarray(atlas).save(path)
    assert not all(one.passes for one in verify(
        demo_kit, [board], TARGETS["sprites"], folder=tmp_path))
