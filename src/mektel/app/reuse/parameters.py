"""The parameter table: what someone who uses the control may set, and what each drives."""

from __future__ import annotations

import re
from functools import partial
from typing import Any

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import (
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mektel.app.build.names import part_name
from mektel.app.notices import Notice
from mektel.app.theme import GAP_1, GAP_2, GAP_3, GAP_5
from mektel.app.widgets.argument_dials import (
    STARTS,
    TYPES,
    show_value,
    small,
    typed_value,
    value_editor,
)
from mektel.app.widgets.dials import ChoiceButton, Dial, Switch
from mektel.app.widgets.layouts import remove_later
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.workbench import Workbench
from mektel.core.kit import CONTROL, Control, Kit, Parameter, parameter_edits
from mektel.core.look import problems_of

COLUMNS = (("name", 3), ("type", 3), ("default", 4), ("", 2), ("limits or choices", 3),
           ("drives", 6), ("", 1))

# Px that a name has to itself where the window is narrow.
MOST_OF_NAME = 96


class ParameterRow:
    """The editors of one parameter, in two lines of the table. It stands for a place in the table,
    and is kept while the parameter changes: what is typed is taken over in the middle of a press on
    another row.
    """

    def __init__(self, table: ParameterTable, at: int) -> None:
        self.table, self.bench, self.name, self.line = table, table.bench, "", 2 * at + 1
        self._edited: tuple[Any, ...] = ()
        parent, grid = table.inside, table.grid
        self.entry = QLineEdit(parent)
        tip(self.entry, "What it is called in code")
        self.entry.setProperty("flat", True)
        self.entry.setStyleSheet("font-weight: 600;")
        self.entry.editingFinished.connect(self._rename)
        self.type = ChoiceButton(list(TYPES), "", parent)
        self.type.chosen.connect(self._set_type)
        self.value: Dial | None = None
        self.shown: QWidget | None = None
        self.required = Switch("required", "optional", "", parent)
        self.required.clicked.connect(
            lambda: self._change(required=not table.parameter(self.name).required))
        self.limits = QLineEdit(parent)
        self.limits.setProperty("flat", True)
        self.limits.editingFinished.connect(self._set_limits)
        self.drives = PlainLabel(parent)
        self.drives.setWordWrap(True)
        self.drives.setStyleSheet("font-size: 12px;")
        self.remove = QPushButton("✕", parent)
        self.remove.setObjectName("quiet")
        tip(self.remove, "Remove the parameter; what it sets keeps its value")
        self.remove.clicked.connect(self._remove)
        # What shipped code says of it, below: in docstrings, types and descriptions.
        self.help = self._written("help", "What it does, for whoever uses the control")
        self.example = self._written("example", "an example")
        for column, widget in ((0, self.entry), (1, self.type), (3, self.required),
                               (4, self.limits), (5, self.drives), (6, self.remove)):
            grid.addWidget(widget, self.line, column, Qt.AlignmentFlag.AlignVCenter)
        grid.setRowMinimumHeight(self.line, 32)
        grid.addWidget(self.help, self.line + 1, 0, 1, 5)
        grid.addWidget(self.example, self.line + 1, 5, 1, 2)

    def _written(self, field: str, hint: str) -> QLineEdit:
        entry = QLineEdit(self.table.inside)
        entry.setProperty("flat", True)
        entry.setPlaceholderText(hint)
        tip(entry, "Appears in the documentation of the shipped code")
        entry.setStyleSheet("font-size: 12px;")
        entry.setMinimumHeight(24)

        def take() -> None:
            if entry.isModified():
                entry.setModified(False)
                self._change(False, **{field: entry.text().strip()})

        entry.editingFinished.connect(take)
        return entry

    def delete(self) -> None:
        self.table.grid.setRowMinimumHeight(self.line, 0)
        for widget in (self.entry, self.type, self.shown, self.required, self.limits, self.drives,
                       self.remove, self.help, self.example):
            if widget is not None:
                remove_later(widget)

    def _show_name(self, name: str) -> None:
        self.name = name
        self.entry.setText(name)
        self.entry.setMinimumWidth(
            min(MOST_OF_NAME, self.entry.fontMetrics().horizontalAdvance(name) + 14))
        for what, widget in (("Name", self.entry), ("Type", self.type), ("Limits", self.limits),
                             ("Help", self.help), ("Example", self.example)):
            widget.setAccessibleName(f"{what} of {name}")
        for entry in (self.help, self.example):
            entry.setModified(False)
        self.required.setAccessibleName(f"{name} is required")
        self.remove.setAccessibleName(f"Remove {name}")
        self._edited = ()

    def _show_editor(self, parameter: Parameter) -> None:
        """The editor of the default, anew where the type or the limits are others."""
        parent, before = self.table.inside, self.shown
        self.value = value_editor(parameter, f"Default of {parameter.name}", parent)
        self.shown = self.value if self.value is not None else small("none", parent)
        if self.value is not None:
            self.value.changed.connect(self._set_default)
            self.value.drag_ended.connect(self.bench.end_drag)
        if before is not None:
            self.table.grid.removeWidget(before)
            remove_later(before)
        self.table.grid.addWidget(self.shown, self.line, 2, Qt.AlignmentFlag.AlignVCenter)
        if before is not None:
            QWidget.setTabOrder(self.type, self.shown)
        self.limits.setPlaceholderText(
            "any" if parameter.type in ("number", "length", "duration")
            else "words, separated by commas" if parameter.type in ("choice", "icon") else "none")
        self.limits.setEnabled(parameter.type in (
            "number", "length", "duration", "choice", "icon"))

    def show_parameter(self, parameter: Parameter, control: Control, problems: dict[Any, str]
                       ) -> None:
        if parameter.name != self.name:
            self._show_name(parameter.name)
        edited = (control.id, parameter.type, parameter.min, parameter.max, parameter.choices)
        if edited != self._edited:
            self._edited = edited
            self._show_editor(parameter)
            self.limits.setText(_limits(parameter))
        self.type.show_value(parameter.type)
        self.required.show_value(parameter.required)
        if self.value is not None:
            show_value(self.value, parameter, parameter.default, self.bench.drawn)
        for entry, said in ((self.help, parameter.help), (self.example, parameter.example)):
            if not entry.isModified() and entry.text() != said:
                entry.setText(said)
        text, bad = drives_text(control, parameter.name, problems)
        self.drives.setText(text)
        self.drives.setProperty("role", "bad" if bad else "dim" if "nothing" in text else "")
        self.drives.style().polish(self.drives)

    def _change(self, drag: bool = False, **fields: Any) -> bool:
        name = self.name
        return self.bench.edit(
            f"parameter {name}",
            lambda kit: parameter_edits.set_parameter(kit, self.bench.control_id, name, **fields),
            (self.bench.control_id, name, *fields) if drag else None)

    def _rename(self) -> None:
        new = self.entry.text().strip()
        if new != self.name and self.entry.isModified():
            self.entry.setModified(False)
            if new:
                self._change(name=new)
            self.entry.setText(self.name)  # refused, or as it was once made a name

    def _set_type(self, kind: str) -> None:
        more: dict[str, Any] = {"choices": ("one", "other")} if kind == "choice" else {}
        self._change(type=kind, default=STARTS[kind], min=None, max=None, **more)

    def _set_default(self, value: Any, drag: bool) -> None:
        parameter = self.table.parameter(self.name)
        self._change(drag, default=typed_value(parameter, value))

    def _set_limits(self) -> None:
        if not self.limits.isModified():
            return
        self.limits.setModified(False)
        parameter = self.table.parameter(self.name)
        if parameter.type in ("choice", "icon"):
            # A choice may be several words, and may have “to” in it: commas part them.
            typed = (choice.strip() for choice in self.limits.text().split(","))
            choices = tuple(dict.fromkeys(choice for choice in typed if choice))
            more: dict[str, Any] = {}
            if choices and parameter.default not in choices:
                more["default"] = choices[0]
            self._change(choices=choices, **more)
            self.limits.setText(_limits(self.table.parameter(self.name)))
            return
        limits = re.sub(r"\bto\b|[–,]", " ", self.limits.text()).split()
        try:
            low, high = (float(limits[0]), float(limits[1])) if limits else (None, None)
        except (ValueError, IndexError):
            self.bench.noticed.emit(Notice(
                f"Limits of {self.name}: write two numbers, such as 0 to 8.", bad=True))
            self.limits.setText(_limits(parameter))
            return
        self._change(min=low, max=high)
        self.limits.setText(_limits(self.table.parameter(self.name)))

    def _remove(self) -> None:
        self.bench.edit(
            f"remove parameter {self.name}",
            lambda kit: parameter_edits.remove_parameter(kit, self.bench.control_id, self.name))


class ParameterTable(QFrame):
    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("strip")
        self.bench = bench
        self._rows: list[ParameterRow] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_5, GAP_3, GAP_5, GAP_3)
        column.setSpacing(GAP_1)
        head = QHBoxLayout()
        self.heading = PlainLabel(self)
        self.heading.setProperty("role", "heading")
        head.addWidget(self.heading)
        head.addStretch(1)
        self.add_button = QPushButton("+ parameter", self)
        self.add_button.setObjectName("quiet")
        menu = QMenu(self.add_button)
        for kind, title in TYPES:
            add_action(menu, title.capitalize(), self._add, kind)
        self.add_button.setMenu(menu)
        head.addWidget(self.add_button)
        column.addLayout(head)
        self.empty = PlainLabel(
            "None yet. In Build, right-click the name of a dial and choose “Make it a parameter”; "
            "or add one here and write its name into a formula.", self)
        self.empty.setProperty("role", "dim")
        self.empty.setWordWrap(True)
        column.addWidget(self.empty)
        scroll = QScrollArea(self)
        scroll.setWidgetResizable(True)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll = scroll
        self.inside = QWidget(scroll)
        self.inside.setObjectName("panel")
        self.grid = QGridLayout(self.inside)
        self.grid.setContentsMargins(0, 0, GAP_2, 0)
        self.grid.setHorizontalSpacing(GAP_3)
        self.grid.setVerticalSpacing(4)
        for at, (title, wide) in enumerate(COLUMNS):
            label = small(title, self.inside)
            label.setWordWrap(True)
            self.grid.addWidget(label, 0, at)
            self.grid.setColumnStretch(at, wide)
        scroll.setWidget(self.inside)
        column.addWidget(scroll, 1)

    @property
    def rows(self) -> dict[str, ParameterRow]:
        return {row.name: row for row in self._rows}

    def parameter(self, name: str) -> Parameter:
        control = self.bench.control
        assert control is not None
        return parameter_edits.parameter_of(control, name)

    def refresh(self) -> None:
        control = self.bench.control
        if control is None:
            return
        self.heading.setText(f"Parameters: what someone using {control.name} may set")
        self.empty.setVisible(not control.parameters)
        self._scroll.setVisible(bool(control.parameters))
        count = len(control.parameters)
        if len(self._rows) != count:
            self.grid.setRowStretch(2 * len(self._rows) + 1, 0)
            while len(self._rows) > count:
                self._rows.pop().delete()
            while len(self._rows) < count:
                self._rows.append(ParameterRow(self, len(self._rows)))
            self.grid.setRowStretch(2 * count + 1, 1)
        problems = {(problem.condition, problem.part, problem.path): problem.text
                    for problem in problems_of(self.bench.drawn, control)}
        for row, parameter in zip(self._rows, control.parameters, strict=True):
            row.show_parameter(parameter, control, problems)

    def _add(self, kind: str) -> None:
        control = self.bench.control
        if control is None:
            return
        taken = [parameter.name for parameter in control.parameters]
        usual = {"action": "on_press", "yes-no": "shown", "choice": "sort"}
        base = usual.get(kind, f"{kind}_value")
        base = "text" if kind == "text" and "text" not in taken else base
        name, count = base, 2
        while name in taken:
            name, count = f"{base}_{count}", count + 1
        start = control.text if name == "text" else STARTS[kind]
        new = Parameter(name=name, type=kind, default=start,
                        choices=("one", "other") if kind == "choice" else (),
                        required=name == "text")

        def make(kit: Kit) -> Kit:
            return parameter_edits.add_parameter(kit, control.id, new)

        if self.bench.edit(f"new parameter {name}", make):
            # Once the new row has its place; a view that is not shown gets it later.
            QTimer.singleShot(0, self, partial(self._go_to_row, name))

    def _go_to_row(self, name: str) -> None:
        row = self.rows.get(name)
        if row is not None:
            row.entry.setFocus()
            self._scroll.ensureWidgetVisible(row.entry)


def drives_text(control: Control, name: str, problems: dict[Any, str]) -> tuple[str, bool]:
    """What a parameter drives, in words; and whether anything of it is wrong."""
    parameter = parameter_edits.parameter_of(control, name)
    if parameter.type == "action":
        return "called at every press", False
    if name == "text":
        return "Label", False
    uses = parameter_edits.uses_of(control, name)
    if not uses:
        return "nothing yet: write its name into a formula", False
    said, bad = [], False
    for condition, part, path, text in uses:
        where = "size" if part == CONTROL else part_name(control, part)
        what = path.split(".")[0].replace("_", " ")
        phrase = f"{where} {what}" if text == name else f"{where} {what} = {text}"
        if condition != "rest":
            phrase += f" in {condition}"
        if (condition, part, path) in problems:
            phrase += f" (no value: {problems[condition, part, path]})"
            bad = True
        if phrase not in said:
            said.append(phrase)
    shown = said if len(said) <= 3 else [*said[:3], f"and {len(said) - 3} more"]
    return " · ".join(shown), bad


def _limits(parameter: Parameter) -> str:
    if parameter.choices:
        return ", ".join(parameter.choices)
    if parameter.min is None or parameter.max is None:
        return ""
    return f"{parameter.min:g} to {parameter.max:g}"


