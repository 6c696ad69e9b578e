"""Flat pictures turned back into layers; tools/read_pictures.py measures hundreds of them."""

from __future__ import annotations

import io
import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner
from PIL import Image

from mektel.cli import cli
from mektel.core.fit import ReadingError, on_ground, read_picture
from mektel.core.fit.again import compared, read_again
from mektel.core.fit.as_control import control_of_reading, picture_of
from mektel.core.fit.changes import compared_states, control_of_states, read_states
from mektel.core.fit.masks import Geometry, masks_of
from mektel.core.fit.model import Parts, Picture
from mektel.core.fit.nearest import nearest
from mektel.core.fit.stages import Stages
from mektel.core.fit.start import boxes_of, standing_out
from mektel.core.kit import Control, Fill, Kit, Line, Shadow, Stop
from mektel.core.kit.conditions import REST
from mektel.core.look import Margins, resolve
from mektel.core.paint import on_backdrop, render
from mektel.core.stopping import StoppedError, while_wanted
from mektel.formats.kitfile import read_kit
from mektel.samples import DEMO
from tests.pictures_to_read import made_up, measured
from tests.slices import in_all


@pytest.mark.every_case
def test_a_picture_of_a_demo_control_is_read_back(demo_kit: Kit, tmp_path: Path) -> None:
    picture, kit = tmp_path / "board-shot.png", tmp_path / "read.mektel"
    run = CliRunner()
    done = run.invoke(cli, ["render", str(DEMO), "board", "--scale", "2", "--backdrop", "#E9E2D3",
                            "--margin", "20", "--out", str(picture)])
    assert done.exit_code == 0, done.output
    done = run.invoke(cli, ["read", str(picture), "--kit", str(kit), "--density", "2", "--json"])
    assert done.exit_code == 0, done.output
    told = json.loads(done.output)
    assert told["residual"] < 0.6
    assert {layer["name"] for layer in told["layers"]} == {
        "face", "line", "shadow", "light", "label"}
    given, control = demo_kit.control("board"), read_kit(kit).controls[0]
    assert control.name == "Board shot"
    assert control.size == pytest.approx(given.size, abs=0.5)
    assert control.outline.corners[0] == pytest.approx(24, abs=0.5)
    face = control.layer("face")
    assert face.style == "linear" and face.direction == pytest.approx(180, abs=2)
    assert control.layer("line").width == pytest.approx(1, abs=0.3)
    assert control.layer("label").colour > "#F0" and control.layer("shadow").offset[1] > 2


# A hard shadow below a label and a line; a label that differs far more than the face; a soft light
# that a line without a colour of its own can stand for; a line of 3 px above a shadow; a plain one;
# edges blurred by compression.
@pytest.mark.parametrize("seed", [
    800_056, 2_200_094, in_all(1_200_008), in_all(700_023), in_all(100_005), in_all(1_200_054),
    in_all(1_200_029)])
def test_made_up_buttons_are_read(seed: int) -> None:
    row = measured(made_up(seed))
    assert row.residual <= 1.5 and row.outline <= 0.5 and row.radius_good and row.colours_good, row
    assert row.blur is None or row.blur <= 0.2, row


def test_a_button_is_read_within_a_large_picture() -> None:
    """Its surroundings cost no pixels of it, and its place is that in the whole."""
    given = made_up(1_300_000)
    height, width = given.pixels.shape[:2]
    whole = np.empty((900, 1400, 3), np.uint8)
    whole[:] = given.pixels[0, 0]
    whole[300 : 300 + height, 500 : 500 + width] = given.pixels
    alone, within = read_picture(given.pixels), read_picture(whole)
    assert within.geometry.x == pytest.approx(alone.geometry.x + 500, abs=0.5)
    assert within.geometry.y == pytest.approx(alone.geometry.y + 300, abs=1)
    assert within.geometry.height == pytest.approx(alone.geometry.height, abs=1)
    ours = picture_of(within, control_of_reading(within, "Read", 2), (1400, 900), 2) * 255
    assert np.abs(ours - whole).mean() < 0.1


@pytest.mark.parametrize("seed", [900_301, in_all(900_311)])
def test_a_radial_face_is_read(seed: int) -> None:
    given = made_up(seed, radial=True)
    row = measured(given)
    assert row.residual <= 1.5 and row.outline <= 0.5 and row.colours_good, row
    reading = read_picture(given.pixels)
    true = given.control.layer("face")
    found = control_of_reading(reading, "Read", given.density).layer("face")
    assert (found.style, len(found.stops)) == ("radial", len(true.stops))
    assert found.centre == pytest.approx(true.centre, abs=0.03)
    assert found.reach == pytest.approx(true.reach, rel=0.05)
    # Fitted again, it stays radial; its centre is among what is locked.
    again = read_again(given.pixels, reading, ("line",))
    assert again.parts.radial and again.geometry.centre_x == reading.geometry.centre_x
    assert read_again(given.pixels, reading, ("face",)).residual <= reading.residual + 0.02


@pytest.mark.parametrize("seed", [300_002, in_all(300_006), in_all(300_007)])
def test_unlike_corners_are_read(seed: int) -> None:
    given = made_up(seed, unlike=True)
    row = measured(given)
    assert row.residual <= 1.5 and row.outline <= 0.5 and row.radius_good and row.colours_good, row


def test_a_near_shadow_beside_a_far_one_is_read() -> None:
    shadows = [{"id": "far", "kind": "shadow", "name": "Far", "colour": "#10202440",
                "offset": (0, 8), "blur": 20},
               {"id": "near", "kind": "shadow", "name": "Near", "colour": "#10202466",
                "offset": (0, 1), "blur": 3}]
    given = Control.model_validate(GATE.model_dump() | {
        "text": "", "layers": [*shadows, *(layer.model_dump() for layer in GATE.layers[:2])]})
    look = resolve(Kit(), given)
    art = on_backdrop(render(look, 2, Margins(24, 20, 24, 34)).rgba, (0.93, 0.9, 0.84, 1.0))
    control = control_of_reading(read_picture(art[:, :, :3]), "Gate", 2.0)
    read = [layer for layer in control.layers if layer.kind == "shadow"]
    far, near = sorted(read, key=lambda layer: -layer.blur)
    assert far.blur == pytest.approx(20, rel=0.2) and near.blur == pytest.approx(3, abs=1)
    assert far.offset[1] == pytest.approx(8, abs=1) and near.offset[1] == pytest.approx(1, abs=0.6)


@pytest.mark.parametrize(("scale", "text"), [(1, ""), in_all(2, "Ferry")])
def test_a_gloss_is_read(scale: int, text: str) -> None:
    gloss = {"id": "gloss", "kind": "gloss", "name": "Gloss", "colour": "#FFFFFF99",
             "height": 0.5, "bulge": 0.15, "fade": 0.25, "gap": 3}
    face, line, label = (layer.model_dump() for layer in GATE.layers)
    given = Control.model_validate(GATE.model_dump() | {
        "size": (110, 38), "layers": [face, gloss, line, label]})
    art = on_backdrop(render(resolve(Kit(), given, text=text), scale,
                             Margins(20, 18, 20, 20)).rgba, (0.93, 0.9, 0.84, 1.0))[:, :, :3]
    reading = read_picture(art)
    read = control_of_reading(reading, "Gate", float(scale), text).layer("gloss")
    assert reading.residual < 0.6 and not reading.parts.light and reading.parts.line
    assert (read.height, read.bulge, read.fade) == (
        pytest.approx(0.5, abs=0.08), pytest.approx(0.15, abs=0.12), pytest.approx(0.25, abs=0.15))
    assert read.gap == pytest.approx(3, abs=0.6)


def test_the_colours_of_a_known_geometry_are_exact() -> None:
    geometry = Geometry(20.3, 14.8, 90.0, 36.0, 9.0, line=2.0, shadow_y=4.0, shadow_blur=12.0,
                        light_y=1.0, light_blur=0.0, direction=90.0)
    masks = masks_of(geometry, (130, 70), True, True)
    colours = {"backdrop": (0.8, 0.7, 0.6), "shadow": (-0.3, -0.2, -0.1), "line": (0.1, 0.2, 0.3)}
    across = (np.arange(130) + 0.5 - geometry.x)[None, :, None] / geometry.width
    face = (1 - np.clip(across, 0, 1)) * [0.9, 0.2, 0.4] + np.clip(across, 0, 1) * [0.3, 0.6, 0.5]
    outside, inner = (1 - masks.outer)[:, :, None], masks.inner[:, :, None]
    pixels = (outside * (np.array(colours["backdrop"])
                         + masks.shadow[:, :, None] * colours["shadow"])
              + (masks.outer - masks.inner)[:, :, None] * colours["line"] + inner * face)
    solved = Picture(pixels).solve(geometry, Parts(2, True, True, False))
    assert np.abs(solved.residual).max() < 2e-3
    for name, colour in (*colours.items(), ("face 0", (0.9, 0.2, 0.4)),
                         ("face 1", (0.3, 0.6, 0.5))):
        assert solved.colours[name] == pytest.approx(colour, abs=2e-3), name


def picture_with(geometry: Geometry, parts: Parts) -> Picture:
    """A picture that a geometry explains but for rounding."""
    blank = Picture(np.zeros((70, 130, 3)))
    columns = blank._columns(geometry, parts)
    tones = {"backdrop": (0.8, 0.7, 0.6), "shadow": (-0.4, -0.35, -0.3), "line": (0.1, 0.2, 0.3),
             "face 0": (0.9, 0.3, 0.4), "face 1": (0.5, 0.6, 0.2), "light": (0.2, 0.2, 0.2)}
    pixels = sum(columns[name][:, :, None] * np.array(tone) for name, tone in tones.items()
                 if name in columns)
    return Picture(np.round(pixels * 255) / 255)


def test_the_nearest_geometry_is_reached_and_limits_are_kept() -> None:
    geometry = Geometry(20.3, 14.8, 90.0, 36.0, 9.0, line=2.0, shadow_y=4.0, shadow_blur=12.0,
                        light_y=1.5, light_blur=2.0, direction=160.0)
    parts = Parts(2, True, True, True)
    picture = picture_with(geometry, parts)
    # How what is left changes with each value is what it does change by.
    step = 0.02
    moved = [(geometry.moved(**{name: getattr(geometry, name) + step}), step)
             for name in ("x", "height", "radius", "line", "shadow_blur", "light_y", "direction")]
    before = picture.solve(geometry, parts)
    for (other, _), change in zip(moved, picture.changes(before, parts, moved), strict=True):
        real = (picture.solve(other, parts).residual - before.residual).transpose(2, 0, 1) / step
        assert np.abs(change - real).max() < 0.03 * np.abs(real).max() + 2e-3
    off = {"x": 1.4, "width": -1.2, "radius": 3.0, "line": -0.8, "shadow_y": 2.0,
           "shadow_blur": 5.0, "light_y": 0.7, "direction": 15.0}
    start = geometry.moved(**{name: getattr(geometry, name) + by for name, by in off.items()})
    wide = {name: (-400.0, 800.0) for name in off} | {"line": (0.3, 24.0)}
    reached = nearest(picture, start, parts, wide, 20)
    for name in off:
        assert getattr(reached, name) == pytest.approx(
            getattr(geometry, name), abs=1.0 if name == "direction" else 0.15), name
    kept = nearest(picture, start, parts, wide | {"line": (0.3, 1.5), "radius": (11.0, 20.0)}, 20)
    assert kept.line == pytest.approx(1.5, abs=0.01) and kept.radius == pytest.approx(11, abs=0.01)
    assert kept.y == start.y  # not among the values that may move


def test_a_plainer_explanation_is_taken_for_one_that_nobody_draws() -> None:
    geometry = Geometry(20.0, 14.0, 90.0, 36.0, 6.0, direction=180.0)
    fit = Stages(picture_with(geometry, Parts(2)).pixels, lambda share: None)
    fit.parts = Parts(2, line=True)
    odd = geometry.moved(x=19.0, y=13.0, width=92.0, height=38.0, radius=7.0, line=1.0)
    better = fit._otherwise(odd)
    assert fit.parts == Parts(2) and better.x == pytest.approx(20, abs=0.05)
    assert better.width == pytest.approx(90, abs=0.1)


def test_boxes_are_seen_from_outside_and_labels_stand_out() -> None:
    pixels = np.full((60, 140, 3), 0.8)
    pixels[12:48, 20:120] = 0.3
    pixels[14:46, 22:118] = 0.5  # within a line
    pixels[28:34, 50:90] = 1.0  # a label
    boxes = boxes_of(pixels)
    assert boxes[0] == (20, 12, 100, 36) and (22, 14, 96, 32) in boxes
    face = np.zeros((60, 140))
    face[14:46, 22:118] = 1
    rows, columns = np.nonzero(standing_out(pixels - 0.5, face))
    assert (rows.min(), rows.max(), columns.min(), columns.max()) == (26, 35, 48, 91)
    clear = np.zeros((4, 4, 4), np.uint8)
    clear[1:3, 1:3] = (100, 50, 0, 128)
    assert on_ground(clear)[0, 0].tolist() == [200] * 3
    assert on_ground(clear)[1, 1].tolist() == [200, 150, 100]


def test_what_is_no_button_is_refused_and_a_fit_can_be_stopped() -> None:
    with pytest.raises(ReadingError, match="nothing in this picture stands out"):
        read_picture(np.full((60, 90, 3), 120, np.uint8))
    with pytest.raises(ReadingError, match="has 8 × 60"):
        read_picture(np.zeros((60, 8, 3), np.uint8))
    noise = np.random.default_rng(1).integers(0, 255, (40, 60, 3)).astype(np.uint8)
    assert read_picture(noise).residual > 20  # whatever it is, nothing was made out
    with pytest.raises(StoppedError), while_wanted(lambda: False):
        read_picture(made_up(3).pixels)


GATE = Control.model_validate({
    "id": "gate", "name": "Gate", "text": "Ferry", "size": (80, 30),
    "outline": {"form": "box", "corners": (8, 8, 8, 8)},
    "layers": [
        {"id": "face", "kind": "fill", "name": "Face", "colour": "#2F6F88"},
        {"id": "line", "kind": "line", "name": "Line", "width": 2, "colour": "#12303D"},
        {"id": "label", "kind": "label", "name": "Label", "size": 14, "colour": "#FFFFFF"}]})


def flat(control: Control, scale: int = 2, text: str | None = None) -> np.ndarray:
    look = resolve(Kit(), control, text=text)
    art = render(look, scale, Margins(10, 10, 10, 10)).rgba
    return on_backdrop(art, (0.93, 0.9, 0.84, 1.0))[:, :, :3]


def test_a_reading_goes_on_with_parts_locked_set_and_taken_away() -> None:
    pixels = flat(GATE, text="")
    reading = read_picture(pixels)
    assert reading.parts == Parts(stops=1, line=True) and reading.label is None
    off = replace(reading, geometry=reading.geometry.moved(radius=13.0, line=5.0))
    locked = read_again(pixels, off, ("outline",))
    assert locked.geometry.line == 5.0 and locked.residual > 1.3 * reading.residual
    freed = read_again(pixels, locked, ("outline", "line"))
    assert freed.geometry.line == pytest.approx(4, abs=0.3)
    assert freed.geometry.radius == pytest.approx(16, abs=0.6)
    by_hand = read_again(pixels, reading, ("outline", "line"), {"radius": 20.0})
    assert by_hand.geometry.radius == 20.0 and by_hand.residual > reading.residual
    bare = read_again(pixels, reading, ("outline", "face"), without=("line",))
    assert not bare.parts.line and bare.residual > 3 * reading.residual
    back = read_again(pixels, bare, ("outline", "line"), added=("line",))
    assert back.parts.line and back.residual < bare.residual / 2
    shadowed = read_again(pixels, reading, ("shadow",), added=("shadow",))
    # There is none: it comes out as good as invisible.
    assert np.abs(shadowed.colours["shadow"]).max() < 0.06


@pytest.mark.parametrize(("family", "weight", "size"), [
    in_all("Hanken Grotesk", 400, 18), in_all("Hanken Grotesk", 700, 13), ("Rubik", 500, 16)])
def test_words_give_the_label_its_type_and_place(family: str, weight: int, size: int) -> None:
    label = GATE.layer("label").model_copy(update={
        "family": family, "weight": weight, "size": float(size), "move": (-8.0, 2.0)})
    given = GATE.model_copy(update={"layers": (*GATE.layers[:2], label), "size": (120.0, 40.0)})
    pixels = flat(given)
    reading = read_picture(pixels)
    assert reading.label is not None
    made = compared(pixels, reading, "Gate", 2.0, "Ferry")
    found = made.control.layer("label")
    assert found.family == family and abs(found.weight - weight) <= 100
    assert found.size == pytest.approx(size, rel=0.06)
    assert found.move == pytest.approx((-8, 2), abs=1)
    # Words that are not typed leave the picture without any.
    blank = compared(pixels, reading, "Gate", 2.0, "")
    with_words, without = (np.abs(each.ours.astype(int) - pixels).mean()
                           for each in (made, blank))
    assert with_words < without / 2 and made.mean == pytest.approx(blank.mean, abs=0.3)
    assert made.difference.shape == made.ours.shape == pixels.shape


def test_lengths_are_as_people_draw_them_and_lights_are_no_labels() -> None:
    light = {"id": "light", "kind": "inner-shadow", "name": "Light", "colour": "#FFFFFF99",
             "offset": (0, 3), "blur": 0}
    given = Control.model_validate(GATE.model_dump() | {
        "text": "", "layers": [*(layer.model_dump() for layer in GATE.layers[:2]), light]})
    given = given.model_copy(update={"layers": (given.layers[0], given.layers[2],
                                                given.layers[1])})
    reading = read_picture(flat(given))
    assert reading.label is None and reading.parts.light
    control = compared(flat(given), reading, "Gate", 2.0, "").control
    assert control.size == (80, 30)
    assert control.outline.corners[0] == pytest.approx(8, abs=0.6)
    assert control.layer("line").width == 2
    assert control.layer("light").offset[1] + control.layer("line").width == pytest.approx(
        3, abs=0.4)


MOVING = GATE.model_copy(update={"id": "moving", "layers": (
    Shadow(id="shadow", name="Shadow", colour="#1B2A2980", offset=(0, 4), blur=8),
    Fill(id="face", name="Face", style="linear", stops=(
        Stop(position=0, colour="#D98A43"), Stop(position=1, colour="#B4621E"))),
    *GATE.layers[1:], Line(id="ring", name="Ring", place="outside", width=2, gap=2,
                           colour="#1F6F78", visible=False))})
# What each state changes, with the parts and values that a reading has for it.
CHANGED: dict[str, tuple[dict[str, dict[str, object]], dict[str, set[str]]]] = {
    "hover": ({"shadow": {"offset": (0, 7), "blur": 14.0}}, {"shadow": {"offset", "blur"}}),
    "pressed": ({"outline": {"offset": (0, 2)}, "shadow": {"offset": (0, 1), "blur": 4.0},
                 "face": {"stops": ({"position": 0, "colour": "#B4621E"},
                                    {"position": 1, "colour": "#C8742C"})}},
                {"outline": {"offset"}, "shadow": {"offset", "blur"}, "face": {"stops"}}),
    "focus": ({"ring": {"visible": True}}, {"ring": {"visible"}}),
    "disabled": ({"shadow": {"visible": False}, "line": {"colour": "#9A8F82"}},
                 {"shadow": {"visible"}, "line": {"colour"}}),
    "checked": ({part: {"scale": (0.94, 0.94)} for part in ("shadow", "face", "line", "label")},
                {part: {"scale"} for part in ("shadow", "face", "line", "label")}),
}


def test_pictures_of_states_are_read_on_the_command_line(tmp_path: Path) -> None:
    for name, state in (("gate.png", ()), ("gate-focus.png", {"focus"})):
        control = MOVING.model_copy(update={"states": {"focus": CHANGED["focus"][0]}})
        art = render(resolve(Kit(), control, state, text=""), 1, Margins(14, 12, 14, 18)).rgba
        Image.fromarray(np.ascontiguousarray(on_backdrop(
            art, (0.93, 0.9, 0.84, 1.0))[:, :, :3])).save(tmp_path / name)
    kit, run = tmp_path / "read.mektel", CliRunner()
    pictures = [str(tmp_path / name) for name in ("gate-focus.png", "gate.png")]
    done = run.invoke(cli, ["read", *pictures, "--kit", str(kit), "--json"])
    assert done.exit_code == 0, done.output
    assert json.loads(done.output)["states"]["focus"] < 0.7
    made = read_kit(kit).controls[0]
    assert made.id == "gate" and set(made.states["focus"]) == {"ring"}
    done = run.invoke(cli, ["read", pictures[0], pictures[0], "--kit", str(kit)])
    assert "no picture of rest" in str(done.exception)


@pytest.mark.parametrize(("scale", "quality"), [
    in_all(1, 0), in_all(2, 0), in_all(1, 90)])
def test_pictures_of_states_are_read_as_what_they_change(scale: int, quality: int) -> None:
    given = Control.model_validate(MOVING.model_dump() | {
        "states": {state: changes for state, (changes, _) in CHANGED.items()}})
    pictures = {}
    for state in (REST, *CHANGED):
        look = resolve(Kit(), given, () if state == REST else {state})
        art = on_backdrop(render(look, scale, Margins(14, 12, 14, 18)).rgba,
                          (0.93, 0.9, 0.84, 1.0))[:, :, :3]
        pictures[state] = as_jpeg(art, quality) if quality else art
    readings = read_states(pictures)
    made = control_of_states(readings, "Moving", float(scale), given.text)
    compared = compared_states(pictures, readings, made, scale, given.text)
    for state, (_, parts) in CHANGED.items():
        found = {part: set(values) for part, values in made.states[state].items()}
        # Compression is taken for faint parts here and there.
        assert found == parts if not quality else all(
            found.get(part, set()) >= values for part, values in parts.items()), (state, found)
        assert compared[state].mean < (3 if quality else 0.7), (state, compared[state].mean)
    assert made.states["pressed"]["outline"]["offset"] == (0, 2)
    assert made.layer("ring").gap == pytest.approx(2, abs=0.5) and not made.layer("ring").visible
    assert made.behaviour == "two-position"
    kept = control_of_states(readings, "Moving", scale, "", {("pressed", "outline", "offset")})
    assert "outline" not in kept.states["pressed"] and kept.states["hover"] == made.states["hover"]


def as_jpeg(pixels: np.ndarray, quality: int) -> np.ndarray:
    out = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(pixels)).save(out, "JPEG", quality=quality)
    return np.asarray(Image.open(out))
