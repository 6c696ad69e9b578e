"""Distance fields and coverage, against brute force."""

from __future__ import annotations

import importlib

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from mektel.core.paint.masks import distances
from mektel.core.remember import unkept
from mektel.core.shape import (
    Outline,
    coverage,
    from_points,
    outline_for,
    signed_distance,
)

OUTLINES = {
    "sharp box": outline_for("box", (0, 0, 0, 0), 40, 22),
    "mixed corners": outline_for("box", (3, 12, 0, 7), 41.5, 26.25),
    "capsule": outline_for("capsule", (0, 0, 0, 0), 60, 24),
    "ellipse": outline_for("ellipse", (0, 0, 0, 0), 64, 20),
    "circle": outline_for("ellipse", (0, 0, 0, 0), 30, 30),
    "grown ellipse": outline_for("ellipse", (0, 0, 0, 0), 50, 30).grown(4),
}


def boundary(outline: Outline, count: int = 3000) -> np.ndarray:
    """Points along the outline, shape (n, 2), by its own definition: arcs and straight edges."""
    turn = np.linspace(0, np.pi / 2, count // 4)
    w, h = outline.width, outline.height
    points = []
    for at, (rx, ry) in enumerate(zip(outline.rx, outline.ry, strict=True)):
        side, up = (-1 if at in (0, 3) else 1), (-1 if at in (0, 1) else 1)
        cx = rx if side < 0 else w - rx
        cy = ry if up < 0 else h - ry
        points.append(np.stack([cx + side * rx * np.cos(turn), cy + up * ry * np.sin(turn)], 1))
    corners = [points[0][-1], points[1][-1], points[1][0], points[2][0],
               points[2][-1], points[3][-1], points[3][0], points[0][0]]
    share = np.linspace(0, 1, count // 4)[:, None]
    for one, two in zip(corners[0::2], corners[1::2], strict=True):
        points.append(one + (two - one) * share)
    return np.concatenate(points) + np.array((outline.x, outline.y))


@pytest.mark.parametrize("name", OUTLINES)
def test_distance_is_that_to_the_nearest_point_of_the_outline(name: str) -> None:
    outline = OUTLINES[name].moved(7.3, 5.1)
    rng = np.random.default_rng(5)
    spots = rng.uniform((0, 0), (outline.width + 16, outline.height + 12), (400, 2))
    near = np.linalg.norm(spots[:, None] - boundary(outline)[None], axis=2).min(axis=1)
    found = signed_distance(outline, spots[:, 0], spots[:, 1])
    assert np.abs(np.abs(found) - near).max() < 0.06
    inside = [outline.contains(x, y) for x, y in spots]
    clear = np.abs(found) > 0.05
    assert ((found < 0) == inside)[clear].all()


@pytest.mark.parametrize("name", OUTLINES)
@pytest.mark.parametrize("scale", [1.0, 2.0])
def test_coverage_is_the_covered_area_of_each_pixel(name: str, scale: float) -> None:
    outline = OUTLINES[name].moved(3.4, 2.7).scaled(scale)
    width, height = round(outline.width + 10 * scale), round(outline.height + 8 * scale)
    fine = 12
    y, x = (np.mgrid[0 : height * fine, 0 : width * fine] + 0.5) / fine
    hard = signed_distance(outline, x, y) < 0
    area = hard.reshape(height, fine, width, fine).mean(axis=(1, 3))
    found = coverage(outline, width, height)
    assert np.abs(found - area).max() < 0.13
    assert np.abs(found - area).mean() < 0.003
    assert found.sum() == pytest.approx(area.sum(), rel=0.004)


@given(st.floats(-12, 12), st.sampled_from(sorted(OUTLINES)))
@settings(max_examples=80, deadline=None)
def test_growing_keeps_the_middle_and_never_turns_inside_out(by: float, name: str) -> None:
    outline = OUTLINES[name]
    grown = outline.grown(by)
    assert grown.x + grown.width / 2 == pytest.approx(outline.x + outline.width / 2)
    assert grown.width == pytest.approx(max(0, outline.width + 2 * by))
    for a, b, length in ((grown.rx[0], grown.rx[1], grown.width),
                         (grown.ry[1], grown.ry[2], grown.height)):
        assert a >= 0 and b >= 0 and a + b <= length + 1e-9
    for before, after in zip(outline.rx, grown.rx, strict=True):
        assert (before == 0) <= (after == 0)  # a sharp corner stays sharp


def test_radii_that_overlap_are_scaled_down_together() -> None:
    outline = outline_for("box", (30, 30, 10, 10), 60, 30)
    assert outline.rx == pytest.approx((22.5, 22.5, 7.5, 7.5))
    # CSS Backgrounds 3: a radius of half the spread grows by 1 + (0.5 - 1)³ of it.
    grown = outline_for("box", (4, 4, 4, 4), 60, 30).grown(8)
    assert grown.rx[0] == pytest.approx(4 + 8 * 0.875)


@pytest.mark.parametrize("share", [0.5, 1.35, -0.3])
def test_an_edge_is_traced_as_if_every_point_were_looked_at(
    share: float, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Beyond two outlines, as a spring takes them, distances change by more than the way gone."""
    free = importlib.import_module("mektel.core.shape.free")
    turn = np.linspace(0, 2 * np.pi, 15, endpoint=False)
    star, flat = (np.stack([x + wide * round_ * np.cos(turn), y + high * round_ * np.sin(turn)], 1)
                  for x, y, wide, high, round_ in (
                      (40, 30, 38, 28, np.where(np.arange(15) % 2, 1, 0.4)), (70, 34, 30, 9, 1)))
    outline = free.FreeOutline((star.tobytes(),), joins=(
        free.Joined("between", share, free.FreeOutline((flat.tobytes(),))),))
    traced = free.polygons(outline)
    free.polygons.cache_clear()
    monkeypatch.setattr(free, "CELL", 1)
    assert traced and free.polygons(outline) == traced


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.floats(0.2, 1), st.floats(0.05, 1)), min_size=3, max_size=24),
       st.booleans(), st.tuples(st.floats(-2, 2), st.floats(-2, 2)))
def test_a_polygon_covers_as_much_as_its_area(
    spokes: list[tuple[float, float]], backwards: bool, by: tuple[float, float]
) -> None:
    """Any star round a middle, wherever it lies; the shoelace formula knows its area."""
    steps = np.array([turn for _, turn in spokes])
    steps *= 2 * np.pi / steps.sum()
    assume(steps.max() < 3)  # else it folds over itself
    turns, reach = np.cumsum(steps), np.array([30 * far for far, _ in spokes])
    ring = np.stack([40 + reach * np.cos(turns), 32 + reach * np.sin(turns)], axis=1) + by
    x, y = ring.T
    area = abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2
    cover = coverage(from_points([ring[::-1] if backwards else ring]), 80, 70)
    assert cover.min() >= 0 and cover.max() <= 1
    assert float(cover.sum(dtype=float)) == pytest.approx(area, abs=1e-3)


@pytest.mark.parametrize("by", [(0.0, 0.4), (0.5, 0.5), (0.93, 0.07), (-3.3, 2.75)])
def test_a_frames_distance_is_that_of_the_outline_where_it_is(by: tuple[float, float]) -> None:
    """One that moves by parts of a pixel is looked at once and moved: as near as makes no odds."""
    turns = np.linspace(0, 2 * np.pi, 160, endpoint=False)
    across, down = (np.sign(wave) * np.sqrt(np.abs(wave))
                    for wave in (np.cos(turns), np.sin(turns)))
    ring = np.stack([38 + 30 * across, 25 + 18 * down], axis=1)
    outline = from_points([ring]).moved(*by)
    exact = distances(outline, 80, 52, 9.0)
    with unkept():
        moved = distances(outline, 80, 52, 9.0)
    near, clear = np.abs(exact) < 7, np.abs(exact) > 0.1
    assert near.any() and np.abs(moved - exact)[near].max() < 0.08
    assert np.all(np.sign(moved[clear]) == np.sign(exact[clear]))
