"""Gaussian shadows, outside an outline and in it, and blurred letters."""

from __future__ import annotations

from collections.abc import Hashable
from itertools import pairwise
from math import ceil, floor
from typing import Any

from .blur import REACH, blurred, tinted
from .design import Part
from .frames import Same
from .masks import paint_mask, paint_stretched_mask
from .outlines import Outline, grown, lengths, moved, path_of, shape
from .qt import QtCore, QtGui

# Shares of a shape's bounds that a box in the middle of it is tried with.
INSIDE = (0.98, 0.9, 0.8, 0.7, 0.55)
# Pixels of a shape that are worth looking for one.
LARGE = 60_000
BLACK = QtGui.QColor(QtCore.Qt.GlobalColor.black)
_Compose = QtGui.QPainter.CompositionMode


def paint_shadow(
    painter: QtGui.QPainter, part: Part, outline: Outline, hidden: bool, ratio: float,
    size: tuple[float, float],
) -> None:
    """A shadow; ``hidden`` where a face covers what of it lies within the outline."""
    if "paths" in part:
        _paint_odd_shadow(painter, part, outline, ratio, size)
        return
    shadow = moved(grown(outline, part["spread"]), *part["offset"])
    colour = QtGui.QColor(part["colour"])
    if part["blur"] == 0:
        path = path_of(shadow)
        painter.fillPath(path if hidden else path.subtracted(path_of(outline)), colour)
        return
    reach = 1 + REACH * part["blur"] / 2

    def cover(inside: QtGui.QPainter, outlines: list[Outline]) -> None:
        _paint_blurred(inside, outlines[0], part["blur"] / 2, ratio)
        if not hidden:
            inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
            inside.fillPath(path_of(outlines[1]), BLACK)

    paint_stretched_mask(
        painter, [shadow] if hidden else [shadow, outline],
        shadow.box.adjusted(-reach, -reach, reach, reach), reach + 2, ratio, colour,
        colour if hidden else None, ("beyond", part["blur"]), cover)


def paint_inner_shadow(
    painter: QtGui.QPainter, part: Part, outline: Outline, ratio: float, size: tuple[float, float],
) -> None:
    if "paths" in part:
        _paint_odd_inner_shadow(painter, part, outline, ratio, size)
        return
    hole = moved(grown(outline, -part["spread"]), *part["offset"])
    if part["blur"] == 0:
        path = path_of(outline)
        path.addPath(path_of(outline).intersected(path_of(hole)))
        path.setFillRule(QtCore.Qt.FillRule.OddEvenFill)
        painter.fillPath(path, QtGui.QColor(part["colour"]))
        return

    def cover(inside: QtGui.QPainter, outlines: list[Outline]) -> None:
        inside.fillPath(path_of(outlines[0]), BLACK)
        inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
        _paint_blurred(inside, outlines[1], part["blur"] / 2, ratio)

    reach = 3 + REACH * part["blur"] / 2
    paint_stretched_mask(painter, [outline, hole], outline.box, reach, ratio,
                         QtGui.QColor(part["colour"]), None, ("within", part["blur"]), cover)


def _paint_odd_shadow(
    painter: QtGui.QPainter, part: Part, outline: Outline, ratio: float, size: tuple[float, float],
) -> None:
    """The shadow of an outline that is not a rounded box."""
    path = shape(part, "area", outline, size).translated(*part["offset"])
    colour = QtGui.QColor(part["colour"])
    cut = shape(part, "cut", outline, size) if "cut" in part["paths"] else None
    if part["blur"] == 0:
        painter.fillPath(path if cut is None else path.subtracted(cut), colour)
        return
    reach = 1 + REACH * part["blur"] / 2

    def cover(inside: QtGui.QPainter) -> None:
        paint_soft(inside, path, part["blur"] / 2, BLACK, ratio)
        if cut is not None:
            inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
            inside.fillPath(cut, BLACK)

    bounds = path.boundingRect().adjusted(-reach, -reach, reach, reach)
    paint_mask(painter, bounds, ratio, colour, _odd_key(part, outline), cover)


def _odd_key(part: Part, outline: Outline) -> Hashable:
    return (Same(part["paths"]), part.get("position"), part["offset"], part["blur"],
            lengths(outline.box))


def _paint_odd_inner_shadow(
    painter: QtGui.QPainter, part: Part, outline: Outline, ratio: float, size: tuple[float, float],
) -> None:
    if "hole" not in part["paths"]:
        return
    path = shape(part, "area", outline, size)
    hole = shape(part, "hole", outline, size).translated(*part["offset"])
    colour = QtGui.QColor(part["colour"])
    if part["blur"] == 0:
        painter.fillPath(path.subtracted(hole), colour)
        return

    def cover(inside: QtGui.QPainter) -> None:
        inside.fillPath(path, BLACK)
        inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
        paint_soft(inside, hole, part["blur"] / 2, BLACK, ratio)

    paint_mask(painter, path.boundingRect(), ratio, colour, _odd_key(part, outline), cover)


def _paint_blurred(
    painter: QtGui.QPainter, outline: Outline, sigma: float, ratio: float
) -> None:
    """A blurred rounded box in black."""
    box, rx, ry = outline
    if box.width() <= 0 or box.height() <= 0:
        return
    path = path_of(outline)
    mask, place = blurred(path, sigma, ratio, len(set(rx)) == len(set(ry)) == 1)
    _draw_round(painter, place, tinted(mask, BLACK), _solid(painter, path, sigma, ratio), BLACK)


def _solid(
    painter: QtGui.QPainter, path: QtGui.QPainterPath, sigma: float, ratio: float
) -> QtCore.QRectF:
    """A box deep in a shape, where a blur of it changes nothing, between pixels; or none."""
    world, bounds = painter.worldTransform(), path.boundingRect()
    if bounds.width() * bounds.height() * ratio * ratio < LARGE:
        return QtCore.QRectF()
    if world.isRotating() or world.isScaling() or not path.contains(bounds.center()):
        return QtCore.QRectF()
    edges = []
    rings: list[Any] = [*path.toSubpathPolygons()]
    for ring in rings:
        spots = [(spot.x(), spot.y()) for spot in ring]
        edges += [(min(x0, x1), max(x0, x1), min(y0, y1), max(y0, y1))
                  for (x0, y0), (x1, y1) in pairwise(spots)]
    for share in INSIDE:
        inner = QtCore.QRectF(0, 0, bounds.width() * share, bounds.height() * share)
        inner.moveCenter(bounds.center())
        near, far, top, bottom = inner.left(), inner.right(), inner.top(), inner.bottom()
        if all(right <= near or left >= far or below <= top or above >= bottom
               for left, right, above, below in edges):
            reach = REACH * sigma + 1
            inner.adjust(reach, reach, -reach, -reach)
            dx, dy = world.dx(), world.dy()
            x, y = (ceil((at + by) * ratio) / ratio - by for at, by in (
                (inner.left(), dx), (inner.top(), dy)))
            width, height = (floor((at + by) * ratio) / ratio - by - start for at, by, start in (
                (inner.right(), dx, x), (inner.bottom(), dy, y)))
            return QtCore.QRectF(x, y, width, height)
    return QtCore.QRectF()


def _draw_round(
    painter: QtGui.QPainter, place: QtCore.QRectF, image: QtGui.QImage, solid: QtCore.QRectF,
    colour: QtGui.QColor,
) -> None:
    """A picture that is one colour in a box, which is much cheaper than a part of it stretched."""
    if solid.width() <= 0 or solid.height() <= 0:
        painter.drawImage(place, image)
        return
    room = place.adjusted(-1, -1, 1, 1)
    for left, top, right, bottom in (
            (room.left(), room.top(), room.right(), solid.top()),
            (room.left(), solid.bottom(), room.right(), room.bottom()),
            (room.left(), solid.top(), solid.left(), solid.bottom()),
            (solid.right(), solid.top(), room.right(), solid.bottom())):
        painter.save()
        painter.setClipRect(QtCore.QRectF(left, top, right - left, bottom - top),
                            QtCore.Qt.ClipOperation.IntersectClip)
        painter.drawImage(place, image)
        painter.restore()
    painter.fillRect(solid, colour)


def paint_soft(
    painter: QtGui.QPainter, path: QtGui.QPainterPath, sigma: float, colour: QtGui.QColor,
    ratio: float,
) -> None:
    """A blurred shape of one colour."""
    if not path.isEmpty():
        mask, place = blurred(path, sigma, ratio)
        _draw_round(painter, place, tinted(mask, colour), _solid(painter, path, sigma, ratio),
                    colour)
