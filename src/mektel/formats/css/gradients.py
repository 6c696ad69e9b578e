"""CSS gradients as the values of a fill, for a box of known size."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

import tinycss2

from mektel.core.colour import mixed
from mektel.core.kit import Stop
from mektel.formats.css.lengths import Scale, angle, colour, is_length, length
from mektel.formats.css.tokens import CssError, components, split_by

NAMES = ("linear-gradient", "radial-gradient", "conic-gradient")
# Stands for a colour where only a place is given; steps into which a hint's curve is cut.
HINT, CURVE = "", 10
SIDES = {"top": 0.0, "right": 90.0, "bottom": 180.0, "left": 270.0}
Box = tuple[float, float]


def is_gradient(token: Any) -> bool:
    return bool(token.type == "function"
                and token.lower_name.removeprefix("repeating-") in NAMES)


def fill_values(token: Any, box: Box, scale: Scale, current: str) -> dict[str, Any]:
    """Style, geometry, spread, mixing and stops. Raises :class:`CssError` naming what is odd."""
    name = token.lower_name.removeprefix("repeating-")
    parts = [components(part) for part in split_by(token.arguments, ",")]
    style = name.split("-")[0]
    values: dict[str, Any] = {"style": style}
    if token.lower_name.startswith("repeating-"):
        values["spread"] = "repeat"
    head = parts[0]
    # The first part is geometry unless it begins with a colour.
    if head and colour(head[0], current) is None:
        parts = parts[1:]
        head = _without_mixing(head, values)
    else:
        head = []
    if style == "linear":
        values["direction"] = _direction(head, box)
        reach = _line_length(values["direction"], box)
    elif style == "radial":
        geometry, reach = _ellipse(head, box, scale)
        values |= geometry
    else:
        values |= _turn(head, box, scale)
        reach = 360.0
    values["stops"] = _stops(parts, reach, style == "conic", scale, current)
    if "mixing" not in values and any(part and _is_modern(part[0]) for part in parts):
        values["mixing"] = "oklab"
    return values


def _is_modern(token: Any) -> bool:
    """Whether a colour's notation is one that mixes in OKLab by itself (CSS Color 4, 12.1)."""
    return bool(token.type == "function" and token.lower_name in (
        "oklch", "oklab", "lab", "lch", "color", "color-mix"))


def _without_mixing(head: list[Any], values: dict[str, Any]) -> list[Any]:
    names = [token.lower_value if token.type == "ident" else "" for token in head]
    if "in" not in names:
        return head
    at = names.index("in")
    space = names[at + 1] if at + 1 < len(names) else ""
    if space not in ("oklab", "srgb"):
        raise CssError(f"mixing in {space or 'nothing'}; sRGB and OKLab are known")
    values["mixing"] = space
    return head[:at] + head[at + 2 :]


def _direction(head: list[Any], box: Box) -> float:
    if not head:
        return 180.0
    if head[0].type != "ident":
        return angle(head[0]) % 360
    sides = [token.lower_value for token in head if token.type == "ident"]
    if sides[:1] != ["to"] or not set(sides[1:]) <= set(SIDES) or not 2 <= len(sides) <= 3:
        raise CssError(f"the direction {' '.join(sides)}")
    if len(sides) == 2:
        return SIDES[sides[1]]
    # To a corner: at right angles to the line between the other two (CSS Images 4, 3.1.1).
    width, height = box
    dx = height if "right" in sides else -height
    dy = width if "bottom" in sides else -width
    return math.degrees(math.atan2(dx, -dy)) % 360


def _line_length(degrees: float, box: Box) -> float:
    turn = math.radians(degrees)
    return abs(box[0] * math.sin(turn)) + abs(box[1] * math.cos(turn))


def position(tokens: list[Any], box: Box, scale: Scale) -> tuple[float, float]:
    """A CSS position as shares of the box."""
    known = {"left": (0.0, None), "right": (1.0, None), "top": (None, 0.0), "bottom": (None, 1.0)}
    spot: list[float | None] = [None, None]
    for token in tokens:
        if token.type == "ident" and token.lower_value in known:
            x, y = known[token.lower_value]
            spot = [x if x is not None else spot[0], y if y is not None else spot[1]]
        elif token.type == "ident" and token.lower_value == "center":
            continue
        else:
            axis = 0 if spot[0] is None and token is tokens[0] else 1
            spot[axis] = length(token, scale, box[axis]) / box[axis]
    return tuple(0.5 if share is None else share for share in spot)  # type: ignore[return-value]


def _ellipse(head: list[Any], box: Box, scale: Scale) -> tuple[dict[str, Any], float]:
    names = [token.lower_value if token.type == "ident" else "" for token in head]
    where = names.index("at") if "at" in names else len(head)
    x, y = position(head[where + 1 :], box, scale)
    cx, cy = x * box[0], y * box[1]
    shape, extent = "", "farthest-corner"
    lengths: list[float] = []
    for token in head[:where]:
        if token.type == "ident" and token.lower_value in ("circle", "ellipse"):
            shape = token.lower_value
        elif token.type == "ident":
            extent = token.lower_value
        else:
            lengths.append(length(token, scale, box[len(lengths)] if len(lengths) < 2 else None))
    if lengths:
        rx, ry = (lengths * 2)[:2]
    else:
        rx, ry = _extent(extent, shape == "circle", (cx, cy), box)
    reach = (max(rx, 1e-3) / box[0], max(ry, 1e-3) / box[1])
    return {"centre": (x, y), "reach": reach}, max(rx, 1e-3)


def _extent(
    extent: str, circle: bool, centre: tuple[float, float], box: Box
) -> tuple[float, float]:
    """Radii by keyword (CSS Images 4, 3.2.1)."""
    near = [min(c, side - c) for c, side in zip(centre, box, strict=True)]
    far = [max(c, side - c) for c, side in zip(centre, box, strict=True)]
    sides = {"closest-side": near, "farthest-side": far, "closest-corner": near,
             "farthest-corner": far}.get(extent)
    if sides is None:
        raise CssError(f"the size {extent}")
    if circle:
        if extent.endswith("corner"):
            radius = math.hypot(*sides)
        else:
            radius = min(sides) if extent.startswith("closest") else max(sides)
        return radius, radius
    if extent.endswith("corner"):
        # The ellipse through the corner with the proportions that the sides would give.
        return sides[0] * math.sqrt(2), sides[1] * math.sqrt(2)
    return sides[0], sides[1]


def _turn(head: list[Any], box: Box, scale: Scale) -> dict[str, Any]:
    names = [token.lower_value if token.type == "ident" else "" for token in head]
    turn: dict[str, Any] = {"direction": 0.0}
    if "from" in names:
        turn["direction"] = angle(head[names.index("from") + 1]) % 360
    if "at" in names:
        turn["centre"] = position(head[names.index("at") + 1 :], box, scale)
    return turn


def _stops(
    parts: list[list[Any]], reach: float, turning: bool, scale: Scale, current: str
) -> tuple[Stop, ...]:
    placed: list[tuple[float | None, str]] = []
    for part in parts:
        tone = colour(part[0], current) if part else None
        if tone is None and len(part) == 1 and len(placed) > 0 and part is not parts[-1]:
            placed.append((_place(part[0], reach, turning, scale), HINT))
            continue
        if tone is None:
            raise CssError(f"{tinycss2.serialize(part) or 'nothing'} in a gradient")
        places = [_place(token, reach, turning, scale) for token in part[1:]]
        placed += [(place, tone) for place in places] or [(None, tone)]
    if len(placed) < 2:
        raise CssError("a gradient needs two colours")
    return tuple(Stop(position=at, colour=tone) for at, tone in _hinted(_spaced(placed)))


def _hinted(stops: list[tuple[float, str]]) -> list[tuple[float, str]]:
    """Stops that follow the curve that a hint between two colours gives (CSS Images 3, 3.4.3)."""
    made: list[tuple[float, str]] = []
    for at, (place, tone) in enumerate(stops):
        if tone != HINT:
            made.append((place, tone))
            continue
        (start, first), (end, last) = made[-1], stops[at + 1]
        if last == HINT:
            raise CssError("two hints in a row in a gradient")
        share = (place - start) / (end - start) if end > start else 0.5
        if not 0 < share < 1:
            made.append((place, last if share <= 0 else first))
            continue
        for step in range(1, CURVE):
            # Closer where it bends: half of it lies before the hint.
            along = share * 2 * step / CURVE if 2 * step <= CURVE else (
                1 - (1 - share) * 2 * (1 - step / CURVE))
            weight = along ** (math.log(0.5) / math.log(share))
            made.append((start + (end - start) * along,
                         mixed(first, last, 1 - weight, weight, "srgb")))
    return made


def _place(token: Any, reach: float, turning: bool, scale: Scale) -> float:
    if token.type == "percentage":
        return float(token.value / 100)
    if turning:
        return angle(token) / 360
    if is_length(token):
        return length(token, scale) / reach
    raise CssError(f"{tinycss2.serialize([token])} in a gradient")


def _spaced(stops: list[tuple[float | None, str]]) -> list[tuple[float, str]]:
    """Positions that are not given are spread evenly; none lies before the one it follows."""
    places = [at for at, _ in stops]
    places[0] = 0.0 if places[0] is None else places[0]
    places[-1] = 1.0 if places[-1] is None else places[-1]
    highest = -math.inf
    for at, place in enumerate(places):
        if place is not None:
            places[at] = highest = max(highest, place)
    known = [at for at, place in enumerate(places) if place is not None]
    for first, last in pairwise(known):
        low, high = places[first] or 0.0, places[last] or 0.0
        for at in range(first + 1, last):
            places[at] = low + (high - low) * (at - first) / (last - first)
    limited = [min(3.0, max(-2.0, place or 0.0)) for place in places]
    return [(at, tone) for at, (_, tone) in zip(limited, stops, strict=True)]
