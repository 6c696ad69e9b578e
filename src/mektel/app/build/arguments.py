"""The arguments of an embedded look: one dial for each parameter of the control that it shows."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QWidget,
)

from mektel.app.theme import GAP_1, GAP_2, GAP_3
from mektel.app.widgets.argument_dials import show_value, typed_value, value_editor
from mektel.app.widgets.dials import Dial
from mektel.app.widgets.layouts import empty
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.core.kit import Control, EmbeddedLook, Kit, Parameter

ACROSS = 2
NAMES = 92
NO_CONTROL = "Choose a control on the page Look first."
NO_PARAMETERS = (
    "{} has no parameters. Open it and right-click the name of a value to make one; another text "
    "is laid in on the page Look.")


class Arguments(QScrollArea):
    """``changed`` gives all arguments that are set; those that are not are the variation's."""

    changed = Signal(object, bool)
    drag_ended = Signal()
    menu_wanted = Signal(str, object)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.dials: dict[str, Dial] = {}
        self.resets: dict[str, QPushButton] = {}
        self._built: tuple[Any, ...] = ()
        self._set: dict[str, Any] = {}
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._inside = QWidget(self)
        self._grid = QGridLayout(self._inside)
        self._grid.setContentsMargins(GAP_2, 0, GAP_2, 0)
        self._grid.setHorizontalSpacing(GAP_3)
        self._grid.setVerticalSpacing(0)
        self.setWidget(self._inside)
        self.viewport().setAutoFillBackground(False)
        self._inside.setAutoFillBackground(False)

    def show_value(self, kit: Kit, part: EmbeddedLook) -> None:
        other = next((control for control in kit.controls if control.id == part.control), None)
        shape = (part.control, other and (other.name, other.parameters))
        if shape != self._built:
            self._built = shape
            self._build(other)
        if other is None:
            return
        self._set = dict(part.arguments)
        variation = next((v for v in other.variations if v.name == part.variation), None)
        beneath = variation.arguments if variation is not None else {}
        for parameter in other.parameters:
            dial = self.dials.get(parameter.name)
            if dial is None:
                continue
            is_set = parameter.name in self._set
            usual = beneath.get(parameter.name, parameter.default)
            show_value(dial, parameter, self._set.get(parameter.name, usual), kit)
            self.resets[parameter.name].setEnabled(is_set)
            self.resets[parameter.name].setText("↺" if is_set else "")

    def _build(self, other: Control | None) -> None:
        empty(self._grid)
        self.dials, self.resets = {}, {}
        parameters = [] if other is None else [
            parameter for parameter in other.parameters
            if parameter.type != "action" and parameter.name != "text"]
        if not parameters:
            said = NO_CONTROL if other is None else NO_PARAMETERS.format(other.name)
            note = PlainLabel(said, self)
            note.setProperty("role", "dim")
            note.setWordWrap(True)
            self._grid.addWidget(note, 0, 0)
        for at, parameter in enumerate(parameters):
            row = self._row(parameter)
            self._grid.addLayout(row, at // ACROSS, at % ACROSS)
            self._grid.setColumnStretch(at % ACROSS, 1)
        self._grid.setRowStretch(len(parameters) // ACROSS + 1, 1)

    def _row(self, parameter: Parameter) -> QHBoxLayout:
        name = parameter.name
        row = QHBoxLayout()
        row.setSpacing(GAP_1)
        label = PlainLabel(name.replace("_", " ").capitalize(), self)
        label.setProperty("role", "dim")
        label.setFixedWidth(NAMES)
        tip(label, parameter.help or f"The parameter {name}")
        row.addWidget(label)
        dial = value_editor(parameter, f"Argument {name}", self)
        assert dial is not None
        dial.changed.connect(
            lambda value, drag: self._take(name, typed_value(parameter, value), drag))
        dial.drag_ended.connect(self.drag_ended)
        dial.menu_wanted.connect(lambda at: self.menu_wanted.emit(name, at))
        row.addWidget(dial, 1)
        reset = QPushButton("", self)
        reset.setObjectName("quiet")
        reset.setFixedWidth(28)
        reset.setAccessibleName(f"{name} as its control has it")
        tip(reset, "As the control, or the variation, has it")
        reset.clicked.connect(lambda: self._reset(name))
        row.addWidget(reset)
        self.dials[name], self.resets[name] = dial, reset
        return row

    def _take(self, name: str, value: Any, drag: bool) -> None:
        self.changed.emit({**self._set, name: value}, drag)

    def _reset(self, name: str) -> None:
        self.changed.emit({n: value for n, value in self._set.items() if n != name}, False)
