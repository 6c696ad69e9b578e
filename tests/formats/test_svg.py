"""Drawings: what comes in looks as the browser draws it, and what does not is listed."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest

from mektel.core.kit import OUTLINE, Control, Fill, Kit, Label, Line, Shadow
from mektel.core.look import Margins, resolve
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.formats.svg import DrawingError, import_svg, read_svg
from tests.chromium import page_on, photograph

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100" viewBox="0 0 200 100">'
STOPS = '<stop offset="0" stop-color="#F0A35A"/><stop offset="1" stop-color="#7D2D18"/>'


def drawn(inside: str) -> bytes:
    return f"{HEAD}{inside}</svg>".encode()


def taken(inside: str) -> Control:
    return import_svg(drawn(inside), "Test", "test.svg").control


def layer_of(control: Control, kind: type) -> object:
    return next(layer for layer in control.layers if isinstance(layer, kind))


# Each is a whole button but for its text; x, y are where its body begins.
DRAWINGS = {
    "rect with shadow": (30, 20, """<filter id="s" x="-20%" y="-50%" width="140%"
        height="250%"><feDropShadow dx="2" dy="5" stdDeviation="4"
        flood-color="#123" flood-opacity=".6"/></filter>
        <rect x="30" y="20" width="140" height="50" rx="9" fill="#2F8C93" filter="url(#s)"/>"""),
    "gradient in box units, slanted": (30, 20, f"""<linearGradient id="g" x1="0" y1="0" x2="1"
        y2="1">{STOPS}</linearGradient>
        <rect x="30" y="20" width="140" height="50" rx="9" fill="url(#g)"/>"""),
    "gradient in user units, turned": (30, 20, f"""<linearGradient id="g" x1="40" y1="0" x2="90"
        y2="0" gradientUnits="userSpaceOnUse" gradientTransform="rotate(30 60 30)">{STOPS}
        </linearGradient><rect x="30" y="20" width="140" height="50" fill="url(#g)"/>"""),
    "gradient that refers to another": (30, 20, f"""<linearGradient id="a">{STOPS}</linearGradient>
        <linearGradient id="g" href="#a" x1="0%" x2="0%" y1="10%" y2="80%"/>
        <ellipse cx="100" cy="45" rx="70" ry="25" fill="url(#g)"/>"""),
    "groups, scale, opacity": (30, 20, """<g transform="translate(10 10)" opacity=".8">
        <g transform="scale(2)"><rect x="10" y="5" width="70" height="25" rx="4" fill="teal"
        fill-opacity=".5"/></g></g><rect x="30" y="20" width="140" height="50" rx="8"
        fill="none" stroke="navy" stroke-width="3" stroke-opacity=".7"/>"""),
    "a stroke laid inside": (30, 20, """<rect x="30" y="20" width="140" height="50" rx="14"
        fill="#E9E2D3"/><rect x="31.5" y="21.5" width="137" height="47" rx="12.5" fill="none"
        stroke="#B8472A" stroke-width="3"/>"""),
    "a path that is a capsule": (30, 20, """<path d="M55 20H145C158.807 20 170 31.193 170 45C170
        58.807 158.807 70 145 70H55C41.193 70 30 58.807 30 45C30 31.193 41.193 20 55 20Z"
        fill="#175A66"/>"""),
    "a path with four corners": (30, 20, """<path d="M34 20h130a6 6 0 0 1 6 6v32a12 12 0 0 1-12
        12h-128v-46a4 4 0 0 1 4-4z" fill="#175A66"/>"""),
    "classes and an inner face": (30, 20, """<style>.edge{fill:#0E454E} #top{fill:#3AA2A8}</style>
        <rect class="edge" x="30" y="20" width="140" height="50" rx="12"/>
        <rect id="top" x="34" y="24" width="132" height="42" rx="8"/>"""),
    "an inner shadow by filter": (30, 20, """<filter id="i" filterUnits="userSpaceOnUse" x="0"
        y="0" width="200" height="100" color-interpolation-filters="sRGB">
        <feFlood flood-opacity="0" result="b"/><feBlend in="SourceGraphic" in2="b" result="s"/>
        <feColorMatrix in="SourceAlpha" type="matrix"
        values="0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 127 0" result="h"/><feOffset dy="3"/>
        <feGaussianBlur stdDeviation="2"/><feComposite in2="h" operator="arithmetic" k2="-1"
        k3="1"/><feColorMatrix type="matrix"
        values="0 0 0 0 1 0 0 0 0 1 0 0 0 0 1 0 0 0 0.6 0"/><feBlend in2="s"/></filter>
        <g filter="url(#i)"><rect x="30" y="20" width="140" height="50" rx="12" fill="#175A66"/>
        </g>"""),
    "the exporters’ filter": (30, 20, """<filter id="f" filterUnits="userSpaceOnUse" x="0" y="0"
        width="200" height="100" color-interpolation-filters="sRGB"><feFlood flood-opacity="0"
        result="b"/><feColorMatrix in="SourceAlpha" type="matrix"
        values="0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 127 0" result="h"/><feOffset dy="4"/>
        <feGaussianBlur stdDeviation="3"/>
        <feColorMatrix type="matrix"
        values="0 0 0 0 0.2 0 0 0 0 0 0 0 0 0 0.4 0 0 0 0.5 0"/><feBlend in2="b" result="d"/>
        <feBlend in="SourceGraphic" in2="d"/></filter><g filter="url(#f)">
        <rect x="30" y="20" width="140" height="50" rx="25" fill="#E5A43B"/></g>"""),
}


@pytest.mark.parametrize("name", DRAWINGS)
def test_a_drawing_comes_in_as_the_browser_draws_it(name: str, tmp_path: Path) -> None:
    x, y, inside = DRAWINGS[name]
    control, leftovers = import_svg(drawn(inside), "Test", "test.svg")
    assert leftovers == []
    width, height = control.size
    room = Margins(x, y, round(200 - x - width), round(100 - y - height))
    ours = render(resolve(Kit(controls=(control,)), control), 2, room).rgba
    markup = f"<body style='margin:0;background:#fff'>{drawn(inside).decode()}"
    with page_on(markup, tmp_path, 2, (200, 100)) as page:
        theirs = photograph(page)
    found = difference(on_backdrop(ours, (1, 1, 1, 1))[:, :, :3], theirs)
    # An SVG blur and the edge of a flat ellipse are where Chromium itself approximates.
    assert found.mean <= 0.45, found
    assert found.high <= 18, found


def test_the_examples_become_editable_layers(examples: Path) -> None:
    board, left = read_svg(examples / "board.svg")
    assert left == [] and (board.name, board.text, board.size) == ("Board", "Board", (168, 48))
    assert board.outline.form == "capsule"
    assert [layer.kind for layer in board.layers] == ["shadow", "fill", "line", "label", "line"]
    label = layer_of(board, Label)
    assert (label.size, label.weight, label.align) == (17, 600, "centre")  # type: ignore[attr-defined]
    assert set(board.states) == {"hover", "pressed", "focus", "disabled"}
    ticket, left = read_svg(examples / "ticket.svg", "Fare ticket")
    assert ticket.name == "Fare ticket" and ticket.outline.corners == (12, 12, 12, 12)
    fill = layer_of(ticket, Fill)
    assert [stop.position for stop in fill.stops] == [0, 0.55, 1]  # type: ignore[attr-defined]
    assert layer_of(ticket, Line).place == "centre"  # type: ignore[attr-defined]
    assert [(entry.place.line, entry.place.element) for entry in left] == [(19, "<path>")]


def test_text_keeps_its_place_weight_and_words() -> None:
    face = '<rect x="20" y="20" width="160" height="40" fill="#eee"/>'
    right = taken(face + """<text x="170" y="46" text-anchor="end" font-size="20" fill="#123456"
        font-weight="bold">Half <tspan font-weight="400">speed</tspan></text>""")
    label = layer_of(right, Label)
    look = next(at for at in resolve(Kit(), right).layers if at.id == "label")
    assert right.text == "Half speed" and label.colour == "#123456"  # type: ignore[attr-defined]
    assert look.x + look.line().advance == pytest.approx(150, abs=0.1)  # type: ignore[union-attr]
    assert look.baseline == pytest.approx(26, abs=0.3)  # type: ignore[union-attr]
    middle = layer_of(taken(face + '<text x="46" y="45">Ramp and deck</text>'), Label)
    assert middle.align == "centre" and middle.move[0] == 0  # type: ignore[attr-defined]


@pytest.mark.parametrize(("inside", "what", "why"), [
    ('<image x="0" y="0" width="9" height="9" href="a.png"/>', "<image>", "does not become"),
    ('<rect id="odd" x="60" y="30" width="20" height="20"/>', "<rect> “odd”", "does not follow"),
    ('<rect x="20" y="20" width="160" height="60" transform="rotate(9)"/>', "<rect>", "turned"),
    ('<path d="M0 0L50 0L25 40Z"/>', "<path>", "rounded box, capsule or ellipse"),
    ('<path d="M0 0 what"/>', "<path>", ""),
    ('<g display="none"><rect width="5" height="5"/></g>', "<g>", "hidden"),
    ('<rect x="20" y="20" width="160" height="60" stroke="red" stroke-dasharray="2"/>', "<rect>",
     "dashes"),
    ('<rect x="20" y="20" width="160" height="60" fill="url(#r)"/><radialGradient id="r">'
     f"{STOPS}</radialGradient>", "radialGradient", "linear"),
    ('<rect x="20" y="20" width="160" height="60" fill="none" clip-path="url(#c)"/>', "<rect>",
     "clip-path"),
    ('<text font-family="Ferry Script">A</text>', "Ferry Script", "Hanken Grotesk"),
    ("<text>A</text><text>Second</text>", "“Second”", "second text"),
    ('<rect x="20" y="20" width="160" height="60" fill="none" filter="url(#no)"/>', "<rect>",
     "not in the drawing"),
    ('<filter id="t"><feTurbulence/></filter><rect x="20" y="20" width="160" height="60" '
     'filter="url(#t)"/>', "feTurbulence", "skipped"),
    ('<rect x="20" y="20" width="160" height="60" stroke="red" opacity=".5"/>', "<rect>",
     "show through"),
    ("<style>rect > g { fill: red }</style>", "rect > g", "only element"),
])
def test_what_cannot_be_taken_is_listed_with_its_line(inside: str, what: str, why: str) -> None:
    face = '\n<rect x="20" y="20" width="160" height="60" fill="#888"/>\n'
    control, left = import_svg(drawn(face + inside), "Test", "test.svg")
    assert any(isinstance(layer, Fill) for layer in control.layers)
    found = [entry for entry in left if what in entry.place.element and why in entry.message]
    assert found and found[0].place.line == 3, left


def test_a_backdrop_is_not_taken_for_the_button() -> None:
    control, left = import_svg(drawn(
        '<rect width="200" height="100" fill="#fff"/>'
        '<rect x="40" y="30" width="120" height="40" rx="8" fill="#B8472A"/>'), "T", "t.svg")
    assert control.size == (120, 40) and "backdrop" in left[0].message


@pytest.mark.parametrize(("content", "reason"), [
    (b"", "not well-formed"),
    (b"<svg><rect></svg>", "line 1"),
    (b"<html/>", "not <svg>"),
    (drawn("<circle r='1'/>"), "no rounded box"),
    (b'<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><svg>&b;</svg>', "entities"),
    (b'<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg><text>&x;</text></svg>',
     "entities"),
    (b"<svg>" + b"<g>" * 300 + b"</g>" * 300 + b"</svg>", "nested deeper"),
    (b"<svg>" + b"<g/>" * 21000 + b"</svg>", "more than 20000 elements"),
    (b"<svg>" + b" " * (9 * 1024 * 1024) + b"</svg>", "larger than 8 MB"),
    (drawn('<rect width="1e9" height="1e9" fill="red"/>'), "less than or equal"),
])
def test_hostile_and_broken_drawings_are_refused(content: bytes, reason: str) -> None:
    with pytest.raises(DrawingError, match=re.escape("test.svg")) as caught:
        import_svg(content, "Test", "test.svg")
    assert reason in str(caught.value) and "root:" not in str(caught.value)


def test_odd_numbers_do_no_harm() -> None:
    """Whatever an attribute says, it is a control, a listed leftover, or a clear refusal."""
    values = ["nan", "-5", "1e400", "50%", "12em", "url(#x)", "'", "0", "9" * 400]
    for name in ("x", "width", "rx", "stroke-width", "fill", "opacity", "transform", "filter"):
        for value in values:
            inside = f'<rect x="20" y="20" width="90" height="40" {name}="{value}" stroke="red"/>'
            inside = re.sub(rf'(?<= ){name}="[^"]*" (?=.* {name}=)', "", inside)
            try:
                control = import_svg(drawn(inside), "T", "t.svg").control
            except DrawingError:
                continue
            picture = render(resolve(Kit(), control), 1)
            assert np.isfinite(picture.rgba).all() and control.part(OUTLINE)
    assert layer_of(taken('<rect x="9" y="9" width="90" height="40" filter="url(#s)"/><filter '
                          'id="s"><feDropShadow/></filter>'), Shadow).blur == 4  # type: ignore[attr-defined]
