"""One track on the ruler of a change: when something begins and how long it takes."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from mektel.app.theme import paint_focus, theme, ui_font
from mektel.app.widgets.plain import tip

GRIP, SIDE, HIGH = 7.0, 8.0, 26
STEP = 0.01


class Track(QWidget):
    """``changed`` is sent with the seconds of its beginning and of its length, and whether a drag
    is going on.
    """

    changed = Signal(float, float, bool)
    drag_ended = Signal()

    def __init__(self, name: str, moves: bool, parent: QWidget) -> None:
        super().__init__(parent)
        self.begin, self.seconds, self.span = 0.0, 0.0, 1.0
        self.moves = moves
        self._held = ""
        self._from = (0.0, 0.0, 0.0)
        self.setFixedHeight(HIGH)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"Track of {name}")
        tip(self, "Drag it to begin later, its end to take longer" if moves
                        else "Drag its end to take longer")

    def sizeHint(self) -> QSize:
        return QSize(300, HIGH)

    def show_times(self, begin: float, seconds: float, span: float) -> None:
        self.begin, self.seconds = begin, seconds
        if not self._held:
            self.span = max(span, 0.05)
        self.update()

    def bar(self) -> QRectF:
        """Where the bar lies, in px."""
        wide = (self.width() - 2 * SIDE) / self.span
        return QRectF(SIDE + self.begin * wide, 6, max(3.0, self.seconds * wide), HIGH - 12)

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours, bar = theme(), self.bar()
        middle = self.height() / 2
        painter.setPen(QPen(QColor(colours.hairline), 1))
        painter.drawLine(QPointF(SIDE, middle), QPointF(self.width() - SIDE, middle))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours.second))
        painter.drawRoundedRect(bar, 4, 4)
        text = f"{self.seconds * 1000:.0f} ms"
        if self.begin > 0:
            text = f"after {self.begin * 1000:.0f} ms, {text}"
        painter.setFont(ui_font(12))
        metrics = painter.fontMetrics()
        inside = metrics.horizontalAdvance(text) + 16 < bar.width()
        room = bar if inside else QRectF(bar.right() + 6, 0, self.width() - bar.right() - 6, HIGH)
        if not inside and room.width() < metrics.horizontalAdvance(text):
            room = QRectF(0, 0, bar.left() - 6, HIGH)
        painter.setPen(QColor(colours.raised if inside else colours.dim))
        side = Qt.AlignmentFlag.AlignHCenter if inside else (
            Qt.AlignmentFlag.AlignLeft if room.left() > 0 else Qt.AlignmentFlag.AlignRight)
        painter.drawText(room, side | Qt.AlignmentFlag.AlignVCenter, text)
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _grip_at(self, x: float) -> str:
        bar = self.bar()
        if abs(x - bar.right()) <= GRIP:
            return "end"
        return "whole" if self.moves and bar.left() - GRIP <= x < bar.right() else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._held = self._grip_at(event.position().x())
        self._from = (event.position().x(), self.begin, self.seconds)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        x = event.position().x()
        if not self._held:
            shapes = {"end": Qt.CursorShape.SizeHorCursor, "whole": Qt.CursorShape.OpenHandCursor}
            self.setCursor(shapes.get(self._grip_at(x), Qt.CursorShape.ArrowCursor))
            return
        start, begin, seconds = self._from
        by = (x - start) / (self.width() - 2 * SIDE) * self.span
        self._set(*((begin, seconds + by) if self._held == "end" else (begin + by, seconds)), True)

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        if self._held:
            self._held = ""
            self.drag_ended.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: -STEP, Qt.Key.Key_Right: STEP}
        step = steps.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier and self.moves:
            self._set(self.begin + step, self.seconds, False)
        else:
            self._set(self.begin, self.seconds + step, False)

    def _set(self, begin: float, seconds: float, drag: bool) -> None:
        self.changed.emit(round(min(10.0, max(0.0, begin)), 3),
                          round(min(10.0, max(0.0, seconds)), 3), drag)
