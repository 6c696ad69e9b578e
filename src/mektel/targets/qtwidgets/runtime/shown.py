"""Where a control is painted: its box, and the room beyond it, from pictures that all share."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain
from math import floor, sqrt
from typing import TYPE_CHECKING, Any, NamedTuple
from weakref import ref

from .design import AnyFrame
from .drawing import Drawing, cropped, in_bands, picture, pictures
from .labels import Text
from .outlines import body_path
from .qt import QtCore, QtGui, QtWidgets, Reported, is_on_window, keep_references
from .resizing import Resizing, Sketch
from .variants import Variant

if TYPE_CHECKING:
    from .control import Control

# Pixels of the largest picture that is made, of those that are made in bands, and of the coarse
# ones before that.
LARGEST, BANDED, COARSE = 40_000_000, 2_000_000, 450_000
CONTRAST = 2  # the line of high contrast, px


class Look(NamedTuple):
    """What a control looks like at rest depends on, but for the density."""

    variant: Variant
    holding: frozenset[str]
    text: Text
    width: int
    height: int
    flipped: bool


class LastPaint(NamedTuple):
    """A picture that was painted while nothing moved, what it shows, and where."""

    shows: tuple[Any, ...]
    at: QtCore.QPointF
    # The picture belongs to the bounded cache of all.
    picture: ref[QtGui.QImage]


class Outside(QtWidgets.QGraphicsDropShadowEffect):
    """Paints a control with what lies beyond its box. Qt gives an effect that room, and neither
    layouts nor clicks know of it.

    Derived from the shadow only for its bounds: those are asked for often, and stay in C++.
    """

    def __init__(self, control: Control, reach: int) -> None:
        super().__init__(control)
        self.setOffset(0, 0)
        self.setBlurRadius(reach)

    def draw(self, painter: QtGui.QPainter) -> None:
        keep_references()
        control: Any = self.parent()
        with Reported():
            paint(control, painter)
        children = control.children()
        if len(children) > 1 and any(child.isWidgetType() for child in children):
            self.drawSource(painter)


def paint(control: Control, painter: QtGui.QPainter) -> None:
    """Paints the control, its box beginning at the painter's origin."""
    if control.size().isEmpty():
        return
    placed, last = painter.deviceTransform(), control.last_paint
    frame = last.picture() if last is not None and last.shows == _seen(control, placed) else None
    if last is not None and frame is not None:
        painter.drawImage(last.at, frame)
    else:
        _paint_anew(control, painter, placed)
    if _high_contrast(control):
        _paint_contrast(control, painter)


def _seen(control: Control, placed: QtGui.QTransform) -> tuple[Any, ...]:
    """What is seen of a control that stands still."""
    return (placed, control.size(), control.states(), control.variant(), control.shown_text(),
            control.layoutDirection(), control.is_calm())


def _paint_anew(control: Control, painter: QtGui.QPainter, placed: QtGui.QTransform) -> None:
    """Paints what may have changed; a picture that stands still is noted with what it shows."""
    last, control.last_paint = control.last_paint, None
    left, top, right, bottom = control.design.beyond
    room = QtCore.QSize(control.width() + left + right, control.height() + top + bottom)
    ratio = placed.m11()
    upright = (ratio > 0 and abs(ratio - placed.m22()) < 1e-6 and placed.isAffine()
               and not placed.isRotating())
    pixels = room.width() * room.height() * ratio * ratio
    small, large = upright and pixels <= LARGEST, upright and pixels > BANDED
    moving = control.moving()
    x = y = 0.0
    placing = moving.placing(control.box()) if moving is not None else None
    if placing is None and upright:
        # Where pixels are parts of a px, a picture begins on one.
        x, y = (max(0.0, at - floor(at + 1e-4)) for at in (
            placed.dx() - left * ratio, placed.dy() - top * ratio))
    start = round(x, 3), round(y, 3)
    look = Look(control.variant(), frozenset(control.states()), control.shown_text(),
                control.width(), control.height(), from_right(control))
    keeps = moving is None and small  # what is seen for a 60th of a second is not kept
    key = (look, ratio, start)
    rough = _is_unfinished(control, painter, last, keeps and large and key not in pictures)
    sketch = Sketch((control.design, look.holding, ratio), rough)
    drawing = _drawing(control, look, room, ratio if small else max(1.0, abs(ratio)), moving,
                       start if small else None)
    if keeps and (key in pictures or not rough):
        frame = pictures.get(key, lambda: sketch.drawn(
            lambda: cropped(picture(room, ratio, start, drawing.paint))))
        offset = frame.offset()
        at = QtCore.QPointF((offset.x() - x) / ratio - left, (offset.y() - y) / ratio - top)
        painter.drawImage(at, frame)
        control.last_paint = LastPaint(_seen(control, placed), at, ref(frame))
        return
    painter.save()
    if placing is not None:
        painter.setWorldTransform(placing, True)
    painter.translate(-left, -top)
    steps: Iterator[object] = chain((make() for make in sketch.due), (None,))
    if large and (rough or (moving is not None and is_on_window(painter, control))):
        # As coarse as it takes, until all of it is there.
        density = ratio * sqrt(COARSE / pixels)
        coarse = _drawing(control, look, room, density, moving, None)
        painter.drawImage(QtCore.QRectF(0, 0, room.width(), room.height()), sketch.drawn(
            lambda: picture(room, density, (0.0, 0.0), coarse.paint)))
        if keeps:
            steps = in_bands(drawing, start, lambda image: pictures.put(key, image))
    elif small and placing is not None and (placing.isRotating() or placing.isScaling()):
        # Turned as a whole: that takes less than to turn each layer.
        painter.setRenderHint(QtGui.QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(0, 0, sketch.drawn(
            lambda: picture(room, ratio, (0.0, 0.0), drawing.paint)))
    else:
        sketch.drawn(lambda: drawing.paint(painter))
    painter.restore()
    if rough and control.resizing is not None:
        control.resizing.wait(steps)


def _is_unfinished(
    control: Control, painter: QtGui.QPainter, last: LastPaint | None, takes_long: bool
) -> bool:
    """Whether it is painted roughly at first: on a window, while its size changes, and where all of
    it takes long. A picture that is taken of it is always exact.
    """
    resizing = control.resizing
    same = last is None or last.shows[1] == control.size()
    if (resizing is None and same and not takes_long) or not is_on_window(painter, control):
        return False
    if resizing is None:
        resizing = Resizing(control)
    elif resizing.is_over():
        resizing.deleteLater()
        resizing = None
    control.resizing = resizing
    return resizing is not None


def _drawing(
    control: Control, look: Look, room: QtCore.QSize, ratio: float, moving: AnyFrame | None,
    start: tuple[float, float] | None,
) -> Drawing:
    left, top, _, _ = control.design.beyond
    at_rest = Drawing(
        control.design, look.variant.parts(look.holding), look.text,
        control.box().translated(left, top), room, ratio, look.flipped, look.holding)
    return at_rest if moving is None else moving.drawing(at_rest, (look, ratio), start)


def from_right(control: Control) -> bool:
    """Whether the layout runs from right to left."""
    return bool(control.layoutDirection() == QtCore.Qt.LayoutDirection.RightToLeft)


def _high_contrast(control: Control) -> bool:
    """Whether the platform asks for it; Qt knows since 6.10. Asked for with every repaint."""
    if control.hints is None:
        platform = QtGui.QGuiApplication.styleHints()
        control.hints = (platform, QtCore.Qt.ContrastPreference.HighContrast) if hasattr(
            platform, "accessibility") else (None, None)
    hints, high = control.hints
    return hints is not None and bool(hints.accessibility().contrastPreference() == high)


def _paint_contrast(control: Control, painter: QtGui.QPainter) -> None:
    """A line round the outline, a stronger one with focus."""
    outline = body_path(control.rest()["outline"], control.box())
    width = CONTRAST * (2 if "focus" in control.states() else 1)
    painter.setRenderHint(QtGui.QPainter.RenderHint.Antialiasing)
    painter.strokePath(outline, QtGui.QPen(
        control.palette().color(QtGui.QPalette.ColorRole.WindowText), width))
