"""The shipped icons against Chromium's own drawing of the same SVG paths."""

from __future__ import annotations

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
# Chromium covers the pixels of a path by a few samples; drawn so much larger and averaged, it
# gives their true areas.
FINEST = 8


def drawn(layer: Icon, scale: int) -> np.ndarray:
    control = Control(id="x", name="X", size=(SIZE, SIZE), layers=(layer,))
    look = resolve(Kit(controls=(control,)), control)
    ink = render(look, scale, Margins()).rgba[:, :, 3]
    return np.repeat(255 - ink[:, :, None], 3, axis=2)


@pytest.mark.parametrize("scale", [1, 2])
def test_icons_are_drawn_as_svg_has_it(scale: int, tmp_path: Path) -> None:
    chosen = some_of(icon_names(), 40, scale)  # other ones at each scale
    assert len(icon_names()) >= 1000 and len(chosen) >= 40
    marks = ["".join(f'<path d="{d}"/>' for d in icon_paths(name)) for name in chosen]
    marks = [f"<g fill='none' stroke='#000' stroke-width='2' stroke-linecap='round' "
             f"stroke-linejoin='round'>{mark}</g>" for mark in marks]
    boxes = "".join(
        f"<svg viewBox='0 0 24 24' width={SIZE} height={SIZE} style='position:absolute;"
        f"left:{at % ACROSS * SIZE}px;top:{at // ACROSS * SIZE}px'>{mark}</svg>"
        for at, mark in enumerate(marks)
    )
    rows = -(-len(marks) // ACROSS)
    with page_on(f"<!doctype html><body style='margin:0'>{boxes}", tmp_path, FINEST,
                 (ACROSS * SIZE, rows * SIZE), exact=True) as shown:
        large = photograph(shown)
    high, wide = rows * SIZE * scale, ACROSS * SIZE * scale
    cells = large.reshape(high, FINEST // scale, wide, FINEST // scale, 3)
    photo = cells.mean(axis=(1, 3)).round().astype(np.uint8)
    found = []
    for at, name in enumerate(chosen):
        layer = Icon(id="i", name="I", icon=name, size=SIZE, colour="#000000")
        x, y = at % ACROSS * SIZE * scale, at // ACROSS * SIZE * scale
        theirs = photo[y : y + SIZE * scale, x : x + SIZE * scale]
        ours = drawn(layer, scale)
        found.append(difference(ours, theirs))
        assert found[-1].mean <= 1.0, (name, found[-1])
    print(f"{len(found)} icons at {scale}x: mean {np.mean([f.mean for f in found]):.3f}, "
          f"worst {max(f.mean for f in found):.3f}")
    assert np.mean([f.mean for f in found]) <= 0.6


def test_icons_are_found_by_word() -> None:
    assert find_icons("anchor")[0] == "anchor"
    assert "ship" in find_icons("boat")
    assert find_icons("arrow left")[0] == "arrow-left" and find_icons("qzx") == []
