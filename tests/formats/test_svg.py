"""Drawings: what comes in looks as the browser draws it, and what does not is listed."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest

from mektel.core.kit import OUTLINE, Control, Fill, Kit, Label, Line, Shadow
from mektel.core.look import Margins, resolve
from mektel.core.paint import render
from mektel.core.proof import difference
from mektel.formats.svg import DrawingError, import_svg, read_svg
from tests.drawings import (
    FACE,
    HEIGHT,
    STOPS,
    WHOLE,
    WIDTH,
    drawn,
    icon_drawings,
    photographs,
    picture_of,
)
from tests.drawings_with_filters import FILTERED
from tests.drawings_with_paints import LETTERED, PAINTED, STYLE
from tests.slices import some_of


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


def test_drawings_come_in_as_the_browser_draws_them(tmp_path: Path) -> None:
    drawings = {name: drawn(inside) for name, (*_, inside) in DRAWINGS.items()} | {
        name: drawn(inside) for name, inside in {**WHOLE, **FILTERED, **PAINTED}.items()}
    assert len(drawings) > 100
    drawings = {name: drawings[name] for name in some_of(list(drawings), 3)}
    pictures = photographs(list(drawings.values()), tmp_path)
    for (name, content), theirs in zip(drawings.items(), pictures, strict=True):
        made = import_svg(content, "Test", "test.svg")
        if name in DRAWINGS:
            assert not made.leftovers and made.box[:2] == DRAWINGS[name][:2], name
        off = difference(picture_of(made, (WIDTH, HEIGHT)), theirs)
        assert off.mean <= 0.5, (name, off)


def test_letters_come_in_as_the_browser_draws_them(tmp_path: Path) -> None:
    drawings = {name: drawn(STYLE + inside) for name, (inside, _) in LETTERED.items()}
    pictures = photographs(list(drawings.values()), tmp_path)
    for (name, content), theirs in zip(drawings.items(), pictures, strict=True):
        made = import_svg(content, "Test", "test.svg")
        assert [layer.kind for layer in made.control.layers] == LETTERED[name][1], name
        assert difference(picture_of(made, (WIDTH, HEIGHT)), theirs).mean <= 0.75, name


@pytest.mark.parametrize(("inside", "why"), [
    ('<pattern id="p" width="9" height="9" patternUnits="userSpaceOnUse"><rect width="9" '
     'height="9" fill="url(#p)"/></pattern>', "repeats itself"),
    ('<pattern id="p" width="4000" height=".0001" patternUnits="userSpaceOnUse"><rect width="9" '
     'height="9"/></pattern>', "too long and thin"),
    ('<marker id="p"><path d="M0 0L9 9" marker-end="url(#p)"/></marker>', "repeats itself"),
])
def test_what_cannot_be_repeated_is_listed(inside: str, why: str) -> None:
    made = import_svg(drawn(f'{inside}{FACE}<path d="M30 30L60 30L60 60Z" fill="url(#p)" '
                            'marker-mid="url(#p)" stroke="red"/>'), "Test", "test.svg")
    assert any(why in finding.message for finding in made.leftovers), made.leftovers


def test_icons_come_in_as_the_browser_draws_them(tmp_path: Path) -> None:
    icons = icon_drawings(every=40)
    # Where there are only edges, the browser's few steps of coverage would count.
    pictures = photographs(list(icons.values()), tmp_path, (24, 24), finer=8)
    means = [difference(picture_of(import_svg(icon, name, name), (24, 24)), theirs).mean
             for (name, icon), theirs in zip(icons.items(), pictures, strict=True)]
    assert len(means) > 45 and sum(mean > 0.5 for mean in means) <= 1 and max(means) < 1, means


def test_the_examples_become_editable_layers(examples: Path) -> None:
    made = read_svg(examples / "board.svg")
    board = made.control
    assert made.leftovers == [] and (board.name, board.text) == ("Board", "Board")
    assert board.size == (168, 48)
    assert board.outline.form == "capsule"
    assert [layer.kind for layer in board.layers] == ["shadow", "fill", "line", "label", "line"]
    label = layer_of(board, Label)
    assert (label.size, label.weight, label.align) == (17, 600, "centre")  # type: ignore[attr-defined]
    assert set(board.states) == {"hover", "pressed", "focus", "disabled"}
    made = read_svg(examples / "ticket.svg", "Fare ticket")
    ticket = made.control
    assert ticket.name == "Fare ticket" and ticket.outline.corners == (12, 12, 12, 12)
    fill = layer_of(ticket, Fill)
    assert [stop.position for stop in fill.stops] == [0, 0.55, 1]  # type: ignore[attr-defined]
    assert layer_of(ticket, Line).place == "centre"  # type: ignore[attr-defined]
    assert made.leftovers == [] and [layer.name for layer in ticket.layers] == [
        "Shadow", "Face", "Line", "Line 2", "Label", "Focus ring"]
    assert layer_of(ticket, Shadow).spread == 1  # type: ignore[attr-defined]


def test_texts_keep_their_places_weights_and_words() -> None:
    face = '<rect x="20" y="20" width="160" height="40" fill="#eee"/>'
    right = taken(face + """<text x="170" y="46" text-anchor="end" font-size="20" fill="#123456"
        font-weight="bold">Half <tspan font-weight="400">speed <tspan>now</tspan></tspan></text>
        <text x="30" y="30" font-size="8">Tide</text>""")
    labels = [layer for layer in right.layers if isinstance(layer, Label)]
    looks = {at.id: at for at in resolve(Kit(), right).layers}
    assert right.text == "Half" and [label.text for label in labels] == [None, "speed now", "Tide"]
    assert [label.weight for label in labels] == [700, 400, 400]
    half, speed, tide = (looks[label.id] for label in labels)
    assert half.x + half.line().advance < speed.x  # type: ignore[union-attr]
    assert speed.x + speed.line().advance == pytest.approx(150, abs=0.1)  # type: ignore[union-attr]
    assert speed.baseline == pytest.approx(26, abs=0.5)  # type: ignore[union-attr]
    assert (tide.x, tide.baseline) == pytest.approx((10, 10), abs=0.5)  # type: ignore[union-attr]
    middle = layer_of(taken(face + '<text x="46" y="45">Ramp and deck</text>'), Label)
    assert middle.align == "centre" and middle.move[0] == 0  # type: ignore[attr-defined]


def test_groups_named_after_states_become_states() -> None:
    """Beside each other or on each other, hidden, in any order and case: a state stores changes."""
    made = import_svg(drawn("""
        <g id="Button/Hovered" transform="translate(0 46)"><rect id="hull-2" x="10" y="5"
            width="80" height="30" rx="6" fill="#3AA2A8"/><circle cx="25" cy="20" r="5"
            fill="#F3C25B"/><text x="40" y="24" font-size="12" fill="#fff">Board</text></g>
        <g id="State=Pressed" display="none"><rect id="hull-3" x="10" y="7" width="80" height="30"
            rx="6" fill="#2F8C93"/><circle cx="25" cy="22" r="5" fill="#fff"/>
            <text x="40" y="26" font-size="12" fill="#fff">Boarding</text></g>
        <g id="DISABLED" opacity=".4" transform="translate(100 0)"><rect id="hull-4" x="10" y="5"
            width="80" height="30" rx="6" fill="#2F8C93"/><text x="40" y="24" font-size="12"
            fill="#fff">Board</text></g>
        <g id="default"><rect id="hull" x="10" y="5" width="80" height="30" rx="6" fill="#2F8C93"/>
            <circle cx="25" cy="20" r="5" fill="#fff"/><text x="40" y="24" font-size="12"
            fill="#fff">Board</text></g>"""), "Board", "b.svg")
    control = made.control
    assert control.size == (80, 30) and control.text == "Board" and made.leftovers == []
    names = [layer.id for layer in control.layers]
    assert names == ["hull", "shape", "label", "focus-ring"]
    assert control.changes("hover") == {
        "hull": {"colour": "#3AA2A8"}, "shape": {"colour": "#F3C25B"}}
    pressed = control.changes("pressed")
    assert set(pressed["hull"]) == {"outline"} and pressed["label"]["text"] == "Boarding"
    assert pressed["label"]["move"][1] == control.layer("label").move[1] + 2
    assert control.changes("disabled") == {
        OUTLINE: {"opacity": 0.4}, "shape": {"visible": False}}
    rest, later = (resolve(Kit(), control, state) for state in ("rest", "pressed"))
    assert render(rest, 1, Margins(9, 9, 9, 9)).rgba.shape == render(
        later, 1, Margins(9, 9, 9, 9)).rgba.shape


def test_layers_stretch_or_keep_their_size_as_the_control_grows() -> None:
    control = taken(FACE + """<rect x="36" y="26" width="128" height="38" rx="4" fill="#fff"
        fill-opacity=".3"/><path d="M50 35l10 10-10 10z" fill="#fff"/>""")
    wide = resolve(Kit(), control, size=(300, 50))
    face, inner, arrow = (layer.outline for layer in wide.layers[:3])  # type: ignore[union-attr]
    assert (face.width, inner.width, inner.x) == (300, 288, 6)
    assert (arrow.width, arrow.height) == pytest.approx((10, 20), abs=0.01)
    assert arrow.x > 20


@pytest.mark.parametrize(("inside", "what", "why"), [
    ('<image x="0" y="0" width="9" height="9" href="a.png"/>', "<image>", "another file"),
    ('<image width="9" height="9" href="data:image/png;base64,AA"/>', "<image>", "cannot be"),
    ('<path d="M0 0H1e9V9z"/>', "<path>", "too far away"),
    ('<g display="none"><rect width="5" height="5"/></g>', "<g>", "hidden"),
    ('<foreignObject width="9" height="9"/>', "<foreignObject>", "does not become"),
    ('<rect x="20" y="20" width="60" height="60" fill="url(#p)"/><pattern id="p"/>', "<rect>",
     "pattern"),
    ('<rect x="20" y="20" width="160" height="60" clip-path="url(#c)"/>', "<rect>", "clip-path"),
    ('<text font-family="Ferry Script">A</text>', "Ferry Script", "Hanken Grotesk"),
    ('<text transform="skewX(9)">A</text>', "“A”", "become a shape"),
    ('<rect x="20" y="20" width="160" height="60" fill="red" filter="url(#no)"/>', "<rect>",
     "not in the drawing"),
    ('<rect x="20" y="20" width="160" height="60" filter="url(#t)"/><filter id="t"><feTurbulence/>'
     "</filter>", "<filter>", "feTurbulence"),
    ('<use href="#none"/>', "<use>", "not in the drawing"),
    ('<g id="a"><use href="#a"/></g>', "<use>", "repeats itself"),
    ("<style>rect >> g { fill: red }</style>", "rect >> g", "selector"),
])
def test_what_cannot_be_taken_is_listed_with_its_line(inside: str, what: str, why: str) -> None:
    face = '\n<rect x="20" y="20" width="160" height="60" fill="#888"/>\n'
    made = import_svg(drawn(face + inside), "Test", "test.svg")
    assert any(isinstance(layer, Fill) for layer in made.control.layers)
    listed = [entry for entry in made.leftovers
              if what in entry.place.element and why in entry.message]
    assert listed and listed[0].place.line == 3, made.leftovers


def test_a_backdrop_is_not_taken_for_the_button() -> None:
    made = import_svg(drawn(
        '<rect width="200" height="100" fill="#fff"/>'
        '<rect x="40" y="30" width="120" height="40" rx="8" fill="#B8472A"/>'), "T", "t.svg")
    assert made.control.size == (120, 40) and "backdrop" in made.leftovers[0].message


@pytest.mark.parametrize(("content", "reason"), [
    (b"", "not well-formed"),
    (b"<svg><rect></svg>", "line 1"),
    (b"<html/>", "not <svg>"),
    (drawn("<g/>"), "nothing in it is painted"),
    (b"<svg width='2' height='2'><circle r='1'/></svg>", "less than 4 px"),
    (b'<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><svg>&b;</svg>', "entities"),
    (b'<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg><text>&x;</text></svg>',
     "entities"),
    (b"<svg>" + b"<g>" * 300 + b"</g>" * 300 + b"</svg>", "nested deeper"),
    (b"<svg>" + b"<g/>" * 21000 + b"</svg>", "more than 20000 elements"),
    (b"<svg>" + b" " * (9 * 1024 * 1024) + b"</svg>", "larger than 8 MB"),
    (b"<svg><g id='a0'><rect width='9' height='9'/></g>" + b"".join(
        b"<g id='a%d'>" % at + b"<use href='#a%d'/>" % (at - 1) * 10 + b"</g>"
        for at in range(1, 9)) + b"</svg>", "with all that is repeated"),
    (drawn('<rect width="1e5" height="1e5" fill="red"/>'), "larger than 4000 px"),
    (drawn('<rect width="1e9" height="1e9" fill="red"/>'), "too far away"),
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


def test_a_whole_drawing_with_states_is_shipped(tmp_path: Path) -> None:
    """Shapes of their own outline, a picture, a blur that was baked, two states: run in both."""
    from mektel.core.kit.bringing_in import Arrival, with_arrivals
    from mektel.core.kit.checking import checked
    from mektel.targets import TARGETS
    from mektel.targets.verify import verify

    blur = '<filter id="b"><feGaussianBlur stdDeviation="2"/></filter>'
    state = """<g id="{name}" transform="translate(0 {y})"><rect x="20" y="4" width="120"
        height="40" rx="10" fill="{face}"/><path d="M36 14l16 10-16 10z" fill="#fff"/><circle
        cx="118" cy="24" r="7" fill="{lamp}" filter="url(#b)"/><text x="62" y="29"
        font-size="14" font-weight="600" fill="#fff">Cast</text></g>"""
    made = import_svg(drawn(
        blur + state.format(name="rest", y=0, face="#2F6F88", lamp="#F3C25B")
        + state.format(name="hover", y=50, face="#3F86A2", lamp="#FFFFFF")), "Cast", "cast.svg")
    assert made.leftovers == [] and len(made.pictures) == 2
    control = made.control
    assert [layer.kind for layer in control.layers] == [
        "fill", "fill", "picture", "label", "line"]
    assert set(control.changes("hover")) == {"shape", "picture"} or (
        set(control.changes("hover")) == {control.layers[0].id, control.layers[2].id})
    kit = checked(with_arrivals(Kit(), [Arrival(control, pictures=made.pictures)]), Kit())
    only = {"cast": ["rest", "hover"]}
    for target in ("qtwidgets", "web"):
        matches = verify(kit, kit.controls, TARGETS[target], only=only)
        assert len(matches) == 2 and all(match.passes for match in matches), matches
    # In a kit that has other pictures of these names, they get other ones.
    twice = with_arrivals(kit, [Arrival(control.model_copy(update={"name": "Cast again"}),
                                        pictures=made.pictures)])
    assert len(twice.assets) == 2 and twice.controls[1].layer("picture").picture in {
        asset.id for asset in twice.assets}
    renamed = tuple(asset.model_copy(update={"png": made.pictures[1 - at].png})
                    for at, asset in enumerate(made.pictures))
    mixed = with_arrivals(kit, [Arrival(control, pictures=renamed)])
    swapped = mixed.controls[1].layer("picture").picture
    assert mixed.asset(swapped).png == next(
        asset.png for asset in renamed if asset.id == control.layer("picture").picture)


def test_names_of_people_are_kept_and_those_of_programs_are_not() -> None:
    control = taken("""<rect id="Hull plate" x="20" y="20" width="160" height="60" fill="#888"/>
        <path id="path1234" d="M40 30h20v20z" fill="#fff"/><circle id="Vector_2" cx="90" cy="50"
        r="9" fill="#fff" stroke="red"/><rect data-name="tide-mark" x="120" y="40" width="20"
        height="9"/><text x="40" y="70" id="text9">Aye</text>""")
    assert [layer.name for layer in control.layers] == [
        "Hull plate", "Shape", "Shape 2", "Line", "Tide mark", "Label", "Focus ring"]
    assert len({layer.id for layer in control.layers}) == 7


def test_a_group_that_is_faded_as_a_whole_fades_the_control() -> None:
    made = import_svg(drawn("""<g opacity=".5"><g><rect x="20" y="20" width="160" height="60" rx="8"
        fill="#2F8C93"/><circle cx="60" cy="50" r="12" fill="#fff"/></g></g>"""), "A", "a.svg")
    assert made.control.outline.opacity == 0.5 and made.leftovers == []
    assert [layer.opacity for layer in made.control.layers[:2]] == [1, 1]
    inner = taken(FACE + """<g opacity=".5"><rect x="40" y="30" width="60" height="30" fill="#fff"/>
        <text x="50" y="50">Aye</text></g>""")
    assert [layer.opacity for layer in inner.layers[:3]] == [1, 0.5, 0.5]
