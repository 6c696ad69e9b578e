"""Gaussian shadows, outside an outline and in it, and blurred letters."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from itertools import pairwise
from math import ceil, floor
from typing import Any

from .blur import REACH, Blurred, blurred, tinted
from .design import Part
from .frames import Cache, Same
from .outlines import Outline, grown, lengths, moved, path_of, shape
from .qt import QtCore, QtGui, painter_on

# Shares of a shape's bounds that a box in the middle of it is tried with.
INSIDE = (0.98, 0.9, 0.8, 0.7, 0.55)
BLACK = QtGui.QColor(QtCore.Qt.GlobalColor.black)
_Compose = QtGui.QPainter.CompositionMode
_masks: Cache[QtGui.QImage] = Cache(16 << 20, QtGui.QImage.sizeInBytes)
blurs: Cache[Blurred] = Cache(8 << 20, lambda blur: blur.mask.sizeInBytes())


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
    room = _room(painter, shadow.box.adjusted(-reach, -reach, reach, reach), ratio)

    def cover(inside: QtGui.QPainter) -> None:
        _paint_blurred(inside, shadow, part["blur"] / 2, ratio)
        if not hidden:
            inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
            inside.fillPath(path_of(outline), BLACK)

    key = shadow.key, None if hidden else outline.key, part["blur"]
    _paint_mask(painter, room, ratio, colour, key, cover)


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
    def cover(inside: QtGui.QPainter) -> None:
        inside.fillPath(path_of(outline), BLACK)
        inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
        _paint_blurred(inside, hole, part["blur"] / 2, ratio)

    key = outline.key, hole.key, part["blur"], "within"
    room, colour = _room(painter, outline.box, ratio), QtGui.QColor(part["colour"])
    _paint_mask(painter, room, ratio, colour, key, cover)


def _paint_mask(
    painter: QtGui.QPainter, room: QtCore.QRectF, ratio: float, colour: QtGui.QColor,
    key: Hashable, cover: Callable[[QtGui.QPainter], object],
) -> None:
    """A shadow: where it is, which is kept, in its colour.

    Tinted last: what rounding loses on the way is less of a faint colour.
    """
    def make() -> QtGui.QImage:
        image = _picture(room, ratio)
        with _painter_on(image, room) as inside:
            cover(inside)
        return image.convertToFormat(QtGui.QImage.Format.Format_Alpha8)

    image = tinted(_masks.get((key, lengths(room), ratio), make), colour)
    image.setDevicePixelRatio(ratio)
    painter.drawImage(room, image)


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
    room = _room(painter, path.boundingRect().adjusted(-reach, -reach, reach, reach), ratio)

    def cover(inside: QtGui.QPainter) -> None:
        paint_soft(inside, path, part["blur"] / 2, BLACK, ratio)
        if cut is not None:
            inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
            inside.fillPath(cut, BLACK)

    _paint_mask(painter, room, ratio, colour, _odd_key(part, outline), cover)


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

    room = _room(painter, path.boundingRect(), ratio)
    _paint_mask(painter, room, ratio, colour, _odd_key(part, outline), cover)


def _room(
    painter: QtGui.QPainter, bounds: QtCore.QRectF, ratio: float
) -> QtCore.QRectF:
    """A box about some bounds whose edges lie between pixels, where the painter only moves."""
    world = painter.worldTransform()
    dx, dy = (0.0, 0.0) if world.isRotating() or world.isScaling() else (world.dx(), world.dy())
    left, right = bounds.left() + dx, bounds.right() + dx
    top, bottom = bounds.top() + dy, bounds.bottom() + dy
    x, y = floor(left * ratio) / ratio, floor(top * ratio) / ratio
    return QtCore.QRectF(x - dx, y - dy, ceil((right - x) * ratio) / ratio,
                         ceil((bottom - y) * ratio) / ratio)


def _picture(room: QtCore.QRectF, ratio: float) -> QtGui.QImage:
    image = QtGui.QImage(round(room.width() * ratio), round(room.height() * ratio),
                         QtGui.QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(ratio)
    image.fill(QtCore.Qt.GlobalColor.transparent)
    return image


@contextmanager
def _painter_on(image: QtGui.QImage, room: QtCore.QRectF) -> Iterator[QtGui.QPainter]:
    with painter_on(image) as painter:
        painter.setRenderHints(QtGui.QPainter.RenderHint.Antialiasing
                               | QtGui.QPainter.RenderHint.SmoothPixmapTransform)
        painter.translate(-room.x(), -room.y())
        yield painter


def _paint_blurred(
    painter: QtGui.QPainter, outline: Outline, sigma: float, ratio: float
) -> None:
    """A blurred rounded box in black: its corners, and what lies between them, stretched."""
    box, rx, ry = outline
    if box.width() <= 0 or box.height() <= 0:
        return
    reach = REACH * sigma + 2
    across = (max(rx[0], rx[3]) + reach, max(rx[1], rx[2]) + reach)
    down = (max(ry[0], ry[1]) + reach, max(ry[3], ry[2]) + reach)
    wide, high = (
        whole if sum(ends) + 4 >= whole else sum(ends) + 4 + (whole - sum(ends)) % 1
        for whole, ends in ((box.width(), across), (box.height(), down)))
    x, y = box.x() - floor(box.x()), box.y() - floor(box.y())
    small = outline._replace(box=QtCore.QRectF(x, y, wide, high))
    symmetric = len(set(rx)) == len(set(ry)) == 1
    mask, place = blurs.get(
        (small.key, sigma, ratio), lambda: blurred(path_of(small), sigma, ratio, symmetric))
    image = mask.convertToFormat(QtGui.QImage.Format.Format_ARGB32_Premultiplied)
    place = place.translated(floor(box.x()), floor(box.y()))
    fine = image.width() / place.width()
    if wide == box.width() and high == box.height():
        solid = _solid(painter, path_of(outline), sigma, ratio)
        _draw_round(painter, place, image, solid, BLACK)
        return
    columns = _strips(place.x(), place.width(), box.width() - wide, box.x() + across[0],
                      box.right() - across[1], ratio)
    rows = _strips(place.y(), place.height(), box.height() - high, box.y() + down[0],
                   box.bottom() - down[1], ratio)
    for column, (from_x, to_x, wide_from, wide_to) in enumerate(columns):
        for row, (from_y, to_y, high_from, high_to) in enumerate(rows):
            target = QtCore.QRectF(to_x, to_y, wide_to, high_to)
            if len(columns) == len(rows) == 3 and column == row == 1:
                painter.fillRect(target, BLACK)  # nothing is blurred here
                continue
            painter.drawImage(target, image, QtCore.QRectF(
                from_x * fine, from_y * fine, wide_from * fine, high_from * fine))


def _solid(
    painter: QtGui.QPainter, path: QtGui.QPainterPath, sigma: float, ratio: float
) -> QtCore.QRectF:
    """A box deep in a shape, where a blur of it changes nothing, between pixels; or none."""
    world, bounds = painter.worldTransform(), path.boundingRect()
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


def _strips(
    start: float, length: float, more: float, first: float, last: float, ratio: float
) -> list[tuple[float, float, float, float]]:
    """Where the strips of a picture are taken from and drawn to, and their lengths; in px.

    What lies between ``first`` and ``last`` grows by ``more``. Strips meet on whole pixels: no
    seam shows.
    """
    if not more:
        return [(0, start, length, length)]
    first, last = ceil(first * ratio) / ratio, floor(last * ratio) / ratio
    return [(0, start, first - start, first - start),
            (first - start, first, last - first - more, last - first),
            (last - more - start, last, start + length - (last - more),
             start + length - (last - more))]


def paint_soft(
    painter: QtGui.QPainter, path: QtGui.QPainterPath, sigma: float, colour: QtGui.QColor,
    ratio: float,
) -> None:
    """A blurred shape of one colour."""
    if not path.isEmpty():
        mask, place = blurred(path, sigma, ratio)
        _draw_round(painter, place, tinted(mask, colour), _solid(painter, path, sigma, ratio),
                    colour)
