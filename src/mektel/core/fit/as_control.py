"""A reading as a control with layers, and its picture on the backdrop that was read with it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from mektel.core.fit.model import Floats
from mektel.core.fit.reading import Reading
from mektel.core.kit import Control, Kit
from mektel.core.kit.edit import identifier
from mektel.core.look import LabelLook, Look, Margins, resolve
from mektel.core.look.look import moved
from mektel.core.paint import render
from mektel.core.text import shape_line
from mektel.core.text.fonts import FAMILIES, WEIGHTS

# The height of capitals is about this share of a font's size.
CAPITALS = 0.7
# A change that black or white explains to within this, from 0 to 1, is black or white.
NEAR = 0.03
# As near as this to a whole px, of a px, a size is one; radii and lines to half a px.
AS_DRAWN = 0.25
# A corner of so small a radius, px, is a square one.
SQUARE = 0.6
# The family that is taken where another one is hardly better.
USUAL, UNUSUAL = "Hanken Grotesk", 0.06
# Where a gradient may have its centre, as shares of the box.
CENTRES = (-2.0, 3.0)
# A text that is off its place by no more than this, px, stands where a label does by itself.
NUDGE = 0.7


def control_of_reading(
    reading: Reading, name: str, density: float = 1.0, typed: str = ""
) -> Control:
    """A control that looks as was read; ``density`` pixels of the picture make a px.

    With the text that stands on it ``typed``, the label has its size, weight and place in the
    picture; without, its size is guessed from its height.
    """
    geometry = reading.geometry.scaled(1 / density)
    colours, parts = reading.colours, reading.parts
    backdrop = np.clip(colours["backdrop"], 0.0, 1.0)
    face = np.clip(np.mean([colours[f"face {at}"] for at in range(parts.stops)], axis=0), 0.0, 1.0)
    layers: list[dict[str, Any]] = []
    for part, title in (("second", "Second shadow"), ("shadow", "Shadow")):
        if getattr(parts, part):
            x, y, blur, spread = (drawn(getattr(geometry, f"{part}_{value}"), 0.5)
                                  for value in ("x", "y", "blur", "spread"))
            layers.append({
                "kind": "shadow", "id": "shadow" if part == "shadow" else "shadow-2",
                "name": title, "colour": _tint(backdrop, colours[part]), "offset": (x, y),
                "blur": max(0.0, blur), "spread": spread})
    layers.append({"kind": "fill", "id": "face", "name": "Face", **_paint(reading)})
    if parts.gloss:
        layers.append({
            "kind": "gloss", "id": "gloss", "name": "Gloss",
            "colour": _tint(face, colours["gloss"]), "height": round(geometry.gloss_height, 3),
            "bulge": round(geometry.gloss_bulge, 3), "fade": round(geometry.gloss_fade, 3),
            "gap": drawn(geometry.gloss_gap + (geometry.line if parts.line else 0.0), 0.5)})
    if parts.light:
        light: dict[str, Any] = {"kind": "inner-shadow", "id": "light",
                 "name": "Light" if colours["light"].mean() > 0 else "Shade",
                 "colour": _tint(face, colours["light"]),
                 "offset": (0.0, drawn(geometry.light_y, 0.5)),
                 "blur": drawn(max(0.0, geometry.light_blur), 0.5), "spread": 0.0}
        if parts.line:
            width = drawn(geometry.line, 0.5)
            within = tuple(drawn(max(0.0, radius - geometry.line), 0.5)
                           for radius in geometry.radii)
            light["outline"] = {
                "form": "box", "x": (0.0, width), "y": (0.0, width), "width": (1.0, -2 * width),
                "height": (1.0, -2 * width), "corners": within}
        layers.append(light)
    if parts.line:
        layers.append({
            "kind": "line", "id": "line", "name": "Line", "place": "inside",
            "width": drawn(geometry.line, 0.5), "colour": hex_of(colours["line"])})
    text = ""
    if reading.label is not None and reading.label_colour is not None:
        text = typed or name
        layers.append({
            "kind": "label", "id": "label", "name": "Label",
            "colour": hex_of(reading.label_colour), **_type_of(reading, density, typed)})
    corners = tuple(drawn(radius, 0.5) if radius > SQUARE else 0.0 for radius in geometry.radii)
    control = Control.model_validate({
        "id": identifier(name, [], "control"), "name": name[:80], "text": text[:80],
        "size": (drawn(geometry.width, 1.0), drawn(geometry.height, 1.0)),
        "outline": {"form": "box", "corners": corners, "padding": (
            round(min(16.0, geometry.width / 8), 1), round(min(4.0, geometry.height / 12), 1))},
        "layers": layers})
    return _with_text_placed(control, reading, density) if typed and text else control


def drawn(length: float, step: float) -> float:
    """A length as people draw it: at a whole step, where that is near."""
    whole = round(length / step) * step + 0.0
    return whole if abs(length - whole) <= AS_DRAWN * step else round(length, 2)


def _type_of(reading: Reading, density: float, text: str) -> dict[str, Any]:
    """The family, weight and size in which a text covers the box that was read as it does there."""
    assert reading.label is not None
    _, _, width, height = (side / density for side in reading.label)
    if not text:
        return {"size": float(np.clip(round(height / CAPITALS), 6, 200))}
    tries = []
    for family in FAMILIES:
        for weight in WEIGHTS:
            line = shape_line(text, family, weight, 100.0)
            left, top, right, bottom = line.bounds
            if right > left and bottom > top:
                sizes = (width / (right - left), height / (bottom - top))
                ink = abs(sum(_area(ring) for ring in line.contours)) * sizes[0] ** 2
                off = abs(sizes[0] - sizes[1]) / max(sizes) + abs(
                    ink * density**2 - reading.label_ink) / max(1.0, reading.label_ink)
                tries.append((off + (UNUSUAL if family != USUAL else 0.0), sizes[0], family,
                              weight))
    if not tries:
        return {"size": float(np.clip(round(height / CAPITALS), 6, 200))}
    _, size, family, weight = min(tries)
    return {"size": float(np.clip(round(size * 100, 1), 6, 200)), "family": family,
            "weight": weight}


def _area(ring: Floats) -> float:
    """The signed area of a polygon (n, 2)."""
    x, y = ring.T
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2


def _with_text_placed(control: Control, reading: Reading, density: float) -> Control:
    """The label moved to where the text stands in the picture."""
    assert reading.label is not None
    look = next((at for at in resolve(Kit(), control).layers if isinstance(at, LabelLook)), None)
    if look is None:
        return control
    x, y, width, height = (side / density for side in reading.label)
    left, top, right, bottom = look.line().bounds
    dx = x + width / 2 - reading.geometry.x / density - (look.x + (left + right) / 2)
    dy = y + height / 2 - reading.geometry.y / density - (look.baseline + (top + bottom) / 2)
    move = (round(dx, 1) if abs(dx) > NUDGE else 0.0, round(dy, 1) if abs(dy) > NUDGE else 0.0)
    layers = tuple(layer.model_copy(update={"move": move}) if layer.id == "label" else layer
                   for layer in control.layers)
    return control.model_copy(update={"layers": layers})


def picture_of(
    reading: Reading, control: Control, size: tuple[int, int], density: float = 1.0, text: str = "",
    flags: frozenset[str] = frozenset(), place: tuple[float, float] | None = None,
) -> Floats:
    """The control on the backdrop that was read, in the states of ``flags``: (height, width, 3), 0
    to 1. Its box begins where it was read, or at ``place``, px.
    """
    width, height = size
    look = resolve(Kit(controls=(control,)), control, flags, text=text)
    x, y = place or (reading.geometry.x / density, reading.geometry.y / density)
    placed: Look = replace(
        look, width=width / density, height=height / density,
        layers=tuple(moved(layer, x, y) for layer in look.layers))
    drawn = render(placed, density, Margins()).rgba[:height, :width] / 255.0
    rows, columns = np.mgrid[:height, :width]
    plane = (reading.colours["backdrop"]
             + ((columns + 0.5) / width - 0.5)[:, :, None] * reading.colours["backdrop x"]
             + ((rows + 0.5) / height - 0.5)[:, :, None] * reading.colours["backdrop y"])
    return np.asarray(drawn[:, :, :3] + (1 - drawn[:, :, 3:]) * plane)


def _paint(reading: Reading) -> dict[str, Any]:
    stops = [hex_of(reading.colours[f"face {at}"]) for at in range(reading.parts.stops)]
    if len(stops) == 1:
        return {"style": "solid", "colour": stops[0]}
    geometry = reading.geometry
    paint: dict[str, Any] = {"style": "linear", "direction": round(geometry.direction % 360, 1)}
    if reading.parts.radial:
        wide, high = geometry.width, geometry.height
        shares = (geometry.centre_x / wide + 0.5, geometry.centre_y / high + 0.5)
        paint = {
            "style": "radial",
            "centre": tuple(round(float(np.clip(share, *CENTRES)), 3) for share in shares),
            "reach": (round(geometry.reach_x / wide, 3), round(geometry.reach_y / high, 3))}
    return paint | {"stops": [{"position": at / (len(stops) - 1), "colour": tone}
                              for at, tone in enumerate(stops)]}


def _tint(under: Floats, change: Floats) -> str:
    """The colour with alpha that changes what lies under it by so much: black or white, where that
    explains it, and else the most transparent one.
    """
    pure = np.ones(3) if change.mean() > 0 else np.zeros(3)
    room = pure - np.clip(under, 0.0, 1.0)
    alpha = float(np.clip((change * room).sum() / max(1e-6, (room**2).sum()), 1 / 255, 1.0))
    if np.abs(alpha * room - change).max() < NEAR:
        return hex_of(pure) + f"{round(alpha * 255):02X}"
    room = np.where(change < 0, under, 1 - under)
    alpha = float(np.clip(np.max(np.abs(change) / np.maximum(room, 0.05)), 1 / 255, 1.0))
    return hex_of(under + change / alpha) + f"{round(alpha * 255):02X}"


def hex_of(colour: Floats) -> str:
    return "#" + "".join(f"{round(float(part) * 255):02X}" for part in np.clip(colour, 0.0, 1.0))
