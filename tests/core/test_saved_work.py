"""What an edit makes can be saved, and what was saved opens: the identical kit and pixels."""

from __future__ import annotations

import base64
import io
import random
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from mektel.core.errors import DocumentError
from mektel.core.kit import Kit, Parameter, Stop, kit_from_data, palette_edits
from mektel.core.kit import edit as edits
from mektel.core.kit.assets import pixels_of
from mektel.core.kit.checking import checked
from mektel.core.kit.moving import add_asset, layer_to_text, paste_layer
from mektel.core.kit.parameter_edits import add_parameter, set_formula
from mektel.core.kit.state_edits import derive_state
from mektel.core.look import resolve, shared_margins
from mektel.core.paint import CostError, render
from mektel.formats.css import control_from_css
from mektel.formats.kitfile import (
    KitFileError,
    kit_from_text,
    kit_to_text,
    read_kit,
    write_kit,
)
from mektel.formats.png import png_bytes
from tests.random_edits import random_edit
from tests.slices import in_all


def reopened(kit: Kit) -> Kit:
    return kit_from_text(kit_to_text(kit))


def pixels(kit: Kit, control_id: str) -> np.ndarray | None:
    control = kit.control(control_id)
    try:
        return render(resolve(kit, control, {"hover"}), 1, shared_margins(kit, control)).rgba
    except CostError:
        return None


@pytest.mark.parametrize("seed", [0, 1, 2, *map(in_all, range(3, 6))])
def test_any_sequence_of_edits_is_saved_and_opens(demo_kit: Kit, seed: int) -> None:
    dice = random.Random(seed)
    kit = demo_kit.model_copy(update={"controls": tuple(
        one.model_copy(update={"base": None}) for one in dice.sample(demo_kit.controls, 5))})
    made = 0
    for _ in range(60):
        before = kit
        kit = random_edit(kit, dice)
        made += kit is not before
        again = reopened(kit)
        assert again == kit
    assert made > 20
    for control in kit.controls[:3]:
        one, other = pixels(kit, control.id), pixels(reopened(kit), control.id)
        assert one is None or (one == other).all()


@pytest.mark.parametrize("size", [1e15, 1e16, -1e15, 123456789012345678.0, 1e300, 5e-324])
def test_the_largest_numbers_are_saved_and_open(
    demo_kit: Kit, tmp_path: Path, size: float
) -> None:
    kit = add_parameter(demo_kit, "board", Parameter(
        name="far", type="number", default=1.0, min=min(size, 0.0), max=max(size, 2.0)))
    write_kit(kit, tmp_path / "far.mektel")
    assert read_kit(tmp_path / "far.mektel") == kit


def test_what_could_not_be_opened_again_does_not_replace_the_file(
    demo_kit: Kit, tmp_path: Path
) -> None:
    path = tmp_path / "ferry.mektel"
    write_kit(demo_kit, path)
    board = demo_kit.control("board")
    # Made past every check, as a fault of ours would.
    for broken in (board.model_copy(update={"text": "x\0"}), board.model_copy(
            update={"size": (240, 10**20)}), board.model_copy(update={"id": "horn"})):
        kit = demo_kit.model_copy(update={"controls": tuple(
            broken if control is board else control for control in demo_kit.controls)})
        with pytest.raises(KitFileError, match="could not be opened again"):
            write_kit(kit, path)
        assert read_kit(path) == demo_kit
    # What the kit before shared is not read again, and still all of it is as it was.
    other = edits.set_field(demo_kit, "horn", "text", "Toot")
    write_kit(other, path)
    assert read_kit(path) == other


def test_a_hover_derived_from_a_gradient_follows_its_stops(demo_kit: Kit) -> None:
    kit = derive_state(demo_kit, "board", "hover", "lighter")
    kit = edits.set_value(kit, "board", "rest", "face", "stops", (
        *kit.control("board").layer("face").stops, Stop(position=0.5, colour="#112233")))
    kit = derive_state(kit, "board", "hover", "darker")
    assert len(kit.control("board").formulas["hover"]["face"]) == 3
    before = kit
    stops = kit.control("board").layer("face").stops[:2]
    kit = checked(edits.set_value(kit, "board", "rest", "face", "stops", stops), before)
    assert set(kit.control("board").formulas["hover"]["face"]) == {
        "stops.0.colour", "stops.1.colour"}
    assert reopened(kit) == kit


@pytest.mark.parametrize(("typed", "name"), [
    ("Café", "cafe"), ("2nd", "colour-2nd"), ("sea green!", "sea-green"), ("TIDE II", "tide-ii")])
def test_a_palette_name_is_made_one_that_a_kit_can_have(
    demo_kit: Kit, typed: str, name: str
) -> None:
    kit = set_formula(demo_kit, "board", "rest", "face", "stops.0.colour", "darken(tide, 0.1)")
    kit = checked(palette_edits.rename(kit, "tide", typed), demo_kit)
    assert name in [swatch.name for swatch in kit.palette]
    word = name.replace("-", "_")
    assert f"darken({word}, 0.1)" in str(kit.control("board").formulas)
    assert reopened(kit) == kit and (pixels(kit, "board") == pixels(reopened(kit), "board")).all()


@pytest.mark.parametrize("typed", ["if", "width", "colour", "!!", "min", "ink"])
def test_a_palette_name_that_would_mean_something_else_is_refused(
    demo_kit: Kit, typed: str
) -> None:
    kit = edits.set_value(demo_kit, "slow", "rest", "face", "colour", "tide")
    kit = set_formula(kit, "slow", "rest", "face", "colour", "darken(tide, 0.1)")
    with pytest.raises(DocumentError, match=r"else|letter|already"):
        palette_edits.rename(kit, "tide", typed)


def test_pictures_are_taken_until_a_kit_can_hold_no_more(tmp_path: Path) -> None:
    noise = np.random.default_rng(1)
    kit = Kit()
    taken = 0
    with pytest.raises(DocumentError, match="96 MB is the most"):
        for _ in range(9):
            picture = noise.integers(0, 256, (1900, 1800, 4), np.uint8)
            picture[:, :, 3] = 255
            out = io.BytesIO()
            Image.fromarray(picture).save(out, "PNG", compress_level=0)
            kit, _ = add_asset(kit, "Noise", out.getvalue())
            taken += 1
    assert taken >= 5
    write_kit(kit, tmp_path / "large.mektel")
    assert kit_from_text((tmp_path / "large.mektel").read_text()) == kit


def test_a_picture_that_breaks_off_is_not_taken_in(demo_kit: Kit) -> None:
    content = png_bytes(np.full((40, 40, 4), 255, np.uint8))
    with pytest.raises(DocumentError, match="not a PNG picture"):
        add_asset(demo_kit, "Half", content[: len(content) // 2])
    half = base64.b64encode(content[: len(content) // 2]).decode()
    assert pixels_of(half).width == 40  # its header can be read; drawing leaves it out


def test_a_full_palette_or_shelf_is_told_before_anything_is_lost(demo_kit: Kit) -> None:
    colours = [{"name": f"c{at}", "colour": "#010203"} for at in range(500)]
    kit = kit_from_data({"format": 1, "name": "k", "palette": colours, "controls": [
        {"id": f"b{at}", "name": "B"} for at in range(2000)]})
    rules = "".join(f"--v{at}: #0{at % 10}0{at // 10}00;" for at in range(30))
    control, _, palette = control_from_css(f"a {{ {rules} background: var(--v1) }}")
    with pytest.raises(DocumentError, match="2000 controls"):
        checked(edits.add_control(kit, control, palette), kit)
    kit = kit.model_copy(update={"controls": ()})
    after = checked(edits.add_control(kit, control, palette), kit)
    assert len(after.palette) <= 512 and reopened(after) == after


def test_a_pasted_layer_looks_as_where_it_came_from(demo_kit: Kit) -> None:
    kit = edits.set_value(demo_kit, "slow", "rest", "face", "colour", "tide")
    kit = set_formula(kit, "slow", "hover", "face", "opacity", "0.5")
    text = layer_to_text(kit, "slow", "face")
    other = kit_from_data({
        "format": 1, "name": "k", "palette": [{"name": "tide", "colour": "#AA0000"}],
        "controls": [{"id": "b", "name": "B"}]})
    pasted = paste_layer(other, "b", text, None)
    layer = pasted.control("b").layers[0]
    assert pasted.colour(layer.colour) == kit.colour("tide")
    assert pasted.control("b").formulas["hover"][layer.id] == {"opacity": "0.5"}
    for foreign in ("", "[]", "{}", "null", '{"format": "mektel-layer"}', "\ud800", text[:-9]):
        with pytest.raises((DocumentError, Exception), match="not a layer"):
            paste_layer(other, "b", foreign, None)
