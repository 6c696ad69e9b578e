"""Outlines joined to the control's: a short list, the selected one's dials beside it."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from mektel.app.build.names import CHOICES
from mektel.app.theme import GAP_1, GAP_2
from mektel.app.widgets.dials import ChoiceDial, Dial
from mektel.app.widgets.number_dials import NumberDial, SpanDial
from mektel.app.widgets.plain import PlainLabel
from mektel.core.kit import Join, measure_of

SPANS = (("x", "Left"), ("y", "Top"), ("width", "Width"), ("height", "Height"))


class Joins(QWidget):
    """``changed`` gives the whole new tuple of joins."""

    changed = Signal(object, bool)
    drag_ended = Signal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.selected = 0
        self._joins: tuple[Join, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_2, 0, 0, 0)
        column.setSpacing(0)
        row = QHBoxLayout()
        row.setSpacing(GAP_1)
        self.which = PlainLabel(self)
        self.which.setProperty("role", "dim")
        self.next = QPushButton("next", self)
        self.next.clicked.connect(self._next)
        self.add = QPushButton("+ outline", self)
        self.add.clicked.connect(self._add)
        self.remove = QPushButton("remove", self)
        self.remove.clicked.connect(self._remove)
        row.addWidget(self.which, 1)
        for button in (self.next, self.add, self.remove):
            button.setObjectName("quiet")
            row.addWidget(button)
        column.addLayout(row)
        pair = QHBoxLayout()
        pair.setSpacing(GAP_2)
        left, right = QVBoxLayout(), QVBoxLayout()
        self.form = ChoiceDial("Form", CHOICES["form"], self)
        self.operation = ChoiceDial("Operation", CHOICES["operation"], self)
        self.softness = NumberDial("Softness", measure_of(Join, "softness"), self)
        self.spans = {name: SpanDial(title, self) for name, title in SPANS}
        choices: list[tuple[str, Dial]] = [
            ("form", self.form), ("operation", self.operation), ("softness", self.softness)]
        for name, dial in choices:
            self._wire(name, dial)
            left.addWidget(dial)
        for name, span in self.spans.items():
            self._wire(name, span)
            right.addWidget(span)
        every: list[tuple[QVBoxLayout, list[Dial]]] = [
            (left, [dial for _, dial in choices]), (right, [*self.spans.values()])]
        for side, dials in every:
            labels = [dial.label for dial in dials]
            for label in labels:
                label.take(max(label.needed() for label in labels))
            side.setSpacing(0)
            side.addStretch(1)
            pair.addLayout(side, 1)
        column.addLayout(pair)
        column.addStretch(1)

    def _wire(self, name: str, dial: Dial) -> None:
        dial.changed.connect(lambda value, drag: self._set(name, value, drag))
        dial.drag_ended.connect(self.drag_ended)

    def show_value(self, joins: tuple[Join, ...]) -> None:
        self._joins = joins
        self.selected = max(0, min(self.selected, len(joins) - 1))
        there = bool(joins)
        for widget in (self.form, self.operation, self.softness, *self.spans.values(), self.remove):
            widget.setVisible(there)
        self.next.setVisible(len(joins) > 1)
        if not there:
            self.which.setText("none yet")
            return
        join = joins[self.selected]
        self.which.setText(f"{self.selected + 1} of {len(joins)}")
        self.form.show_value(join.form)
        self.operation.show_value(join.operation)
        self.softness.setVisible(join.operation == "smooth")
        self.softness.show_value(join.softness)
        for name, span in self.spans.items():
            span.show_value(getattr(join, name))

    def _set(self, name: str, value: object, drag: bool) -> None:
        join = Join.model_validate({**dict(self._joins[self.selected]), name: value})
        joins = [*self._joins]
        joins[self.selected] = join
        self.changed.emit(tuple(joins), drag)

    def _add(self) -> None:
        new = Join(form="ellipse", operation="smooth", x=(0.7, 0.0), y=(0.3, 0.0), width=(0.5, 0.0),
                   height=(0.9, 0.0))
        self.selected = len(self._joins)
        self.changed.emit((*self._joins, new), False)

    def _remove(self) -> None:
        self.changed.emit(
            tuple(join for at, join in enumerate(self._joins) if at != self.selected), False)

    def _next(self) -> None:
        self.selected = (self.selected + 1) % max(1, len(self._joins))
        self.show_value(self._joins)
