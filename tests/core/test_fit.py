"""Flat pictures turned back into layers; tools/read_pictures.py measures hundreds of them."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner

from mektel.cli import cli
from mektel.core.fit import ReadingError, read_picture
from mektel.core.kit import Kit
from mektel.core.stopping import StoppedError, while_wanted
from mektel.formats.kitfile import read_kit
from mektel.samples import DEMO
from tests.pictures_to_read import made_up, measured


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


@pytest.mark.parametrize("seed", [100_000, 100_005, 100_009])
def test_made_up_buttons_are_read(seed: int) -> None:
    row = measured(made_up(seed))
    assert row.residual <= 1.5 and row.outline <= 0.5 and row.radius_good and row.colours_good, row


def test_what_is_no_button_is_refused_and_a_fit_can_be_stopped() -> None:
    with pytest.raises(ReadingError, match="nothing in this picture stands out"):
        read_picture(np.full((60, 90, 3), 120, np.uint8))
    with pytest.raises(ReadingError, match="has 8 × 60"):
        read_picture(np.zeros((60, 8, 3), np.uint8))
    noise = np.random.default_rng(1).integers(0, 255, (40, 60, 3)).astype(np.uint8)
    assert read_picture(noise).residual > 20  # whatever it is, nothing was made out
    with pytest.raises(StoppedError), while_wanted(lambda: False):
        read_picture(made_up(3).pixels)
