"""Dials: one editable value each."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QEnterEvent,
    QKeyEvent,
    QPainter,
    QPolygonF,
)
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QSizePolicy,
    QWidget,
)

from mektel.app.theme import GAP_2, theme
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import PlainLabel, tip

NAME_WIDTH = 72
ROW = 28


class NameLabel(PlainLabel):
    """The name of a dial: names stand below each other, and a longer one takes what it needs.
    ``entered`` is sent when the pointer comes to it: what filters its events can wait for that.
    """

    entered = Signal()

    def __init__(self, text: str, parent: QWidget) -> None:
        super().__init__(text, parent)
        self.setProperty("role", "dim")
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Preferred)
        self._least = NAME_WIDTH

    def enterEvent(self, event: QEnterEvent) -> None:
        self.entered.emit()
        super().enterEvent(event)

    def sizeHint(self) -> QSize:
        hint = super().sizeHint()
        return QSize(max(self._least, hint.width()), hint.height())

    def needed(self) -> int:
        """The width of the name alone."""
        self.ensurePolished()
        return super().sizeHint().width()

    def take(self, width: int) -> None:
        """As wide as the longest of those that it stands below."""
        self._least = width
        self.updateGeometry()


class Dial(QWidget):
    """A row: notch, name, editor. ``changed`` says (value, whether a drag is going on)."""

    changed = Signal(object, bool)
    drag_ended = Signal()
    back_to_rest = Signal()
    menu_wanted = Signal(object)

    def __init__(self, name: str, parent: QWidget) -> None:
        super().__init__(parent)
        # What the value does, in a line.
        self.name, self.help = name, ""
        self._differs, self._mixed = False, False
        self._rest_text, self._formula, self._origin = "", "", ""
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(GAP_2, 0, 0, 0)
        self._row.setSpacing(GAP_2)
        self.label = NameLabel(name, self)
        self._row.addWidget(self.label)
        self.setFixedHeight(ROW)

    def set_help(self, text: str) -> None:
        self.help = text
        self._tell()

    def stand_alone(self) -> None:
        """Without the room for a notch, as a cell of a table has it."""
        self._row.setContentsMargins(0, 0, 0, 0)

    def set_differs(self, differs: bool, rest_text: str = "") -> None:
        """Marks that the value is not that of rest in the selected state."""
        self._differs = differs
        self._rest_text = rest_text
        self._tell()
        self.update()

    def set_driven(self, formula: str) -> None:
        """Shows what drives the value; empty if it stands by itself."""
        if formula != self._formula:
            self._formula = formula
            self.label.setProperty("role", "driven" if formula else "dim")
            self.label.style().polish(self.label)
            self._tell()
            self.update()

    def set_mixed(self, mixed: bool) -> None:
        """Marks that the selected controls have different values here."""
        if mixed != self._mixed:
            self._mixed = mixed
            self.label.setText(f"{self.name} · mixed" if mixed else self.name)
            self._tell()

    def set_origin(self, condition: str) -> None:
        """Names the states that a value comes from, where those are not the selected one's own."""
        if condition != self._origin:
            self._origin = condition
            self._tell()

    @property
    def differs(self) -> bool:
        return self._differs

    @property
    def mixed(self) -> bool:
        return self._mixed

    @property
    def formula(self) -> str:
        return self._formula

    def _tell(self) -> None:
        lines = []
        if self._mixed:
            lines.append("The selected controls have different values here; a new one goes to all.")
        if self._formula:
            lines.append(f"= {self._formula}")
        if self._origin:
            lines.append(f"From {self._origin}.")
        if self._differs:
            lines.append(f"At rest: {self._rest_text}.")
        tip(self.label, "\n".join([
            *([f"{self.help}."] if self.help else []), *lines, "Right-click for more."]))

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        self.menu_wanted.emit(event.globalPos())

    def paintEvent(self, _event: object) -> None:
        if not self._differs and not self._formula:
            return
        painter = QPainter(self)
        if self._formula:
            # What is driven has a bar at its side; what differs from rest, a notch.
            painter.fillRect(QRectF(0, 5, 2, self.height() - 10), QColor(theme().second))
        if not self._differs:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme().accent))
        middle = self.height() / 2
        painter.drawPolygon(QPolygonF([
            QPointF(0, middle - 4.5), QPointF(5, middle), QPointF(0, middle + 4.5)
        ]))


class ChoiceButton(QPushButton):
    """A value among a few, chosen from a menu; Up and Down step through them."""

    chosen = Signal(object)

    def __init__(self, choices: list[tuple[Any, str]], accessible: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.choices = choices
        self.value: Any = None
        self.setObjectName("quiet")
        self.setAccessibleName(accessible)
        self.setStyleSheet("text-align: left; padding-left: 3px;")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        menu = QMenu(self)
        for value, title in choices:
            add_action(menu, title, self.chosen.emit, value)
        self.setMenu(menu)

    def show_value(self, value: Any) -> None:
        self.value = value
        # A kit may hold what is no choice any more, such as a state that its behaviour lost.
        text = dict(self.choices).get(value, str(value))
        self.setText(f"{text}  ▾")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            values = [value for value, _ in self.choices]
            way = 1 if event.key() == Qt.Key.Key_Down else -1
            at = values.index(self.value) + way if self.value in values else 0
            at = min(len(values) - 1, max(0, at))
            self.chosen.emit(values[at])
        else:
            super().keyPressEvent(event)


class ChoiceDial(Dial):
    def __init__(self, name: str, choices: list[tuple[Any, str]], parent: QWidget) -> None:
        super().__init__(name, parent)
        self.button = ChoiceButton(choices, name, self)
        self._row.addWidget(self.button, 1)
        self.button.chosen.connect(lambda value: self.changed.emit(value, False))

    def show_value(self, value: Any) -> None:
        self.button.show_value(value)


class Switch(QPushButton):
    """The application's own yes/no: a word that says what is the case."""

    def __init__(self, yes: str, no: str, accessible: str, parent: QWidget) -> None:
        super().__init__(parent)
        self._captions = (no, yes)
        self.setObjectName("quiet")
        self.setCheckable(True)
        self.setAccessibleName(accessible)
        self.setStyleSheet("text-align: left;")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_value(self, on: bool) -> None:
        self.setChecked(on)
        self.setText(self._captions[on])


class YesNoDial(Dial):
    def __init__(self, name: str, yes: str, no: str, parent: QWidget) -> None:
        super().__init__(name, parent)
        self.switch = Switch(yes, no, name, self)
        self._row.addWidget(self.switch, 1)
        self.switch.clicked.connect(lambda on: self.changed.emit(on, False))

    def show_value(self, value: bool) -> None:
        self.switch.show_value(value)


class TextDial(Dial):
    def __init__(self, name: str, parent: QWidget) -> None:
        super().__init__(name, parent)
        self.entry = QLineEdit(self)
        self.entry.setAccessibleName(name)
        self.entry.setMaxLength(200)
        self._row.addWidget(self.entry, 1)
        self.entry.textEdited.connect(lambda text: self.changed.emit(text, True))
        self.entry.editingFinished.connect(self.drag_ended)

    def show_value(self, value: str) -> None:
        if self.entry.text() != value:
            self.entry.setText(value)


class CommittedTextDial(Dial):
    """Text that counts once it is confirmed, because half of it means nothing."""

    def __init__(self, name: str, parent: QWidget) -> None:
        super().__init__(name, parent)
        self.entry = QLineEdit(self)
        self.entry.setAccessibleName(name)
        self.entry.setMaxLength(20_000)
        self._row.addWidget(self.entry, 1)
        self.entry.editingFinished.connect(self._take)

    def _take(self) -> None:
        if self.entry.isModified():
            self.entry.setModified(False)
            self.changed.emit(self.entry.text().strip(), False)

    def show_value(self, value: str) -> None:
        if not (self.entry.hasFocus() and self.entry.isModified()):
            self.entry.setText(value)
            self.entry.setCursorPosition(0)  # where room is short, its beginning is seen
