"""The gradient bar: stops to add, drag, recolour and remove."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QLinearGradient, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from mektel.app.theme import paint_focus, theme
from mektel.app.widgets.backdrop import CHECKER, paint_backdrop
from mektel.app.widgets.colour_swatch import qcolour
from mektel.app.widgets.plain import tip
from mektel.core.kit import Kit, Stop

PULL_OFF = 36.0
GRAB = 9.0


class GradientBar(QWidget):
    """Click the bar for a new stop; drag a stop along, or off the bar to remove it.

    Left and Right move the selected stop, Tab and Shift+Tab within the bar are Up and Down, Delete
    removes it. ``selected_changed`` says which stop is selected.
    """

    changed = Signal(object, bool)
    drag_ended = Signal()
    selected_changed = Signal(int)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._kit = Kit()
        self._stops: tuple[Stop, ...] = ()
        self.selected = 0
        self._dragging = False
        self._pulled_off = False
        self.setFixedHeight(44)
        self.setMinimumWidth(160)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Gradient stops")
        tip(self, "Click for a new stop; drag a stop, or pull it off the bar")

    def sizeHint(self) -> QSize:
        return QSize(220, 44)

    def show_value(self, stops: tuple[Stop, ...], kit: Kit) -> None:
        self._stops, self._kit = stops, kit
        self.selected = min(self.selected, len(stops) - 1)
        self.update()

    def _bar(self) -> QRectF:
        return QRectF(9, 4, self.width() - 18, 22)

    def _handle(self, stop: Stop) -> QPointF:
        bar = self._bar()
        share = min(1.0, max(0.0, stop.position))
        return QPointF(bar.x() + share * bar.width(), bar.bottom() + 4)

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        bar = self._bar()
        paint_backdrop(painter, bar, CHECKER, 5, 5.5)
        gradient = QLinearGradient(bar.topLeft(), bar.topRight())
        for stop in self._stops:
            share = min(1.0, max(0.0, stop.position))
            gradient.setColorAt(share, qcolour(self._kit.colour(stop.colour)))
        painter.setBrush(gradient)
        painter.setPen(QPen(QColor(theme().dim), 1))
        painter.drawRoundedRect(bar.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5)
        for at, stop in enumerate(self._stops):
            if self._pulled_off and at == self.selected:
                continue
            middle = self._handle(stop)
            ring = theme().accent if at == self.selected else theme().ink
            painter.setBrush(qcolour(self._kit.colour(stop.colour)[:7]))
            painter.setPen(QPen(QColor("#FFFFFF"), 2))
            painter.drawEllipse(middle, 6.5, 6.5)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(ring), 2 if at == self.selected else 1))
            painter.drawEllipse(middle, 8, 8)
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def select(self, at: int) -> None:
        self.selected = max(0, min(at, len(self._stops) - 1))
        self.selected_changed.emit(self.selected)
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        at = event.position()
        near = [
            (abs(self._handle(stop).x() - at.x()), index)
            for index, stop in enumerate(self._stops)
            if (self._handle(stop) - at).manhattanLength() < GRAB * 2
        ]
        if near:
            self.select(min(near)[1])
        elif self._bar().adjusted(-2, -2, 2, 14).contains(at):
            self._add(self._position(at.x()))
        else:
            return
        self._dragging = True

    def _position(self, x: float) -> float:
        bar = self._bar()
        return round(min(1.0, max(0.0, (x - bar.x()) / bar.width())), 3)

    def _add(self, position: float) -> None:
        before = [stop for stop in self._stops if stop.position <= position]
        nearest = before[-1] if before else self._stops[0]
        stops = sorted(
            [*self._stops, Stop(position=position, colour=nearest.colour)],
            key=lambda stop: stop.position,
        )
        self.selected = next(
            at for at, stop in reversed(list(enumerate(stops))) if stop.position == position
        )
        self.changed.emit(tuple(stops), True)
        self.selected_changed.emit(self.selected)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if not self._dragging:
            return
        off = abs(event.position().y() - self._bar().center().y())
        self._pulled_off = off > PULL_OFF and len(self._stops) > 2
        if self._pulled_off:
            self.setCursor(Qt.CursorShape.ForbiddenCursor)
            self.update()
            return
        self.setCursor(Qt.CursorShape.SizeHorCursor)
        self._move_selected(self._position(event.position().x()))

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        if self._pulled_off:
            self._pulled_off = False
            self.remove_selected()
        self._dragging = False
        self.unsetCursor()
        self.drag_ended.emit()

    def _move_selected(self, position: float) -> None:
        # A stop is dragged up to its neighbours, not past them: the order stays as designed.
        low = self._stops[self.selected - 1].position if self.selected else min(0.0, position)
        last = self.selected == len(self._stops) - 1
        high = max(1.0, position) if last else self._stops[self.selected + 1].position
        limited = min(high, max(low, position))
        stops = list(self._stops)
        stops[self.selected] = Stop(position=limited, colour=stops[self.selected].colour)
        self.changed.emit(tuple(stops), True)

    def remove_selected(self) -> None:
        if len(self._stops) <= 2:
            return
        stops = [stop for at, stop in enumerate(self._stops) if at != self.selected]
        self.selected = min(self.selected, len(stops) - 1)
        self.changed.emit(tuple(stops), False)
        self.selected_changed.emit(self.selected)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = 0.1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 0.01
        position = self._stops[self.selected].position
        if event.key() == Qt.Key.Key_Left:
            self._move_selected(round(position - step, 3))
        elif event.key() == Qt.Key.Key_Right:
            self._move_selected(round(position + step, 3))
        elif event.key() == Qt.Key.Key_Up:
            self.select(self.selected - 1)
        elif event.key() == Qt.Key.Key_Down:
            self.select(self.selected + 1)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.remove_selected()
        else:
            super().keyPressEvent(event)
