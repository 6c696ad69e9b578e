"""Colours proposed to go together: readable, apart from each other, and those of a picture."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mektel.core.colour import contrast_of, to_oklch
from mektel.core.harmony import READABLE, colours_of_picture, goes_with
from mektel.formats.png import png_bytes

INK, PAPER = "#22302F", "#FFFFFF"


@given(st.integers(0, 0xFFFFFF))
@settings(max_examples=30, deadline=None)
def test_every_proposal_can_be_read_on(number: int) -> None:
    found = goes_with(f"#{number:06X}")
    assert [name for name, _ in found] == ["deep", "base", "light", "warm", "accent", "near"]
    for _, colour in found:
        assert max(contrast_of(INK, colour), contrast_of(PAPER, colour)) >= READABLE - 0.01


def test_proposals_keep_to_the_hue_or_turn_from_it() -> None:
    (_, _, hue), _ = to_oklch("#237A82")
    turned = {name: (to_oklch(colour)[0][2] - hue) % 360 for name, colour in goes_with("#237A82")}
    assert min(turned["deep"], 360 - turned["deep"]) < 12
    assert turned["warm"] == pytest.approx(150, abs=20)
    assert turned["accent"] == pytest.approx(180, abs=20)


def test_a_picture_gives_its_main_colours_once_each() -> None:
    pixels = np.zeros((40, 90, 4), np.uint8)
    pixels[:, :50] = (0x23, 0x7A, 0x82, 255)
    pixels[:, 50:80] = (0xE5, 0xA4, 0x3B, 255)
    pixels[:, 80:] = (0x24, 0x7B, 0x83, 255)  # as good as the first
    found = colours_of_picture(png_bytes(pixels))
    assert len(found) == 2
    for colour, wanted in zip(found, ("#237A82", "#E5A43B"), strict=True):
        distance = [abs(int(colour[i : i + 2], 16) - int(wanted[i : i + 2], 16))
                    for i in (1, 3, 5)]
        assert max(distance) < 10
    with pytest.raises(OSError):
        colours_of_picture(b"no picture")
