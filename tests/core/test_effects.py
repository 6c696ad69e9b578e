"""Bevels, gloss, glass, pictures, icons and lights: what each promises, in pixels."""

from __future__ import annotations

import base64
import io

import numpy as np
import pytest
from PIL import Image

from mektel.core.kit import (
    Asset,
    AssetError,
    Bevel,
    Control,
    ControlOutline,
    Fill,
    Gloss,
    Glow,
    Icon,
    InnerGlow,
    Kit,
    Lens,
    Light,
    Line,
    Picture,
    Stop,
    Symbol,
    pixels_from_bytes,
)
from mektel.core.look import Margins, resolve, shared_margins
from mektel.core.look.paints import Gradient, in_oklab, to_oklab
from mektel.core.look.resolve import look_of
from mektel.core.motion import change
from mektel.core.paint import render
from mektel.core.paint.gradient import planes_of
from mektel.core.paint.masks import masks
from mektel.core.remember import unkept

FACE = Fill(id="face", name="Face", colour="#808080")
NONE = Margins()


def pixels(*layers: object, size: tuple[int, int] = (60, 40), scale: float = 1,
           assets: tuple[Asset, ...] = (), behind: np.ndarray | None = None, **body: object
           ) -> np.ndarray:
    control = Control(
        id="x", name="X", size=size, layers=layers,  # type: ignore[arg-type]
        outline=ControlOutline(**{"corners": (10,) * 4, **body}),  # type: ignore[arg-type]
    )
    kit = Kit(controls=(control,), assets=assets)
    return render(resolve(kit, control), scale, NONE, behind).rgba.astype(int)


def asset(array: np.ndarray) -> Asset:
    out = io.BytesIO()
    Image.fromarray(array).save(out, "PNG")
    return Asset(id="art", name="Art", png=base64.b64encode(out.getvalue()).decode())


# Bevel, gloss, glow

@pytest.mark.parametrize(("light", "bright", "dark"), [
    (0, (1, 30), (38, 30)), (90, (20, 58), (20, 1)), (180, (38, 30), (1, 30)),
    (270, (20, 1), (20, 58)),
])
def test_a_bevel_is_bright_towards_the_light(
    light: float, bright: tuple[int, int], dark: tuple[int, int]
) -> None:
    bevel = Bevel(id="b", name="B", light=light, depth=4, light_colour="#FFFFFF",
                  shade_colour="#000000")
    found = pixels(FACE, bevel)[:, :, 0]
    assert found[bright] > 150 and found[dark] < 106 and found[20, 30] == 128


def test_a_bevels_turn_by_half_swaps_light_and_shade() -> None:
    def lit(light: float) -> np.ndarray:
        return pixels(FACE, Bevel(id="b", name="B", light=light, depth=5, softness=0.5,
                                  light_colour="#FFFFFF", shade_colour="#000000"))[:, :, 0]

    assert np.abs(lit(30)[::-1, ::-1] - lit(210)).max() <= 1


def test_gloss_lies_in_the_upper_part_and_fades_down() -> None:
    gloss = Gloss(id="g", name="G", colour="#FFFFFF80", height=0.5, bulge=0, gap=4, fade=0)
    column = pixels(FACE, gloss)[:, 30, 0]
    assert column[2] == 128 and column[5] > 180 and (np.diff(column[5:19]) <= 0).all()
    assert (column[21:] == 128).all()
    curved = pixels(FACE, gloss.model_copy(update={"bulge": 0.3, "fade": 1.0}))[:, :, 0]
    assert (curved[:, 30] > 130).sum() > (curved[:, 8] > 130).sum()  # lower in the middle
    sagging = pixels(FACE, gloss.model_copy(update={"bulge": -0.3, "fade": 1.0}))[:, :, 0]
    assert (sagging[:, 30] > 130).sum() < (sagging[:, 8] > 130).sum()


def test_glows_lie_outside_and_inside() -> None:
    control = Control(id="x", name="X", size=(60, 40),
                                              outline=ControlOutline(corners=(10,) * 4), layers=(
        Glow(id="g", name="G", colour="#FFCC00", blur=12, blend="normal"),
        InnerGlow(id="i", name="I", colour="#0000FF", blur=12, blend="normal")))
    look = resolve(Kit(controls=(control,)), control)
    found = render(look, 1, Margins(20, 20, 20, 20)).rgba.astype(int)
    outside, inside = found[16, 50], found[21, 50]
    assert outside[0] > 60 and outside[2] == 0 and inside[2] > 60 and inside[0] == 0
    assert found[40, 50, 3] < inside[3] / 2  # it fades inward
    assert look.margins().left == 18


# Glass

def stripes() -> np.ndarray:
    behind = np.full((40, 60, 4), 255, np.uint8)
    behind[:, ::6, :3] = 0
    return behind


def test_glass_without_effect_changes_nothing() -> None:
    clear = Lens(id="l", name="L", bend=0, blur=0, colour="#FFFFFF00", rim=0, fringe=0)
    assert np.abs(pixels(clear, behind=stripes()) - stripes()).max() <= 1


def test_glass_bends_near_its_edge_only() -> None:
    lens = Lens(id="l", name="L", bend=6, edge_zone=8, blur=0, colour="#FFFFFF00", rim=0, fringe=0)
    found, before = pixels(lens, behind=stripes()), stripes()
    assert np.abs(found[15:25, 12:48] - before[15:25, 12:48]).max() <= 1
    assert np.abs(found[18:22, 1:6] - before[18:22, 1:6]).max() > 60
    flat = np.full((40, 60, 4), 200, np.uint8)
    flat[:, :, 3] = 255
    assert np.abs(pixels(lens, behind=flat) - flat).max() <= 1  # one colour cannot be bent


def test_glass_blurs_tints_and_fringes() -> None:
    blurred = pixels(Lens(id="l", name="L", bend=0, blur=16, colour="#FFFFFF00", rim=0, fringe=0),
                     behind=stripes())
    assert blurred[20, 15:45, 0].std() < 3
    tinted = pixels(Lens(id="l", name="L", bend=0, blur=0, colour="#FF000080", rim=0, fringe=0),
                    behind=stripes())
    assert tinted[20, 30, 1] < 130 and tinted[20, 31, 0] == 255
    fringed = pixels(Lens(id="l", name="L", bend=6, edge_zone=10, blur=0, colour="#FFFFFF00",
                          rim=0, fringe=3), behind=stripes())
    assert np.abs(fringed[20, 1:8, 0] - fringed[20, 1:8, 2]).max() > 40
    lit = pixels(Lens(id="l", name="L", bend=0, blur=0, colour="#FFFFFF00", rim=2,
                      rim_colour="#FFFFFF", light=0), behind=np.zeros((40, 60, 4), np.uint8))
    assert lit[0:2, 30, 0].max() > 150 > lit[38:, 30, 0].max() > lit[20, 0:2, 0].max()


# Pictures

def art() -> np.ndarray:
    found = np.zeros((12, 16, 4), np.uint8)
    found[:, :, 3] = 255
    found[:4, :4, 0] = found[-4:, -4:, 1] = 255
    return found


def laid(fit: str, size: tuple[int, int], **values: object) -> np.ndarray:
    layer = Picture(id="p", name="P", picture="art", fit=fit, **values)  # type: ignore[arg-type]
    return pixels(layer, size=size, assets=(asset(art()),), corners=(0,) * 4)


def test_glass_that_moves_by_parts_of_a_pixel_is_glass(demo_kit: Kit) -> None:
    """Frames of a sinking control, drawn as what is shown once, beside the same drawn to stay."""
    fog = demo_kit.control("fog")
    motion = change(demo_kit, fog, frozenset({"hover"}), frozenset({"hover", "pressed"}))
    margins = shared_margins(demo_kit, fog)
    for share in (0.2, 0.45, 0.8):
        look = look_of(motion.at(motion.arrives * share))
        stays = render(look, 1.5, margins).rgba.astype(int)
        masks.forget()
        with unkept():
            passes = render(look, 1.5, margins).rgba.astype(int)
        off = np.abs(stays - passes)
        assert off.mean() < 0.05 and off.max() <= 12, (share, off.mean(), off.max())


def test_a_picture_at_its_own_size_is_itself() -> None:
    for fit in ("stretch", "fit", "tile", "slices"):
        found = laid(fit, (16, 12), slices=(4, 4, 4, 4))
        assert np.abs(found - art()).max() <= 1, fit


def test_pictures_stretch_fit_tile_and_keep_corners() -> None:
    stretched = laid("stretch", (32, 24))
    assert stretched[3, 3, 0] == 255 and stretched[12, 16, :3].max() == 0
    fitted = laid("fit", (64, 24))
    assert fitted[:, :15, 3].max() == 0 and fitted[12, 32, 3] == 255
    tiled = laid("tile", (48, 24))
    assert np.abs(tiled[:12, 16:32] - art()).max() <= 1
    sliced = laid("slices", (60, 40), slices=(4, 4, 4, 4))
    assert np.abs(sliced[:4, :4] - art()[:4, :4]).max() <= 1
    assert np.abs(sliced[-4:, -4:] - art()[-4:, -4:]).max() <= 1
    dense = laid("slices", (60, 40), slices=(4, 4, 4, 4), density=2)
    assert dense[1, 1, 0] == 255 and dense[1, 8, 0] < 20  # twice as fine: half as large


def test_pictures_take_tint_saturation_brightness_and_an_edge() -> None:
    grey = laid("stretch", (16, 12), saturation=0)[2, 2]
    assert grey[0] == grey[1] == grey[2] == round(0.213 * 255)
    assert laid("stretch", (16, 12), brightness=0.5)[2, 2, 0] in (127, 128)
    assert laid("stretch", (16, 12), tint=1, colour="#00FF00")[2, 2].tolist() == [0, 255, 0, 255]
    round_art = art()
    round_art[:, :8, 3] = 0
    layer = Picture(id="p", name="P", picture="art", edge=3, edge_colour="#0000FF")
    found = pixels(layer, size=(16, 12), assets=(asset(round_art),))
    assert found[6, 6, 2] > 200 and found[6, 3, 3] == 0


@pytest.mark.parametrize("content", [b"", b"GIF89a", b"\x89PNG\r\n\x1a\n" + b"x" * 40])
def test_what_is_no_picture_is_refused(content: bytes) -> None:
    with pytest.raises(AssetError, match="PNG"):
        pixels_from_bytes(content)


# Drawings

def test_an_icon_has_its_size_place_and_thickness() -> None:
    def ink(**values: object) -> np.ndarray:
        return pixels(Icon(id="i", name="I", icon="circle", colour="#FFFFFF", **values),
                      size=(80, 60))[:, :, 3]  # type: ignore[arg-type]

    rows, columns = np.nonzero(ink(size=24) > 128)
    assert (columns.min(), columns.max()) == (29, 50) and (rows.min(), rows.max()) == (19, 40)
    thick, thin = (ink(size=24, thickness=t).sum() for t in (2, 1))
    assert thick / thin == pytest.approx(2, rel=0.03)
    moved = ink(size=24, position=(0.25, 0.5))
    assert np.abs(moved[:, :60] - ink(size=24)[:, 20:]).max() <= 1


def test_symbols_repeat_with_a_gap() -> None:
    def ink(count: int) -> np.ndarray:
        return pixels(Symbol(id="s", name="S", symbol="stop", size=24, repeat=count, gap=4,
                             colour="#FFFFFF"), size=(100, 40))[20, :, 3]

    edges = np.flatnonzero(np.diff((ink(3) > 128).astype(int)))
    assert len(edges) == 6 and set(np.diff(edges)[::2]) == {14} and set(np.diff(edges)[1::2]) == {4}
    assert ink(1).sum() * 3 == pytest.approx(ink(3).sum(), rel=0.01)


def test_a_light_glows_only_when_lit() -> None:
    def lamp(**values: object) -> np.ndarray:
        light = Light(id="l", name="L", size=16, position=(0.5, 0.5), colour="#00FF00",
                      **values)  # type: ignore[arg-type]
        return pixels(light, size=(60, 60))

    lit, off = lamp(glow=10), lamp(glow=10, lit=False)
    assert lit[30, 18, 1] > 20 and off[30, 18, 3] == 0
    assert lit[30, 30, 1] > off[30, 30, 1] + 40 and off[30, 30, 1] > off[30, 30, 0]


# Gradients

def test_oklab_mixes_as_its_definition_says() -> None:
    from coloraide import Color

    for first, last in (("#FFD600", "#000080"), ("#FF0000", "#0000FF"), ("#FFFFFF", "#237A82")):
        ends = [(*Color(colour)[:3], 1.0) for colour in (first, last)]
        stops = in_oklab(((0.0, ends[0]), (1.0, ends[1])))
        places = [at for at, _ in stops]
        # Between stops, too: there are as many as it takes.
        for at in np.linspace(0, 1, 60):
            mixed = Color(first).mix(last, at, space="oklab").convert("srgb")
            ours = [np.interp(at, places, [colour[n] for _, colour in stops]) for n in range(3)]
            assert np.abs(np.array(ours) - np.clip(mixed[:3], 0, 1)).max() < 1.5 / 255, (at, first)
    light, a, b = to_oklab((1.0, 1.0, 1.0, 1.0))
    assert light == pytest.approx(1, abs=1e-4) and abs(a) < 1e-4 and abs(b) < 1e-4


@pytest.mark.parametrize(("kind", "geometry"), [
    ("linear", (10, 0, 30, 0)), ("radial", (40, 1, 20, 20)), ("conic", (40, 1, 0)),
])
def test_gradients_repeat_and_mirror(kind: str, geometry: tuple[float, ...]) -> None:
    stops = ((0.0, (0.0, 0.0, 0.0, 1.0)), (0.25 if kind == "conic" else 1.0, (1.0,) * 4))
    rows = {
        spread: planes_of(Gradient(kind, stops, geometry, spread), 80, 2)[0]
        for spread in ("pad", "repeat", "mirror")
    }
    if kind == "linear":
        assert np.allclose(rows["repeat"][0, :20], rows["repeat"][0, 20:40], atol=1e-6)
        assert np.allclose(rows["mirror"][0, 10:30], rows["mirror"][0, 30:50][::-1], atol=1e-6)
        assert (rows["pad"][0, :10] == 0).all() and (rows["pad"][0, 30:] == 1).all()
    else:
        assert rows["repeat"].min() < 0.1 and not np.allclose(rows["repeat"], rows["mirror"])


def test_a_dashed_line_covers_its_share() -> None:
    line = Line(id="l", name="L", width=4, colour="#FFFFFF")
    whole = pixels(line, size=(120, 80), corners=(20,) * 4)[:, :, 3].sum()
    dashed = pixels(line.model_copy(update={"dash": 9.0, "dash_gap": 3.0}), size=(120, 80),
                    corners=(20,) * 4)[:, :, 3]
    assert dashed.sum() / whole == pytest.approx(0.75, abs=0.02)
    painted = line.model_copy(update={"style": "linear", "direction": 90.0, "stops": (
        Stop(position=0, colour="#FF0000"), Stop(position=1, colour="#0000FF"))})
    found = pixels(painted, size=(120, 80), corners=(0,) * 4)
    assert found[40, 1, 0] > 240 and found[40, 118, 2] > 240
