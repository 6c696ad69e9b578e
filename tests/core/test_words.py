"""Labels: flow, spacing, capitals, fit, direction, and what lies round and beneath the letters."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.ndimage import binary_dilation

from mektel.core.kit import Control, ControlOutline, Kit, Label, Stop
from mektel.core.look import GroupLook, LabelLook, Margins, natural_size, resolve
from mektel.core.look.label_lines import SMALLEST_FIT
from mektel.core.paint import render
from mektel.core.text import shape_line

ROOM = Margins(20, 20, 20, 20)


def control(text: str, box: tuple[float, float] = (160, 60), **values: object) -> Control:
    return Control(
        id="x", name="X", text=text, size=box, outline=ControlOutline(padding=(10, 6)),
        layers=(Label(id="l", name="L", **{"colour": "#FFFFFF", **values}),),  # type: ignore[arg-type]
    )


def lines(made: Control) -> list[LabelLook]:
    layer = resolve(Kit(controls=(made,)), made).layers[0]
    members = layer.members if isinstance(layer, GroupLook) else (layer,)
    return [member for member in members if not member.swell and not member.sigma]


def ink(made: Control, scale: float = 1) -> np.ndarray:
    return render(resolve(Kit(controls=(made,)), made), scale, ROOM).rgba[:, :, 3].astype(int)


words = st.lists(st.text("abcdefgmnost", min_size=1, max_size=9), min_size=1, max_size=12)


@settings(max_examples=60, deadline=None)
@given(words, st.integers(60, 260), st.sampled_from(["start", "centre", "end"]))
def test_wrapped_lines_hold_all_words_and_fit_where_words_allow(
    text: list[str], width: int, align: str
) -> None:
    made = control(" ".join(text), (width, 60), flow="wrap", align=align)
    found = lines(made)
    assert " ".join(one.text for one in found).split() == text
    for one in found:
        wide = one.line().advance
        assert wide <= width - 20 or len(one.text.split()) == 1
        if wide <= width - 20:
            left = {"start": 10, "centre": width / 2 - wide / 2, "end": width - 10 - wide}[align]
            assert one.x == pytest.approx(left)
    steps = np.diff([one.baseline for one in found])
    assert all(step == pytest.approx(round(1.2 * 16)) for step in steps)
    # The next word would not have fitted any more.
    for one, after in pairwise(found):
        longer = f"{one.text} {after.text.split()[0]}"
        assert shape_line(longer, one.family, one.weight, one.size).advance > width - 20


@settings(max_examples=40, deadline=None)
@given(st.text("abcmow ", min_size=1, max_size=40))
def test_fitted_text_fits_down_to_its_smallest(text: str) -> None:
    found = lines(control(text, flow="fit", size=30))[0]
    wide = found.line().advance
    if found.size > 30 * SMALLEST_FIT + 1e-6:
        assert wide <= 140.01
    natural = shape_line(text, found.family, found.weight, 30).advance
    assert found.size == 30 or natural > 140


def test_spacing_follows_every_letter_and_parts_ligatures() -> None:
    plain = shape_line("office", "Hanken Grotesk", 600, 20)
    spaced = shape_line("office", "Hanken Grotesk", 600, 20, 3)
    loose = shape_line("office", "Hanken Grotesk", 600, 20, 1e-9)
    assert spaced.advance == pytest.approx(loose.advance + 18)
    assert plain.advance <= loose.advance  # with its ligature


def test_capitals_are_letters_of_their_own() -> None:
    assert lines(control("Fähre", case="capitals"))[0].text == "FÄHRE"
    assert natural_size(control("wide enough words to matter", case="capitals"))[0] > natural_size(
        control("wide enough words to matter"))[0]


def test_text_from_right_to_left_runs_so() -> None:
    one, two = "של", "לש"
    first = shape_line(one, "Rubik", 600, 40)
    second = shape_line(two, "Rubik", 600, 40)
    assert not first.missing and first.advance == pytest.approx(second.advance, rel=0.05)
    # Its first letter stands at the right: each looks like the other read the wrong way round.
    letters = [shape_line(letter, "Rubik", 600, 40).advance for letter in one]
    right = max(contour[:, 0].max() for contour in first.contours)
    tall = max(first.contours, key=lambda contour: float(np.ptp(contour[:, 1])))
    assert tall[:, 0].mean() < right - letters[0] / 2  # the lamed, written second, is at the left
    assert shape_line("שלום", "Hanken Grotesk", 600, 20).missing


def test_a_line_round_the_letters_is_their_dilation() -> None:
    bare, edged = ink(control("Bow"), 4), ink(control("Bow", edge=2), 4)
    y, x = np.mgrid[-10:11, -10:11]
    near = binary_dilation(bare > 127, np.hypot(x, y) <= 7)
    far = binary_dilation(bare > 127, np.hypot(x, y) <= 9.8)
    assert (edged[near] > 200).mean() > 0.995 and (edged[~far] == 0).all()


def test_relief_is_lit_from_above_or_below() -> None:
    def rows(relief: str) -> np.ndarray:
        made = control("HHH", relief=relief, size=30, colour="#808080")
        look = resolve(Kit(controls=(made,)), made)
        rgba = render(look, 1, ROOM).rgba.astype(int)
        light = (rgba[:, :, :3].sum(axis=2) > 1.6 * rgba[:, :, 3]) & (rgba[:, :, 3] > 60)
        return np.flatnonzero(light.any(axis=1))

    raised, sunken = rows("raised"), rows("sunken")
    assert raised.min() < sunken.min() and raised.max() < sunken.max()
    assert not len(np.setdiff1d(rows("flat"), np.arange(100)))


def test_a_shadow_lies_beneath_and_is_as_soft_as_it_says() -> None:
    sharp = control("I", size=60, weight=800, shadow_colour="#FF0000", shadow_offset=(20, 0),
                    shadow_blur=0)
    look = resolve(Kit(controls=(sharp,)), sharp)
    rgba = render(look, 1, ROOM).rgba.astype(int)
    white = (rgba[:, :, 1] > 200).any(axis=0).nonzero()[0]
    red = ((rgba[:, :, 0] > 200) & (rgba[:, :, 1] < 50)).any(axis=0).nonzero()[0]
    assert red.max() - white.max() == 20
    soft = sharp.model_copy(update={"layers": (
        sharp.layers[0].model_copy(update={"shadow_blur": 12.0}),)})
    blurred = render(resolve(Kit(controls=(soft,)), soft), 1, ROOM).rgba[:, :, 0].astype(float)
    profile = blurred[50, red.max() - 3 :]
    assert (np.diff(profile[:25]) <= 1).all() and profile[0] > profile[8] > profile[16]


def test_a_gradient_runs_over_the_text_not_over_the_control() -> None:
    stops = (Stop(position=0, colour="#FF0000"), Stop(position=1, colour="#0000FF"))
    made = control("HHHHHH", (400, 60), style="linear", direction=90, stops=stops, size=30)
    rgba = render(resolve(Kit(controls=(made,)), made), 1, ROOM).rgba.astype(int)
    columns = np.flatnonzero((rgba[:, :, 3] > 250).any(axis=0))
    first, last = (rgba[rgba[:, at, 3] > 250, at][0] for at in (columns[0], columns[-1]))
    assert first[0] > 225 and last[2] > 225
