"""The shipped icons against Chromium's own drawing of the same SVG paths."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import numpy as np
import pytest

from mektel.core.drawings import find_icons, icon_names, icon_paths
from mektel.core.kit import Control, Icon, Kit
from mektel.core.look import Margins, resolve
from mektel.core.paint import render
from mektel.core.proof import difference
from tests.chromium import page_on, photograph
from tests.slices import some_of

SIZE, ACROSS = 40, 24
# So many on one page: a picture of all would be too large to be read.
MOST = 480
# Chromium covers the pixels of a path by a few samples; drawn so much larger and averaged, it
# gives their true areas.
FINEST = 8


def drawn(layer: Icon, scale: int) -> np.ndarray:
    control = Control(id="x", name="X", size=(SIZE, SIZE), layers=(layer,))
    look = resolve(Kit(controls=(control,)), control)
    ink = render(look, scale, Margins()).rgba[:, :, 3]
    return np.repeat(255 - ink[:, :, None], 3, axis=2)


def as_svg(names: Sequence[str], scale: int, folder: Path) -> list[np.ndarray]:
    """Chromium's pictures of icons, at a scale."""
    marks = ["".join(f'<path d="{d}"/>' for d in icon_paths(name)) for name in names]
    boxes = "".join(
        f"<svg viewBox='0 0 24 24' width={SIZE} height={SIZE} style='position:absolute;"
        f"left:{at % ACROSS * SIZE}px;top:{at // ACROSS * SIZE}px'><g fill='none' stroke='#000' "
        f"stroke-width='2' stroke-linecap='round' stroke-linejoin='round'>{mark}</g></svg>"
        for at, mark in enumerate(marks))
    rows = -(-len(marks) // ACROSS)
    with page_on(f"<!doctype html><body style='margin:0'>{boxes}", folder, FINEST,
                 (ACROSS * SIZE, rows * SIZE), exact=True) as shown:
        large = photograph(shown)
    side = SIZE * scale
    cells = large.reshape(rows * side, FINEST // scale, ACROSS * side, FINEST // scale, 3)
    photo = cells.mean(axis=(1, 3)).round().astype(np.uint8)
    return [photo[y : y + side, x : x + side] for y, x in (
        (at // ACROSS * side, at % ACROSS * side) for at in range(len(names)))]


@pytest.mark.parametrize("scale", [1, 2])
def test_icons_are_drawn_as_svg_has_it(scale: int, tmp_path: Path) -> None:
    chosen = some_of(icon_names(), 40, scale)  # other ones at each scale
    assert len(icon_names()) >= 1000 and len(chosen) >= 40
    found = []
    for first in range(0, len(chosen), MOST):
        names = chosen[first : first + MOST]
        for name, theirs in zip(names, as_svg(names, scale, tmp_path), strict=True):
            layer = Icon(id="i", name="I", icon=name, size=SIZE, colour="#000000")
            found.append(difference(drawn(layer, scale), theirs))
            assert found[-1].mean <= 1.0, (name, found[-1])
    print(f"{len(found)} icons at {scale}x: mean {np.mean([f.mean for f in found]):.3f}, "
          f"worst {max(f.mean for f in found):.3f}")
    assert np.mean([f.mean for f in found]) <= 0.6


def test_icons_are_found_by_word() -> None:
    assert find_icons("anchor")[0] == "anchor"
    assert "ship" in find_icons("boat")
    assert find_icons("arrow left")[0] == "arrow-left" and find_icons("qzx") == []
