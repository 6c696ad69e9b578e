"""Dials: one editable value each. Scrub the name, type, wheel, or use the arrow keys."""

from __future__ import annotations

import math
from typing import Any

from PySide6.QtCore import QEvent, QObject, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QPolygonF,
    QWheelEvent,
)
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QSizePolicy,
    QWidget,
)

from mektel.app.theme import GAP_1, GAP_2, theme
from mektel.app.widgets.menu import add_action
from mektel.core.kit import Measure

NAME_WIDTH = 72
ROW = 28


class NameLabel(QLabel):
    """The name of a dial: names stand below each other, and a longer one takes what it needs."""

    def __init__(self, text: str, parent: QWidget) -> None:
        super().__init__(text, parent)
        self.setProperty("role", "dim")
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Preferred)

    def sizeHint(self) -> QSize:
        hint = super().sizeHint()
        return QSize(max(NAME_WIDTH, hint.width()), hint.height())


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
        self.label.setToolTip("\n".join([
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


class _Entry(QLineEdit):
    """A line that gives its text back on Escape and reports steps by arrow keys and wheel."""

    stepped = Signal(float)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        many = 10.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        if event.key() == Qt.Key.Key_Up:
            self.stepped.emit(many)
        elif event.key() == Qt.Key.Key_Down:
            self.stepped.emit(-many)
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self.hasFocus():
            self.stepped.emit(1.0 if event.angleDelta().y() > 0 else -1.0)
            event.accept()
        else:
            event.ignore()


def as_text(value: float, measure: Measure) -> str:
    shown = value * 100 if measure.unit == "%" else value
    digits = max(0, measure.decimals - 2) if measure.unit == "%" else measure.decimals
    return f"{shown:.{digits}f}".rstrip("0").rstrip(".") if digits else f"{shown:.0f}"


class NumberField(QWidget):
    """A number with its unit: typed, stepped by arrow keys, or by wheel while focused."""

    changed = Signal(float, bool)

    def __init__(self, measure: Measure, accessible: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.measure = measure
        self._value = 0.0
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(2)
        self.entry = _Entry(self)
        self.entry.setAccessibleName(accessible)
        self.entry.setMinimumWidth(30)
        self.unit = QLabel(measure.unit, self)
        self.unit.setProperty("role", "small")
        row.addWidget(self.entry, 1)
        row.addWidget(self.unit)
        self.entry.editingFinished.connect(self._take_typed)
        self.entry.stepped.connect(self.step)

    @property
    def value(self) -> float:
        return self._value

    def show_value(self, value: float) -> None:
        self._value = value
        if not (self.entry.hasFocus() and self.entry.isModified()):
            self.entry.setText(as_text(value, self.measure))
            self._mark(False)

    def step(self, steps: float, drag: bool = True) -> None:
        self.offer(self._value + steps * self.measure.step, drag)

    def offer(self, value: float, drag: bool) -> None:
        limited = min(self.measure.high, max(self.measure.low, value))
        limited = round(limited, self.measure.decimals)
        self.entry.setModified(False)
        self._value = limited
        self.entry.setText(as_text(limited, self.measure))
        self._mark(False)
        self.changed.emit(limited, drag)

    def _take_typed(self) -> None:
        if not self.entry.isModified():
            return
        entered = self.entry.text().strip().rstrip("px%°×").strip().replace(",", ".")
        try:
            typed = float(entered) / (100 if self.measure.unit == "%" else 1)
        except ValueError:
            self._mark(True, "Not a number. Write digits, such as 12 or 0.5.")
            return
        if not self.measure.low <= typed <= self.measure.high:
            low, high = (as_text(v, self.measure) for v in (self.measure.low, self.measure.high))
            self._mark(True, f"From {low} to {high} {self.measure.unit}.")
            return
        self.entry.setModified(False)
        self.offer(typed, False)

    def _mark(self, wrong: bool, why: str = "") -> None:
        if bool(self.entry.property("wrong")) != wrong:
            self.entry.setProperty("wrong", wrong)
            self.entry.style().polish(self.entry)
        self.entry.setToolTip(why)


class _ScrubName(QObject):
    """Dragging a dial's name sideways turns its numbers."""

    def __init__(self, dial: Dial, fields: list[NumberField]) -> None:
        super().__init__(dial)
        self.dial, self.fields = dial, fields
        self._from: tuple[float, list[float]] | None = None
        dial.label.setCursor(Qt.CursorShape.SizeHorCursor)
        dial.label.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QMouseEvent):
            x = event.globalPosition().x()
            if event.type() == QEvent.Type.MouseButtonPress:
                if event.button() == Qt.MouseButton.LeftButton:
                    self._from = (x, [field.value for field in self.fields])
                    return True
            elif event.type() == QEvent.Type.MouseMove and self._from:
                start, values = self._from
                fine = 0.1 if event.modifiers() & Qt.KeyboardModifier.AltModifier else 1.0
                steps = round((x - start) / 2) * fine
                for field, value in zip(self.fields, values, strict=True):
                    field.offer(value + steps * field.measure.step, True)
                return True
            elif event.type() == QEvent.Type.MouseButtonRelease and self._from:
                self._from = None
                self.dial.drag_ended.emit()
                return True
        return False


class NumberDial(Dial):
    def __init__(self, name: str, measure: Measure, parent: QWidget) -> None:
        super().__init__(name, parent)
        self.field = NumberField(measure, name, self)
        self._row.addWidget(self.field, 1)
        self.field.changed.connect(lambda value, drag: self.changed.emit(value, drag))
        _ScrubName(self, [self.field])

    def show_value(self, value: float) -> None:
        self.field.show_value(value)


class NumbersDial(Dial):
    """Several numbers of one kind: a pair, or the four corners."""

    def __init__(self, name: str, measure: Measure, parts: list[str], parent: QWidget) -> None:
        super().__init__(name, parent)
        self.fields = [NumberField(measure, f"{name}, {part}", self) for part in parts]
        for field, part in zip(self.fields, parts, strict=True):
            field.entry.setPlaceholderText(part)
            field.setToolTip(part)
            self._row.addWidget(field, 1)
            if field is not self.fields[-1]:
                field.unit.hide()  # the unit stands once
            field.changed.connect(lambda _value, drag: self._offer(drag))
        self._row.setSpacing(GAP_1)
        _ScrubName(self, self.fields)

    def _offer(self, drag: bool) -> None:
        self.changed.emit(tuple(field.value for field in self.fields), drag)

    def show_value(self, values: tuple[float, ...]) -> None:
        for field, value in zip(self.fields, values, strict=True):
            field.show_value(value)


class SpanDial(Dial):
    """A length that follows a size: a share of it, and so many px more."""

    def __init__(self, name: str, parent: QWidget) -> None:
        super().__init__(name, parent)
        self.share = NumberField(Measure("%", -4, 4, 0.01, 3), f"{name}, share", self)
        self.more = NumberField(Measure("px", -2000, 2000), f"{name}, px", self)
        self.share.setToolTip("Share of the control’s size")
        self.more.setToolTip("And so many px more")
        for field in (self.share, self.more):
            self._row.addWidget(field, 1)
            field.changed.connect(lambda _value, drag: self.changed.emit(
                (self.share.value, self.more.value), drag))
        _ScrubName(self, [self.more])

    def show_value(self, value: tuple[float, float]) -> None:
        self.share.show_value(value[0])
        self.more.show_value(value[1])


class AngleWheel(QWidget):
    """A small wheel to turn an angle by; 0° is up, clockwise, as in CSS."""

    turned = Signal(float)
    released = Signal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._angle = 0.0
        self.setFixedSize(24, 24)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setToolTip("Drag to turn; Shift for steps of 15°")

    def show_value(self, angle: float) -> None:
        self._angle = angle
        self.update()

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(theme().dim), 1.25))
        painter.setBrush(QColor(theme().panel))
        painter.drawEllipse(QRectF(2, 2, 20, 20))
        painter.translate(12, 12)
        painter.rotate(self._angle)
        painter.setPen(QPen(QColor(theme().accent), 2))
        painter.drawLine(QPointF(0, -3), QPointF(0, -9))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._turn(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._turn(event)

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self.released.emit()

    def _turn(self, event: QMouseEvent) -> None:
        away = event.position() - QPointF(12, 12)
        angle = math.degrees(math.atan2(away.x(), -away.y())) % 360
        step = 15.0 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1.0
        self.turned.emit(round(angle / step) * step % 360)


class AngleDial(NumberDial):
    def __init__(self, name: str, measure: Measure, parent: QWidget) -> None:
        super().__init__(name, measure, parent)
        self.wheel = AngleWheel(self)
        self._row.addWidget(self.wheel)
        self.wheel.turned.connect(lambda angle: self.field.offer(angle, True))
        self.wheel.released.connect(self.drag_ended)

    def show_value(self, value: float) -> None:
        super().show_value(value)
        self.wheel.show_value(value)


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
        text = dict(self.choices)[value]
        self.setText(f"{text}  ▾")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            values = [value for value, _ in self.choices]
            way = 1 if event.key() == Qt.Key.Key_Down else -1
            at = min(len(values) - 1, max(0, values.index(self.value) + way))
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
