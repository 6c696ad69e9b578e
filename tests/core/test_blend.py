"""Blend modes and compositing against skia, which implements the same standard on its own."""

from __future__ import annotations

import numpy as np
import pytest
import skia

from mektel.core.kit import Control, ControlOutline, Fill, Kit, OwnOutline
from mektel.core.look import Margins, resolve
from mektel.core.paint import render
from mektel.core.paint.blend import SEPARABLE, blend

MODES = {
    "normal": skia.BlendMode.kSrcOver, "multiply": skia.BlendMode.kMultiply,
    "screen": skia.BlendMode.kScreen, "overlay": skia.BlendMode.kOverlay,
    "darken": skia.BlendMode.kDarken, "lighten": skia.BlendMode.kLighten,
    "color-dodge": skia.BlendMode.kColorDodge, "color-burn": skia.BlendMode.kColorBurn,
    "hard-light": skia.BlendMode.kHardLight, "soft-light": skia.BlendMode.kSoftLight,
    "difference": skia.BlendMode.kDifference, "exclusion": skia.BlendMode.kExclusion,
    "hue": skia.BlendMode.kHue, "saturation": skia.BlendMode.kSaturation,
    "color": skia.BlendMode.kColor, "luminosity": skia.BlendMode.kLuminosity,
}
COLOURS = ["#000000", "#FFFFFF", "#2F8C93", "#B8472AC0", "#E5A43B80", "#7F7F7F", "#1020F040",
           "#FF0000", "#00FF0033"]


def skia_colour(text: str) -> int:
    alpha = int(text[7:9], 16) if len(text) == 9 else 255
    return skia.Color(*(int(text[at : at + 2], 16) for at in (1, 3, 5)), alpha)


def by_skia(back: str, front: str, mode: str) -> np.ndarray:
    surface = skia.Surface(2, 2)
    canvas = surface.getCanvas()
    canvas.clear(skia_colour(back))
    canvas.drawRect(skia.Rect.MakeWH(2, 2),
                    skia.Paint(Color=skia_colour(front), BlendMode=MODES[mode]))
    return surface.makeImageSnapshot().toarray(
        colorType=skia.kRGBA_8888_ColorType).astype(int)[0, 0]


def by_us(back: str, front: str, mode: str) -> np.ndarray:
    control = Control(id="x", name="X", size=(8, 8),
                                              outline=ControlOutline(corners=(0,) * 4), layers=(
        Fill(id="a", name="A", colour=back),
        Fill(id="b", name="B", colour=front, blend=mode),  # type: ignore[arg-type]
    ))
    return render(resolve(Kit(controls=(control,)), control), 1, Margins()).rgba[4, 4].astype(int)


@pytest.mark.parametrize("mode", MODES)
def test_each_mode_gives_what_skia_gives(mode: str) -> None:
    for back in COLOURS:
        for front in COLOURS:
            theirs = by_skia(back, front, mode)
            premultiplied = theirs.copy()
            premultiplied[:3] = (theirs[:3] * theirs[3] + 127) // 255
            ours = by_us(back, front, mode)
            # skia's snapshot may be straight or premultiplied, by its version.
            away = min(np.abs(ours - theirs).max(), np.abs(ours - premultiplied).max())
            assert away <= 3, (back, front, ours, theirs)


@pytest.mark.parametrize("mode", MODES)
def test_results_stay_colours(mode: str) -> None:
    random = np.random.default_rng(7)
    back, front = random.random((2, 3, 500)).astype(np.float32)
    found = blend(mode, back, front)
    assert found.shape == (3, 500) and found.min() >= -1e-5 and found.max() <= 1 + 1e-5


def test_what_order_matters_not() -> None:
    random = np.random.default_rng(3)
    one, two = random.random((2, 3, 100)).astype(np.float32)
    for mode in ("multiply", "screen", "darken", "lighten", "difference", "exclusion"):
        assert np.allclose(SEPARABLE[mode](one, two), SEPARABLE[mode](two, one), atol=1e-6)
    assert np.allclose(SEPARABLE["overlay"](one, two), SEPARABLE["hard-light"](two, one))


def test_layers_blend_among_themselves_and_fade_together() -> None:
    """A blend sees only the control's own layers; the body's opacity fades all of them as one."""
    glow = Fill(id="b", name="B", colour="#808080", blend="screen",
                outline=OwnOutline(form="box", corners=(0,) * 4, x=(0.5, 0), width=(0.5, 0)))
    control = Control(
        id="x", name="X", size=(20, 20), outline=ControlOutline(corners=(0,) * 4), layers=(
        Fill(id="a", name="A", colour="#404040", outline=OwnOutline(
            corners=(0,) * 4, height=(0.5, 0))), glow))
    kit = Kit(controls=(control,))
    whole = render(resolve(kit, control), 1, Margins()).rgba
    assert whole[5, 5].tolist() == [64, 64, 64, 255]
    assert whole[15, 15].tolist() == [128, 128, 128, 255]  # nothing beneath: as it is
    assert abs(int(whole[5, 15, 0]) - (64 + 128 - 64 * 128 / 255)) <= 1
    faded = control.model_copy(update={
        "outline": control.outline.model_copy(update={"opacity": 0.5})})
    half = render(resolve(kit, faded), 1, Margins()).rgba
    assert np.abs(half.astype(int) - whole / 2).max() <= 1
    behind = np.full((20, 20, 4), 255, np.uint8)
    laid = render(resolve(kit, faded), 1, Margins(), behind).rgba.astype(int)
    assert np.abs(laid[5, 5] - [160, 160, 160, 255]).max() <= 1 and laid[15, 5, 0] == 255
