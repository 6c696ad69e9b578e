"""The route bar: the kit, the rooms in the order of the work, undo and redo."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import (
    QAbstractButton,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QToolButton,
    QWidget,
)

from mektel.app.theme import GAP_2, GAP_3, GAP_4, paint_focus, theme, ui_font
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.workbench import Workbench

HEIGHT = 52
SIDE = 280


class Mark(QWidget):
    """The application's mark: a key, drawn."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setFixedSize(28, 28)

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        face = QColor(theme().accent)
        painter.setBrush(face.darker(150))
        painter.drawRoundedRect(QRectF(1, 6, 26, 20), 7, 7)
        painter.setBrush(face)
        painter.drawRoundedRect(QRectF(1, 2, 26, 20), 7, 7)


class StopButton(QAbstractButton):
    """One stop on the route."""

    def __init__(self, name: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setText(name)
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedSize(self.sizeHint())

    def sizeHint(self) -> QSize:
        return QSize(96, 44)

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours = theme()
        middle = QPointF(self.width() / 2, 15)
        if self.isChecked():
            painter.setPen(QPen(QColor(colours.panel), 6))
            painter.setBrush(QColor(colours.accent))
            painter.drawEllipse(middle, 11, 11)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawEllipse(middle, 9, 9)
        else:
            painter.setPen(QPen(QColor(colours.ink if self.underMouse() else colours.dim), 2))
            painter.setBrush(QColor(colours.panel))
            painter.drawEllipse(middle, 5, 5)
        painter.setFont(ui_font(12, 700 if self.isChecked() else 500))
        strong = self.isChecked() or self.underMouse()
        painter.setPen(QColor(colours.ink if strong else colours.dim))
        painter.drawText(
            QRectF(0, 25, self.width(), 18), Qt.AlignmentFlag.AlignCenter, self.text()
        )
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(10, 2, -10, -1))


class Track(QWidget):
    """The stops, joined by a line."""

    def __init__(self, names: list[str], parent: QWidget) -> None:
        super().__init__(parent)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.stops = {name: StopButton(name, self) for name in names}
        for stop in self.stops.values():
            row.addWidget(stop)

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setPen(QPen(QColor(theme().hairline), 2))
        painter.drawLine(QPointF(48, 15), QPointF(self.width() - 48, 15))


class TurnButton(QToolButton):
    """Undo or redo, drawn as a turning arrow; the tip says what it would undo."""

    def __init__(self, back: bool, parent: QWidget) -> None:
        super().__init__(parent)
        self._back = back
        self.setFixedSize(30, 30)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def paintEvent(self, event: object) -> None:
        super().paintEvent(event)  # type: ignore[arg-type]
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self._back:
            painter.translate(self.width(), 0)
            painter.scale(-1, 1)
        colour = QColor(theme().ink)
        colour.setAlphaF(1.0 if self.isEnabled() else 0.35)
        painter.setPen(QPen(colour, 1.75, c=Qt.PenCapStyle.RoundCap, j=Qt.PenJoinStyle.RoundJoin))
        path = QPainterPath(QPointF(12.5, 9.5))
        path.lineTo(9, 13)
        path.lineTo(12.5, 16.5)
        path.moveTo(9, 13)
        path.lineTo(17, 13)
        path.cubicTo(22, 13, 22, 20.5, 17, 20.5)
        path.lineTo(13, 20.5)
        painter.drawPath(path)


class RouteBar(QWidget):
    room_wanted = Signal(str)

    def __init__(self, rooms: list[str], bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("routeBar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(HEIGHT)
        self.bench = bench
        row = QHBoxLayout(self)
        row.setContentsMargins(GAP_4, 0, GAP_4, 0)
        row.setSpacing(GAP_2)
        left = QWidget(self)
        left_row = QHBoxLayout(left)
        left_row.setContentsMargins(0, 0, 0, 0)
        left_row.setSpacing(GAP_2)
        self.kit_button = QPushButton(left)
        self.kit_button.setObjectName("kitName")
        self.kit_menu = QMenu(self.kit_button)
        self.kit_button.setMenu(self.kit_menu)
        self.saved = PlainLabel(left)
        self.saved.setProperty("role", "small")
        left_row.addWidget(Mark(left))
        left_row.addWidget(self.kit_button)
        left_row.addWidget(self.saved)
        left_row.addStretch(1)
        self.track = Track(rooms, self)
        for name, stop in self.track.stops.items():
            stop.clicked.connect(lambda _=False, name=name: self.room_wanted.emit(name))
        right = QWidget(self)
        right_row = QHBoxLayout(right)
        right_row.setContentsMargins(0, 0, 0, 0)
        right_row.setSpacing(GAP_3 - 4)
        self.undo_button, self.redo_button = TurnButton(True, right), TurnButton(False, right)
        right_row.addStretch(1)
        self.find_button = QPushButton("Find…", right)
        self.find_button.setObjectName("quiet")
        tip(self.find_button, "A control, layer, value, colour, command or guide page "
                                    "(Ctrl+K)")
        self.help_button = QPushButton("?", right)
        self.help_button.setObjectName("quiet")
        self.help_button.setMinimumWidth(30)
        self.help_button.setAccessibleName("Guide")
        tip(self.help_button, "The guide, at what is in front of you (F1)")
        right_row.addWidget(self.find_button)
        right_row.addWidget(self.help_button)
        right_row.addWidget(self.undo_button)
        right_row.addWidget(self.redo_button)
        # Alike in width, so that the stops stand in the middle.
        for side in (left, right):
            side.setMinimumWidth(SIDE)
        row.addWidget(left, 1)
        row.addWidget(self.track)
        row.addWidget(right, 1)
        self.undo_button.clicked.connect(bench.undo)
        self.redo_button.clicked.connect(bench.redo)
        bench.kit_changed.connect(self.refresh)
        bench.file_changed.connect(self.refresh)

    def refresh(self) -> None:
        bench = self.bench
        name = self.fontMetrics().elidedText(bench.kit.name, Qt.TextElideMode.ElideRight, 200)
        self.kit_button.setText(f"{name}  ▾")
        self.kit_button.ensurePolished()
        width = self.kit_button.fontMetrics().horizontalAdvance(self.kit_button.text())
        self.kit_button.setFixedWidth(width + 20)
        self.kit_button.setAccessibleName(f"Kit {bench.kit.name}")
        if bench.unsaved:
            self.saved.setText("● unsaved")
        elif bench.files.path is None:
            self.saved.setText("not in a file yet")
        else:
            self.saved.setText(f"saved {bench.files.saved_at}" if bench.files.saved_at else "saved")
        for button, word, what, keys in (
            (self.undo_button, "Undo", bench.history.undo_name, "Ctrl+Z"),
            (self.redo_button, "Redo", bench.history.redo_name, "Ctrl+Shift+Z"),
        ):
            button.setEnabled(what is not None)
            tip(button, f"{word}: {what}  ({keys})" if what else f"Nothing to {word.lower()}")
            button.setAccessibleName(f"{word}: {what}" if what else word)
