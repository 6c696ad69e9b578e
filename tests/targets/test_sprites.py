"""Sprites as a game reads them: sheets, the JSON and its schema, stretch zones, texts of one's own.
"""

from __future__ import annotations

import io
import json
import os
import shutil
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import jsonschema
import numpy as np
import pytest
from PIL import Image

from mektel.core.errors import MektelError
from mektel.core.kit import Control, Kit, condition_of, edit, parse_flags
from mektel.core.kit.answers import Swing
from mektel.core.kit.parameter_edits import set_formula
from mektel.core.kit.timing_edits import set_swings
from mektel.core.look import Margins, look_of, resolve, shared_margins
from mektel.core.look.scene import rgba
from mektel.core.motion import motion_of
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.core.slices import control_insets, stretchable
from mektel.formats.png import pixels_from_png
from mektel.targets import TARGETS, TargetError, ship, write_files
from mektel.targets.sheet import sheet_of
from mektel.targets.sprites.playing import Player
from mektel.targets.sprites.target import SpriteTarget
from mektel.targets.verify import verify
from tests.slices import count_of, some_of

SPRITES = TARGETS["sprites"]
# What a design lays along the width as shares of it, a picture stretches in one place.
UNLIKE_STRETCHED = {"Pennant", "Night watch", "Fog", "Ring up", "Deck lamp", "Fare", "Queue"}


@pytest.fixture(scope="module")
def shipped(demo_kit: Kit) -> Sequence[Control]:
    chosen = [*some_of(demo_kit.controls, 2), demo_kit.control("ramp")]
    return [control for control in demo_kit.controls if control in chosen]


@pytest.fixture(scope="module")
def folder(
    demo_kit: Kit, shipped: Sequence[Control], tmp_path_factory: pytest.TempPathFactory
) -> Path:
    made = tmp_path_factory.mktemp("sprites")
    write_files(ship(SPRITES, demo_kit, shipped), made)
    return made


@pytest.fixture(scope="module")
def index(folder: Path) -> Any:
    return json.loads((folder / "sprites.json").read_text())


def test_the_sheets_are_small_and_say_the_truth(
    folder: Path, index: Any, demo_kit: Kit, shipped: Sequence[Control]
) -> None:
    jsonschema.validate(index, json.loads((folder / "sprites.schema.json").read_text()))
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(index | {"surplus": 1},
                            json.loads((folder / "sprites.schema.json").read_text()))
    files = [path for path in folder.rglob("*") if path.is_file()]
    assert sum(path.stat().st_size for path in files) <= count_of(24, 40) * 100_000
    assert len(files) < 12
    sheets = {name: np.asarray(Image.open(folder / name)) for name in index["sheets"]}
    taken = {name: np.zeros(sheet.shape[:2], int) for name, sheet in sheets.items()}
    places: set[tuple[str, tuple[int, ...]]] = set()
    for name, sheet in sheets.items():
        assert list(sheet.shape[1::-1]) == index["sheets"][name] and max(sheet.shape) <= 4096
    for control in shipped:
        described, margins = index["controls"][control.id], shared_margins(demo_kit, control)
        assert set(described["shown"]) == {
            condition_of(flags) for flags in sheet_of(demo_kit, control).sets}
        assert described["margins"] == [margins.left, margins.top, margins.right, margins.bottom]
        for side, length in enumerate(described["size"]):
            before, after = described["insets"][side], described["insets"][side + 2]
            assert before >= 0 <= after and before + after <= length, control.id
            assert described["smallest"][side] <= length
        for density, of in described["densities"].items():
            assert of["size"] == [round(length * int(density)) for length in (
                described["size"][0] + margins.left + margins.right,
                described["size"][1] + margins.top + margins.bottom)]
            for repeat, length in zip(of["repeat"].values(), described["size"], strict=True):
                assert repeat is None or (
                    repeat[0] >= 0 and sum(repeat) <= length * int(density)), control.id
            for region in of["pictures"].values():
                (x, y, wide, high), sheet = region["at"], sheets[region["sheet"]]
                own = sheet[y : y + high, x : x + wide, 3]
                edges = (own[0], own[-1], own[:, 0], own[:, -1])
                assert own.shape == (high, wide) and all(edge.any() for edge in edges)
                if (region["sheet"], tuple(region["at"])) not in places:
                    places.add((region["sheet"], tuple(region["at"])))
                    taken[region["sheet"]][y : y + high, x : x + wide] += 1
    assert len(places) > count_of(150, 300) and all(count.max() == 1 for count in taken.values())
    for text in index["controls"]["board"]["texts"].values():
        assert (folder / "fonts" / text["font"]).is_file()


def test_put_together_they_look_as_designed(
    folder: Path, demo_kit: Kit, shipped: Sequence[Control]
) -> None:
    for match in verify(demo_kit, shipped, SPRITES, scale=1, folder=folder):
        assert match.passes and match.with_text.worst <= 2, (match.control, match.faults)


def test_the_sprites_gallery_looks_as_designed(
    demo_kit: Kit, folder: Path, examples: Path, tmp_path: Path
) -> None:
    """Every look from its sheet, texts set by the JSON, and pictures stretched by their insets,
    drawn by pygame.
    """
    for name in ("gallery_sprites.py", "pygame_controls.py"):
        shutil.copy(examples / "apps" / name, tmp_path)
    subprocess.run([sys.executable, "gallery_sprites.py", str(folder), str(tmp_path)], cwd=tmp_path,
                   check=True, env=os.environ | {"SDL_VIDEODRIVER": "dummy"})
    ground = rgba(demo_kit, "#E9E2D3")
    by_name = {control.name: control for control in demo_kit.controls}
    pages = {path.stem: pixels_from_png(path.read_bytes())[:, :, :3]
             for path in tmp_path.glob("*.png")}
    assert set(pages) == {"States", "Own texts", "Sizes"}
    measured: dict[str, list[float]] = {page: [] for page in pages}
    for page, name, held, texts, x, y, width, height in json.loads(
            (tmp_path / "stands.json").read_text()):
        control = by_name[name]
        own = next(iter(texts.values()), None)
        beside = any(part.kind in ("icon", "symbol", "light", "look")
                     for part in sheet_of(demo_kit, control).layers)
        if own is not None and own != control.text and (beside or control.size[0] < 60):
            continue  # the picture of an icon cannot move with another text
        if page == "Sizes" and name in UNLIKE_STRETCHED:
            continue
        look = resolve(demo_kit, control, parse_flags(held), (width, height), own)
        room = sheet_of(demo_kit, control).margins
        ours = on_backdrop(render(look, 2, room).rgba, ground)[:, :, :3]
        left, top = x - round(2 * room.left), y - round(2 * room.top)
        taken = pages[page][top : top + ours.shape[0], left : left + ours.shape[1]]
        mean = difference(ours, taken).mean
        assert mean <= (1.0 if page == "States" else 3.0), (page, name, held, texts, mean)
        measured[page].append(mean)
    assert len(measured["States"]) > count_of(75, 150)
    assert len(measured["Own texts"]) > count_of(20, 50)
    assert len(measured["Sizes"]) > count_of(15, 30)


def test_what_answers_the_pointer_is_the_outline(
    index: Any, demo_kit: Kit, shipped: Sequence[Control]
) -> None:
    for control in shipped:
        outline = resolve(demo_kit, control).outline
        rings = index["controls"][control.id]["hit"]
        wrong = 0
        for x in np.arange(-4.13, control.size[0] + 5, 3.7):
            for y in np.arange(-4.07, control.size[1] + 5, 3.3):
                inside = False
                for ring in rings:
                    for (x0, y0), (x1, y1) in zip(ring, [*ring[1:], ring[0]], strict=True):
                        if (y0 > y) != (y1 > y) and x < x0 + (y - y0) * (x1 - x0) / (y1 - y0):
                            inside = not inside
                wrong += inside != outline.contains(x, y)
        assert wrong <= 3, (control.id, wrong)


def test_what_stands_in_the_box_is_not_stretched(demo_kit: Kit, index: Any) -> None:
    """A thumb and a symbol in the middle keep the size; an icon keeps its side of the text."""
    insets = {name: described["insets"] for name, described in index["controls"].items()}
    assert insets["ramp"][0] == 68 and insets["slow"][:2] == [72, 52]
    icon = index["controls"]["fare"]["looks"]["rest"]["contents"][0]["box"]
    text = index["controls"]["fare"]["texts"]["rest:label"]
    assert text["align"] == "start" and text["room"][0] == text["pen"][0] > icon[0] + icon[2]
    assert insets["fare"][0] >= text["pen"][0]
    queue = index["controls"]["queue"]
    tally = queue["looks"]["rest"]["contents"][0]["box"]
    assert queue["texts"]["rest:label"]["align"] == "end"
    assert queue["size"][0] - insets["queue"][2] <= queue["texts"]["rest:label"]["room"][2]
    assert queue["texts"]["rest:label"]["room"][2] <= tally[0]
    kit = edit.set_field(demo_kit, "cargo", "slices", (100, 30, 100, 30))
    by_hand = control_insets(kit, kit.control("cargo"))
    assert by_hand.left + by_hand.right <= 144 and by_hand.smallest == (144, 44)
    across, down = stretchable(demo_kit, demo_kit.control("board"))
    assert across.start < 0 and down.end > 48


def test_sheets_as_asked_for(demo_kit: Kit, tmp_path: Path) -> None:
    chosen = [demo_kit.control("board"), demo_kit.control("ramp")]
    small = SpriteTarget(limit=1024, form="webp", singles=True)
    write_files(ship(small, demo_kit, chosen), tmp_path)
    index = json.loads((tmp_path / "sprites.json").read_text())
    assert "atlas@3x-2.webp" in index["sheets"]
    assert max(max(size) for size in index["sheets"].values()) <= 1024
    for match in verify(demo_kit, chosen, small, scale=3, folder=tmp_path):
        assert match.passes and match.with_text.worst <= 2
    board = index["controls"]["board"]
    path = tmp_path / board["densities"]["2"]["files"]["focus+pressed"]
    single = np.asarray(Image.open(path).convert("RGBA"))
    assert list(single.shape[1::-1]) == board["densities"]["2"]["size"]
    with pytest.raises(TargetError, match="does not fit on a sheet of 256; allow larger sheets"):
        ship(SpriteTarget(limit=256), demo_kit, chosen)
    huge = edit.set_field(demo_kit, "cargo", "size", (1500.0, 60.0))
    large = SPRITES.files(huge, [huge.control("cargo")])  # nobody asked for a limit
    assert max(Image.open(io.BytesIO(file.content)).width for file in large
               if str(file.path).startswith("atlas@3x")) > 4500
    with pytest.raises(TargetError, match="png or webp"):
        SpriteTarget(form="gif")


def test_a_text_that_something_lies_over_is_there_as_a_whole(
    demo_kit: Kit, tmp_path: Path
) -> None:
    """A control that fades as one, and a gloss over its label."""
    kit = edit.move_layer(demo_kit, "ring-up", "label", 0)
    kit = edit.set_value(kit, "ring-up", "disabled", "outline", "opacity", 0.4)
    kit = set_formula(kit, "ring-up", "rest", "label", "size", "14 + 2")
    control = kit.control("ring-up")
    write_files(ship(SPRITES, kit, [control]), tmp_path)
    looks = json.loads((tmp_path / "sprites.json").read_text())["controls"]["ring-up"]["looks"]
    assert all("whole" in look for look in looks.values()) and looks["disabled"]["opacity"] == 0.4
    plans = {plan.layer: plan.why for plan in SPRITES.plan(kit, control)}
    assert "lies over what lies over this one" in plans["Label"]
    for match in verify(kit, [control], SPRITES, folder=tmp_path):
        assert match.with_text.worst <= 2 and match.same_box


def test_gestures_are_frames_on_the_sheets(demo_kit: Kit, tmp_path: Path) -> None:
    kit = set_swings(demo_kit, "cargo", (Swing(value="y", amplitude=3, period=1.2),))
    chosen = [kit.control("cast-off"), kit.control("cargo")]
    target = SpriteTarget(films=("press", "rest"), rate=10)
    summary = target.films_summary(kit, chosen)
    write_files(ship(target, kit, chosen), tmp_path)
    made = json.loads((tmp_path / "sprites.json").read_text())
    jsonschema.validate(made, json.loads((tmp_path / "sprites.schema.json").read_text()))
    films = {name: control.get("films", {}) for name, control in made["controls"].items()}
    assert list(films["cast-off"]) == ["press"] and films["cargo"]["rest"]["loops"]
    assert sum(films["cargo"]["rest"]["durations"]) == pytest.approx(1200, abs=20)
    count = sum(len(film["frames"]) for of in films.values() for film in of.values())
    unlike = sum(len({name for film in of.values() for name in film["frames"]})
                 for of in films.values())
    assert summary.startswith(f"{count} frames, {unlike} of them unlike") and unlike < count

    # A frame from the sheet is the moment of the gesture.
    control = kit.control("cargo")
    film, density = films["cargo"]["rest"], made["controls"]["cargo"]["densities"]["2"]
    at = sum(film["durations"][:4]) / 1000
    ours = render(look_of(motion_of(kit, control).at(at)), 2, Margins(
        *map(int, made["controls"]["cargo"]["margins"]))).rgba
    player = Player(tmp_path)
    surface = np.zeros((*density["size"][::-1], 4))
    player._lay(surface, density["pictures"][film["frames"][4]])
    assert np.abs(surface - ours).max() < 3
    with pytest.raises(MektelError, match="no gesture “wave”"):
        ship(SpriteTarget(films=("wave",)), kit, chosen)
