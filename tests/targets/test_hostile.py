"""Kits whose every text wants to become code: shipped to every target and run, nothing runs."""

from __future__ import annotations

import builtins
import json
import keyword
import random
import subprocess
import sys
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import pytest

from mektel.core.errors import DocumentError
from mektel.core.kit import Control, Kit, kit_from_data
from mektel.core.kit.parameters import PARAMETER_NAME, TAKEN
from mektel.formats.kitfile import kit_from_text, kit_to_text
from mektel.targets import TARGETS, NamingError, ship, write_files
from mektel.targets.chromium import chromium
from mektel.targets.naming import clashes
from mektel.targets.sheet import sheet_of
from mektel.targets.web.element import required_attributes
from tests.chromium import QUICK
from tests.conftest import ROOT
from tests.slices import count_of

PYTHON = ["\" + str(open('CANARY', 'w')) + \"", "' + str(open('CANARY','w')) + '", "\\", "Don't",
          '"""', "'''\nopen('CANARY', 'w')\n'''", "#\nopen('CANARY','w')", "{open('CANARY','w')}",
          "{{ 7 * 7 }}{% raw %}", "\\N{BULLET}", "\\x41\\", "\r\nopen('CANARY','w')\r\n"]
SCRIPT = ["${window.ran = 1}", "`; window.ran = 1; `", "</script><script>window.ran = 1</script>",
          "<img src=x onerror='window.ran = 1'>", "*/ window.ran = 1 /*", "-->", "<!--<script>",
          "\u2028window.ran = 1", "javascript:window.ran=1", "\" onclick=\"window.ran = 1", "$&",
          "\\`${window.ran = 1}", "&lt;script&gt;", "'-(window.ran = 1)-'"]
ODD = ["", " ", "a  b   c", "‮txet", "🜁⚓", "../../outside", "%s%n", "é" * 40, "x" * 200, "tide"]
NAMES = [*builtins.__dict__, *keyword.kwlist, "constructor", "super", "property", "deepcopy",
         "toggle", "close", "grab", "self", "given", "box", "get_value", "set_value", "value",
         "onclick", "onerror", "prototype", "states", "literal", "palette_tide", "is", "tabindex"]
RUN_QT = """
import importlib, json, sys, traceback, types
from pathlib import Path
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QApplication
application = QApplication([])
wrong = []
for job in json.loads(Path(sys.argv[1]).read_text()):
    try:
        file = Path(job["file"])
        package = types.ModuleType(f"kits_{file.parent.name}")
        package.__path__ = [str(file.parent)]
        sys.modules.setdefault(package.__name__, package)
        module = importlib.import_module(f"{package.__name__}.{file.stem}")
        control = getattr(module, job["class"])(**job["arguments"])
        control.grab()
        if job["text"] is not None and control.plain_text() != job["text"]:
            wrong.append([job["file"], "text", control.plain_text()])
    except BaseException:
        wrong.append([job["file"], traceback.format_exc()[-400:]])
print(json.dumps(wrong))
"""


def hostile_kit(seed: int) -> Kit | None:
    """A small kit with odd words wherever the document lets it have some."""
    dice = random.Random(seed)

    def words(most: int = 200) -> str:
        return "".join(dice.choice([*PYTHON, *SCRIPT, *ODD]) for _ in range(dice.choice((1, 2))))[
            :most]

    def title() -> str:
        return "".join(c for c in words(80) if ord(c) >= 32).strip() or "Title"

    fitting = [one for one in NAMES if PARAMETER_NAME.fullmatch(one) and one not in TAKEN
               and not keyword.iskeyword(one)]
    names = dice.sample(fitting, 3)
    # All of them differ from kit to kit, so that many can stand on one page.
    ids = [f"save-{seed}", f"save-{seed}-button"]
    text = json.dumps(words(60), ensure_ascii=True).replace("\\/", "/")
    control = {
        "id": dice.choice(ids), "name": title(),
        "text": words(),
        "behaviour": dice.choice(["push", "two-position", "long-press", "group", "busy"]),
        "layers": [
            {"id": "face", "name": title(), "kind": "fill", "colour": "tide"},
            {"id": "label", "name": title(), "kind": "label"},
            {"id": "own", "name": title(), "kind": "label", "text": words()},
            {"id": "held", "name": title(), "kind": "look", "control": f"tally-{seed}",
             "text": words()},
        ],
        "parameters": [
            {"name": names[0], "type": "text", "default": words(), "help": words(),
             "required": dice.random() < 0.5},
            {"name": names[1], "type": "choice", "default": "x" * 3,
             "choices": ["x" * 3, *(words(120) for _ in range(dice.randrange(12)))]},
            {"name": names[2], "type": "number", "default": 1.0, "help": words()}],
        "formulas": {"rest": {
            "control": {"text": f"{text} + {names[0]}"} if dice.random() < 0.4 else {},
            "own": {"text": f"{names[0]} + {text} + text({names[2]})"},
            "face": {"opacity": f"0.5 if {names[1]} == {text} else 1"}}},
        "variations": [{"name": title(), "arguments": {}, "text": words()}],
    }
    tally = {"id": f"tally-{seed}", "name": title(), "text": words(),
             "layers": [{"id": "count", "name": title(), "kind": "label"}]}
    twin = {**control, "id": dice.choice(ids), "parameters": [],
            "formulas": {}, "variations": []}
    every = [control, tally]
    if twin["id"] != control["id"] and dice.random() < 0.2:
        every.append(twin)
    try:
        return kit_from_data({
            "format": 4, "name": title(), "schemes": ["day", "night"], "controls": every,
            "palette": [{"name": "tide", "colour": "#237A82", "note": words(),
                         "schemes": {"night": "#000000"}}]})
    except DocumentError:
        return None


def shipped(kit: Kit, name: str, folder: Path) -> Kit:
    """Written for a target; names that clash are mended as is proposed."""
    target = TARGETS[name]
    for _ in range(8):
        try:
            write_files(ship(target, kit, kit.controls), folder)
            return kit
        except NamingError as error:
            kit = kit_from_text(kit_to_text(error.clashes[0].mend.edit(kit)))
    raise AssertionError("the proposed names clash again")


@pytest.fixture(scope="module")
def kits() -> list[Kit]:
    found: list[Kit] = []
    seed = 0
    while len(found) < count_of(80, 500):
        kit = hostile_kit(seed)
        found += [kit] if kit is not None else []
        seed += 1
    return found


# Kits that are shipped into one folder: no control of one has the name of another's.
TOGETHER = 25


def jobs_of(
    kits: list[Kit], target: str, folder: Path, together: int = 1
) -> list[tuple[Kit, Control, Path]]:
    jobs = []
    for at, kit in enumerate(kits):
        own = folder / "out" / str(at // together)
        kit = shipped(kit, target, own)
        jobs += [(kit, control, own) for control in kit.controls]
    assert {one.name for one in folder.iterdir()} == {"out"}
    return jobs


def run_in_qt(jobs: list[dict[str, Any]], folder: Path) -> list[list[str]]:
    """What went wrong with each control that was made and shown, if anything."""
    script, listed = folder / "run.py", folder / "jobs.json"
    script.write_text(RUN_QT)
    listed.write_text(json.dumps(jobs))
    done = subprocess.run([sys.executable, str(script), str(listed)], cwd=folder, text=True,
                          capture_output=True, timeout=300)
    assert done.returncode == 0, done.stderr[-2000:]
    return json.loads(done.stdout.splitlines()[-1])


def test_nothing_of_a_kit_runs_in_qt(kits: list[Kit], tmp_path: Path) -> None:
    target = TARGETS["qtwidgets"]
    jobs = []
    for _, control, own in jobs_of(kits, "qtwidgets", tmp_path, TOGETHER):
        driven = "text" in control.formulas.get("rest", {}).get("control", {})
        arguments = {parameter.name: parameter.default for parameter in control.parameters
                     if parameter.required}
        jobs.append(
            {
                "file": str(own / target.main_file(control)),
                "arguments": arguments,
                "class": target.class_name(control),
                "text": None if driven else control.text,
            }
        )
    assert run_in_qt(jobs, tmp_path) == []
    assert not list(tmp_path.rglob("CANARY")) and not (ROOT / "CANARY").exists()


def test_one_module_of_a_kit_runs_nothing_of_it(kits: list[Kit], tmp_path: Path) -> None:
    jobs = []
    for at, kit in enumerate(kits[::8]):
        kit = shipped(kit, "qtwidgets", tmp_path / "out" / str(at))
        target = TARGETS["qtwidgets"]
        one = target.single(kit, kit.controls, ship(target, kit, kit.controls))
        write_files([one], tmp_path / str(at))
        module = tmp_path / str(at) / one.path
        jobs += [{"file": str(module), "class": target.class_name(control),
                  "text": None, "arguments": {
                      parameter.name: parameter.default for parameter in control.parameters
                      if parameter.required}} for control in kit.controls]
    assert run_in_qt(jobs, tmp_path) == []
    assert not list(tmp_path.rglob("CANARY"))


@pytest.mark.parametrize("name", ["]]>", "a > b", "--><a/>", "&<'\""])
def test_a_drawing_is_sound_whatever_a_control_is_called(name: str, tmp_path: Path) -> None:
    kit = kit_from_data({"format": 4, "name": name, "controls": [{
        "id": "board", "name": name, "text": name, "layers": [
            {"id": "face", "name": name, "kind": "fill"},
            {"id": "label", "name": name, "kind": "label"}]}]})
    write_files(ship(TARGETS["svg"], kit, kit.controls), tmp_path)
    drawings = list(tmp_path.rglob("*.svg"))
    assert drawings
    for drawing in drawings:
        assert name in "".join(ElementTree.parse(drawing).getroot().itertext())


def parameterised(**values: object) -> Kit:
    return kit_from_data({"format": 4, "name": "k", "controls": [{
        "id": "board", "name": "Board", "parameters": [
            {"name": "way", "type": "choice", "default": "north", "choices": ["north", "south"],
             **values}]}]})


def test_parameters_are_refused_or_shipped_as_they_are(tmp_path: Path) -> None:
    with pytest.raises(DocumentError, match="help"):
        parameterised(help="a\0b")
    kit = parameterised(name="given")
    assert clashes(TARGETS["qtwidgets"], kit, kit.controls)
    with pytest.raises(DocumentError, match="one of north, south"):
        parameterised(default="east")
    # A text whose default is none of its choices may be that, too.
    kit = parameterised(type="text", default="east")
    assert kit.controls[0].parameters[0].allowed == ("north", "south", "east")
    write_files(ship(TARGETS["qtwidgets"], kit, kit.controls), tmp_path)
    target, (board,) = TARGETS["qtwidgets"], kit.controls
    east, south, west = run_in_qt([
        {"file": str(tmp_path / target.main_file(board)), "class": target.class_name(board),
         "text": "no such text", "arguments": {"way": way}}
        for way in ("east", "south", "west")], tmp_path)
    assert east[1] == south[1] == "text"  # both were made
    assert "ValueError" in west[1] and "east" in west[1]


def test_nothing_of_a_kit_runs_on_the_web(kits: list[Kit], tmp_path: Path) -> None:
    target = TARGETS["web"]
    jobs = jobs_of(kits, "web", tmp_path, TOGETHER)
    with chromium(QUICK) as browser, browser.new_context() as context:
        page = context.new_page()
        faults: list[str] = []
        page.on("pageerror", lambda error: faults.append(str(error)))
        for first in range(0, len(jobs), 50):
            some = jobs[first : first + 50]
            together = tmp_path / "out" / f"{first}.html"
            together.write_text(
                "<!doctype html><meta charset=utf-8>"
                f"<script src='{some[0][2].name}/runtime.js'></script>"
                + "".join(
                    f"<script src='{own.name}/{target.main_file(control)}'></script><"
                    f"{target.tag(control)}{required_attributes(sheet_of(kit, control))}></"
                    f"{target.tag(control)}>"
                    for kit, control, own in some
                ),
                encoding="utf-8",
            )
            page.goto(together.as_uri())
            ran, shown = page.evaluate(
                """tags => [window.ran ?? null, tags.map(tag => {
                    const root = document.querySelector(tag).shadowRoot;
                    return root && [root.querySelector("slot")?.textContent];
                })]""",
                [target.tag(control) for _, control, _ in some],
            )
            assert ran is None, first
            for found, (_, control, _) in zip(shown, some, strict=True):
                driven = "text" in control.formulas.get("rest", {}).get("control", {})
                assert found is not None and (driven or found[0] in (None, control.text))
        for at in range(len(kits) // TOGETHER):  # the page that comes with the last of them
            page.goto((tmp_path / "out" / str(at) / "index.html").as_uri())
            assert page.evaluate("window.ran === undefined"), at
        assert not faults


def test_the_sprites_of_a_kit_say_what_it_says(kits: list[Kit], tmp_path: Path) -> None:
    # Its pictures are most of the work and hold no words: fewer will do.
    for kit, control, own in jobs_of(kits[:6], "sprites", tmp_path):
        index = json.loads((own / "sprites.json").read_text(encoding="utf-8"))
        assert index["kit"] == kit.name and (
            index["controls"][control.id]["text"] == sheet_of(kit, control).text)


def test_the_list_of_names_is_that_of_the_toolkit() -> None:
    from PySide6.QtWidgets import QAbstractButton

    own = {name for name in dir(QAbstractButton) if PARAMETER_NAME.fullmatch(name)}
    assert own <= TARGETS["qtwidgets"].taken


def test_a_clash_is_told_with_a_name_that_will_do() -> None:
    data = {
        "format": 2,
        "name": "k",
        "controls": [
            {
                "id": "save",
                "name": "Save",
                "parameters": [{"name": "grab", "type": "number", "default": 1.0}],
            },
            {"id": "save-button", "name": "Save button"},
        ],
    }
    kit = kit_from_data(data)
    found = clashes(TARGETS["qtwidgets"], kit, kit.controls)
    assert [one.mend.text for one in found] == [
        "Call it grab_value.",
        "Give one the id save-button-2.",
    ]
    for one in found:
        kit = one.mend.edit(kit)
    assert not clashes(TARGETS["qtwidgets"], kit, kit.controls)
    assert kit.control("save-button-2").name == "Save button"
