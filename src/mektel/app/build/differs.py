"""The states in which a part differs from rest, each with a way back."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton, QWidget

from mektel.app.build.names import value_words
from mektel.app.theme import GAP_2
from mektel.app.widgets.layouts import empty
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
        empty(self._grid)
        row = 0
        for state, values in by_state:
            if values:
                self._add_row(row, state, ", ".join(value_words(v).lower() for v in values),
                              len(values))
                row += 1
        if not row:
            same = QLabel("the same in every state", self)
            same.setProperty("role", "dim")
            self._grid.addWidget(same, 0, 0, Qt.AlignmentFlag.AlignTop)

    def _add_row(self, row: int, state: str, values: str, count: int) -> None:
        name = QLabel(state, self)
        name.setProperty("role", "dim")
        back = QPushButton(f"↺ {values if len(values) < LONGEST else f'{count} values'}", self)
        back.setObjectName("quiet")
        back.setToolTip(f"Back to rest in {state}: {values}")
        back.setStyleSheet("text-align: left;")
        back.clicked.connect(lambda: self.back_to_rest.emit(state))
        self._grid.addWidget(name, row, 0)
        self._grid.addWidget(back, row, 1)
