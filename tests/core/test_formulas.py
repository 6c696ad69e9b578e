"""Formulas: one value here, in shipped Python and in shipped JavaScript; never more than that."""

from __future__ import annotations

import json
import math
import random
import re
import subprocess
from pathlib import Path
from typing import Any

import pytest

from mektel.core.errors import MektelError
from mektel.core.formula import FormulaError, colours, evaluate, parse
from mektel.core.kit import (
    Control,
    Fill,
    Kit,
    Label,
    Line,
    PaletteValue,
    Parameter,
    Shadow,
    Stop,
    Swatch,
    TextStyle,
    edit,
    parameter_edits,
)
from mektel.core.kit.parameters import ArgumentError
from mektel.core.look import resolve, settle, settled
from mektel.targets.qtwidgets.expressions import python_of
from mektel.targets.web.expressions import js_of
from mektel.targets.web.target import RUNTIME_FOLDER

GIVEN: dict[str, Any] = {"a": 3.0, "b": 0.25, "c": -7.5, "face": "#2F8C93", "ink": "#14323780",
                         "on": True, "stops": ("#101010", "#F0E0D0")}


class Given:
    def name(self, name: str) -> Any:
        return GIVEN[name]

    def field(self, part: str, name: str) -> Any:
        raise FormulaError("none here")


FORMS = {
    "number": ["(N + N)", "(N - N)", "(N * N)", "(N / N)", "-N", "(N // N)", "(N % N)",
               "min(N, N)", "max(a, N, b)", "clamp(N, 0, 5)", "round(N)", "floor(N)", "abs(N)",
               "(N) ** 2", "(N if T else N)"],
    "colour": ["mix(C, C, N)", "lighten(C, R)", "darken(C, b)", "wash(C, R)", "translucent(C, 0.5)",
               "readable_on(C, face, ink)", "(C if T else C)"],
    "truth": ["on", "not on", "N < N <= N", "N != 3 and on", "on or N > 2"],
}
LEAVES = {"number": ["a", "b", "c", "-7.125", "3.5", "0.5", "2"],
          "colour": ["face", "ink", '"#E0A040"', "stops[1]"], "truth": ["on"]}


def random_formula(dice: random.Random, kind: str, depth: int = 0) -> str:
    """A formula of a kind (number, colour, truth), as deep as the dice have it."""
    if depth > 3 or (kind != "truth" and dice.random() < 0.15):
        return dice.choice(LEAVES[kind])
    kinds = {"N": "number", "C": "colour", "T": "truth"}
    return re.sub("[NCTR]", lambda found: f"{dice.uniform(0, 0.3):.3f}" if found[0] == "R"
                  else random_formula(dice, kinds[found[0]], depth + 1), dice.choice(FORMS[kind]))


def test_three_languages_agree(tmp_path: Path) -> None:
    dice = random.Random(20)
    known: list[tuple[str, Any]] = []
    while len(known) < 400:
        text = random_formula(dice, dice.choice(["number", "colour", "truth"]))
        try:
            known.append((text, evaluate(parse(text), Given())))
        except FormulaError:
            continue
    scope = {**vars(colours), "given": GIVEN}
    sources = [js_of(parse(text).tree) for text, _ in known]
    script = tmp_path / "formulas.mjs"
    script.write_text(
        f"{(RUNTIME_FOLDER / 'formulas.js').read_text()}\n"
        f"const given = {json.dumps(GIVEN)};\n"
        f"console.log(JSON.stringify([{', '.join(sources)}]));", encoding="utf-8")
    told = subprocess.run(["node", str(script)], capture_output=True, text=True)
    assert told.returncode == 0, told.stderr
    for (text, wanted), web in zip(known, json.loads(told.stdout), strict=True):
        qt = eval(python_of(parse(text).tree), scope)  # what the shipped module would run
        for found in (qt, web):
            if isinstance(wanted, float):
                assert math.isclose(found, wanted, rel_tol=1e-9, abs_tol=1e-9), text
            else:
                assert found == wanted, text


@pytest.mark.parametrize(("text", "told"), [
    ("", "empty"), ("1 +", "cannot be read"), ("__import__('os')", "no such function"),
    ("face.__class__", "not a name"), ("(lambda: 1)()", "no such function"), ("[1][0]", "not part"),
    ("a.b.c", "one dot"), ("lighten(face)", "takes 2"), ("min(a=1, b=2)", "in order"),
    ("x[1:2]", "an index"), ("1" + "+1" * 199, "too long"), ("2e10", "too large"),
    ("-" * 30 + "a", "too long"), ("9" * 500, "characters"), ("{1}", "not part"),
])
def test_what_is_no_formula_is_refused(text: str, told: str) -> None:
    with pytest.raises(FormulaError, match=told):
        parse(text)


@pytest.mark.parametrize(("text", "told"), [
    ("a / 0", "by zero"), ("a + face", "number is needed"), ("not a", "True or False"),
    ("9 ** 9", "powers"), ("(-8) ** 0.5", "powers"), ("stops[2]", "entries 0 to 1"),
    ("lighten(a, 1)", "takes a colour"), ("a == face", "cannot be compared"), ("a[0]", "no entr"),
    ("8 ** 8 * 8 ** 8", "too large"),
])
def test_what_has_no_value_says_why(text: str, told: str) -> None:
    with pytest.raises(FormulaError, match=told):
        evaluate(parse(text), Given())


KIT = Kit(
    palette=(Swatch(name="tide-deep", colour="#175A66"), Swatch(name="ink", colour="#101010")),
    values=(PaletteValue(name="gap", type="length", value=6.0),
             PaletteValue(name="dusk", type="gradient", value=(
                 Stop(position=0, colour="#102030"), Stop(position=1, colour="#405060"))),
             PaletteValue(name="small", type="text-style", value=TextStyle(size=12.0))),
    controls=(Control(id="board", name="Board", text="Board", layers=(
        Shadow(id="shadow", name="Shadow"), Fill(id="face", name="Face", style="linear"),
        Line(id="line", name="Line"), Label(id="label", name="Label"))),))


def driven(*formulas: tuple[str, str, str], state: str = "rest") -> Kit:
    kit = KIT
    for part, path, text in formulas:
        kit = parameter_edits.set_formula(kit, "board", state, part, path, text)
    return kit


def test_a_formula_reaches_palette_size_and_other_layers() -> None:
    kit = driven(("face", "stops.0.colour", "tide_deep"), ("face", "stops.1.colour", "ink"),
                 ("line", "width", "shadow.blur / 5"), ("outline", "corners", "height / 4"),
                 ("outline", "padding.0", "corners[0] + gap"), ("label", "size", "small.size"),
                 ("shadow", "blur", "2 * gap + 3"), ("control", "size.0", "200"))
    control = settled(kit, kit.control("board"))
    assert [stop.colour for stop in control.part("face").stops] == ["#175A66", "#101010"]
    assert control.part("line").width == 3.0 and control.size == (200.0, 48.0)
    assert control.outline.corners == (12.0,) * 4 and control.outline.padding[0] == 18.0
    assert control.part("label").size == 12.0
    wide = resolve(kit, kit.control("board"), size=(300.0, 80.0))
    assert wide.outline.rx[0] == 20.0
    kit = driven(("face", "stops", "dusk"))
    assert settled(kit, kit.control("board")).part("face").stops[1].colour == "#405060"
    assert not settle(kit, kit.control("board")).problems


def test_rings_and_wrong_kinds_are_told_and_the_last_value_stays() -> None:
    kit = driven(("shadow", "blur", "line.width * 2"), ("line", "width", "shadow.blur"),
                 ("face", "stops.0.colour", "gap"), ("label", "size", "9000"),
                 ("line", "gap", "nowhere"))
    found = settle(kit, kit.control("board"))
    told = {f"{problem.part}.{problem.path}": problem.text for problem in found.problems}
    assert "shadow.blur → line.width → shadow.blur" in told["shadow.blur"]
    assert "there is no “nowhere” here" in told["line.gap"] and len(told) == 5
    assert found.control.part("shadow") == KIT.control("board").part("shadow")
    with pytest.raises(MektelError, match="no value"):
        driven(("face", "nothing", "1"))


def test_lifting_renaming_and_removing_a_parameter() -> None:
    kit, name = parameter_edits.lift(KIT, "board", "rest", "face", "stops.0.colour")
    assert name == "face_1"
    kit = parameter_edits.set_parameter(kit, "board", name, name="face", required=True)
    kit = parameter_edits.set_formula(kit, "board", "pressed", "face", "stops.0.colour",
                                      "darken(rest, 0.1)")
    kit = parameter_edits.set_formula(kit, "board", "rest", "line", "colour", "mix(face, ink, 0.5)")
    control = kit.control("board")
    assert len(parameter_edits.uses_of(control, "face")) == 2
    red = settle(kit, control, arguments={"face": "#B8472A"}).control
    assert red.part("face").stops[0].colour == "#B8472A"
    assert red.part_in("face", {"pressed"}).stops[0].colour == colours.darken("#B8472A", 0.1)
    kit = parameter_edits.set_parameter(kit, "board", "face", name="tone")
    assert kit.control("board").formulas["rest"]["line"]["colour"] == "mix(tone, ink, 0.5)"
    for wrong, told in (({"tone": 3}, "a colour"), ({"face": "#000000"}, "no parameter")):
        with pytest.raises(ArgumentError, match=told):
            resolve(kit, kit.control("board"), arguments=wrong)
    gone = parameter_edits.remove_parameter(kit, "board", "tone").control("board")
    assert gone.parameters == () and list(gone.formulas) == ["pressed"]
    width, _ = parameter_edits.lift(KIT, "board", "rest", "line", "width")
    assert width.control("board").parameters[0] == Parameter(
        name="line_width", type="length", default=1.0, min=0.0, max=2000.0)
    typed = edit.set_value(kit, "board", "rest", "line", "colour", "#000000").control("board")
    assert "line" not in typed.formulas["rest"]
