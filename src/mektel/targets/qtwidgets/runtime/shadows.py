"""Gaussian shadows, outside an outline and in it, and blurred letters."""

from __future__ import annotations

from itertools import pairwise
from math import ceil, floor
from typing import Any

from .blur import REACH, Blurred, blurred, kept_tint, tinted
from .design import Part
from .frames import Cache
from .masks import paint_stretched_mask
from .outlines import Outline, grown, moved, path_of
from .qt import QtCore, QtGui

# Shares of a shape's bounds that a box in the middle of it is tried with.
INSIDE = (0.98, 0.9, 0.8, 0.7, 0.55)
# Pixels of a shape that are worth looking for one.
LARGE = 60_000
BLACK = QtGui.QColor(QtCore.Qt.GlobalColor.black)
_blurs: Cache[Blurred] = Cache(2 << 20, lambda blur: blur.mask.sizeInBytes())
_Compose = QtGui.QPainter.CompositionMode


def paint_shadow(
    painter: QtGui.QPainter, part: Part, outline: Outline, hidden: bool, ratio: float,
) -> None:
    """A shadow; ``hidden`` where a face covers what of it lies within the outline."""
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
        shadow.bounds.adjusted(-reach, -reach, reach, reach), reach + 2, ratio, colour,
        colour if hidden else None, ("beyond", part["blur"]), cover)


def paint_inner_shadow(
    painter: QtGui.QPainter, part: Part, outline: Outline, ratio: float
) -> None:
    hole = moved(grown(outline, -part["spread"]), *part["offset"])
    if part["blur"] == 0:
        painter.fillPath(path_of(outline).subtracted(path_of(hole)), QtGui.QColor(part["colour"]))
        return

    def cover(inside: QtGui.QPainter, outlines: list[Outline]) -> None:
        inside.fillPath(path_of(outlines[0]), BLACK)
        inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
        _paint_blurred(inside, outlines[1], part["blur"] / 2, ratio)

    reach = 3 + REACH * part["blur"] / 2
    paint_stretched_mask(painter, [outline, hole], outline.bounds, reach, ratio,
                         QtGui.QColor(part["colour"]), None, ("within", part["blur"]), cover)


def _paint_blurred(
    painter: QtGui.QPainter, outline: Outline, sigma: float, ratio: float
) -> None:
    """A blurred rounded box in black."""
    path = path_of(outline)
    if path.isEmpty():
        return
    even = len(set(outline.rx)) == len(set(outline.ry)) == 1
    mask, place = _blurs.get((outline.key, sigma, ratio), lambda: blurred(path, sigma, ratio, even))
    _draw_round(painter, place, kept_tint(mask, BLACK), _solid(painter, path, sigma, ratio), BLACK)


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
