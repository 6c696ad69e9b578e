"""SVG colours, gradients and shadow filters as the values of our layers."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

from svgelements import Color, Matrix

from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.shapes import Shape, matrix_of, to_number

CHAIN = 16


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
        colour = Color(typed)
        value = colour.value
    except (ValueError, TypeError, KeyError):
        return None
    if value is None:
        return None
    alpha *= (colour.alpha if colour.alpha is not None else 255) / 255
    digits = f"#{colour.red:02X}{colour.green:02X}{colour.blue:02X}"
    level = round(alpha * 255)
    return digits if level >= 255 else f"{digits}{level:02X}"


def gradient_values(
    gradient: Node, drawing: Drawing, shape: Shape, owner: Node
) -> dict[str, Any] | None:
    """``style``, ``angle`` and ``stops`` of a fill for a linearGradient on a shape.

    SVG places a gradient by its vector; we, as CSS does, by an angle and positions along a line
    whose length follows from the box. The one is carried over into the other exactly.
    """
    stop_nodes, attributes, spread = _collected(gradient, drawing)
    if len(stop_nodes) == 0:
        return None
    stops = []
    for node in stop_nodes:
        alpha = share(node.get("stop-opacity", "1"))
        colour = solid(node.get("stop-color", "black"), alpha) or "#00000000"
        stops.append((share(node.get("offset", "0"), 0.0), colour))
    if len(stops) == 1:
        return {"style": "solid", "colour": stops[0][1]}
    if spread not in ("", "pad"):
        drawing.leave(gradient, f"its “{spread}” beyond the ends; the end colours go on instead")
    start, gx, gy = _slope(attributes, shape, owner)
    steepness = math.hypot(gx, gy)
    if not steepness or not math.isfinite(steepness):
        return {"style": "solid", "colour": stops[-1][1]}
    ux, uy = gx / steepness, gy / steepness
    line = abs(shape.width * ux) + abs(shape.height * uy)
    cx, cy = shape.x + shape.width / 2, shape.y + shape.height / 2
    first = ((start[0] - cx) * ux + (start[1] - cy) * uy) / line + 0.5
    placed, highest = [], -2.0
    for offset, colour in stops:
        highest = max(highest, min(3.0, max(-2.0, first + offset / steepness / line)))
        placed.append({"position": round(highest, 4) + 0.0, "colour": colour})
    angle = math.degrees(math.atan2(ux, -uy)) % 360
    return {"style": "linear", "direction": round(angle, 3), "stops": tuple(placed)}


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


def _slope(
    attributes: dict[str, str], shape: Shape, owner: Node
) -> tuple[tuple[float, float], float, float]:
    """Where the gradient starts, and by how much its offset grows per px along x and y.

    In box units the lines of equal colour are slanted with the box, so it is the slope, not the
    vector, that has to be carried over.
    """
    boxed = attributes.get("gradientUnits", "objectBoundingBox") == "objectBoundingBox"
    values = {}
    for name, default in (("x1", 0.0), ("y1", 0.0), ("x2", 1.0), ("y2", 0.0)):
        text = attributes.get(name, "")
        whole = 1.0 if boxed else (shape.width if name[0] == "x" else shape.height)
        values[name] = (
            share(text, default) * whole if text.strip().endswith("%")
            else to_number(text, default * whole)
        )
    placed = (
        Matrix(shape.width, 0, 0, shape.height, shape.x, shape.y) if boxed else matrix_of(owner)
    )
    try:
        matrix = Matrix(attributes.get("gradientTransform", "") or "") * placed
    except (ValueError, TypeError, IndexError):
        matrix = placed
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


def shadows_of(filter_node: Node, drawing: Drawing, scale: float) -> list[FoundShadow]:
    """The shadows of a filter, outside and inside, back to front.

    Takes feDropShadow and the usual chains of offset, blur, colour and blend; whatever else the
    filter does is listed.
    """
    shadows: list[FoundShadow] = []
    now = FoundShadow()
    started = False
    flood = "#000000"
    for step in filter_node.children:
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
        elif step.tag == "feColorMatrix":
            colour = _constant_colour(step)
            if colour and started:
                now = replace(now, colour=colour)
            elif colour is None:
                drawing.leave(step, "a colour change of the picture is not a layer")
        elif step.tag == "feComposite":
            if step.get("operator") == "arithmetic":
                # The shape less its moved and blurred self: a shadow inside.
                now = replace(now, inner=True, spread=-now.spread)
            elif step.get("operator") == "in" and started:
                now = replace(now, colour=flood)
        elif step.tag in ("feBlend", "feMerge"):
            if started:
                shadows.append(now)
            now, started = FoundShadow(), False
        else:
            drawing.leave(step, "this filter step is skipped")
    if started:
        drawing.leave(filter_node, "it blurs or moves the shape itself, which no layer does")
    return shadows


def _deviation(step: Node, default: str) -> float:
    deviations = step.get("stdDeviation", default).replace(",", " ").split()
    return max((to_number(word) for word in deviations), default=0.0)


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
