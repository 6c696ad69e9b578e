"""Pixels: blur, gradients, lines, text, and whole looks against independent ways to draw them."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from PIL import Image, ImageDraw, ImageFont
from scipy.ndimage import distance_transform_edt, gaussian_filter

from mektel.core.kit import (
    Control,
    ControlOutline,
    Fill,
    Join,
    Kit,
    Label,
    Line,
    Shadow,
    Stop,
    edit,
)
from mektel.core.look import GroupLook, Look, Margins, resolve, shared_margins
from mektel.core.look.outlines import control_outline
from mektel.core.paint import on_backdrop, render, render_layer
from mektel.core.paint.alike import alike_columns
from mektel.core.paint.blur import blurred_coverage
from mektel.core.remember import unkept
from mektel.core.shape import coverage, outline_for, polygon_coverage, polygons
from mektel.core.shape.stroke import stroke_coverage
from mektel.core.stopping import StoppedError, while_wanted
from mektel.core.text import font_file, shape_line


def control(*layers: object, size: tuple[float, float] = (120, 40), **body: object) -> Control:
    return Control(
        id="x", name="X", text="Ferry", size=size, outline=ControlOutline(**body),  # type: ignore[arg-type]
        layers=layers,  # type: ignore[arg-type]
    )


def picture(made: Control, scale: float = 1, margin: int = 20, flags: tuple[str, ...] = ()):
    room = Margins(margin, margin, margin, margin)
    return render(resolve(Kit(controls=(made,)), made, flags), scale, room).rgba


@pytest.mark.parametrize("sigma", [0.8, 3.0, 11.0])
@pytest.mark.parametrize("form", ["box", "capsule", "ellipse"])
def test_the_blur_is_a_gaussian_of_the_outline(form: str, sigma: float) -> None:
    outline = outline_for(form, (6, 18, 0, 10), 90, 44).moved(50.3, 46.6)
    fine = 4
    sharp = coverage(outline.scaled(fine), 192 * fine, 140 * fine).astype(float)
    expected = gaussian_filter(sharp, sigma * fine, mode="constant", truncate=6)
    expected, sharp = (a.reshape(140, fine, 192, fine).mean(axis=(1, 3)) for a in (expected, sharp))
    found = blurred_coverage(outline, sigma, 192, 140)
    assert np.abs(found - expected).max() < 0.012
    assert np.abs(found - expected).mean() < 0.0015
    assert found.sum() == pytest.approx(sharp.sum(), rel=0.01)


@pytest.mark.parametrize("angle", [0, 90, 180, 37, 215.5])
def test_a_gradient_runs_as_css_says(angle: float) -> None:
    stops = (Stop(position=0.1, colour="#FF000080"), Stop(position=0.6, colour="#0000FF"),
             Stop(position=0.9, colour="#00FF00"))
    made = control(Fill(id="f", name="F", style="linear", direction=angle, stops=stops),
                   corners=(0, 0, 0, 0))
    found = picture(made, 1, 0)
    turn = np.radians(angle)
    length = abs(120 * np.sin(turn)) + abs(40 * np.cos(turn))
    y, x = np.mgrid[0:40, 0:120] + 0.5
    share = ((x - 60) * np.sin(turn) - (y - 20) * np.cos(turn)) / length + 0.5
    premultiplied = np.array([[128 / 255 * 255, 0, 0, 128], [0, 0, 255, 255], [0, 255, 0, 255]])
    for channel in range(4):
        expected = np.interp(share, [0.1, 0.6, 0.9], premultiplied[:, channel])
        assert np.abs(found[:, :, channel] - expected).max() <= 1


@pytest.mark.parametrize(("place", "gap", "outer", "inner"), [
    ("inside", 0, 0, -4), ("centre", 0, 2, -2), ("outside", 0, 4, 0), ("outside", 3, 7, 3),
])
def test_a_line_lies_where_it_is_placed(place: str, gap: float, outer: int, inner: int) -> None:
    made = control(Line(id="l", name="L", place=place, gap=gap, width=4, colour="#FF0000"),
                   corners=(0, 0, 0, 0))
    alpha = picture(made)[40, :, 3]
    drawn = np.flatnonzero(alpha == 255)
    expected = [*range(20 - outer, 20 - inner), *range(140 + inner, 140 + outer)]
    assert drawn.tolist() == expected


def test_layers_lie_over_each_other_as_source_over_says() -> None:
    made = control(
        Fill(id="a", name="A", colour="#FF000080"), Fill(id="b", name="B", colour="#0000FF40"),
        corners=(0, 0, 0, 0),
    )
    red, blue = 128 / 255, 64 / 255
    expected = [red * (1 - blue) * 255, 0, blue * 255, (blue + red * (1 - blue)) * 255]
    assert np.abs(picture(made, 1, 0)[20, 60] - np.array(expected)).max() <= 1
    half = control(Fill(id="a", name="A", colour="#FF0000", opacity=0.25))
    assert picture(half, 1, 0)[20, 60].tolist() == [64, 0, 0, 64]
    gone = control(Fill(id="a", name="A", colour="#FF0000", visible=False))
    assert not picture(gone).any()


def test_a_shadow_shows_only_outside_unless_an_opaque_face_hides_it_anyway() -> None:
    shadow = Shadow(id="s", name="S", colour="#000000", offset=(0, 0), blur=8)
    alone = picture(control(shadow))
    assert alone[40, 80, 3] == 0 and alone[40, 16, 3] > 40
    glassy = picture(control(shadow, Fill(id="f", name="F", colour="#FFFFFF10")))
    assert glassy[40, 80, 3] == 16
    opaque = control(shadow, Fill(id="f", name="F", colour="#FFFFFF"))
    assert resolve(Kit(), opaque).layers[0].cut is None  # type: ignore[union-attr]
    hard = picture(control(Shadow(id="s", name="S", colour="#000000", offset=(0, 7), blur=0),
                           corners=(0, 0, 0, 0)))
    assert (hard[60:67, 21:139, 3] == 255).all() and not hard[68:].any()


@pytest.mark.parametrize("scale", [1, 2, 3, 1.5])
def test_one_layer_at_a_time_adds_up_to_the_whole(scale: float, demo_kit: Kit) -> None:
    made = demo_kit.control("half")
    look, room = resolve(demo_kit, made), shared_margins(demo_kit, made)
    whole = render(look, scale, room)
    stack = np.zeros(whole.rgba.shape, float)
    for layer in look.layers:
        one = render_layer(look, layer.id, scale, room).rgba.astype(float)
        stack = one + stack * (1 - one[:, :, 3:] / 255)
    assert np.abs(stack - whole.rgba).max() <= 3
    assert whole.box[2:] == (116 * scale, 52 * scale)


def test_every_state_has_equal_bounds_and_nothing_is_cut(demo_kit: Kit) -> None:
    for made in demo_kit.controls:
        room = shared_margins(demo_kit, made)
        for flags in ((), ("hover",), ("hover", "pressed"), ("focus",), ("disabled",)):
            more = Margins(*(side + 6 for side in vars(room).values()))
            alpha = render(resolve(demo_kit, made, flags), 2, more).rgba[:, :, 3].copy()
            alpha[12:-12, 12:-12] = 0
            assert alpha.max() <= 1, (made.id, flags)


@pytest.mark.parametrize("size", [13.0, 17.5, 40.0])
def test_text_covers_what_freetype_says_it_covers(size: float) -> None:
    """Against FreeType at eight times the size, where its hinting no longer shows."""
    line = shape_line("Cast off, Äg", "Hanken Grotesk", 600, size)
    width, height = int(line.advance) + 8, int(line.height) + 8
    placed = [contour + np.array((4.0, 4.0 + line.ascent)) for contour in line.contours]
    found = polygon_coverage(placed, width, height)
    big = Image.new("L", (width * 8, height * 8))
    font = ImageFont.truetype(str(font_file("Hanken Grotesk", 600)), size * 8)
    ImageDraw.Draw(big).text((32, 32 + line.ascent * 8), "Cast off, Äg", 255, font, anchor="ls")
    expected = np.asarray(big).reshape(height, 8, width, 8).mean(axis=(1, 3)) / 255
    # Pillow does not join ff into the font's ligature and rounds advances; areas still agree.
    assert found.sum() == pytest.approx(expected.sum(), rel=0.02)
    first = found[:, : int(size * 1.8)]
    assert np.abs(first - expected[:, : int(size * 1.8)]).mean() < 0.012
    assert line.missing == () and shape_line("渡", "Hanken Grotesk", 600, size).missing == ("渡",)


def test_a_polygon_cut_by_the_picture_is_filled_to_its_edges() -> None:
    square = np.array([[-5.0, -5.0], [6.5, -5.0], [6.5, 3.25], [-5.0, 3.25]])
    found = polygon_coverage([square], 8, 5)
    assert found[0].tolist() == [1] * 6 + [0.5, 0]
    assert found[3].tolist() == pytest.approx([0.25] * 6 + [0.125, 0])
    assert not found[4].any() and not polygon_coverage([], 3, 3).any()


def test_labels_stand_in_the_middle_and_overflow_on_both_sides() -> None:
    label = Label(id="l", name="L", colour="#000000", size=18)
    for align, first in (("start", 16), ("centre", None), ("end", None)):
        made = control(label.model_copy(update={"align": align}))
        columns = np.flatnonzero(picture(made, 1, 0)[:, :, 3].max(axis=0) > 40)
        if first is not None:
            assert abs(columns[0] - first) <= 2
        elif align == "centre":
            assert abs((columns[0] + columns[-1] + 1) / 2 - 60) <= 1
        else:
            assert abs(columns[-1] + 1 - 104) <= 2
    tight = control(label, size=(30, 40))
    rgba = picture(tight)
    columns = np.flatnonzero(rgba[:, :, 3].max(axis=0) > 40)
    assert abs((columns[0] + columns[-1] + 1) / 2 - 35) <= 1.5
    kit = edit.set_field(Kit(controls=(tight,)), "x", "text", "")
    assert not picture(kit.control("x")).any()


def test_a_backdrop_goes_beneath() -> None:
    half = np.array([[[64, 0, 0, 128], [0, 0, 0, 0]]], np.uint8)
    laid = on_backdrop(half, (0.0, 0.0, 1.0, 1.0))
    assert laid.tolist() == [[[64, 0, 127, 255], [0, 0, 255, 255]]]


@pytest.mark.parametrize("place", ["inside", "outside"])
def test_a_picture_may_hold_only_part_of_a_ring(place: str) -> None:
    ring = Line(id="l", name="L", width=9, gap=-3, place=place)  # type: ignore[arg-type]
    for move in ((0, 0), (-30, -12), (31, 13), (0, 70)):
        made = control(ring, corners=(12,) * 4, offset=move)
        whole = picture(made, margin=90)
        assert np.array_equal(picture(made, margin=0), whole[90:-90, 90:-90])


@pytest.mark.parametrize("scale", [1, 2])
def test_what_is_turned_covers_its_true_area(scale: int) -> None:
    made = control(
        Fill(id="f", name="F", colour="#FFFFFF", rotate=20, scale=(0.8, 1.1), pivot=(0.3, 0.6)),
        corners=(12,) * 4,
    )
    look = resolve(Kit(controls=(made,)), made)
    alpha = render(look, scale, Margins(20, 20, 20, 20)).rgba[:, :, 3].astype(float)
    group = look.layers[0]
    corners = np.array(polygons(group.members[0].outline)[0])
    a, b, c, d, e, f = group.matrix
    x, y = a * corners[:, 0] + c * corners[:, 1] + e, b * corners[:, 0] + d * corners[:, 1] + f
    turned = np.stack([x + 20, y + 20], axis=1) * scale
    away = np.abs(alpha - polygon_coverage([turned], alpha.shape[1], alpha.shape[0]) * 255)
    assert away.mean() < 0.1 and np.percentile(away, 99.9) < 2


@pytest.mark.parametrize("form", ["superellipse", "polygon", "star", "cut", "notch", "path"])
def test_forms_grow_and_blur_like_their_pixels(form: str) -> None:
    """Growing is by distance, and a blurred form is its Gaussian, whatever the form."""
    body = ControlOutline(form=form, corners=(12,) * 4, rounding=5, points=6)  # type: ignore[arg-type]
    outline = control_outline(body, 90, 60, (90, 60)).moved(30, 30)
    mask = coverage(outline, 150, 120)
    assert 0.4 < mask.sum() / (90 * 60) <= 1
    soft = blurred_coverage(outline, 6, 150, 120)
    assert np.abs(soft - gaussian_filter(mask, 6, mode="constant")).max() < 0.01
    grown, shrunk = coverage(outline.grown(3), 150, 120), coverage(outline.grown(-3), 150, 120)
    inner = distance_transform_edt(mask > 0.5)
    outer = distance_transform_edt(mask < 0.5)
    assert (grown[outer < 1.5] > 0.99).all() and (grown[outer > 4.5] < 0.01).all()
    assert (shrunk[inner > 4.5] > 0.99).all() and (shrunk[inner < 1.5] < 0.01).all()
    # The picture's own border is no edge, and an edge beyond it still counts.
    for by in (3, -3):
        close = coverage(outline.moved(-30, -30).grown(by), 90, 60)
        far = coverage(outline.moved(10, 10).grown(by), 170, 140)
        assert np.abs(close - far[40:100, 40:130]).max() < 1e-5


def test_joined_outlines_are_what_sets_say() -> None:
    def area(how: str, softness: float = 0) -> float:
        join = Join(operation=how, softness=softness, width=(0.5, 0), height=(0.5, 0), x=(0.75, 0),
                    y=(0.25, 0), corners=(0,) * 4)  # type: ignore[arg-type]
        body = ControlOutline(corners=(0,) * 4, joins=(join,))
        outline = control_outline(body, 80, 40, (80, 40)).moved(10, 10)
        assert outline.contains(15, 15) != (how == "intersection")
        return float(coverage(outline, 140, 60).sum())

    whole, half = 80 * 40, 20 * 20  # half of the other box lies inside
    assert area("union") == pytest.approx(whole + half, rel=0.002)
    assert area("intersection") == pytest.approx(half, rel=0.01)
    assert area("difference") == pytest.approx(whole - half, rel=0.002)
    assert area("smooth", 12) > area("union") + 10
    assert area("smooth", 0) == pytest.approx(whole + half, rel=0.002)


@pytest.mark.parametrize("scale", [1, 1.3, 2])
def test_columns_that_are_alike_are_as_if_each_were_drawn(scale: float, demo_kit: Kit) -> None:
    odd = control(Shadow(id="s", name="S", blur=9, offset=(7, 3), colour="#22334480"),
                  Fill(id="f", name="F", colour="#3AA2A8"),
                  Line(id="l", name="L", width=3, place="outside", colour="#0E454E90"),
                  size=(311, 60), corners=(4, 30, 12, 0))
    kit = edit.add_control(demo_kit, odd)
    spread = 0
    for made in kit.controls:
        margins = shared_margins(kit, made)
        for state in ("rest", "pressed", "disabled"):
            look = resolve(kit, made, () if state == "rest" else {state})
            if look.sees_behind:
                continue
            found = render(look, scale, margins)
            # On something, though it be nothing, every column is drawn.
            bare = np.zeros_like(found.rgba)
            expected = render(look, scale, margins, bare).rgba.astype(int)
            assert np.abs(found.rgba - expected).max() <= 1
            assert np.abs(found.rgba - expected).mean() < 0.01
            spread += alike_columns(look.layers, scale, margins.left * scale,
                                    found.size) is not None
    assert spread > 10


def in_group(look: Look, matrix: tuple[float, ...]) -> Look:
    return replace(look, layers=(GroupLook("all", look.layers, 1.0, matrix),))


@pytest.mark.parametrize("name", ["board", "horn", "fog-bell", "pennant"])
def test_what_only_changes_its_size_is_drawn_as_it_is(name: str, demo_kit: Kit) -> None:
    """Half as large in a group at 2× is what it is at 1×, pixel by pixel, and not resampled."""
    look = resolve(demo_kit, demo_kit.control(name))
    plain = render(look, 1.0, Margins(20, 20, 20, 20)).rgba
    halved = render(in_group(look, (0.5, 0, 0, 0.5, 0, 0)), 2.0, Margins(10, 10, 10, 10)).rgba
    high, wide = plain.shape[:2]
    assert np.abs(halved[:high, :wide].astype(int) - plain).max() <= 1
    # And somewhere else by whole pixels: the same pixels there.
    moved = render(in_group(look, (1, 0, 0, 1, 3, 2)), 1.0, Margins(20, 20, 20, 20)).rgba
    assert np.abs(moved[2:, 3:].astype(int) - plain[:-2, :-3]).max() <= 1


@pytest.mark.parametrize("name", ["board", "pennant", "fare"])
def test_a_turned_frame_is_nearly_the_still_and_comes_again_by_its_matrix(
    name: str, demo_kit: Kit
) -> None:
    look, room = resolve(demo_kit, demo_kit.control(name)), Margins(30, 30, 30, 30)
    for degrees in (0.0, 3.0, 40.0):
        c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
        turned = in_group(look, (c, s, -s, c, 2.0, 1.0))
        still = render(turned, 2.0, room).rgba.astype(int)
        with unkept():
            first = render(turned, 2.0, room).rgba
            assert (render(turned, 2.0, room).rgba == first).all()
        assert np.abs(still - first).mean() < 0.3


def test_work_that_nobody_waits_for_ends_at_its_next_picture(demo_kit: Kit) -> None:
    look, left = resolve(demo_kit, demo_kit.control("board")), [2]

    def wanted() -> bool:
        left[0] -= 1
        return left[0] >= 0

    with while_wanted(wanted):
        render(look)
        render(look, 2)
        with pytest.raises(StoppedError):
            render(look, 3)
    render(look, 3)  # and only there


@pytest.mark.parametrize("thick", [0.7, 3.0, 40.0])
def test_a_curve_of_many_short_lines_is_stroked_like_its_long_ones(thick: float) -> None:
    corners = np.array([(12.0, 15.0), (88.0, 22.0), (60.0, 71.0), (-30.0, 64.0)])
    many = np.concatenate([
        np.linspace(a, b, 97)[:-1] for a, b in pairwise(corners)] + [corners[-1:]])
    few, short = (stroke_coverage([line], thick, 100, 80) for line in (corners, many))
    assert np.abs(few - short).max() < 2e-3
    assert few.max() > 0.5
