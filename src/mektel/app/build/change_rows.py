"""What a state changes, a row for each value, with its way back to rest."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from mektel.app.build.names import as_text, part_name, value_title
from mektel.app.widgets.plain import PlainLabel
from mektel.core.kit import Control

# A layer, or the outline, and the name of one of its values.
Value = tuple[str, str]


def add_change_rows(
    grid: QGridLayout, ground: QWidget, control: Control, state: str,
    back: Callable[[str, str], object],
) -> dict[Value, QPushButton]:
    """Adds the rows to a grid of three columns; ``back`` is called for a value that is to be as at
    rest.
    """
    buttons: dict[Value, QPushButton] = {}
    for part, values in control.changes(state).items():
        for name, value in values.items():
            row = grid.rowCount()
            what = PlainLabel(f"{part_name(control, part)}, {value_title(name).lower()}", ground)
            shown = PlainLabel(as_text(name, value), ground)
            shown.setProperty("role", "dim")
            button = QPushButton("↺ back to rest", ground)
            button.setObjectName("quiet")
            button.clicked.connect(lambda _=False, part=part, name=name: back(part, name))
            for column, widget in enumerate((what, shown, button)):
                grid.addWidget(widget, row, column)
            buttons[part, name] = button
    return buttons
