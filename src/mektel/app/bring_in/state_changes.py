"""What a state's picture changes, as read: each value with its way back to rest."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QPushButton, QScrollArea, QWidget

from mektel.app.build.change_rows import Value, add_change_rows
from mektel.app.theme import GAP_2, GAP_4
from mektel.app.widgets.plain import PlainLabel
from mektel.core.kit import Control


class StateChanges(QScrollArea):
    """``discarded`` sends a layer, or the outline, and the name of one of its values."""

    discarded = Signal(str, str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.buttons: dict[Value, QPushButton] = {}

    def show_changes(self, control: Control, state: str, busy: bool) -> None:
        ground = QWidget(self)
        grid = QGridLayout(ground)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(GAP_4)
        grid.setVerticalSpacing(GAP_2)
        grid.setColumnStretch(3, 1)
        heading = PlainLabel(f"{state[0].upper()}{state[1:]} differs from rest in", ground)
        heading.setProperty("role", "heading")
        grid.addWidget(heading, 0, 0, 1, 3)
        self.buttons = add_change_rows(grid, ground, control, state, self.discarded.emit)
        for button in self.buttons.values():
            button.setEnabled(not busy)
        if not self.buttons:
            nothing = PlainLabel("nothing: the picture shows the same as that of rest", ground)
            nothing.setProperty("role", "dim")
            grid.addWidget(nothing, 1, 0, 1, 3)
        grid.setRowStretch(grid.rowCount(), 1)
        self.setWidget(ground)
