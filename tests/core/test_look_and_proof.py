"""Proposed states, margins, colour arithmetic, contrast, comparison, stretch zones, packing."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mektel.core.colour import (
    ColourError,
    colour_from_text,
    contrast,
    from_oklch,
    lighter,
    to_oklch,
    washed_out,
)
from mektel.core.errors import NotFoundError
from mektel.core.kit import Control, ControlOutline, Fill, Kit, Label, Line, Shadow
from mektel.core.look import (
    GroupLook,
    Margins,
    natural_size,
    parse_flags,
    propose_states,
    resolve,
    shared_margins,
)
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference, difference_picture, label_contrast
from mektel.core.proof.edges import edge_shift
from mektel.core.slices import pack, stretch_zones


def test_proposed_states_follow_from_rest() -> None:
    plain = Control(
        id="b", name="B", text="Go", layers=(
            Shadow(id="shadow", name="Shadow", offset=(0, 10), blur=20),
            Fill(id="face", name="Face", colour="#2F8C93"),
            Line(id="line", name="Line", colour="#0E454E"),
            Label(id="label", name="Label"),
        ),
    )
    made = propose_states(Kit(), plain)
    light = {
        state: to_oklch(made.part_in("face", {state}).colour)[0]
        for state in ("hover", "pressed", "disabled")
    }
    rest = to_oklch("#2F8C93")[0]
    assert light["hover"][0] > rest[0] > light["pressed"][0]
    assert light["disabled"][1] < rest[1] / 2
    assert made.part_in("shadow", {"pressed"}).offset == (0, 4)
    assert not made.part_in("shadow", {"disabled"}).visible
    ring = made.layers[-1]
    assert not ring.visible and made.part_in(ring.id, {"focus"}).visible
    kept = propose_states(Kit(), made)
    assert kept == made  # what is there is not proposed again
    gradient = propose_states(Kit(), plain.model_copy(update={"layers": (
        Fill(id="face", name="Face", style="linear"),)}))
    assert len(gradient.part_in("face", {"hover"}).stops) == 2


def test_flags_are_read_and_wrong_ones_named() -> None:
    assert parse_flags("hover + pressed") == {"hover", "pressed"}
    assert parse_flags("rest") == frozenset()
    with pytest.raises(NotFoundError, match="hovr"):
        parse_flags("hovr")


def test_a_control_grows_with_its_text_and_never_below_its_own_size() -> None:
    made = Control(id="b", name="B", text="Go", size=(100, 30),
                                                      outline=ControlOutline(padding=(20, 6)),
                   layers=(Label(id="l", name="L"),))
    assert natural_size(made)[0] == 100
    wide = natural_size(made, "To the farther bank and back again")
    assert wide[0] > 240 and wide[1] == pytest.approx(33, abs=0.5)
    margins = shared_margins(Kit(), made, text="To the farther bank and back again")
    assert abs(margins.left - margins.right) <= 2 and margins.left > 60  # on both sides


@given(st.floats(0.2, 0.95), st.floats(0, 0.2), st.floats(0, 359.9))
@settings(max_examples=60, deadline=None)
def test_oklch_goes_there_and_back(light: float, chroma: float, hue: float) -> None:
    colour = from_oklch((light, chroma, hue))
    (again, less, _), alpha = to_oklch(colour)
    assert abs(again - light) < 0.03 and less <= chroma + 0.01 and alpha == 1
    assert to_oklch(lighter(colour, 0.03))[0][0] >= again - 0.003
    assert to_oklch(washed_out(colour))[0][1] <= max(0.02, less)


@pytest.mark.parametrize(("words", "colour"), [
    ("teal", "#008080"), ("#abc", "#AABBCC"), ("2f8c93", "#2F8C93"), ("#2F8C9380", "#2F8C9380"),
    ("rgb(10 20 30 / 50%)", "#0A141E80"), (" RebeccaPurple ", "#663399"),
    ("oklch(1 0 0)", "#FFFFFF"),
])
def test_colours_are_read_as_css_has_them(words: str, colour: str) -> None:
    assert colour_from_text(words) == colour


@pytest.mark.parametrize("words", ["", "tealish", "#12345", "rgb(", "url(x)"])
def test_what_is_no_colour_is_refused_with_a_way_out(words: str) -> None:
    with pytest.raises(ColourError, match="Write #RRGGBB"):
        colour_from_text(words)


def test_contrast_is_that_of_wcag() -> None:
    assert contrast((0, 0, 0), (1, 1, 1)) == pytest.approx(21)
    grey = 0x77 / 255
    assert contrast((grey, grey, grey), (1, 1, 1)) == pytest.approx(4.478, abs=0.001)
    made = Control(id="b", name="B", text="Go", layers=(
        Fill(id="f", name="F", colour="#777777"), Label(id="l", name="L", colour="#FFFFFF")))
    found = label_contrast(resolve(Kit(), made), (1, 1, 1, 1))
    assert found and found.ratio == pytest.approx(4.48, abs=0.02) and not found.passes
    large = made.model_copy(update={"layers": (
        made.layers[0], Label(id="l", name="L", size=19, weight=700))})
    found = label_contrast(resolve(Kit(), large), (1, 1, 1, 1))
    assert found and found.needed == 3.0 and found.passes
    see_through = made.model_copy(update={"layers": (made.layers[1],)})
    found = label_contrast(resolve(Kit(), see_through), (0, 0, 0, 1))
    assert found and found.ratio == pytest.approx(21, abs=0.1)
    assert label_contrast(resolve(Kit(), made, text=""), (1, 1, 1, 1)) is None


def test_the_demo_kit_can_be_read(demo_kit: Kit) -> None:
    backdrop = (0.914, 0.886, 0.827, 1.0)
    for made in demo_kit.controls:
        found = label_contrast(resolve(demo_kit, made), backdrop)
        assert found is None or found.passes or made.id == "fog", (made.id, found)


def test_a_difference_is_measured_and_shown() -> None:
    one = np.full((10, 10, 3), 100, np.uint8)
    two = one.copy()
    two[0, 0] = (110, 100, 40)
    found = difference(one, two)
    assert (found.mean, found.worst) == (round(70 / 300, 4), 60)
    assert difference_picture(one, two, 8)[0, 0].tolist() == [80, 0, 255]
    with pytest.raises(ValueError, match="different size"):
        difference(one, two[:5])


def test_stretch_zones_hold_what_they_promise(demo_kit: Kit) -> None:
    """Repeating the zone's columns gives the very picture of the wider control."""
    made = demo_kit.control("cargo")
    room = shared_margins(demo_kit, made)
    narrow = render(resolve(demo_kit, made, text=""), 2, room).rgba
    zones = stretch_zones([narrow])
    assert zones.columns and zones.rows
    start, length = zones.columns
    assert length > 100
    wider = np.concatenate(
        [narrow[:, :start], np.repeat(narrow[:, start : start + 1], length + 80, axis=1),
         narrow[:, start + length :]], axis=1,
    )
    width, height = made.size
    expected = render(resolve(demo_kit, made, size=(width + 40, height), text=""), 2, room).rgba
    assert np.abs(wider.astype(int) - expected).max() <= 1
    noise = np.random.default_rng(1).integers(0, 255, (9, 9, 4), np.uint8)
    assert stretch_zones([noise]).columns is None


@given(st.lists(st.lists(st.tuples(st.integers(1, 90), st.integers(1, 60)), max_size=9),
                min_size=1, max_size=6), st.integers(90, 260))
@settings(max_examples=50, deadline=None)
def test_packed_pictures_lie_apart_and_inside(
    groups: list[list[tuple[int, int]]], limit: int
) -> None:
    sheets, places = pack(groups, limit)
    taken = [np.zeros((height, width), int) for width, height in sheets]
    for group, theirs in zip(groups, places, strict=True):
        for (wide, high), place in zip(group, theirs, strict=True):
            width, height = sheets[place.sheet]
            assert place.x + wide <= width <= limit and place.y + high <= height <= limit
            taken[place.sheet][place.y : place.y + high, place.x : place.x + wide] += 1
    assert max(count.max() for count in taken) <= 1


@pytest.mark.parametrize("name", ["board", "horn", "fare", "ramp"])
def test_how_far_edges_lie_elsewhere_is_measured(demo_kit: Kit, name: str) -> None:
    look = resolve(demo_kit, demo_kit.control(name))

    def picture(x: float, y: float, gain: float = 1.0) -> np.ndarray:
        moved = replace(look, layers=(GroupLook("all", look.layers, 1.0, (1, 0, 0, 1, x, y)),))
        rgba = render(moved, 2, Margins(40, 40, 40, 40)).rgba
        return (on_backdrop(rgba, (0.5, 0.55, 0.6, 1.0))[:, :, :3] * gain).astype(np.uint8)

    still = picture(0, 0)
    assert edge_shift(still, still) == 0
    for x, y in ((0.1, 0), (0, 0.1), (0, 0.25), (0.2, 0.2)):
        far = 2 * np.hypot(x, y)
        assert 0.85 * far < edge_shift(still, picture(x, y)) < 1.6 * far
    assert edge_shift(still, picture(0, 0, 0.93)) < 0.2, "darker is not elsewhere"
