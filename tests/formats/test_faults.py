"""Inputs that once broke a reader, and large ones: each is read, or refused in words."""

from __future__ import annotations

import importlib.util
import json
import signal
from collections.abc import Iterator
from pathlib import Path
from types import ModuleType

import pytest

from mektel.core.errors import MektelError
from mektel.core.kit import Kit
from mektel.core.kit.edit import add_control
from mektel.core.look import resolve
from mektel.core.paint import render
from mektel.core.proof import findings
from mektel.formats.css import control_from_css, read_css
from mektel.formats.kitfile import KitFileError, kit_from_text, read_kit
from mektel.formats.svg import DrawingError, import_svg, read_svg
from mektel.formats.tokens import TokenError, tokens_from_text
from tests.conftest import ROOT
from tests.slices import in_all

FAULTS = sorted((ROOT / "tests" / "faults").iterdir())


def _load(name: str) -> ModuleType:
    spec = importlib.util.spec_from_file_location(name, ROOT / "tools" / f"{name}.py")
    assert spec and spec.loader
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


fuzz, fuzz_inputs = _load("fuzz"), _load("fuzz_inputs")
fuzz.MOST_DRAWN = 1  # each was tried with more when it was mended; see tools/fuzz.py


@pytest.fixture(autouse=True)
def answers_in_time() -> Iterator[None]:
    """Processor time: other tests run beside."""
    def late(*_: object) -> None:
        raise AssertionError("no answer in time")

    before = signal.signal(signal.SIGPROF, late)
    signal.setitimer(signal.ITIMER_PROF, fuzz.SECONDS)
    yield
    signal.setitimer(signal.ITIMER_PROF, 0)
    signal.signal(signal.SIGPROF, before)


# What is large is read and drawn for seconds.
LARGE = {"kit-07.mektel", "kit-29.mektel", "kit-40.mektel", "kit-43.mektel", "png-03.png"}


@pytest.mark.parametrize("path", [
    in_all(path, name=path.name) if path.name in LARGE else pytest.param(path, id=path.name)
    for path in FAULTS])
def test_what_broke_a_reader_is_read_or_refused(path: Path) -> None:
    fuzz.attempt(fuzz_inputs.kind_of(path.name), path.read_bytes())


def test_sheets_of_many_rules_are_read() -> None:
    rules = "".join(f".b{at % 7} .c:hover {{ color: #{at:06x} }}\n" for at in range(10_000))
    control, _, _ = control_from_css(f".b {{ background: teal }}\n{rules}.b {{ color: red }}")
    assert control.name == "B" and control.layer("label").colour == "#FF0000"


def many_shapes(count: int = 2_900) -> str:
    return "".join(f'<rect id="r{at}" class="c{at}" width="{9 + at % 90}" height="20"/>'
                   for at in range(count))


def test_drawings_of_many_shapes_are_read() -> None:
    shapes = many_shapes(1_500)
    style = "".join(f".c{at} {{ fill: teal }}" for at in range(3_000))
    drawing = f'<svg xmlns="http://www.w3.org/2000/svg"><style>{style}</style>{shapes}</svg>'
    made = import_svg(drawing.encode(), "Many", "many.svg")
    assert len(made.control.layers) <= 64 and made.leftovers


def test_drawings_of_too_many_shapes_are_refused_in_words() -> None:
    shapes = many_shapes()
    with pytest.raises(DrawingError, match="more than 3000 shapes"):
        import_svg(f"<svg>{shapes}{shapes}</svg>".encode(), "Many", "many.svg")


@pytest.mark.parametrize(("text", "what"), [
    ("opacity: calc(1 - 2px); color: red", "opacity"), ("font-weight: calc(400 + 200)", "font-"),
    ("border-style: 1px; color: red", "border-style"),
    ("background: conic-gradient(from,red,blue)", "conic-gradient")])
def test_a_value_that_cannot_be_read_is_listed_with_its_line(text: str, what: str) -> None:
    _, leftovers, _ = control_from_css(text + "; height: 40px")
    assert [one for one in leftovers if one.place.line == 1 and what in str(one)]


def test_files_without_end_or_too_large_are_not_read_whole(tmp_path: Path) -> None:
    large = tmp_path / "large.svg"
    with large.open("wb") as file:
        file.truncate(5 * 2**30)
    for read, words in ((read_svg, "8 MB"), (read_kit, "256 MB"), (read_css, "4 MB")):
        with pytest.raises(KitFileError, match=f"larger than {words}"):
            read(large)
    with pytest.raises(KitFileError, match="no plain file"):
        read_kit(Path("/dev/zero"))


def test_what_cannot_be_drawn_is_left_out_and_found() -> None:
    layers = [{"id": "face", "name": "Face", "kind": "fill", "colour": "#2F8C93"}]
    odd = [{"id": "far", "name": "Far", "kind": "fill", "outline": {"width": [1000, 0]}},
           {"id": "icon", "name": "Icon", "kind": "icon", "icon": "nope"},
           {"id": "wide", "name": "Wide", "kind": "fill", "scale": [20, 20], "rotate": 30}]
    kit = kit_from_text(json.dumps({"format": 1, "name": "k", "controls": [
        {"id": "b", "name": "B", "size": [800, 400], "layers": layers + odd}]}))
    look = resolve(kit, kit.controls[0])
    assert [one.layer for one in look.refused] == ["far", "icon", "wide"]
    assert len(look.layers) == 1 and render(look).rgba.any()
    told = [str(one) for one in findings(kit)]
    assert any("Far is left out: it would reach" in one for one in told)
    assert any("There is no icon “nope”" in one for one in told)


def test_formulas_that_lean_on_each_other_without_end_are_problems() -> None:
    layers = [{"id": f"l{at}", "name": "L", "kind": "fill"} for at in range(60)]
    formulas = {f"l{at}": {"opacity": f"l{at + 1}.opacity * 0.99"} for at in range(59)}
    text = {"control": {"text": "text + text + text + text"}}
    kit = kit_from_text(json.dumps({"format": 1, "name": "k", "controls": [
        {"id": "b", "name": "B", "text": "x" * 200, "layers": layers,
         "formulas": {"rest": formulas | text}}]}))
    assert any("depend on each other" in str(one) for one in findings(kit))


def test_tokens_that_would_grow_without_end_are_refused() -> None:
    data = {"a0": {"$type": "color", "$value": "#010203"}}
    for at in range(1, 12):
        data[f"a{at}"] = {"$type": "x", "$value": [f"{{a{at - 1}}}"] * 10}  # type: ignore[dict-item]
    with pytest.raises(TokenError, match="aliases followed"):
        tokens_from_text(json.dumps(data))
    deep: object = 1
    for _ in range(60):
        deep = {"$extensions": deep}
    with pytest.raises(TokenError, match="deeper than 48"):
        tokens_from_text(json.dumps({"a": {"$value": 1, "x": deep}}))


def test_an_import_can_always_be_saved_or_is_refused() -> None:
    text = "".join(f"--c{at}: #{at:06x};" for at in range(600))
    used = " ".join(f"var(--c{at})" for at in range(600))
    control, leftovers, palette = control_from_css(f"a {{ {text} background: {used} }}")
    kit = add_control(Kit(), control, palette)
    assert len(kit.palette) == 256 and any("more than 256" in str(one) for one in leftovers)
    with pytest.raises(MektelError):
        control_from_css("no css at all")
