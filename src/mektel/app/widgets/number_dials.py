"""Dials of numbers: scrub the name, type, wheel, or use the arrow keys."""

from __future__ import annotations

import math

from PySide6.QtCore import QEvent, QObject, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen, QWheelEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QWidget

from mektel.app.theme import GAP_1, theme
from mektel.app.widgets.dials import Dial
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.core.kit import Measure


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
        self.unit = PlainLabel(measure.unit, self)
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
        tip(self.entry, why)


class _ScrubName(QObject):
    """Dragging a dial's name sideways turns its numbers."""

    def __init__(self, dial: Dial, fields: list[NumberField]) -> None:
        super().__init__(dial)
        self.dial, self.fields = dial, fields
        self._from: tuple[float, list[float]] | None = None
        dial.label.setCursor(Qt.CursorShape.SizeHorCursor)
        dial.label.entered.connect(lambda: dial.label.installEventFilter(self))

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
            tip(field, part)
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
        tip(self.share, "Share of the control’s size")
        tip(self.more, "And so many px more")
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
        tip(self, "Drag to turn; Shift for steps of 15°")

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
