"""Pictures of a control's states: found on sheets, laid on each other, stretched, shipped."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from PIL import Image

from mektel.core.errors import DocumentError
from mektel.core.kit import Kit, Label, Picture, kit_from_data
from mektel.core.kit.bringing_in import with_arrivals
from mektel.core.kit.checking import checked
from mektel.core.look import Margins, resolve, shared_margins
from mektel.core.paint import render
from mektel.core.pictures.alignment import offset_between
from mektel.core.pictures.as_control import arrival_of, zones_of
from mektel.core.pictures.cropping import cropped_sides
from mektel.core.pictures.encoding import png_of, straight_of
from mektel.core.pictures.file_names import Guess, guess
from mektel.core.pictures.layout import StatePicture, equal_bounds
from mektel.core.pictures.regions import regions_of
from mektel.core.proof import findings
from mektel.formats.kitfile import kit_from_text, kit_to_text
from mektel.formats.pictures import PictureError, load, of_files, of_sheet
from mektel.targets import TARGETS
from mektel.targets.verify import verify

SHOWN = ("rest", "hover", "pressed", "disabled")
Pixels = np.ndarray


def pictures_of(kit: Kit, name: str, margins: Margins | None = None) -> dict[str, Pixels]:
    """Pictures of a demo control at 2× without its text, each with its own room or in one."""
    control = kit.control(name)
    return {state: render(resolve(kit, control, () if state == "rest" else (state,), text=""), 2,
                          margins).rgba for state in SHOWN}


def on_sheet(pictures: list[Pixels], gap: int = 9) -> tuple[Pixels, list[tuple[int, int]]]:
    high = max(picture.shape[0] for picture in pictures)
    sheet = np.zeros((high + 2 * gap, sum(p.shape[1] + gap for p in pictures) + gap, 4), np.uint8)
    spots, x = [], gap
    for picture in pictures:
        sheet[gap : gap + picture.shape[0], x : x + picture.shape[1]] = picture
        spots.append((x, gap))
        x += picture.shape[1] + gap
    return sheet, spots


def opaque(sheet: Pixels, backdrop: int = 230) -> Pixels:
    made = sheet.astype(int)
    made[:, :, :3] += (255 - made[:, :, 3:]) * backdrop // 255
    made[:, :, 3] = 255
    return made.astype(np.uint8)


@pytest.mark.parametrize("name", ["board", "horn", "slow", "fare", "ramp", "pennant"])
def test_pictures_are_found_on_a_sheet(demo_kit: Kit, name: str) -> None:
    loose = list(pictures_of(demo_kit, name).values())
    sheet, spots = on_sheet(loose)
    for picture in (straight_of(sheet), opaque(sheet)):
        found = regions_of(picture)
        assert len(found.boxes) == 4 and not found.in_cells
        for (left, top, right, bottom), (x, y), art in zip(found.boxes, spots, loose, strict=True):
            assert left >= x and top >= y and right <= x + art.shape[1] and (
                bottom <= y + art.shape[0])
    cells = list(pictures_of(
        demo_kit, name, shared_margins(demo_kit, demo_kit.control(name))).values())
    width = cells[0].shape[1]
    grid = regions_of(straight_of(np.concatenate(cells, axis=1)))
    assert grid.in_cells and [box[0] for box in grid.boxes] == [0, width, 2 * width, 3 * width]
    tight = list(pictures_of(demo_kit, name, Margins()).values())
    touching = regions_of(straight_of(np.concatenate(tight, axis=1)))
    if name != "pennant":
        assert touching.in_cells and len(touching.boxes) == 4
    assert len(regions_of(straight_of(tight[0])).boxes) == 1


def test_pictures_of_other_size_are_laid_on_each_other_by_what_they_share(demo_kit: Kit) -> None:
    """A picture with an outline, one cropped, one moved by parts of a pixel: none jumps."""
    rest = pictures_of(demo_kit, "fare")["rest"]
    ringed = np.zeros((rest.shape[0] + 17, rest.shape[1] + 30, 4), np.uint8)
    ringed[5:-12, 21:-9] = rest
    ringed[:4] = ringed[-4:] = ringed[:, :4] = ringed[:, -4:] = (200, 160, 60, 255)
    canvas = equal_bounds([
        StatePicture("rest", rest), StatePicture("hover", ringed),
        StatePicture("pressed", rest[7:, 11:-3]),
        StatePicture("focus", rest, nudge=(0.25, -2.0))])
    states = {state.condition: state for state in canvas.states}
    assert canvas.size == (ringed.shape[1], ringed.shape[0])
    home = states["rest"].pixels
    assert (home[5:-12, 21:-9] == rest).all() and not home[:5].any()
    pressed = states["pressed"].pixels
    assert (pressed[12:-12, 32:-12] == rest[7:, 11:-3]).all()
    assert states["focus"].rest_of == (0.25, 0.0) and all(state.sure for state in canvas.states)
    assert (states["focus"].pixels[3:-14, 21:-9] == rest).all()
    shifted = equal_bounds([
        StatePicture("rest", rest),
        StatePicture("hover", np.pad((rest.astype(float) * 0.5 + np.roll(
            rest, 1, axis=1).astype(float) * 0.5).astype(np.uint8), ((3, 0), (4, 0), (0, 0))))])
    assert shifted.states[1].rest_of[0] == pytest.approx(-0.5, abs=0.13) or (
        shifted.states[1].rest_of[0] == pytest.approx(0.5, abs=0.13))


def test_a_control_of_pictures_is_that_of_its_art(demo_kit: Kit) -> None:
    pictures = pictures_of(demo_kit, "board")
    canvas = equal_bounds([StatePicture(state, art, 2.0) for state, art in pictures.items()])
    arrival, found = arrival_of(canvas, "Board")
    control = arrival.control
    kit = checked(with_arrivals(Kit(), [arrival]), Kit())
    assert not found and control.size == (168, 48) and control.outline.corners == (24,) * 4
    zones = zones_of(canvas)
    assert zones.rows is None and zones.columns is not None and zones.smallest == (51, 48)
    assert set(control.states) == {"hover", "pressed", "disabled", "focus"}
    assert control.layer("picture").fit == "slices" and isinstance(control.layers[1], Label)
    blank = control.model_copy(update={"text": ""})
    for state, art in pictures.items():
        look = resolve(kit, blank, () if state == "rest" else (state,))
        left, top = (look.margins().left, look.margins().top)
        ours = render(look, 2).rgba
        face_y, face_x = 2 * top, 2 * left
        high, wide = 96, 336
        theirs = canvas.states[SHOWN.index(state)].pixels[
            zones.face[1] : zones.face[1] + high, zones.face[0] : zones.face[0] + wide]
        assert np.abs(ours[face_y : face_y + high, face_x : face_x + wide].astype(int)
                      - theirs).max() <= 1, (state, art.shape)
    # Stretched, its corners are as they were.
    wide_look = render(resolve(kit, blank, size=(300.0, 48.0)), 2, Margins()).rgba
    own = render(resolve(kit, blank), 2, Margins()).rgba
    assert np.abs(wide_look[:, :90].astype(int) - own[:, :90]).max() <= 1
    assert np.abs(wide_look[:, -90:].astype(int) - own[:, -90:]).max() <= 1


def test_round_art_keeps_its_form_and_its_states_are_derived(demo_kit: Kit) -> None:
    rest = pictures_of(demo_kit, "horn")["rest"]
    arrival, _ = arrival_of(equal_bounds([StatePicture("rest", rest, 2.0)]), "Horn")
    control = arrival.control
    assert control.size == (64, 64) and control.outline.corners == (32,) * 4
    assert control.outline.fit == "keep" and control.text == ""
    picture = control.layers[0]
    assert isinstance(picture, Picture) and picture.fit == "stretch"
    assert control.changes("hover")["picture"] == {"saturation": 1.15, "brightness": 1.06}
    assert control.changes("disabled")["picture"]["saturation"] < 0.5
    kit = with_arrivals(Kit(), [arrival])
    large = render(resolve(kit, kit.controls[0], size=(200.0, 100.0)), 1, Margins()).rgba
    covered = np.flatnonzero((large[:, :, 3] > 128).any(axis=0))
    # As high as its box, round, and in the middle.
    assert covered[0] == pytest.approx(50, abs=2) and covered[-1] == pytest.approx(149, abs=2)


def test_art_that_was_cut_off_is_noticed(demo_kit: Kit) -> None:
    whole = pictures_of(demo_kit, "horn")["rest"]
    assert cropped_sides(straight_of(whole)) == ()
    tight = whole[40:-48, 40:-40]
    assert "left" in cropped_sides(straight_of(whole[:, 60:]))
    assert "bottom" in cropped_sides(straight_of(whole[:-30]))
    assert cropped_sides(straight_of(tight[8:])) and len(tight)
    for name in ("ramp", "board", "slow", "half"):
        art = pictures_of(demo_kit, name, Margins())["rest"]
        assert not {"left", "right"} & set(cropped_sides(straight_of(art))), name
    arrival, found = arrival_of(equal_bounds([StatePicture("rest", whole[:, 60:], 2.0)]), "Horn")
    assert [entry.code for entry in found] == ["art-cropped"]
    kit = with_arrivals(Kit(), [arrival])
    assert [entry.code for entry in findings(kit) if entry.code == "art-cropped"] and (
        "left" in next(str(e) for e in findings(kit) if e.code == "art-cropped"))


def test_files_say_their_state_and_density_and_must_agree(demo_kit: Kit, tmp_path: Path) -> None:
    pictures = pictures_of(demo_kit, "slow")
    paths = []
    for state, art in pictures.items():
        path = tmp_path / f"slow_{state}@2x.webp"
        Image.fromarray(straight_of(art)).save(path, lossless=True)
        paths.append(path)
    small = Image.fromarray(pictures["hover"]).resize((72, 59), Image.Resampling.BOX)
    (tmp_path / "slow_hover.png").write_bytes(png_of(np.array(small)))
    other = np.roll(pictures["pressed"], 40, axis=1)
    (tmp_path / "slow_pressed@3x.png").write_bytes(png_of(np.array(
        Image.fromarray(other).resize((216, 177)))))
    files = [load(path) for path in [*paths, tmp_path / "slow_hover.png"]]
    canvas = equal_bounds(of_files(files))
    assert canvas.density == 2 and not canvas.differing and len(canvas.states) == 4
    files.append(load(tmp_path / "slow_pressed@3x.png"))
    assert equal_bounds(of_files(files)).differing == ("pressed",)
    (tmp_path / "horn.png").write_bytes(png_of(pictures["rest"]))
    with pytest.raises(PictureError, match="2 controls"):
        of_files([files[0], load(tmp_path / "horn.png")])
    with pytest.raises(PictureError, match="no picture of rest"):
        of_files(files[1:])
    (tmp_path / "clear.png").write_bytes(png_of(np.zeros((9, 9, 4), np.uint8)))
    (tmp_path / "odd.jpg").write_bytes(b"\xff\xd8\xff\xe0 nothing")
    for name, why in (("clear.png", "nothing in this picture"), ("odd.jpg", "cannot|can be read")):
        with pytest.raises(PictureError, match=why):
            load(tmp_path / name)
    sheet, _ = on_sheet([pictures["rest"]] * 6)
    (tmp_path / "six.png").write_bytes(png_of(sheet))
    with pytest.raises(PictureError, match="6 pictures stand on it"):
        of_sheet(load(tmp_path / "six.png"))
    named = of_sheet(load(tmp_path / "six.png"), ["rest", "checked+hover"])
    assert [picture.condition for picture in named] == ["rest", "checked+hover"]


def test_each_density_is_drawn_from_its_own_picture(demo_kit: Kit, tmp_path: Path) -> None:
    """Art that was drawn anew for each density; that of hover has 2 px more round it."""
    control, art, files = demo_kit.control("slow"), {}, []
    for state, more in (("rest", 0), ("hover", 2)):
        look = resolve(demo_kit, control, () if state == "rest" else (state,), text="")
        for density in (1, 2, 3):
            own = render(look, density, Margins(4, 3, 6, 9)).rgba.copy()
            at = slice(20 * density, 24 * density)
            own[at, at, :3] = 60 * density  # what only this density shows
            art[state, density] = np.pad(own, ((more * density,) * 2,) * 2 + ((0, 0),))
            path = tmp_path / f"slow-{state}@{density}x.png"
            path.write_bytes(png_of(art[state, density]))
            files.append(load(path))
    canvas = equal_bounds(of_files(files))
    assert canvas.density == 3 and not canvas.differing
    arrival, _ = arrival_of(canvas, "Slow", text="")
    kit = kit_from_text(kit_to_text(with_arrivals(Kit(), [arrival])))
    assert [len(asset.coarser) for asset in kit.assets] == [2, 2]
    made = kit.controls[0]
    for (state, density), own in art.items():
        look = resolve(kit, made, () if state == "rest" else (state,))
        more = 2 if state == "hover" else 0
        shown = render(look, density, look.margins()).rgba
        room = look.margins()
        x, y = ((side - 4 - more) * density for side in (room.left, room.top + 1))
        assert np.abs(shown[y : y + own.shape[0], x : x + own.shape[1]].astype(int)
                      - own).max() <= 1, (state, density)
    for match in verify(kit, kit.controls, TARGETS["sprites"], scale=3):
        assert match.passes, match.faults
    # Stretched, it is the pixels that are shown that count.
    stretched = made.model_copy(update={"layers": (
        made.layers[0].model_copy(update={"fit": "stretch"}),)})
    for scale in (1, 2, 3):
        shown = render(resolve(kit, stretched), scale, Margins(9, 9, 9, 9)).rgba[:, :, :3]
        assert (np.abs(shown.astype(int) - 60 * scale).max(axis=2) == 0).any(), scale
    # A form for a lower density has the shape of the picture, and fewer pixels.
    data = kit.model_dump(mode="json")
    data["assets"][0]["coarser"].reverse()
    with pytest.raises(DocumentError, match="fewer than"):
        kit_from_data(data)


@pytest.mark.parametrize(("name", "stem", "condition", "density"), [
    ("horn", "horn", "rest", 1), ("horn@2x", "horn", "rest", 2), ("horn_hover", "horn", "hover", 1),
    ("Horn (Pressed)@3x", "Horn", "pressed", 3), ("horn-default@1.5x", "horn", "rest", 1.5),
    ("hornActive", "horn", "pressed", 1), ("deck lamp checked disabled", "deck lamp",
                                           "checked+disabled", 1),
    ("board-sheet@2x", "board", "rest", 2), ("ferry_selected_over_2x", "ferry", "checked+hover", 2),
    ("deck2", "deck2", "rest", 1), ("shower", "shower", "rest", 1),
    ("horn@7x", "horn@7x", "rest", 1),
    ("loading-horn", "horn", "busy", 1), ("hover", "", "hover", 1)])
def test_names_of_files_say_what_they_show(
    name: str, stem: str, condition: str, density: float
) -> None:
    assert guess(name) == Guess(stem, condition, density)


@settings(max_examples=25, deadline=None)
@example(97, 1, 0, False)
@given(st.integers(0, 2**32 - 1), st.integers(-9, 9), st.integers(-9, 9), st.booleans())
def test_pictures_lie_where_their_common_pixels_do(
    seed: int, dx: int, dy: int, ringed: bool
) -> None:
    """Whatever the art, and whatever was added round it."""
    dice = np.random.default_rng(seed)
    art = np.zeros((40, 64, 4), np.uint8)
    art[4:-4, 4:-4] = (*dice.integers(20, 235, 3), 255)
    for _ in range(4):
        x, y = int(dice.integers(6, 50)), int(dice.integers(6, 28))
        art[y : y + 7, x : x + 9] = (*dice.integers(0, 255, 3), 255)
    other = np.zeros((64, 92, 4), np.uint8)
    other[12 + dy : 52 + dy, 14 + dx : 78 + dx] = art
    if ringed:
        other[9 + dy : 12 + dy, 14 + dx : 78 + dx] = (240, 200, 90, 255)
    found = offset_between(art, other)
    assert (found.x, found.y) == (-14 - dx, -12 - dy) and found.shared > 0.5


@settings(max_examples=25, deadline=None)
@given(st.lists(st.tuples(st.integers(8, 40), st.integers(8, 30)), min_size=1, max_size=9),
       st.integers(6, 12), st.booleans())
def test_whatever_stands_apart_is_a_picture(
    sizes: list[tuple[int, int]], gap: int, clear: bool
) -> None:
    """In reading order, each in a box that is as tight as can be, or in its cell."""
    across = 3
    high = max(height for _, height in sizes) + gap
    wide = max(width for width, _ in sizes) + gap
    rows = -(-len(sizes) // across)
    sheet = np.zeros((rows * high + gap + 1, across * wide + gap + 1, 4), np.uint8)
    if not clear:
        sheet[:] = (200, 210, 220, 255)
    for at, (width, height) in enumerate(sizes):
        x, y = gap + at % across * wide, gap + at // across * high
        sheet[y : y + height, x : x + width] = (20, 60 + at * 9, 90, 255)
    found = regions_of(sheet)
    if len(sizes) == 1 and found.in_cells:
        return
    assert len(found.boxes) == len(sizes)
    for at, (box, (width, height)) in enumerate(zip(found.boxes, sizes, strict=True)):
        x, y = gap + at % across * wide, gap + at // across * high
        if found.in_cells:
            assert box[0] <= x and box[1] <= y and box[2] >= x + width and box[3] >= y + height
        else:
            assert box == (x, y, x + width, y + height)


def test_zones_set_by_hand_are_kept_and_labels_ride_with_the_face(demo_kit: Kit) -> None:
    """The label goes down with the face of a key that is pressed, and stands in what is plain."""
    room = shared_margins(demo_kit, demo_kit.control("half"))
    pictures = pictures_of(demo_kit, "half", room)
    canvas = equal_bounds([StatePicture(state, art, 2.0, placed=True)
                           for state, art in pictures.items()])
    arrival, _ = arrival_of(canvas, "Half", insets=(30, 20, 40, 50))
    picture = arrival.control.layer("picture")
    assert picture.slices == (30, 20, 40, 50) and picture.fit == "slices"
    ride = arrival.control.changes("pressed")["outline"]["content_offset"]
    assert ride[0] == 0 and ride[1] > 1
    assert "outline" not in arrival.control.changes("hover")
    icon = pictures_of(demo_kit, "board", Margins(30, 24, 30, 30))["rest"].copy()
    icon[70:110, 110:150] = 255
    beside, _ = arrival_of(equal_bounds([StatePicture("rest", icon, 2.0)]), "Board")
    label = beside.control.layer("label")
    assert label.box is not None and label.box.x[1] >= (150 - 60) / 2
    none, _ = arrival_of(canvas, "Half", text="")
    assert [layer.kind for layer in none.control.layers] == ["picture", "line"]
