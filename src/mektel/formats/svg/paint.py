"""SVG colours, gradients and shadow filters as the values of our layers."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray
from svgelements import Matrix

from mektel.core.colour import colour_from_text
from mektel.core.errors import MektelError
from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.shapes import matrix_of, to_number

CHAIN = 16
SERVERS = {"linearGradient", "radialGradient", "pattern"}
Box = tuple[float, float, float, float]
Floats = NDArray[np.float64]


class NoLayerError(Exception):
    """Why no layer can say something, so that it becomes a picture."""


def share(text: str, default: float = 1.0) -> float:
    """A number or percentage from 0 to 1."""
    typed = text.strip()
    try:
        value = float(typed[:-1]) / 100 if typed.endswith("%") else float(typed)
    except ValueError:
        return default
    return min(1.0, max(0.0, value)) if math.isfinite(value) else default


def solid(text: str, alpha: float = 1.0, current: str = "#000000") -> str | None:
    """An SVG colour as #RRGGBB or #RRGGBBAA; None for ``none`` and what is not a colour."""
    typed = text.strip()
    if typed.lower() == "currentcolor":
        typed = current
    if not typed or typed.lower() == "none":
        return None
    try:
        digits = colour_from_text(typed)
    except (ValueError, MektelError):
        return None
    level = round(alpha * (int(digits[7:], 16) if len(digits) == 9 else 255))
    return digits[:7] if level >= 255 else f"{digits[:7]}{level:02X}"


def server_of(drawing: Drawing, paint: str) -> Node | None:
    """The gradient or pattern that a paint refers to."""
    if "url(" not in paint:
        return None
    server = drawing.referred(paint.split(")")[0] + ")")
    return server if server is not None and server.tag in SERVERS else None


def gradient_values(
    gradient: Node, drawing: Drawing, units: Box, box: Box, owner: Node
) -> dict[str, Any] | None:
    """``style`` and the other values of a paint for a gradient; None where it paints nothing.

    ``units`` is the box that shares in the drawing are of, in the owner's own units, ``box`` the
    one that ours are of, in px, both left, top, right, bottom. Raises :class:`NoLayerError` for
    what only pixels can say.
    """
    stop_nodes, attributes, spread = _collected(gradient, drawing)
    if len(stop_nodes) == 0:
        drawing.leave(gradient, "a gradient without stops")
        return None
    stops = _with_straight_alpha(_stops(stop_nodes))
    if len(stops) == 1:
        return {"style": "solid", "colour": stops[0][1]}
    matrix = _placing(attributes, units, owner)
    repeats = {"reflect": "mirror", "repeat": "repeat"}.get(spread, "pad")
    tag = gradient.tag
    if tag == "radialGradient":
        return _radial(attributes, units, box, matrix, stops, repeats)
    start, gx, gy = _slope(attributes, units, matrix)
    steepness = math.hypot(gx, gy)
    if not steepness or not math.isfinite(steepness):
        return {"style": "solid", "colour": stops[-1][1]}
    width, height = box[2] - box[0], box[3] - box[1]
    if repeats != "pad":
        end = (start[0] + gx / steepness**2, start[1] + gy / steepness**2)
        ends = tuple(round(float(value), 6) for spot in (start, end) for value in (
            (spot[0] - box[0]) / width, (spot[1] - box[1]) / height))
        if not all(-2 <= value <= 3 for value in ends):
            raise NoLayerError("its gradient begins too far away")
        return {"style": "linear", "ends": ends, "spread": repeats, "stops": _as_stops(stops)}
    ux, uy = gx / steepness, gy / steepness
    line = abs(width * ux) + abs(height * uy)
    cx, cy = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    first = ((start[0] - cx) * ux + (start[1] - cy) * uy) / line + 0.5
    along = [(first + offset / steepness / line, colour) for offset, colour in stops]
    angle = math.degrees(math.atan2(ux, -uy)) % 360
    return {"style": "linear", "direction": round(angle, 3), "stops": _as_stops(_within(along))}


def _radial(
    attributes: dict[str, str], units: Box, box: Box, matrix: Matrix,
    stops: list[tuple[float, str]], spread: str,
) -> dict[str, Any]:
    values = _numbers(attributes, units, (("cx", 0.5), ("cy", 0.5), ("r", 0.5)))
    focus = _numbers(attributes, units, (("fx", -1e9), ("fy", -1e9), ("fr", 0.0)))
    cx, cy, r = values["cx"], values["cy"], values["r"]
    fx = cx if not attributes.get("fx") else focus["fx"]
    fy = cy if not attributes.get("fy") else focus["fy"]
    if r <= 0:
        return {"style": "solid", "colour": stops[-1][1]}
    if math.hypot(fx - cx, fy - cy) > 1e-3 * r or focus["fr"] > 0:
        raise NoLayerError("its gradient has a focus beside its middle")
    # The ellipse's axes lie along the box where the two rows of the matrix are at right angles.
    across, down = math.hypot(matrix.a, matrix.c), math.hypot(matrix.b, matrix.d)
    if across * down <= 0 or abs(matrix.a * matrix.b + matrix.c * matrix.d) > 1e-3 * across * down:
        raise NoLayerError("its gradient is turned or slanted")
    middle = matrix.point_in_matrix_space((cx, cy))
    width, height = box[2] - box[0], box[3] - box[1]
    centre = ((middle.x - box[0]) / width, (middle.y - box[1]) / height)
    reach = (r * across / width, r * down / height)
    if not all(-2 <= part <= 3 for part in centre) or max(reach) > 10_000:
        raise NoLayerError("its gradient lies too far away")
    made = {"style": "radial", "centre": tuple(round(float(part), 6) for part in centre),
            "reach": tuple(round(float(part), 6) for part in reach), "stops": _as_stops(stops)}
    return made | ({"spread": spread} if spread != "pad" else {})


def gradient_colours(
    gradient: Node, drawing: Drawing, units: Box, owner: Node, places: Floats
) -> Floats:
    """Premultiplied colours (…, 4) of a gradient at places (…, 2) in px."""
    stop_nodes, attributes, spread = _collected(gradient, drawing)
    stops = _stops(stop_nodes)
    matrix = _placing(attributes, units, owner)
    if gradient.tag == "linearGradient":
        start, gx, gy = _slope(attributes, units, matrix)
        at = (places - start) @ np.array([gx, gy])
    else:
        at = _radial_offsets(attributes, units, matrix, places)
    if spread == "repeat":
        at = at - np.floor(at)
    elif spread == "reflect":
        at = 1 - np.abs(at % 2 - 1)
    offsets = [offset for offset, _ in stops]
    levels = np.array([_channels(colour) for _, colour in stops], float) / 255
    straight = np.stack([np.interp(at, offsets, levels[:, index]) for index in range(4)], axis=-1)
    straight[..., :3] *= straight[..., 3:]
    return np.asarray(straight)


def _radial_offsets(
    attributes: dict[str, str], units: Box, matrix: Matrix, places: Floats
) -> Floats:
    """Offsets of a radial gradient at places (…, 2) in px.

    After SVG 2, 14.2.4, whose circles are those of the HTML canvas: each place has the colour of
    the outermost circle that passes through it.
    """
    names = (("cx", 0.5), ("cy", 0.5), ("r", 0.5))
    values = _numbers(attributes, units, names)
    cx, cy, r = values["cx"], values["cy"], values["r"]
    focus = _numbers(attributes, units, (("fx", cx), ("fy", cy), ("fr", 0.0)))
    fx = focus["fx"] if attributes.get("fx") else cx
    fy = focus["fy"] if attributes.get("fy") else cy
    table = np.array([[matrix.a, matrix.c], [matrix.b, matrix.d]], float)
    own = (places - (float(matrix.e), float(matrix.f))) @ np.linalg.inv(table).T
    dx, dy, dr = cx - fx, cy - fy, r - focus["fr"]
    px, py = own[..., 0] - fx, own[..., 1] - fy
    a = dx * dx + dy * dy - dr * dr
    b = px * dx + py * dy + focus["fr"] * dr
    c = px * px + py * py - focus["fr"] ** 2
    root = np.sqrt(np.maximum(b * b - a * c, 0.0))
    return np.asarray((b - root) / a if abs(a) > 1e-12 else c / np.maximum(2 * b, 1e-12))


def moved_paint(paint: dict[str, Any], old: Box, new: Box) -> dict[str, Any]:
    """A paint for another box, so that its colours stay where they are in px."""
    width, height = old[2] - old[0], old[3] - old[1]
    wide, high = new[2] - new[0], new[3] - new[1]

    def spot(x: float, y: float) -> tuple[float, float]:
        return ((old[0] + x * width - new[0]) / wide, (old[1] + y * height - new[1]) / high)

    if paint["style"] == "radial":
        reach = (paint["reach"][0] * width / wide, paint["reach"][1] * height / high)
        return paint | {"centre": spot(*paint["centre"]), "reach": reach}
    if "ends" in paint:
        x0, y0, x1, y1 = paint["ends"]
        return paint | {"ends": (*spot(x0, y0), *spot(x1, y1))}
    if paint["style"] == "linear":
        turn = math.radians(paint["direction"])
        ux, uy = math.sin(turn), -math.cos(turn)
        before = abs(width * ux) + abs(height * uy)
        after = abs(wide * ux) + abs(high * uy)
        dx, dy = (old[0] + old[2] - new[0] - new[2]) / 2, (old[1] + old[3] - new[1] - new[3]) / 2
        shift = (dx * ux + dy * uy) / after
        along = [((stop["position"] - 0.5) * before / after + 0.5 + shift, stop["colour"])
                 for stop in paint["stops"]]
        return paint | {"stops": _as_stops(_within(along))}
    return paint


def _as_stops(stops: list[tuple[float, str]]) -> tuple[dict[str, Any], ...]:
    return tuple({"position": round(float(at), 5) + 0.0, "colour": colour} for at, colour in stops)


def _with_straight_alpha(stops: list[tuple[float, str]]) -> list[tuple[float, str]]:
    """Stops between those of different alpha: SVG mixes straight colours, we premultiplied ones."""
    made = stops[:1]
    for (one, first), (two, second) in pairwise(stops):
        a, b = _channels(first), _channels(second)
        if a[3] != b[3] and a[:3] != b[:3] and two > one and len(stops) < 12:
            made += [(one + (two - one) * part, _mixed(a, b, part))
                     for part in (0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875)]
        made.append((two, second))
    return made


def _mixed(first: list[int], second: list[int], part: float) -> str:
    return "#" + "".join(f"{round(x + (y - x) * part):02X}"
                         for x, y in zip(first, second, strict=True))


def _within(stops: list[tuple[float, str]]) -> list[tuple[float, str]]:
    """Stops that lie far outside of what is painted, brought nearer along the same colours."""
    low, high = -2.0, 3.0
    if stops[0][0] >= low and stops[-1][0] <= high:
        return stops

    def at(place: float) -> str:
        for (one, first), (two, second) in pairwise(stops):
            if one <= place <= two and two > one:
                part = (place - one) / (two - one)
                return _mixed(_channels(first), _channels(second), part)
        return stops[0][1] if place < stops[0][0] else stops[-1][1]

    inner = [stop for stop in stops if low < stop[0] < high]
    return [(low, at(low)), *inner, (high, at(high))]


def _channels(colour: str) -> list[int]:
    levels = [int(colour[at : at + 2], 16) for at in range(1, len(colour), 2)]
    return levels if len(levels) == 4 else [*levels, 255]


def _stops(nodes: list[Node]) -> list[tuple[float, str]]:
    """Places and colours; no stop lies before another that stands before it."""
    stops: list[tuple[float, str]] = []
    for node in nodes:
        alpha = share(node.inherited("stop-opacity", "1"))
        colour = solid(node.get("stop-color", "black"), alpha, node.inherited("color", "#000000"))
        place = max(share(node.get("offset", "0"), 0.0), stops[-1][0] if stops else 0.0)
        stops.append((place, colour or "#00000000"))
    return stops


def _collected(gradient: Node, drawing: Drawing) -> tuple[list[Node], dict[str, str], str]:
    """Stops and attributes with those of the gradients it refers to filled in."""
    attributes: dict[str, str] = {}
    stops: list[Node] = []
    node: Node | None = gradient
    for _ in range(CHAIN):
        if node is None:
            break
        attributes = {**node.attributes, **attributes}
        stops = stops or [child for child in node.children if child.tag == "stop"]
        node = drawing.referred(node.get("href")) if node.get("href") else None
    return stops[:64], attributes, attributes.get("spreadMethod", "")


def _numbers(
    attributes: dict[str, str], units: Box, names: tuple[tuple[str, float], ...]
) -> dict[str, float]:
    """Lengths of a gradient in its own units."""
    boxed = attributes.get("gradientUnits", "objectBoundingBox") == "objectBoundingBox"
    width, height = units[2] - units[0], units[3] - units[1]
    values = {}
    for name, default in names:
        text = attributes.get(name, "")
        whole = 1.0 if boxed else (
            math.hypot(width, height) / math.sqrt(2) if name[-1] == "r"
            else width if "x" in name else height)
        values[name] = (
            share(text, default) * whole if text.strip().endswith("%")
            else to_number(text, default * whole)
        )
    return values


def _placing(attributes: dict[str, str], units: Box, owner: Node) -> Matrix:
    """From a gradient's units to px."""
    boxed = attributes.get("gradientUnits", "objectBoundingBox") == "objectBoundingBox"
    placed = matrix_of(owner)
    if boxed:
        placed = Matrix(units[2] - units[0], 0, 0, units[3] - units[1], *units[:2]) * placed
    try:
        return Matrix(attributes.get("gradientTransform", "") or "") * placed
    except (ValueError, TypeError, IndexError):
        return placed


def _slope(
    attributes: dict[str, str], units: Box, matrix: Matrix
) -> tuple[tuple[float, float], float, float]:
    """Where the gradient starts, and by how much its offset grows per px along x and y.

    In box units the lines of equal colour are slanted with the box, so it is the slope, not the
    vector, that has to be carried over.
    """
    values = _numbers(attributes, units, (("x1", 0.0), ("y1", 0.0), ("x2", 1.0), ("y2", 0.0)))
    start = matrix.point_in_matrix_space((values["x1"], values["y1"]))
    dx, dy = values["x2"] - values["x1"], values["y2"] - values["y1"]
    square, area = dx * dx + dy * dy, matrix.a * matrix.d - matrix.b * matrix.c
    if square < 1e-12 or abs(area) < 1e-12:
        return (start.x, start.y), 0.0, 0.0
    gx = (matrix.d * dx - matrix.b * dy) / (area * square)
    gy = (matrix.a * dy - matrix.c * dx) / (area * square)
    return (start.x, start.y), gx, gy


@dataclass(frozen=True)
class FoundShadow:
    dx: float = 0.0
    dy: float = 0.0
    sigma: float = 0.0
    spread: float = 0.0
    colour: str = "#000000"
    inner: bool = False
    # Whether it is cut out under what casts it.
    cut: bool = False


def shadows_of(filter_node: Node, scale: float) -> list[FoundShadow]:
    """The shadows of a filter, outside and inside, back to front.

    Takes feDropShadow and the usual chains of offset, blur, colour and blend. Raises
    :class:`NoLayerError` where the filter does anything else.
    """
    shadows: list[FoundShadow] = []
    now = FoundShadow()
    started = shows = flooded = False
    flood = "#000000"
    for step in filter_node.children:
        shows = shows or step.tag == "feDropShadow" or "SourceGraphic" in (
            step.get("in"), step.get("in2")) or any(
            child.get("in") == "SourceGraphic" for child in step.children)
        if step.tag == "feDropShadow":
            shadows.append(
                FoundShadow(
                    to_number(step.get("dx", "2")) * scale, to_number(step.get("dy", "2")) * scale,
                    _deviation(step, "2") * scale, 0.0, _flood(step),
                )
            )
        elif step.tag == "feOffset":
            now = replace(
                now, dx=to_number(step.get("dx")) * scale, dy=to_number(step.get("dy")) * scale
            )
            started = True
        elif step.tag == "feGaussianBlur":
            now = replace(now, sigma=_deviation(step, "0") * scale)
            started = True
        elif step.tag == "feMorphology":
            way = -1 if step.get("operator", "erode") == "erode" else 1
            now = replace(now, spread=to_number(step.get("radius")) * way * scale)
        elif step.tag == "feFlood":
            flood = _flood(step)
            flooded = flooded or not flood.endswith("00") or len(flood) < 9
        elif step.tag == "feColorMatrix":
            colour = _constant_colour(step)
            if colour and started:
                now = replace(now, colour=colour)
            elif colour is None:
                raise NoLayerError("its filter changes colours")
        elif step.tag == "feComposite":
            if step.get("operator") == "arithmetic":
                # The shape less its moved and blurred self: a shadow inside.
                now = replace(now, inner=True, spread=-now.spread)
            elif step.get("operator") == "in" and started:
                now = replace(now, colour=flood)
                flooded = False
            elif step.get("operator") == "out" and started:
                now = replace(now, cut=True)
            else:
                raise NoLayerError("its filter combines pictures")
        elif step.tag in ("feBlend", "feMerge"):
            if step.get("mode", "normal") != "normal":
                raise NoLayerError("its filter blends pictures")
            if started:
                shadows.append(now)
            now, started = FoundShadow(), False
        elif step.tag.startswith("fe"):
            raise NoLayerError(f"its filter has a step {step.tag}")
    if flooded:
        raise NoLayerError("its filter fills an area")
    if started or not shows:
        raise NoLayerError("its filter blurs or moves the shape itself")
    return shadows


def _deviation(step: Node, default: str) -> float:
    deviations = step.get("stdDeviation", default).replace(",", " ").split()
    values = [to_number(word) for word in deviations] or [0.0]
    if abs(values[0] - values[-1]) > 1e-6:
        raise NoLayerError("its filter blurs more one way than the other")
    return max(0.0, values[0])


def _flood(step: Node) -> str:
    alpha = share(step.get("flood-opacity", "1"))
    return solid(step.get("flood-color", "black"), alpha) or "#000000"


def _constant_colour(step: Node) -> str | None:
    """The one colour that a matrix gives every pixel, alpha scaled; "" for an alpha switch."""
    if step.get("type", "matrix") != "matrix":
        return None
    try:
        values = [float(word) for word in step.get("values").replace(",", " ").split()]
    except ValueError:
        return None
    if len(values) != 20 or any(values[row * 5 + at] for row in range(3) for at in range(4)):
        return None
    red, green, blue, alpha = values[4], values[9], values[14], values[18]
    if alpha > 1:
        return ""
    levels = [round(min(1.0, max(0.0, value)) * 255) for value in (red, green, blue, alpha)]
    return "#{:02X}{:02X}{:02X}{:02X}".format(*levels)
