"""A colour shown, and a track to slide along one of its measures."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QLinearGradient, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QAbstractButton, QWidget

from mektel.app.theme import paint_focus, theme
from mektel.app.widgets.backdrop import CHECKER, paint_backdrop

TRACK_STEPS = 12


def qcolour(colour: str) -> QColor:
    """#RRGGBBAA as Qt’s colour."""
    alpha = int(colour[7:9], 16) if len(colour) == 9 else 255
    made = QColor(colour[:7])
    made.setAlpha(alpha)
    return made


class Swatch(QAbstractButton):
    """A small square of a colour."""

    def __init__(self, accessible: str, parent: QWidget, side: int = 22) -> None:
        super().__init__(parent)
        self.colour = "#000000"
        self.setFixedSize(side + 4, side + 4)
        self.setAccessibleName(accessible)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_colour(self, colour: str) -> None:
        self.colour = colour
        self.update()

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        if len(self.colour) == 9:
            paint_backdrop(painter, box, CHECKER, 4, 4)
        painter.setBrush(qcolour(self.colour))
        painter.setPen(QPen(QColor(theme().dim), 1))
        painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
        if self.isChecked():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(theme().accent), 2))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 5, 5)
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))


class Track(QWidget):
    """A slider on a track that shows what each position would give."""

    moved = Signal(float)
    released = Signal()

    def __init__(self, name: str, low: float, high: float, parent: QWidget) -> None:
        super().__init__(parent)
        self.low, self.high = low, high
        self._value = low
        self._colour_at: Callable[[float], str] = lambda _value: "#000000"
        self.setFixedHeight(24)
        self.setMinimumWidth(148)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)

    def show_value(self, value: float, colour_at: Callable[[float], str]) -> None:
        self._value, self._colour_at = value, colour_at
        self.update()

    def _span(self) -> QRectF:
        return QRectF(8, 6, self.width() - 16, 12)

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        span = self._span()
        paint_backdrop(painter, span, CHECKER, 6, 4)
        gradient = QLinearGradient(span.topLeft(), span.topRight())
        for step in range(TRACK_STEPS + 1):
            share = step / TRACK_STEPS
            at = self.low + share * (self.high - self.low)
            gradient.setColorAt(share, qcolour(self._colour_at(at)))
        painter.setBrush(gradient)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawRoundedRect(span, 6, 6)
        share = (self._value - self.low) / (self.high - self.low)
        middle = QPointF(span.x() + share * span.width(), span.center().y())
        painter.setBrush(qcolour(self._colour_at(self._value)[:7]))
        painter.setPen(QPen(QColor("#FFFFFF"), 2))
        painter.drawEllipse(middle, 7, 7)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(theme().ink), 1))
        painter.drawEllipse(middle, 8, 8)
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _move_to(self, x: float) -> None:
        span = self._span()
        share = min(1.0, max(0.0, (x - span.x()) / span.width()))
        self.moved.emit(self.low + share * (self.high - self.low))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._move_to(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._move_to(event.position().x())

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self.released.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = (self.high - self.low) / 100
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            step *= 10
        ways = {
            Qt.Key.Key_Left: -step, Qt.Key.Key_Down: -step,
            Qt.Key.Key_Right: step, Qt.Key.Key_Up: step,
        }
        if event.key() in ways:
            wanted = self._value + ways[Qt.Key(event.key())]
            self.moved.emit(min(self.high, max(self.low, wanted)))
        else:
            super().keyPressEvent(event)
