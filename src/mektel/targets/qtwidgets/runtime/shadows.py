"""Gaussian shadows, outside an outline and in it, and blurred letters."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from math import ceil, floor

from .blur import REACH, Blurred, blurred, tinted
from .design import Part
from .frames import Cache
from .outlines import Outline, grown, moved, path_of, shape
from .qt import QtCore, QtGui, painter_on

_Compose = QtGui.QPainter.CompositionMode
_blurs: Cache[Blurred] = Cache(8 << 20, lambda blur: blur.mask.sizeInBytes())


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
    image = _picture(room, ratio)
    with _painter_on(image, room) as inside:
        _paint_blurred(inside, shadow, part["blur"] / 2, ratio)
        # Tinted last: what rounding loses on the way is less of a faint colour.
        inside.setCompositionMode(_Compose.CompositionMode_SourceIn)
        inside.fillRect(room, colour)
        if not hidden:
            inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
            inside.fillPath(path_of(outline), QtCore.Qt.GlobalColor.black)
    painter.drawImage(room, image)


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
    room = _room(painter, outline.box, ratio)
    image = _picture(room, ratio)
    with _painter_on(image, room) as inside:
        inside.fillPath(path_of(outline), QtGui.QColor(part["colour"]))
        inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
        _paint_blurred(inside, hole, part["blur"] / 2, ratio)
    painter.drawImage(room, image)


def _paint_odd_shadow(
    painter: QtGui.QPainter, part: Part, outline: Outline, ratio: float, size: tuple[float, float],
) -> None:
    """The shadow of an outline that is no rounded box."""
    path = shape(part, "area", outline, size).translated(*part["offset"])
    colour = QtGui.QColor(part["colour"])
    cut = shape(part, "cut", outline, size) if "cut" in part["paths"] else None
    if part["blur"] == 0:
        painter.fillPath(path if cut is None else path.subtracted(cut), colour)
        return
    if cut is None:
        paint_soft(painter, path, part["blur"] / 2, colour, ratio)
        return
    reach = 1 + REACH * part["blur"] / 2
    room = _room(painter, path.boundingRect().adjusted(-reach, -reach, reach, reach), ratio)
    image = _picture(room, ratio)
    with _painter_on(image, room) as inside:
        paint_soft(inside, path, part["blur"] / 2, colour, ratio)
        inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
        inside.fillPath(cut, QtCore.Qt.GlobalColor.black)
    painter.drawImage(room, image)


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
    room = _room(painter, path.boundingRect(), ratio)
    image = _picture(room, ratio)
    with _painter_on(image, room) as inside:
        inside.fillPath(path, colour)
        inside.setCompositionMode(_Compose.CompositionMode_DestinationOut)
        paint_soft(inside, hole, part["blur"] / 2, QtGui.QColor(QtCore.Qt.GlobalColor.black), ratio)
    painter.drawImage(room, image)


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
    mask, place = _blurs.get(
        (small.key, sigma, ratio), lambda: blurred(path_of(small), sigma, ratio, symmetric))
    image = mask.convertToFormat(QtGui.QImage.Format.Format_ARGB32_Premultiplied)
    place = place.translated(floor(box.x()), floor(box.y()))
    fine = image.width() / place.width()
    columns = _strips(place.x(), place.width(), box.width() - wide, box.x() + across[0],
                      box.right() - across[1], ratio)
    rows = _strips(place.y(), place.height(), box.height() - high, box.y() + down[0],
                   box.bottom() - down[1], ratio)
    for from_x, to_x, wide_from, wide_to in columns:
        for from_y, to_y, high_from, high_to in rows:
            painter.drawImage(
                QtCore.QRectF(to_x, to_y, wide_to, high_to), image,
                QtCore.QRectF(from_x * fine, from_y * fine, wide_from * fine, high_from * fine))


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
        painter.drawImage(place, tinted(mask, colour))
