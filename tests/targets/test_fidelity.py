"""Looks that CSS can describe, against headless Chromium drawing the same CSS, without text.

The bar: mean ≤ 0.35/255 and 99.9th percentile ≤ 12/255, at 1× and 2×. All cases of one density are
drawn on one page and photographed at once. Flat ellipses are not among them: there Chromium
itself is 29/255 from the true area (ours 4), so they are held against that, in test_shape.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from mektel.core.kit import Control, ControlOutline, Fill, InnerShadow, Kit, Line, Shadow, Stop
from mektel.core.look import Margins, resolve
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.targets import TARGETS
from mektel.targets.verify import verify
from tests.chromium import page_on, photograph
from tests.slices import count_of

ROOM = 36
PAGE_WIDTH = 1200


def fill(*stops: tuple[float, str], angle: float = 180) -> Fill:
    if len(stops) == 1:
        return Fill(id="fill", name="Fill", colour=stops[0][1])
    return Fill(
        id="fill", name="Fill", style="linear", direction=angle,
        stops=tuple(Stop(position=at, colour=colour) for at, colour in stops),
    )


def css_fill(*stops: tuple[float, str], angle: float = 180) -> str:
    if len(stops) == 1:
        return f"background:{stops[0][1]};"
    places = ",".join(f"{colour} {at * 100}%" for at, colour in stops)
    return f"background:linear-gradient({angle}deg,{places});"


def shadow(number: int, x: float, y: float, blur: float, spread: float, colour: str) -> Shadow:
    return Shadow(id=f"s{number}", name="S", offset=(x, y), blur=blur, spread=spread, colour=colour)


TIDE, DUSK, RING = "#2F8C93", "#B8472A", "#0E454E"
RADII = [(0, 0, 0, 0), (10, 10, 10, 10), (24, 24, 24, 24), (30, 4, 18, 0), (99, 99, 99, 99)]
STOPS = [
    [(0, "#3AA2A8"), (1, "#175A66")],
    [(0, "#F0A35A"), (0.3, "#DB6F3C"), (0.9, "#7D2D18")],
    [(0, "#FFFFFF"), (0.5, "#FFFFFF00"), (0.5, "#00000080"), (1, "#000000")],
    [(-0.4, "#E5A43B"), (1.3, "#175A6620")],
]
SHADOWS = [
    [(0, 6, 14, 0, "#14323759")],
    [(0, 2, 3, 0, "#00000066"), (0, 12, 24, -4, "#00000055")],
    [(6, 6, 12, 0, "#9D8F7399"), (-6, -6, 12, 0, "#FFFFFFCC")],
    [(0, 7, 0, 0, "#22302F")],
    [(4, -3, 9, 5, "#7700AA90")],
]
INNER = [
    [(0, 1, 0, 0, "#FFFFFF73")],
    [(0, 2, 5, 0, "#00000059")],
    [(3, -4, 12, 2, "#22302FAA"), (-3, 4, 12, 0, "#FFFFFF88")],
]
# (style of the fill, the same in CSS), with RAMP for stops
RAMP = [(0, "#FFD27A"), (0.35, "#B8472A"), (1, "#2A1A4080")]
RAMP_CSS = "#FFD27A 0%,#B8472A 35%,#2A1A4080 100%"
GRADIENTS: list[tuple[dict[str, object], str]] = [
    ({"style": "radial"}, f"radial-gradient(50% 50% at 50% 50%,{RAMP_CSS})"),
    ({"style": "radial", "centre": (0.2, 0.9), "reach": (0.9, 0.4)},
     f"radial-gradient(90% 40% at 20% 90%,{RAMP_CSS})"),
    ({"style": "radial", "reach": (0.15, 0.375), "spread": "repeat"},
     f"repeating-radial-gradient(18px 18px at 50% 50%,{RAMP_CSS})"),
    ({"style": "conic", "direction": 0}, f"conic-gradient({RAMP_CSS})"),
    ({"style": "conic", "direction": 70, "centre": (0.3, 0.6)},
     f"conic-gradient(from 70deg at 30% 60%,{RAMP_CSS})"),
    ({"style": "linear", "ends": (0.1, 0, 0.3, 0), "spread": "repeat"},
     "repeating-linear-gradient(90deg,#FFD27A 12px,#B8472A 20.4px,#2A1A4080 36px)"),
    ({"style": "linear", "ends": (0.25, 0, 0.75, 1)},
     # 60 px across and 48 down: its angle, and where on CSS's own line it starts and ends
     "linear-gradient(128.6598deg,#FFD27A 18.940%,#B8472A 40.682%,#2A1A4080 81.060%)"),
    ({"style": "linear", "direction": 90, "mixing": "oklab"},
     f"linear-gradient(90deg in oklab,{RAMP_CSS})"),
]
MODES = [
    "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light",
    "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity",
]
Case = tuple[str, Control, str, str]


def cases() -> list[Case]:
    found: list[Case] = []

    def add(name: str, css: str, *layers: object, corners: tuple[float, ...] = (10,) * 4,
            vertical_radii: tuple[float, ...] | None = None, inside: str = "",
            size: tuple[int, int] = (120, 48)) -> None:
        control = Control(
            id="x", name="X", size=size, layers=layers,  # type: ignore[arg-type]
            outline=ControlOutline(corners=corners, vertical_radii=vertical_radii),  # type: ignore[arg-type]
        )
        corners = " ".join(f"{radius}px" for radius in corners)
        if vertical_radii:
            corners += " / " + " ".join(f"{radius}px" for radius in vertical_radii)
        box = f"width:{size[0]}px;height:{size[1]}px;border-radius:{corners};box-sizing:border-box;"
        found.append((name, control, box + css, inside))

    for corners in RADII:
        add(f"flat {corners}", css_fill((0, TIDE)), fill((0, TIDE)), corners=corners)
        line = Line(id="l", name="L", width=3, colour=RING)
        add(f"border {corners}", f"border:3px solid {RING};" + css_fill((0, TIDE)), fill((0, TIDE)),
            line, corners=corners)
    for number, stops in enumerate(STOPS):
        for angle in (180, 90, 37, 250):
            add(f"gradient {number} at {angle}", css_fill(*stops, angle=angle),
                fill(*stops, angle=angle))
    for number, shadows in enumerate(SHADOWS):
        css = "box-shadow:" + ",".join(
            f"{x}px {y}px {blur}px {spread}px {colour}" for x, y, blur, spread, colour in shadows
        ) + ";"
        layers = [shadow(at, *one) for at, one in enumerate(shadows)][::-1]
        for corners in ((10,) * 4, (30, 4, 18, 0), (24,) * 4):
            add(f"shadows {number} {corners} under a face", css + css_fill((0, DUSK)),
                *layers, fill((0, DUSK)), corners=corners)
        add(f"shadows {number} under glass", css + css_fill((0, "#2F8C9330")), *layers,
            fill((0, "#2F8C9330")), corners=(12,) * 4)
    for number, shadows in enumerate(INNER):
        css = "box-shadow:" + ",".join(
            f"inset {x}px {y}px {blur}px {spread}px {colour}"
            for x, y, blur, spread, colour in shadows
        ) + ";"
        layers = [
            InnerShadow(id=f"i{at}", name="I", offset=(x, y), blur=blur, spread=spread,
                        colour=colour)
            for at, (x, y, blur, spread, colour) in enumerate(shadows)
        ][::-1]
        for corners in ((0,) * 4, (10,) * 4, (24,) * 4):
            add(f"inner shadows {number} {corners}", css + css_fill((0, TIDE)), fill((0, TIDE)),
                *layers, corners=corners)
    for opacity in (0.25, 0.6):
        add(f"opacity {opacity}", f"opacity:{opacity};" + css_fill((0, DUSK)),
            fill((0, DUSK)).model_copy(update={"opacity": opacity}))
    for number, (style, css) in enumerate(GRADIENTS):
        layer = Fill(id="fill", name="Fill", stops=tuple(
            Stop(position=at, colour=colour) for at, colour in RAMP), **style)  # type: ignore[arg-type]
        add(f"paint {number}", f"background:{css};", layer)
    for mode in MODES:
        over = [(0, "#FFD27AC0"), (1, "#2A50B8")]
        add(f"blend {mode}", "isolation:isolate;" + css_fill(*STOPS[1]), fill(*STOPS[1]),
            fill(*over, angle=90).model_copy(
                update={"id": "over", "blend": mode, "opacity": 0.8}),
            inside="<i style='position:absolute;inset:0;border-radius:10px;opacity:.8;"
                   f"mix-blend-mode:{mode};{css_fill(*over, angle=90)}'></i>")
    for turn, wide, high, pivot in ((20, 0.8, 0.8, (0.5, 0.5)), (-75, 0.6, 1.1, (0.2, 0.9))):
        layer = fill(*STOPS[1]).model_copy(update={
            "rotate": turn, "scale": (wide, high), "pivot": pivot, "opacity": 0.9})
        add(f"turned by {turn}", f"transform:rotate({turn}deg) scale({wide},{high});opacity:.9;"
            f"transform-origin:{pivot[0] * 100}% {pivot[1] * 100}%;" + css_fill(*STOPS[1]), layer)
    add("elliptical corners", css_fill(*STOPS[1]), fill(*STOPS[1]), corners=(40, 10, 60, 20),
        vertical_radii=(20, 24, 10, 28))
    add("circle", "border-radius:50%;" + css_fill(*STOPS[0]), fill(*STOPS[0]), size=(60, 60),
        corners=(30,) * 4)
    add("outline with a gap", f"outline:3px solid {RING};outline-offset:0;",
        Line(id="l", name="L", width=3, place="outside", colour=RING), corners=(0, 0, 0, 0))
    return found


CASES = cases()


def places() -> list[tuple[int, int]]:
    """Where each case's picture, room included, begins on the page."""
    found, x, y = [], 0, 0
    for _, control, _, _ in CASES:
        width = round(control.size[0]) + 2 * ROOM
        if x + width > PAGE_WIDTH:
            x, y = 0, y + 60 + 2 * ROOM
        found.append((x, y))
        x += width
    return found


@pytest.fixture(scope="module", params=[1, 2])
def page(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory
         ) -> tuple[int, np.ndarray]:
    scale: int = request.param
    boxes = "".join(
        f"<div style='position:absolute;left:{x + ROOM}px;top:{y + ROOM}px;{css}'>{inside}</div>"
        for (x, y), (_, _, css, inside) in zip(places(), CASES, strict=True)
    )
    markup = f"<!doctype html><body style='margin:0;background:#E9E2D3'>{boxes}"
    folder: Path = tmp_path_factory.mktemp("fidelity")
    height = places()[-1][1] + 60 + 2 * ROOM
    with page_on(markup, folder, scale, (PAGE_WIDTH, height), exact=True) as shown:
        return scale, photograph(shown)


def test_there_are_enough_cases() -> None:
    assert len(CASES) >= 40 and len({name for name, *_ in CASES}) == len(CASES)


def pair(at: int, page: tuple[int, np.ndarray]) -> tuple[np.ndarray, np.ndarray]:
    """A case as we draw it and as Chromium does, room included."""
    scale, photo = page
    _, control, _, _ = CASES[at]
    x, y = places()[at]
    kit = Kit(controls=(control,))
    ours = render(resolve(kit, control), scale, Margins(ROOM, ROOM, ROOM, ROOM)).rgba
    laid = on_backdrop(ours, (0xE9 / 255, 0xE2 / 255, 0xD3 / 255, 1))[:, :, :3]
    height, width = laid.shape[:2]
    return laid, photo[y * scale : y * scale + height, x * scale : x * scale + width]


@pytest.mark.parametrize("at", range(len(CASES)), ids=[name for name, *_ in CASES])
def test_each_looks_as_css_says(at: int, page: tuple[int, np.ndarray]) -> None:
    found = difference(*pair(at, page))
    # Chromium blurs the edges of its paths (four different corners) and of what is turned a little
    # more; the turned ones are also held against the true area, in test_paint.
    name, control, _, _ = CASES[at]
    bar = 16 if len(set(control.outline.corners)) > 1 or name.startswith("turned") else 12
    assert found.mean <= 0.35 and found.high <= bar, found


def test_all_together_keep_the_bar(page: tuple[int, np.ndarray]) -> None:
    pairs = [pair(at, page) for at in range(len(CASES))]
    ours, theirs = (np.concatenate([p[k].reshape(-1, 3) for p in pairs]) for k in (0, 1))
    found = difference(ours[None], theirs[None])
    print(f"{len(CASES)} cases at {page[0]}×: {found}")
    assert found.mean <= 0.35 and found.high <= 12, found


colours = st.sampled_from(["#2F8C93", "#B8472A", "#FFFFFF", "#22302F", "#E5A43B80", "#10203040"])
whole = st.integers(0, 24)


@st.composite
def controls(draw: st.DrawFn) -> Control:
    """Any control that our layers can make, within what a button is.

    Not hairlines on tiny ellipses: there Qt and Chromium are themselves 1.1 to 1.4 of 255 from
    the true area (ours 0.2), with nothing but edge in the picture.
    """
    layers: list[object] = []
    for at in range(draw(st.integers(1, 5))):
        kind = draw(st.sampled_from(["shadow", "inner", "fill", "gradient", "line"]))
        shared = {"id": f"l{at}", "name": f"L{at}", "opacity": draw(st.sampled_from([1.0, 0.5]))}
        if kind == "shadow":
            layers.append(Shadow(
                **shared, colour=draw(colours), blur=draw(whole), spread=draw(st.integers(-4, 6)),
                offset=(draw(st.integers(-9, 9)), draw(st.integers(-9, 9))),
            ))
        elif kind == "inner":
            layers.append(InnerShadow(
                **shared, colour=draw(colours), blur=draw(whole), spread=draw(st.integers(-3, 5)),
                offset=(draw(st.integers(-6, 6)), draw(st.integers(-6, 6))),
            ))
        elif kind == "line":
            layers.append(Line(
                **shared, colour=draw(colours), width=draw(st.integers(2, 6)),
                place=draw(st.sampled_from(["inside", "outside"])), gap=draw(st.integers(-6, 6)),
            ))
        elif kind == "fill":
            layers.append(Fill(**shared, colour=draw(colours), expand=draw(st.integers(-6, 4))))
        else:
            layers.append(Fill(
                **shared, style="linear", direction=draw(st.integers(0, 359)), stops=tuple(
                    Stop(position=at / 3, colour=draw(colours)) for at in range(4)),
            ))
    radius = st.sampled_from([0, 3, 8, 20])
    return Control(
        id="any", name="Any", size=(draw(st.integers(90, 180)), draw(st.integers(40, 70))),
        outline=ControlOutline(form=draw(st.sampled_from(["box", "capsule", "ellipse"])),
                  corners=tuple(draw(radius) for _ in range(4)),
                  offset=(draw(st.integers(-2, 2)), draw(st.integers(-2, 2)))),
        layers=layers,
        states={"hover": {"outline": {"form": draw(st.sampled_from(["box", "ellipse"]))}}},
    )


@pytest.mark.parametrize("name", ["qtwidgets", "web"])
def test_whatever_can_be_made_runs_as_designed(name: str) -> None:
    """A dozen controls that nobody chose, the same ones in every run."""
    made: list[Control] = []

    @settings(max_examples=count_of(4, 12), database=None, derandomize=True, deadline=None, phases=[
        Phase.generate])
    @given(controls())
    def gather(control: Control) -> None:
        made.append(control.model_copy(update={"id": f"any-{len(made)}"}))

    gather()
    kit = Kit(controls=tuple(made))
    for match in verify(kit, kit.controls, TARGETS[name], scale=1):
        assert match.passes, (match.as_data(), kit.control(match.control))
