"""Markers of a path: where each stands, how it is turned and how large it is (SVG 2, 13.7)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from svgelements import Matrix

from mektel.core.path_data import Command
from mektel.formats.svg import areas
from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.expansion import fitted, number_in, view_box
from mektel.formats.svg.shapes import NotAShapeError, matrix_of, to_number

ENDS = ("start", "mid", "end")
MOST_MARKERS = 400
# What basic shapes have no vertices of their own.
WITHOUT = {"rect", "circle", "ellipse"}
Vector = tuple[float, float]


@dataclass(frozen=True)
class Placed:
    """A marker at one vertex: its contents' matrix, and what of them shows, px; None for all."""

    marker: Node
    matrix: Matrix
    window: Any = None


@dataclass(frozen=True)
class Vertex:
    """A point of a path, and which way it comes to it and goes on from it; none is (0, 0)."""

    x: float
    y: float
    came: Vector = (0.0, 0.0)
    goes: Vector = (0.0, 0.0)


def placed_markers(drawing: Drawing, node: Node) -> list[Placed]:
    """The markers of a shape in the order in which they are painted.

    Raises :class:`NotAShapeError` where there are more than ``MOST_MARKERS``.
    """
    named = {end: node.inherited(f"marker-{end}", "none") for end in ENDS}
    if node.tag in WITHOUT or all(name == "none" for name in named.values()):
        return []
    markers: dict[str, Node] = {}
    for end, name in named.items():
        marker = drawing.referred(name)
        if marker is not None and marker.tag == "marker":
            markers[end] = marker
        elif name != "none":
            drawing.leave(node, f"its marker “{name[:40]}” is not in the drawing")
    if not markers:
        return []
    every = vertices(areas.commands_of(node))
    made = []
    for at, vertex in enumerate(every):
        end = "start" if at == 0 else "end" if at == len(every) - 1 else "mid"
        if end in markers:
            made.append(_placed(node, markers[end], vertex, end))
    if len(made) > MOST_MARKERS:
        raise NotAShapeError(f"it has more than {MOST_MARKERS} markers")
    return made


def vertices(commands: Sequence[Command]) -> list[Vertex]:
    """A path's vertices; a closed part comes back to its first one."""
    points: list[list[Any]] = []  # x, y, came, goes
    first = 0
    for command in commands:
        if command[0] == "M":
            first = len(points)
            points.append([*command[1], (0.0, 0.0), (0.0, 0.0)])
            continue
        if not points:
            continue
        last = points[-1]
        if command[0] == "Z":
            begin = points[first]
            way = (begin[0] - last[0], begin[1] - last[1])
            last[3] = way
            points.append([begin[0], begin[1], way, begin[3]])
            begin[2] = way
            continue
        spots = [(last[0], last[1]), *((float(x), float(y)) for x, y in command[1:])]
        last[3] = _first_way(spots)
        back = _first_way(spots[::-1])
        points.append([*spots[-1], (-back[0], -back[1]), (0.0, 0.0)])
    return [Vertex(float(x), float(y), came, goes) for x, y, came, goes in points]


def _first_way(spots: Sequence[Vector]) -> Vector:
    """Which way a line or curve sets out: to the first of its points that is elsewhere."""
    x, y = spots[0]
    return next(((float(a - x), float(b - y)) for a, b in spots[1:]
                 if math.hypot(a - x, b - y) > 1e-9), (0.0, 0.0))


def _turn(vertex: Vertex) -> float:
    """Degrees, clockwise from the right; half way between coming and going."""
    ways = [np.array(way) / math.hypot(*way) for way in (vertex.came, vertex.goes)
            if math.hypot(*way) > 1e-9]
    x, y = np.sum(ways, axis=0) if ways else (1.0, 0.0)
    if math.hypot(x, y) < 1e-6:  # it turns back
        x, y = ways[0][1], -ways[0][0]
    return math.degrees(math.atan2(y, x))


def _placed(node: Node, marker: Node, vertex: Vertex, end: str) -> Placed:
    orient = marker.get("orient", "0").strip()
    if orient in ("auto", "auto-start-reverse"):
        degrees = _turn(vertex) + (180.0 if end == "start" and orient != "auto" else 0.0)
    else:
        degrees = to_number(orient.removesuffix("deg"))
    size = 1.0
    if marker.get("markerUnits", "strokeWidth") == "strokeWidth":
        size = max(0.0, to_number(node.inherited("stroke-width", "1"), 1.0))
    wide, high = number_in(marker, "markerWidth", 3.0), number_in(marker, "markerHeight", 3.0)
    inner = fitted(marker, wide, high) if view_box(marker) else Matrix()
    spot = inner.point_in_matrix_space((number_in(marker, "refX"), number_in(marker, "refY")))
    x, y = float(spot.x), float(spot.y)
    outer = (Matrix(1, 0, 0, 1, -x, -y) * Matrix(size, 0, 0, size, 0, 0)
             * Matrix(*_turning(degrees), vertex.x, vertex.y) * matrix_of(node))
    hides = marker.get("overflow", "hidden") not in ("visible", "auto")
    window = areas.transformed(shapely.box(0, 0, wide, high), outer) if hides else None
    return Placed(marker, inner * outer, window)


def _turning(degrees: float) -> tuple[float, float, float, float]:
    turn = math.radians(degrees)
    return math.cos(turn), math.sin(turn), -math.sin(turn), math.cos(turn)
