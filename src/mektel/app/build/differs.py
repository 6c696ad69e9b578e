"""The states in which a part differs from rest, each with a way back."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton, QWidget

from mektel.app.build.names import value_title
from mektel.app.theme import GAP_2
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.core.kit import Control

LONGEST = 14


class DiffersIn(QWidget):
    back_to_rest = Signal(str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._shown: list[tuple[str, list[str]]] | None = None
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(GAP_2, 0, 0, 0)
        self._grid.setVerticalSpacing(0)
        self._grid.setColumnStretch(1, 1)
        self._same = PlainLabel("the same in every state", self)
        self._same.setProperty("role", "dim")
        self._grid.addWidget(self._same, 0, 0, 1, 2, Qt.AlignmentFlag.AlignTop)
        self._rows: list[tuple[QLabel, QPushButton]] = []

    def show_part(self, control: Control, part_id: str, states: Iterable[str]) -> None:
        by_state = [
            (state, list(dict.fromkeys([
                *control.changes(state).get(part_id, {}),
                *(path.split(".")[0]
                  for path in control.formulas.get(state, {}).get(part_id, {}))])))
            for state in states]
        if by_state == self._shown:
            return
        self._shown = by_state
        differing = [(state, values) for state, values in by_state if values]
        while len(self._rows) < len(differing):
            self._add_row(len(self._rows) + 1)
        for at, row in enumerate(self._rows):
            for widget in row:
                widget.setVisible(at < len(differing))
        for (name, back), (state, values) in zip(self._rows, differing, strict=False):
            listed = ", ".join(value_title(value).lower() for value in values)
            name.setText(state)
            back.setText(f"↺ {listed if len(listed) < LONGEST else f'{len(values)} values'}")
            tip(back, f"Back to rest in {state}: {listed}")
        self._same.setVisible(not differing)

    def _add_row(self, row: int) -> None:
        name = PlainLabel(self)
        name.setProperty("role", "dim")
        back = QPushButton(self)
        back.setObjectName("quiet")
        back.setProperty("left", True)
        back.clicked.connect(lambda: self.back_to_rest.emit(name.text()))
        self._grid.addWidget(name, row, 0)
        self._grid.addWidget(back, row, 1)
        self._rows.append((name, back))
