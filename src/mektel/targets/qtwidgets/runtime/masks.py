"""Where shadows are, as pictures that are kept; of a large outline only what is not alike."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from math import ceil, floor

from .blur import kept_tint
from .frames import Cache
from .outlines import Outline, lengths, moved
from .qt import SMOOTH, QtCore, QtGui, painter_on
from .resizing import Sketch

# Px that stay of what is alike along a side, and the least that is worth leaving out.
STAYS, SPARED = 16, 32
Middle = tuple[float, float, float]
_masks: Cache[QtGui.QImage] = Cache(16 << 20, QtGui.QImage.sizeInBytes)


def paint_mask(
    painter: QtGui.QPainter, bounds: QtCore.QRectF, ratio: float, colour: QtGui.QColor,
    key: Hashable, cover: Callable[[QtGui.QPainter], object], outlines: Sequence[Outline] = (),
) -> None:
    """A shadow: where it is, which is kept, in its colour; one that only follows ``outlines`` goes
    with them.

    Tinted last: what rounding loses on the way is less of a faint colour.
    """
    room = _room(painter, bounds, ratio)
    if painter.hasClipping():  # a band of a large picture
        room = room.intersected(_room(painter, painter.clipBoundingRect(), ratio))
    if not room.isEmpty():
        painter.drawImage(room, _tinted(room, ratio, colour, _key(key, room, outlines), cover))


def paint_stretched_mask(
    painter: QtGui.QPainter, outlines: list[Outline], bounds: QtCore.QRectF, reach: float,
    ratio: float, colour: QtGui.QColor, middle: QtGui.QColor | None, key: Hashable,
    cover: Callable[[QtGui.QPainter, list[Outline]], object],
) -> None:
    """A shadow that follows rounded boxes, within ``reach`` of their edges: its corners, and what
    lies between them repeated; ``middle`` is what it is deep within, None for nothing.
    """
    across, down = _middles(outlines, reach, ratio)
    world = painter.worldTransform()
    if (not across[0] and not down[0]) or world.isRotating() or world.isScaling() or (
            painter.hasClipping() and not across[0]):
        paint_mask(painter, bounds, ratio, colour, key,
                   lambda inside: cover(inside, outlines), outlines)
        return
    fewer = -across[0], -down[0]
    small = [line._replace(box=line.box.adjusted(0, 0, *fewer)) for line in outlines]
    whole = _room(painter, bounds, ratio)
    if painter.hasClipping() and not down[0]:
        band = _room(painter, painter.clipBoundingRect(), ratio)
        whole = whole.intersected(QtCore.QRectF(
            whole.x(), band.y(), whole.width(), band.height()))
    if whole.isEmpty():
        return
    room = whole.adjusted(0, 0, *fewer)
    image = _tinted(room, ratio, colour, _key(key, room, small),
                    lambda inside: cover(inside, small))
    size = (room.size() * ratio).toSize()
    if image.size() != size:
        image = image.scaled(size, QtCore.Qt.AspectRatioMode.IgnoreAspectRatio,
                             QtCore.Qt.TransformationMode.SmoothTransformation)
    columns = _bands(across, room.x(), image.width(), ratio)
    rows = _bands(down, room.y(), image.height(), ratio)
    painter.save()
    painter.translate(whole.topLeft())
    painter.scale(1 / ratio, 1 / ratio)  # pixels of the picture
    for column, (x, wide, to_x, to_wide) in enumerate(columns):
        for row, (y, high, to_y, to_high) in enumerate(rows):
            target = QtCore.QRectF(to_x, to_y, to_wide, to_high)
            if len(columns) == len(rows) == 3 and column == row == 1:
                if middle is not None:
                    painter.fillRect(target, middle)
            elif (wide, high) == (to_wide, to_high):
                painter.drawImage(QtCore.QPointF(to_x, to_y), image,
                                  QtCore.QRectF(x, y, wide, high))
            else:
                painter.setBrushOrigin(to_x, to_y)
                painter.fillRect(target, QtGui.QBrush(image.copy(x, y, wide, high)))
    painter.restore()


def _key(key: Hashable, room: QtCore.QRectF, outlines: Sequence[Outline]) -> Hashable:
    """What a mask depends on: of outlines, where they lie in its room."""
    if not outlines:
        return key, *lengths(room)
    places = (at for line in outlines for at in moved(line, -room.x(), -room.y()).key)
    return (key, room.width(), room.height(), *(
        round(at, 4) if isinstance(at, float) else at for at in places))


def _middles(outlines: list[Outline], reach: float, ratio: float) -> tuple[Middle, Middle]:
    """What is left out across and down; nothing of what is no rounded box."""
    if any(line.shape is not None for line in outlines):
        return (0.0, 0.0, 0.0), (0.0, 0.0, 0.0)
    return (_middle([(box.left() + max(rx[0], rx[3]), box.right() - max(rx[1], rx[2]))
                     for box, rx, *_ in outlines], reach, ratio),
            _middle([(box.top() + max(ry[0], ry[1]), box.bottom() - max(ry[3], ry[2]))
                     for box, _, ry, *_ in outlines], reach, ratio))


def _middle(sides: list[tuple[float, float]], reach: float, ratio: float) -> Middle:
    """Px left out where outlines and their blurs are alike, and where what stays of that lies."""
    begin = max(first for first, _ in sides) + reach
    end = min(last for _, last in sides) - reach
    left_out = floor((end - begin - STAYS) * ratio) / ratio
    return left_out if left_out >= SPARED else 0.0, begin, end - max(0.0, left_out)


def _bands(
    middle: Middle, start: float, count: int, ratio: float
) -> list[tuple[int, int, int, int]]:
    """Parts of a side, in pixels: where they begin and how long they are, as kept and as shown."""
    more = round(middle[0] * ratio)
    if not more:
        return [(0, count, 0, count)]
    first, last = ceil((middle[1] - start) * ratio), floor((middle[2] - start) * ratio)
    return [(0, first, 0, first), (first, last - first, first, last - first + more),
            (last, count - last, last + more, count - last)]


def _tinted(
    room: QtCore.QRectF, ratio: float, colour: QtGui.QColor, key: Hashable,
    cover: Callable[[QtGui.QPainter], object],
) -> QtGui.QImage:
    """A shadow in its colour; while a control is resized, maybe of another size than its room."""
    def make() -> QtGui.QImage:
        image = QtGui.QImage(round(room.width() * ratio), round(room.height() * ratio),
                             QtGui.QImage.Format.Format_ARGB32_Premultiplied)
        image.setDevicePixelRatio(ratio)
        image.fill(QtCore.Qt.GlobalColor.transparent)
        with painter_on(image) as inside:
            inside.setRenderHints(SMOOTH)
            inside.translate(-room.x(), -room.y())
            cover(inside)
        image.setDevicePixelRatio(1)
        return image.convertToFormat(QtGui.QImage.Format.Format_Alpha8)

    known = (key, ratio)
    sketch = Sketch.current
    mask = _masks.get(known, make) if sketch is None else sketch.mask(_masks, known, make)
    return kept_tint(mask, colour)


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
