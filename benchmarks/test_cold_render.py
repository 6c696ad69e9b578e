"""Cold render of the reference control, side by side with skia-python drawing the same layers.

240×72 at 2× with room for its shadow, 640×304 pixels: drop shadow σ 12 px, two-stop gradient,
inner shadow σ 6 px, line. Run: .venv/bin/python -m pytest benchmarks -q
"""

from __future__ import annotations

import numpy as np
import pytest
import skia

from mektel.core.kit import Control, ControlOutline, Fill, InnerShadow, Kit, Line, Shadow, Stop
from mektel.core.look import Margins, resolve
from mektel.core.paint import render
from mektel.core.paint.masks import masks

CONTROL = Control(
    id="reference", name="Reference", size=(240, 72),
    outline=ControlOutline(corners=(18, 18, 18, 18)),
    layers=(
        Shadow(id="shadow", name="Shadow", colour="#14323766", offset=(0, 8), blur=24),
        Fill(
            id="face", name="Face", style="linear",
            stops=(Stop(position=0, colour="#3AA2A8"), Stop(position=1, colour="#175A66")),
        ),
        InnerShadow(id="in", name="In", offset=(0, 3), blur=12, colour="#00000066"),
        Line(id="line", name="Line", width=2, colour="#0E454E"),
    ),
)
ROOM = Margins(40, 40, 40, 40)


def ours() -> np.ndarray:
    masks.forget()
    # A kit and control of its own: nothing is remembered from the round before.
    control = CONTROL.model_copy()
    return render(resolve(Kit(controls=(control,)), control), 2, ROOM).rgba


def skias() -> np.ndarray:
    surface = skia.Surface(640, 304)
    canvas = surface.getCanvas()
    canvas.scale(2, 2)
    canvas.translate(40, 40)
    box = skia.Rect.MakeWH(240, 72)
    blur = skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, 12)
    canvas.drawRRect(
        skia.RRect.MakeRectXY(box.makeOffset(0, 8), 18, 18),
        skia.Paint(AntiAlias=True, Color=skia.Color(0x14, 0x32, 0x37, 0x66), MaskFilter=blur),
    )
    gradient = skia.GradientShader.MakeLinear(
        [skia.Point(0, 0), skia.Point(0, 72)], [0xFF3AA2A8, 0xFF175A66]
    )
    canvas.drawRRect(
        skia.RRect.MakeRectXY(box, 18, 18), skia.Paint(AntiAlias=True, Shader=gradient)
    )
    canvas.save()
    canvas.clipRRect(skia.RRect.MakeRectXY(box, 18, 18), True)
    canvas.drawDRRect(
        skia.RRect.MakeRect(box.makeOutset(60, 60)),
        skia.RRect.MakeRectXY(box.makeOffset(0, 3), 18, 18),
        skia.Paint(
            AntiAlias=True, Color=skia.Color(0, 0, 0, 0x66),
            MaskFilter=skia.MaskFilter.MakeBlur(skia.kNormal_BlurStyle, 6),
        ),
    )
    canvas.restore()
    canvas.drawDRRect(
        skia.RRect.MakeRectXY(box, 18, 18),
        skia.RRect.MakeRectXY(box.makeInset(2, 2), 16, 16),
        skia.Paint(AntiAlias=True, Color=skia.Color(0x0E, 0x45, 0x4E)),
    )
    return surface.toarray(colorType=skia.kRGBA_8888_ColorType)


def test_pictures_agree() -> None:
    """What is timed is the same picture: else the ratio would mean nothing."""
    mine = ours().astype(float)
    theirs = skias().astype(float)
    theirs[:, :, :3] *= theirs[:, :, 3:] / 255
    assert np.abs(mine - theirs).mean() < 0.5


@pytest.mark.parametrize("draw", [ours, skias], ids=["mektel", "skia"])
def test_cold_render(benchmark, draw) -> None:
    benchmark.group = "cold render 640×304"
    benchmark.pedantic(draw, rounds=60, warmup_rounds=5)
