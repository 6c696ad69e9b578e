"""Pictures of all states as a control: outline, stretch zones, label and the states that lack."""

from __future__ import annotations

import base64
import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.colour import contrast
from mektel.core.finding import Finding, Mend, Place
from mektel.core.kit import Control, Kit
from mektel.core.kit.assets import AssetError
from mektel.core.kit.bringing_in import Arrival
from mektel.core.kit.conditions import REST
from mektel.core.kit.document import Asset
from mektel.core.kit.edit import identifier
from mektel.core.kit.value_types import LARGEST
from mektel.core.look import propose_states
from mektel.core.pictures.cropping import cropped_sides
from mektel.core.pictures.encoding import png_of
from mektel.core.pictures.layout import Canvas, Laid
from mektel.core.slices import stretch_zones
from mektel.core.slices.control import FEWEST, TOLERANCE

Pixels = NDArray[np.uint8]
Box = tuple[int, int, int, int]
SOLID = 128
# From this share of the face on, what can be stretched is a place for a text.
ROOM_FOR_TEXT = 0.2
# How far a corner may be from a quarter of a circle, px².
ROUND = 1.5


@dataclass(frozen=True)
class Zones:
    """What of a canvas stretches. ``insets`` (left, top, right, bottom) keep their form, pixels;
    ``smallest`` is the smallest safe size of the face in whole px.
    """

    face: Box
    insets: tuple[int, int, int, int]
    columns: tuple[int, int] | None
    rows: tuple[int, int] | None
    smallest: tuple[int, int]


def face_of(pixels: Pixels) -> Box:
    """The box (left, top, right, bottom) of what is solid in a picture, without its shadow."""
    solid = pixels[:, :, 3] >= SOLID
    if not solid.any():
        solid = pixels[:, :, 3] > 0
    if not solid.any():
        return 0, 0, pixels.shape[1], pixels.shape[0]
    y, x = np.flatnonzero(solid.any(axis=1)), np.flatnonzero(solid.any(axis=0))
    return int(x[0]), int(y[0]), int(x[-1]) + 1, int(y[-1]) + 1


def zones_of(canvas: Canvas) -> Zones:
    """Stretch zones that hold in every state; they lie within the face."""
    width, height = canvas.size
    face = face_of(_first(canvas).pixels)
    found = stretch_zones([state.pixels for state in canvas.states], TOLERANCE, face)
    spans = []
    for zone, start in ((found.columns, face[0]), (found.rows, face[1])):
        kept = zone if zone is not None and zone[1] >= FEWEST else None
        spans.append((start + kept[0], kept[1]) if kept else None)
    columns, rows = spans
    left, across = columns or ((face[0] + face[2]) // 2, 1)
    top, down = rows or ((face[1] + face[3]) // 2, 1)
    smallest = (
        math.ceil((face[2] - face[0] - (across - 1 if columns else 0)) / canvas.density),
        math.ceil((face[3] - face[1] - (down - 1 if rows else 0)) / canvas.density))
    return Zones(face, (left, top, width - left - across, height - top - down), columns, rows,
                 smallest)


def arrival_of(
    canvas: Canvas, name: str, *, text: str | None = None,
    insets: tuple[int, int, int, int] | None = None,
) -> tuple[Arrival, list[Finding]]:
    """A control of the pictures; ``insets`` are stretch zones set by hand, in pixels.

    States that no picture shows are derived from that of rest by saturation, brightness, place and
    opacity, as values that can be changed. Raises :class:`AssetError` for pictures larger than a
    control can be.
    """
    zones, density = zones_of(canvas), canvas.density
    left, top, right, bottom = zones.face
    first = _first(canvas)
    width, height = canvas.size
    assets = {state.condition: _asset(state, name) for state in canvas.states}
    round_art = zones.columns is None and zones.rows is None and insets is None
    size = ((right - left) / density, (bottom - top) / density)
    if max(size) > LARGEST:
        raise AssetError(
            f"{name}: {size[0]:g} × {size[1]:g} px is larger than a control can be, "
            f"{LARGEST:g} px. Scale the picture down, or say that it has more pixels per px.")
    room = tuple(round(value / density, 3) for value in (left, top, width - right, height - bottom))
    picture: dict[str, Any] = {
        "kind": "picture", "id": "picture", "name": "Picture",
        "picture": assets[first.condition].id, "density": density,
        "fit": "stretch" if round_art else "slices",
        "slices": tuple(float(side) for side in insets or zones.insets),
        "outline": {"form": "box", "corners": (0.0,) * 4, **_spans(room, size, round_art)}}
    words = text if text is not None else name if _has_room(zones) else ""
    layers = [picture]
    if words:
        layers.append(_label(first.pixels, zones, size, density))
    states: dict[str, Any] = {}
    for state in canvas.states:
        if state is not first:
            changes = _changes(state, first, assets, density, bool(words))
            if changes:
                states[state.condition] = changes
    base = _padding(zones, density)
    control = Control.model_validate({
        "id": identifier(name, [], "control"), "name": name[:80], "text": words[:200],
        "size": (max(4.0, size[0]), max(4.0, size[1])), "layers": layers, "states": states,
        "behaviour": "two-position" if any("checked" in c for c in states) else "push",
        "outline": {"form": "box", "corners": _corners(first.pixels, zones.face, density),
                    "padding": base, "fit": "keep" if round_art else "fill"}})
    pictures = tuple({asset.id: asset for asset in assets.values()}.values())
    control = propose_states(Kit(assets=pictures), control)
    return Arrival(control, pictures=pictures), findings_of(canvas)


def findings_of(canvas: Canvas) -> list[Finding]:
    """What looks wrong about the pictures themselves."""
    made = []
    for state in canvas.states:
        sides = cropped_sides(trimmed(state.pixels))
        place = Place(element=state.name or state.condition)
        if sides:
            made.append(Finding("art-cropped", place, (
                f"its art seems to be cut off at the {' and '.join(sides)}."),
                Mend("Export it with some clear pixels on that side.")))
        if not state.sure:
            made.append(Finding("art-not-alike", place, (
                "it has little in common with the picture of rest, so it is centred on that."),
                Mend("Check it by blinking, and nudge it.")))
        if state.condition in canvas.differing:
            made.append(Finding("densities-differ", place, (
                "its pictures at different densities do not show the same."),
                Mend("The densest one is used; export all of them from one drawing.")))
    return made


def trimmed(pixels: Pixels) -> Pixels:
    """A picture without clear rows and columns that were added to it whole."""
    covered = pixels[:, :, 3] > 0
    if not covered.any():
        return pixels
    y, x = np.flatnonzero(covered.any(axis=1)), np.flatnonzero(covered.any(axis=0))
    return pixels[y[0] : y[-1] + 1, x[0] : x[-1] + 1]


def _first(canvas: Canvas) -> Laid:
    return next((state for state in canvas.states if state.condition == REST), canvas.states[0])


def _asset(state: Laid, name: str) -> Asset:
    title = f"{name} {state.condition}"[:80]
    return Asset(id=identifier(title, [], "picture"), name=title,
                 png=_base64(state.pixels), coarser=tuple(map(_base64, state.coarser)))


def _base64(pixels: Pixels) -> str:
    return base64.b64encode(png_of(pixels)).decode()


def _spans(
    room: tuple[float, ...], size: tuple[float, float], grows: bool
) -> dict[str, tuple[float, float]]:
    """The picture's box round the face: what grows as one has margins that grow with it."""
    made = {}
    for at, (place, length) in enumerate((("x", "width"), ("y", "height"))):
        before, both = room[at], room[at] + room[at + 2]
        made[place] = (round(-before / size[at], 5), 0.0) if grows else (0.0, -before)
        made[length] = (round(1 + both / size[at], 5), 0.0) if grows else (1.0, both)
    return made


def _has_room(zones: Zones) -> bool:
    return zones.columns is not None and (
        zones.columns[1] >= ROOM_FOR_TEXT * (zones.face[2] - zones.face[0]))


def _padding(zones: Zones, density: float) -> tuple[float, float]:
    """From the face's edge to where it can be stretched: inside that nothing stands."""
    start, length = zones.columns or (zones.insets[0], 1)
    side = max(start - zones.face[0], zones.face[2] - start - length) / density
    most = (zones.face[2] - zones.face[0]) / density / 3
    return round(min(max(side, 4.0), most), 2), 4.0


def _label(
    pixels: Pixels, zones: Zones, size: tuple[float, float], density: float
) -> dict[str, Any]:
    """A label where the face is plain, so that it stands beside what is drawn on it."""
    left, top, right, bottom = zones.face
    box: dict[str, Any] = {}
    if zones.columns is not None:
        start, length = zones.columns
        before, after = (start - left) / density, (right - start - length) / density
        if abs(before - after) > 1:
            box = {"box": {"x": (0.0, round(before, 2)), "y": (0.0, 0.0),
                           "width": (1.0, round(-before - after, 2)), "height": (1.0, 0.0)}}
        left, right = start, start + length
    middle = pixels[(top * 2 + bottom) // 3 : (top + 2 * bottom) // 3 + 1,
                    (left * 2 + right) // 3 : (left + 2 * right) // 3 + 1].reshape(-1, 4)
    alpha = max(1.0, float(middle[:, 3].mean()))
    face = tuple(float(part) / alpha for part in middle[:, :3].mean(axis=0))
    dark, light = (0.133, 0.188, 0.184), (1.0, 1.0, 1.0)
    colour = "#FFFFFF" if contrast(light, face) >= contrast(dark, face) else "#22302F"
    return {"kind": "label", "id": "label", "name": "Label", "colour": colour,
            "size": float(np.clip(round(size[1] * 0.36), 10, 40)), **box}


def _changes(
    state: Laid, first: Laid, assets: dict[str, Asset], density: float, labelled: bool
) -> dict[str, Any]:
    changes: dict[str, Any] = {}
    values: dict[str, Any] = {}
    own, rest = assets[state.condition], assets[first.condition]
    if (own.png, own.coarser) != (rest.png, rest.coarser):
        values["picture"] = assets[state.condition].id
    dx, dy = (part / density for part in state.rest_of)
    if dx or dy:
        values["move"] = (round(dx, 3), round(dy, 3))
    if values:
        changes["picture"] = values
    # What stands on the face rides with it.
    here, there = face_of(first.pixels), face_of(state.pixels)
    ride = tuple(round((there[at] + there[at + 2] - here[at] - here[at + 2]) / 2 / density, 2)
                 for at in (0, 1))
    if labelled and any(abs(part) >= 0.5 for part in ride):
        changes["outline"] = {"content_offset": ride}
    return changes


def _corners(pixels: Pixels, face: Box, density: float) -> tuple[float, float, float, float]:
    """Radii of the four corners in px, each by what of it is not covered."""
    left, top, right, bottom = face
    cover = np.minimum(pixels[top:bottom, left:right, 3] / 255.0, 1.0)
    cover = np.where(cover >= SOLID / 255, np.maximum(cover, 0.0), 0.0)
    height, width = cover.shape
    half = min(height, width) // 2
    radii = []
    for view in (cover, cover[:, ::-1], cover[::-1, ::-1], cover[::-1]):
        corner = view[: max(1, half), : max(1, half)]
        missing = float((1 - corner).sum())
        # A quarter of a circle leaves 1 - π/4 of its square uncovered.
        radius = math.sqrt(max(0.0, missing) / (1 - math.pi / 4))
        radii.append(round(min(radius, half) / density, 1) if radius > ROUND else 0.0)
    even = max(radii) - min(radii) <= 1.0
    a, b, c, d = [round(sum(radii) / 4 * 2) / 2] * 4 if even else radii
    return a, b, c, d
