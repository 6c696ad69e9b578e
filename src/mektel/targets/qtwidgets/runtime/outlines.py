"""Outlines: rounded boxes with elliptical corners, and polygons that stretch with their box."""

from __future__ import annotations

from collections.abc import Hashable
from functools import lru_cache
from math import cos, radians, sin, sqrt
from typing import Any, NamedTuple

from .design import Part
from .frames import Cache, Same
from .qt import QtCore, QtGui

Radii = list[float]
MOST_LINES, KEPT_PATHS = 120, 256
# How far a rounded edge may lie from the true one, px.
SMOOTHNESS = 0.02


class Outline(NamedTuple):
    """A rounded box, its corners clockwise from the top left; or a shape that is stretched to the
    box and then grown.

    A shape has the ``size`` that it is made for and closed polygons in ``rings`` by how far they
    are grown, 0 at least; and a ``box`` where gradients are fitted to another than its bounds.
    """

    box: QtCore.QRectF
    rx: Radii
    ry: Radii
    shape: Part | None = None
    by: float = 0.0

    @property
    def key(self) -> tuple[Hashable, ...]:
        """Names it in a cache."""
        own = () if self.shape is None else (Same(self.shape), self.by)
        return *lengths(self.box), *self.rx, *self.ry, *own

    @property
    def bounds(self) -> QtCore.QRectF:
        """The box that gradients are fitted to."""
        if self.shape is None:
            return self.box
        placed = _placing(self.box, self.shape)
        whole = QtCore.QRectF(*self.shape["box"]) if "box" in self.shape else _polygons(
            self.shape["rings"][0]).boundingRect()
        return placed.mapRect(whole).adjusted(-self.by, -self.by, self.by, self.by)


def lengths(box: QtCore.QRectF) -> tuple[float, float, float, float]:
    return box.x(), box.y(), box.width(), box.height()


def outline_of(part: Part, box: QtCore.QRectF) -> Outline:
    width, height = box.width(), box.height()
    if "shape" in part:
        return Outline(box, [], [], part["shape"])
    if part["form"] == "capsule":
        return fitted(box, [min(width, height) / 2] * 4, [min(width, height) / 2] * 4)
    if part["form"] == "ellipse":
        return fitted(box, [width / 2] * 4, [height / 2] * 4)
    return fitted(box, list(part["corners"]), list(part.get("vertical_radii") or part["corners"]))


def area(values: Part, box: QtCore.QRectF) -> QtCore.QRectF:
    """A box within the control's: shares of its width and height, and px."""
    (x, dx), (y, dy), (w, dw), (h, dh) = (values[name] for name in ("x", "y", "width", "height"))
    return QtCore.QRectF(box.x() + x * box.width() + dx, box.y() + y * box.height() + dy,
                  w * box.width() + dw, h * box.height() + dh)


def place_of(part: Part, outline: Outline) -> Outline:
    """What a layer lies along: the control's outline, one of its own, or a symbol about its spot.
    """
    box = outline.box
    if "own_box" in part:
        return outline_of(part["own_box"], area(part["own_box"], box))
    if "shape" not in part:
        return outline
    x, y = part["position"]
    return outline_of(part, QtCore.QRectF(
        box.x() + x * box.width(), box.y() + y * box.height(), *part["shape"]["size"]))


def fitted(box: QtCore.QRectF, rx: Radii, ry: Radii) -> Outline:
    """Radii made smaller together where two do not fit on a side (CSS Backgrounds 3, 5.5)."""
    sides = ((box.width(), rx[0] + rx[1]), (box.width(), rx[3] + rx[2]),
             (box.height(), ry[0] + ry[3]), (box.height(), ry[1] + ry[2]))
    factor = min([1.0] + [length / radii for length, radii in sides if radii > length])
    return Outline(box, [r * factor for r in rx], [r * factor for r in ry])


def moved(outline: Outline, dx: float, dy: float) -> Outline:
    return outline._replace(box=outline.box.translated(dx, dy))


def grown(outline: Outline, by: float) -> Outline:
    """Larger by this much on all sides; radii grow as CSS has it for a shadow's spread."""
    if by == 0:
        return outline
    if outline.shape is not None:
        return outline._replace(by=outline.by + by)
    box = outline.box
    width, height = max(0.0, box.width() + 2 * by), max(0.0, box.height() + 2 * by)
    corners = [_grown_corner(a, b, by) for a, b in zip(outline.rx, outline.ry, strict=True)]
    middle = box.center()
    return fitted(QtCore.QRectF(middle.x() - width / 2, middle.y() - height / 2, width, height),
                  [a for a, _ in corners], [b for _, b in corners])


def _grown_corner(rx: float, ry: float, by: float) -> tuple[float, float]:
    if rx <= 0 or ry <= 0:
        return 0.0, 0.0
    if by < 0:
        return (rx + by, ry + by) if rx + by > 0 and ry + by > 0 else (0.0, 0.0)
    wider, higher = (r + by * (1.0 if r >= by else 1 + (r / by - 1) ** 3) for r in (rx, ry))
    return wider, higher


@lru_cache(maxsize=256)
def _arc(corner: int, steps: int) -> QtGui.QPainterPath:
    """A quarter of the unit circle in short lines, clockwise; that of the top left corner is 0."""
    turns = (radians(180 + 90 * (corner + step / max(1, steps))) for step in range(steps + 1))
    path = QtGui.QPainterPath()
    path.addPolygon(QtGui.QPolygonF([QtCore.QPointF(cos(turn), sin(turn)) for turn in turns]))
    return path


def path_of(outline: Outline) -> QtGui.QPainterPath:
    box, rx, ry, shape, by = outline
    if box.width() <= 0 or box.height() <= 0:
        return QtGui.QPainterPath()
    if shape is not None:
        whole = QtCore.QRectF(0, 0, box.width(), box.height())
        path = _stretches.get((Same(shape), lengths(whole), by),
                              lambda: _stretched(shape, whole, by))
        return path.translated(box.x(), box.y())
    return _ring(box.width(), box.height(), *rx, *ry).translated(box.x(), box.y())


@lru_cache(maxsize=KEPT_PATHS)
def _ring(right: float, bottom: float, *radii: float) -> QtGui.QPainterPath:
    path = QtGui.QPainterPath()
    for at, (x, y) in enumerate(((0.0, 0.0), (right, 0.0), (right, bottom), (0.0, bottom))):
        wide, high = radii[at], radii[at + 4]
        placed = QtGui.QTransform(wide, 0, 0, high, x + wide * (1 if x == 0 else -1),
                                  y + high * (1 if y == 0 else -1))
        # Short lines: QPainter makes curves of so few that it shows on small ones.
        steps = min(MOST_LINES, int(8 * sqrt(max(wide, high)) + 1))
        arc = placed.map(_arc(at, steps))
        if at:
            path.connectPath(arc)
        else:
            path = arc
    path.closeSubpath()
    return path


def body_path(body: Part, box: QtCore.QRectF) -> QtGui.QPainterPath:
    """What answers the pointer."""
    return path_of(moved(outline_of(body, box), *body["offset"]))


_stretches: Cache[QtGui.QPainterPath] = Cache(KEPT_PATHS, lambda _path: 1)


def _placing(box: QtCore.QRectF, shape: Part) -> QtGui.QTransform:
    width, height = shape["size"]
    return QtGui.QTransform.fromTranslate(box.x(), box.y()).scale(
        box.width() / width, box.height() / height)


def _stretched(shape: Part, box: QtCore.QRectF, by: float) -> QtGui.QPainterPath:
    """A shape in its box, then grown: by its own polygons for that where it has some."""
    rings = shape["rings"]
    drawn = rings.get(round(by, 3))
    path = _placing(box, shape).map(_polygons(rings[0] if drawn is None else drawn))
    if drawn is not None:
        return path
    stroker = QtGui.QPainterPathStroker()
    stroker.setWidth(2 * abs(by))
    stroker.setJoinStyle(QtCore.Qt.PenJoinStyle.RoundJoin)
    stroker.setCurveThreshold(SMOOTHNESS)
    edge = stroker.createStroke(path)
    return path.united(edge) if by > 0 else path.subtracted(edge)


def _polygons(rings: Any) -> QtGui.QPainterPath:
    return _stretches.get(Same(rings), lambda: _closed(rings))


def _closed(rings: Any) -> QtGui.QPainterPath:
    path = QtGui.QPainterPath()
    path.setFillRule(QtCore.Qt.FillRule.WindingFill)
    for ring in rings:
        path.addPolygon(QtGui.QPolygonF([QtCore.QPointF(x, y) for x, y in ring]))
        path.closeSubpath()
    return path


def turn(painter: QtGui.QPainter, part: Part, box: QtCore.QRectF) -> None:
    """A layer's own move, rotation and scale about its pivot."""
    if any(part.get("move", ())):
        painter.translate(*part["move"])
    scale = part.get("scale", (1, 1))
    if part.get("rotate", 0) or scale != (1, 1):
        x, y = part.get("pivot", (0.5, 0.5))
        pivot = QtCore.QPointF(box.x() + x * box.width(), box.y() + y * box.height())
        painter.translate(pivot)
        painter.rotate(part.get("rotate", 0))
        painter.scale(*scale)
        painter.translate(-pivot)
