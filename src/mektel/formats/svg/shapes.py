"""SVG shapes as outlines: rect, circle, ellipse, and paths that are a rounded box."""

from __future__ import annotations

import math
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from svgelements import Arc, Close, CubicBezier, Length, Line, Matrix, Move, Path, QuadraticBezier

from mektel.core.shape import outline_for, signed_distance
from mektel.core.shape.forms import rounded_box
from mektel.formats.svg.drawing import Node

Four = tuple[float, float, float, float]


@dataclass(frozen=True)
class Shape:
    """An axis-aligned form in user units after all transforms."""

    x: float
    y: float
    width: float
    height: float
    form: str
    radii: Four

    def same_place(self, other: Shape, within: float = 0.51) -> bool:
        return (
            abs(self.x - other.x) <= within
            and abs(self.y - other.y) <= within
            and abs(self.width - other.width) <= 2 * within
            and abs(self.height - other.height) <= 2 * within
        )

    def inset(self, by: float) -> Shape:
        """The same form, smaller by ``by`` px on every side."""
        a, b, c, d = (max(0.0, radius - by) for radius in self.radii)
        return replace(self, x=self.x + by, y=self.y + by, width=self.width - 2 * by,
                       height=self.height - 2 * by, radii=(a, b, c, d))

    def area(self) -> Any:
        """The polygon that it covers, of the shapely library."""
        from shapely import Polygon

        outline = outline_for(self.form, self.radii, self.width, self.height)
        return Polygon(np.add(rounded_box(outline), (self.x, self.y)))


class NotAShapeError(Exception):
    """Why an element is not an outline that a control can have; text is fit for the user."""


def number(node: Node, name: str, default: float = 0.0) -> float:
    return to_number(node.get(name), default)


def to_number(text: str, default: float = 0.0) -> float:
    """A length in px; percentages and nonsense give the default."""
    if not text or text.strip().endswith("%"):
        return default
    try:
        value = float(Length(text).value(ppi=96.0, relative_length=0.0))
    except (ValueError, TypeError, AttributeError):
        return default
    return value if math.isfinite(value) else default


def share_or_length(text: str, default: float) -> float:
    """A share of a box, as a number or a percentage, or else a length in px."""
    typed = text.strip()
    if typed.endswith("%"):
        return to_number(typed[:-1], default * 100) / 100
    return to_number(typed, default)


def matrix_of(node: Node) -> Matrix:
    """A node's transform with those of what it stands in.

    Raises :class:`NotAShapeError` for what is none, or moves by a share of something.
    """
    chain: list[Node] = []
    walk: Node | None = node
    while walk is not None and walk.placed is None:
        chain.append(walk)
        walk = walk.parent
    matrix = Matrix() if walk is None else walk.placed
    for ancestor in reversed(chain):
        text = ancestor.get("transform")
        if text:
            try:
                matrix = Matrix(text) * matrix
                numbers = [float(n) for n in (matrix.a, matrix.b, matrix.c, matrix.d, matrix.e,
                                              matrix.f)]
            except Exception:
                raise NotAShapeError(f"the transform “{text[:40]}” cannot be read") from None
            if not all(math.isfinite(n) and abs(n) < 1e6 for n in numbers):
                raise NotAShapeError(f"the transform “{text[:40]}” leads too far away")
        ancestor.placed = matrix
    return matrix


@contextmanager
def placed_at(node: Node, matrix: Matrix) -> Iterator[None]:
    """Within it ``node`` and what stands in it are placed by a matrix instead of where they stand.
    """
    own = node.placed
    for each in node.walk():
        each.placed = None
    node.placed = matrix
    try:
        yield
    finally:
        for each in node.walk():
            each.placed = None
        node.placed = own


def scale_of(node: Node) -> float:
    matrix = matrix_of(node)
    return math.sqrt(abs(matrix.a * matrix.d - matrix.b * matrix.c)) or 1.0


def shape_of(node: Node) -> Shape:
    """Raises :class:`NotAShapeError`."""
    try:
        return _shape_of(node)
    except NotAShapeError:
        raise
    except Exception:
        raise NotAShapeError("its numbers describe no shape") from None


def _shape_of(node: Node) -> Shape:
    matrix = matrix_of(node)
    if abs(matrix.b) > 1e-6 or abs(matrix.c) > 1e-6:
        raise NotAShapeError("it is turned or slanted; only upright shapes become an outline")
    if node.tag == "rect":
        shape = _rect(node)
    elif node.tag in ("circle", "ellipse"):
        rx = number(node, "r") if node.tag == "circle" else number(node, "rx")
        ry = number(node, "r") if node.tag == "circle" else number(node, "ry")
        x, y = number(node, "cx") - rx, number(node, "cy") - ry
        shape = Shape(x, y, 2 * rx, 2 * ry, "ellipse", (0, 0, 0, 0))
    else:
        shape = _path(node.get("d"))
    x0, x1 = sorted((shape.x * matrix.a, (shape.x + shape.width) * matrix.a))
    y0, y1 = sorted((shape.y * matrix.d, (shape.y + shape.height) * matrix.d))
    scale = math.sqrt(abs(matrix.a * matrix.d))
    if shape.form == "box" and any(shape.radii) and abs(abs(matrix.a) - abs(matrix.d)) > 1e-4:
        raise NotAShapeError("it is scaled unevenly, so its corners are not round")
    if x1 - x0 < 4 or y1 - y0 < 4:
        raise NotAShapeError("it is less than 4 px wide or high")
    a, b, c, d = (round(float(radius * scale), 4) for radius in shape.radii)
    left, top, width, height = (round(float(value), 4) for value in (
        x0 + matrix.e, y0 + matrix.f, x1 - x0, y1 - y0))
    return Shape(left, top, width, height, shape.form, (a, b, c, d))


def _rect(node: Node) -> Shape:
    width, height = number(node, "width"), number(node, "height")
    rx, ry = number(node, "rx", -1), number(node, "ry", -1)
    rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
    rx, ry = min(max(rx, 0), width / 2), min(max(ry, 0), height / 2)
    if abs(rx - ry) > 0.5:
        raise NotAShapeError("its corners are elliptical, which an outline cannot be yet")
    x, y, short = number(node, "x"), number(node, "y"), min(width, height)
    if short > 0 and rx >= short / 2 - 0.01 and width != height:
        return Shape(x, y, width, height, "capsule", (0, 0, 0, 0))
    if short > 0 and rx >= short / 2 - 0.01:
        return Shape(x, y, width, height, "ellipse", (0, 0, 0, 0))
    return Shape(x, y, width, height, "box", (rx, rx, rx, rx))


def _path(text: str) -> Shape:
    """A path that goes once round a rounded box, recognised by that box's distance."""
    try:
        path = Path(text)
        segments: list[Any] = [s for s in path if not isinstance(s, Move | Close)]
    except (ValueError, TypeError, IndexError, AttributeError):
        raise NotAShapeError("its path data cannot be read") from None
    if not segments or len(segments) > 64 or sum(isinstance(s, Move) for s in path) != 1:
        raise NotAShapeError("it is not one simple closed outline")
    if not all(isinstance(s, Line | CubicBezier | QuadraticBezier | Arc) for s in segments):
        raise NotAShapeError("it is not one simple closed outline")
    x0, y0, x1, y1 = (float(value) for value in path.bbox())
    if x1 - x0 < 4 or y1 - y0 < 4:
        raise NotAShapeError("it is less than 4 px wide or high")
    ends = [segments[0].start] + [segment.end for segment in segments]
    radii = []
    for left, top in ((True, True), (False, True), (False, False), (True, False)):
        # How far the arc reaches along the box's top or bottom edge.
        edge = y0 if top else y1
        on_edge = [p.x for p in ends if abs(p.y - edge) < 0.01]
        if not on_edge:
            raise NotAShapeError("it is not a rounded box, capsule or ellipse")
        radii.append(min(on_edge) - x0 if left else x1 - max(on_edge))
    width, height = x1 - x0, y1 - y0
    points = [segment.point(step / 8) for segment in segments for step in range(8)]
    xs, ys = [p.x - x0 for p in points], [p.y - y0 for p in points]
    a, b, c, d = radii
    for form in ("box", "ellipse", "capsule"):
        outline = outline_for(form, (a, b, c, d), width, height)
        if abs(signed_distance(outline, xs, ys)).max() < max(0.15, min(width, height) * 0.006):
            kept = (a, b, c, d) if form == "box" else (0.0, 0.0, 0.0, 0.0)
            even = max(radii) - min(radii) < 0.01
            if form == "box" and even and a >= min(width, height) / 2 - 0.05:
                return Shape(x0, y0, width, height, "capsule", (0, 0, 0, 0))
            return Shape(x0, y0, width, height, form, kept)
    raise NotAShapeError("it is not a rounded box, capsule or ellipse")
