"""Picking one drawing out of many: symbols, and icons searched by word."""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import (
    QFrame,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mektel.app.theme import GAP_1, GAP_2, GAP_3, paint_focus, theme
from mektel.app.widgets.dials import Dial
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.core.drawings import SYMBOLS, find_icons, icon_lines, symbol_contours
from mektel.core.errors import NotFoundError

CELL, ACROSS = 40, 8
# Seconds of painting in one turn.
TURN = 0.02
# Drawn for a name that no icon or symbol has.
UNKNOWN = "circle-question-mark"


def paint_icon(painter: QPainter, name: str, box: QRectF, colour: QColor) -> None:
    share = box.width() / 24
    pen = QPen(colour, 2 * share)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    painter.setPen(pen)
    try:
        lines = icon_lines(name)
    except NotFoundError:
        lines = icon_lines(UNKNOWN)  # a finding says so
    for line in lines:
        painter.drawPolyline([
            QPointF(box.x() + x * share, box.y() + y * share) for x, y in line])


def paint_symbol(painter: QPainter, name: str, box: QRectF, colour: QColor) -> None:
    try:
        contours, wide, high = symbol_contours(name)
    except NotFoundError:
        paint_icon(painter, UNKNOWN, box, colour)
        return
    share = min(box.width() / wide, box.height() / high)
    x0, y0 = box.center().x() - wide * share / 2, box.center().y() - high * share / 2
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    for contour in contours:
        path.addPolygon([QPointF(x0 + x * share, y0 + y * share) for x, y in contour])
        path.closeSubpath()
    painter.fillPath(path, colour)


Painter = Callable[[QPainter, str, QRectF, QColor], None]


class Grid(QWidget):
    """Names as drawings in cells; arrow keys move, Enter picks."""

    picked = Signal(str)
    hovered = Signal(str)

    def __init__(self, paint: Painter, parent: QWidget) -> None:
        super().__init__(parent)
        self._paint = paint
        self.names: list[str] = []
        self.current = ""
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Drawings")

    def show_names(self, names: list[str], current: str) -> None:
        self.names, self.current = names, current
        self.setFixedSize(CELL * ACROSS, max(1, -(-len(names) // ACROSS)) * CELL)
        self.update()

    def cell(self, at: int) -> QRectF:
        return QRectF(at % ACROSS * CELL, at // ACROSS * CELL, CELL, CELL)

    def _name_at(self, spot: QPointF) -> str:
        at = int(spot.y() // CELL) * ACROSS + int(spot.x() // CELL)
        return self.names[at] if 0 <= at < len(self.names) and spot.x() < CELL * ACROSS else ""

    def paintEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        first = max(0, event.rect().top() // CELL * ACROSS)
        last = (event.rect().bottom() // CELL + 1) * ACROSS
        begun = time.perf_counter()
        for at in range(first, min(last, len(self.names))):
            cell = self.cell(at)
            if at % ACROSS == 0 and time.perf_counter() - begun > TURN:
                # Drawings are read when they are first shown: the other rows in the next turn.
                rest = QRect(0, int(cell.top()), self.width(), self.height())
                QTimer.singleShot(0, self, partial(self.update, rest))
                break
            if self.names[at] == self.current:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(theme().well))
                painter.drawRoundedRect(cell.adjusted(2, 2, -2, -2), 5, 5)
                painter.setBrush(Qt.BrushStyle.NoBrush)
                if self.hasFocus():
                    paint_focus(painter, cell.adjusted(3, 3, -3, -3))
            self._paint(painter, self.names[at], cell.adjusted(9, 9, -9, -9), QColor(theme().ink))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        name = self._name_at(event.position())
        if name:
            self.hovered.emit(name)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        name = self._name_at(event.position())
        if name:
            self.current = name
            self.update()
            self.picked.emit(name)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -ACROSS,
                 Qt.Key.Key_Down: ACROSS}
        at = self.names.index(self.current) if self.current in self.names else -1
        step = steps.get(Qt.Key(event.key()))
        if step is not None and self.names:
            self.current = self.names[max(0, min(len(self.names) - 1, at + step))]
            self.hovered.emit(self.current)
            self.picked.emit(self.current)
            self.update()
        else:
            super().keyPressEvent(event)


class PickPopover(QFrame):
    """A search line over the drawings it finds."""

    picked = Signal(str)

    def __init__(self, kind: str, current: str, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("popover")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self._kind = kind
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_3, GAP_3, GAP_3, GAP_3)
        column.setSpacing(GAP_2)
        self.search = QLineEdit(self)
        self.search.setPlaceholderText(f"Find {kind}s by word")
        self.search.setAccessibleName(f"Find {kind}s by word")
        self.search.textChanged.connect(self._find)
        self.grid = Grid(paint_icon if kind == "icon" else paint_symbol, self)
        self.grid.picked.connect(self.picked)
        scroll = QScrollArea(self)
        scroll.setWidget(self.grid)
        self.grid.setAutoFillBackground(False)
        scroll.viewport().setAutoFillBackground(False)
        scroll.setFixedSize(CELL * ACROSS + 14, CELL * 6)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.caption = PlainLabel(current, self)
        self.caption.setProperty("role", "dim")
        self.grid.hovered.connect(self.caption.setText)
        for widget in (self.search, scroll, self.caption):
            column.addWidget(widget)
        self._find("")
        self.grid.current = current

    def _find(self, text: str) -> None:
        if self._kind == "icon":
            names = find_icons(text, 4000)
        else:
            names = [name for name in SYMBOLS if text.casefold().strip() in name]
        self.grid.show_names(names, self.grid.current)
        count = len(names)
        self.caption.setText(
            f"{count} {self._kind}{'' if count == 1 else 's'}" if count
            else f"Nothing found for “{text.strip()}”. Try another word.")

    def open_below(self, widget: QWidget) -> None:
        self.adjustSize()
        screen = widget.screen().availableGeometry()
        at = widget.mapToGlobal(QPoint(0, widget.height() + GAP_1))
        if at.y() + self.height() > screen.bottom():
            at.setY(widget.mapToGlobal(QPoint(0, 0)).y() - self.height() - GAP_1)
        at.setX(max(screen.left(), min(at.x(), screen.right() - self.width())))
        self.move(at)
        self.show()
        self.search.setFocus()


class PickButton(QPushButton):
    """Shows the drawing and its name."""

    def __init__(self, paint: Painter, parent: QWidget) -> None:
        super().__init__(parent)
        self._paint = paint
        self.setObjectName("quiet")
        self.setMinimumWidth(60)

    def sizeHint(self) -> QSize:
        return QSize(110, 26)

    def paintEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        text = self.text()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.hasFocus() or self.underMouse():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))
        self._paint(painter, text, QRectF(6, self.height() / 2 - 8, 16, 16), QColor(theme().ink))
        painter.setPen(QColor(theme().ink))
        room = self.width() - 32
        shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(28, 0, room, self.height()), Qt.AlignmentFlag.AlignVCenter, shown)


class PickDial(Dial):
    def __init__(self, kind: str, name: str, parent: QWidget) -> None:
        super().__init__(name, parent)
        self._kind = kind
        self.button = PickButton(paint_icon if kind == "icon" else paint_symbol, self)
        self.button.setAccessibleName(name)
        self.button.clicked.connect(self.open)
        self._row.addWidget(self.button, 1)
        self.popover: PickPopover | None = None

    def show_value(self, value: str) -> None:
        self.button.setText(value)
        tip(self.button, value)

    def open(self) -> None:
        self.popover = PickPopover(self._kind, self.button.text(), self)
        self.popover.picked.connect(lambda name: self.changed.emit(name, True))
        self.popover.destroyed.connect(lambda: self.drag_ended.emit())
        self.popover.open_below(self.button)
