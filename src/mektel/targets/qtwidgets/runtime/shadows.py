"""Gaussian shadows, outside an outline and in it, and blurred letters."""

from __future__ import annotations

from math import ceil, floor

from .blur import REACH, Blurred, blurred, tinted
from .design import Part
from .frames import Cache
from .outlines import Outline, grown, moved, path_of, shape
from .qt import QtCore, QtGui

_Mode = QtGui.QPainter.CompositionMode
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
    if hidden:
        _paint_blurred(painter, shadow, part["blur"] / 2, colour, ratio)
        return
    reach = 1 + REACH * part["blur"] / 2
    room = shadow.box.adjusted(-reach, -reach, reach, reach).toAlignedRect()
    image = _picture(room, ratio)
    inside = _painter_on(image, room)
    _paint_blurred(inside, shadow, part["blur"] / 2, colour, ratio)
    inside.setCompositionMode(_Mode.CompositionMode_DestinationOut)
    inside.fillPath(path_of(outline), QtCore.Qt.GlobalColor.black)
    inside.end()
    painter.drawImage(QtCore.QRectF(room), image)


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
    room = outline.box.toAlignedRect()
    image = _picture(room, ratio)
    inside = _painter_on(image, room)
    inside.fillPath(path_of(outline), QtGui.QColor(part["colour"]))
    inside.setCompositionMode(_Mode.CompositionMode_DestinationOut)
    _paint_blurred(
        inside, hole, part["blur"] / 2, QtGui.QColor(QtCore.Qt.GlobalColor.black), ratio)
    inside.end()
    painter.drawImage(QtCore.QRectF(room), image)


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
    room = path.boundingRect().adjusted(-reach, -reach, reach, reach).toAlignedRect()
    image = _picture(room, ratio)
    inside = _painter_on(image, room)
    paint_soft(inside, path, part["blur"] / 2, colour, ratio)
    inside.setCompositionMode(_Mode.CompositionMode_DestinationOut)
    inside.fillPath(cut, QtCore.Qt.GlobalColor.black)
    inside.end()
    painter.drawImage(QtCore.QRectF(room), image)


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
    room = path.boundingRect().toAlignedRect().adjusted(-1, -1, 1, 1)
    image = _picture(room, ratio)
    inside = _painter_on(image, room)
    inside.fillPath(path, colour)
    inside.setCompositionMode(_Mode.CompositionMode_DestinationOut)
    paint_soft(inside, hole, part["blur"] / 2, QtGui.QColor(QtCore.Qt.GlobalColor.black), ratio)
    inside.end()
    painter.drawImage(QtCore.QRectF(room), image)


def _picture(room: QtCore.QRect, ratio: float) -> QtGui.QImage:
    image = QtGui.QImage(ceil(room.width() * ratio), ceil(room.height() * ratio),
                         QtGui.QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(ratio)
    image.fill(QtCore.Qt.GlobalColor.transparent)
    return image


def _painter_on(image: QtGui.QImage, room: QtCore.QRect) -> QtGui.QPainter:
    painter = QtGui.QPainter(image)
    painter.setRenderHints(QtGui.QPainter.RenderHint.Antialiasing
                           | QtGui.QPainter.RenderHint.SmoothPixmapTransform)
    painter.translate(-room.x(), -room.y())
    return painter


def _paint_blurred(
    painter: QtGui.QPainter, outline: Outline, sigma: float, colour: QtGui.QColor, ratio: float
) -> None:
    """A blurred rounded box: its corners are blurred, what lies between them is stretched."""
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
    mask, place = _blurs.get(
        (small.key, sigma, ratio), lambda: blurred(path_of(small), sigma, ratio))
    image = tinted(mask, colour)
    place = place.translated(floor(box.x()), floor(box.y()))
    fine = image.width() / place.width()
    # Where the stretched middles begin and end, in pixels of the picture.
    cuts_x = _cuts(x + across[0] - (place.x() - floor(box.x())), wide - sum(across), fine)
    cuts_y = _cuts(y + down[0] - (place.y() - floor(box.y())), high - sum(down), fine)
    more_x, more_y = box.width() - wide, box.height() - high
    if not more_x and not more_y:
        painter.drawImage(place, image)
        return
    columns = _strips(cuts_x if more_x else (), image.width(), fine, more_x)
    rows = _strips(cuts_y if more_y else (), image.height(), fine, more_y)
    for from_x, from_wide, to_x, to_wide in columns:
        for from_y, from_high, to_y, to_high in rows:
            painter.drawImage(
                QtCore.QRectF(place.x() + to_x, place.y() + to_y, to_wide, to_high), image,
                QtCore.QRectF(from_x, from_y, from_wide, from_high))


def _cuts(start: float, length: float, fine: float) -> tuple[int, int]:
    first = ceil(start * fine)
    return first, max(first + 1, floor((start + length) * fine))


def _strips(
    cuts: tuple[int, ...], count: int, fine: float, more: float
) -> list[tuple[float, float, float, float]]:
    """Start and length of each strip, in pixels of the picture and in px where it is drawn."""
    if not cuts:
        return [(0, count, 0, count / fine)]
    first, last = cuts
    middle = (last - first) / fine + more
    return [(0, first, 0, first / fine), (first, last - first, first / fine, middle),
            (last, count - last, first / fine + middle, (count - last) / fine)]


def paint_soft(
    painter: QtGui.QPainter, path: QtGui.QPainterPath, sigma: float, colour: QtGui.QColor,
    ratio: float,
) -> None:
    """A blurred shape of one colour."""
    if not path.isEmpty():
        mask, place = blurred(path, sigma, ratio)
        painter.drawImage(place, tinted(mask, colour))
