"""What the palette names besides colours: lengths, times, timings, fonts and text styles."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QLineEdit, QMenu, QPushButton, QVBoxLayout, QWidget

from mektel.app.notices import Notice
from mektel.app.theme import GAP_2, GAP_3
from mektel.app.widgets.argument_dials import small
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.timing_dials import timing_text
from mektel.app.widgets.timing_popover import TimingPopover
from mektel.app.workbench import Workbench
from mektel.core.kit import PaletteValue, TextStyle, palette_edits
from mektel.core.kit.edit import identifier
from mektel.core.kit.timing import Timing

NEW: dict[str, Any] = {
    "length": 8.0, "duration": 0.15, "timing": Timing(kind="spring", seconds=0.4, bounce=0.25),
    "number": 1.0, "font": "Hanken Grotesk", "text-style": TextStyle()}
TYPED = ("length", "duration", "number", "font")


class PaletteValues(QWidget):
    """A row for each: its name, its value, and a way to take it out of the palette."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.setObjectName("panel")
        self.rows: dict[str, tuple[QLineEdit, QWidget]] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(GAP_2)
        grid = QGridLayout()
        grid.setHorizontalSpacing(GAP_3)
        grid.setVerticalSpacing(2)
        grid.setColumnStretch(0, 1)
        for at, entry in enumerate(bench.kit.values):
            self._add_row(grid, at, entry)
        column.addLayout(grid)
        if not bench.kit.values:
            none = small("None yet. Formulas can use them by name, and changes of state can "
                         "follow a timing.", self)
            none.setWordWrap(True)
            column.addWidget(none)
        self.more = QPushButton("+ length, time, timing, style", self)
        self.more.setObjectName("quiet")
        menu = QMenu(self.more)
        for kind in NEW:
            add_action(menu, kind.replace("-", " ").capitalize(), self._add, kind)
        self.more.setMenu(menu)
        column.addWidget(self.more, 0, Qt.AlignmentFlag.AlignLeft)

    def _add_row(self, grid: QGridLayout, at: int, entry: PaletteValue) -> None:
        name = QLineEdit(entry.name, self)
        name.setAccessibleName(f"Name of {entry.name}")
        name.setProperty("flat", True)
        users = palette_edits.users_of(self.bench.kit, entry.name)
        name.setToolTip("Used by " + ", ".join(users) if users else "Nothing uses it yet")
        name.editingFinished.connect(partial(self._rename, entry.name, name))
        value: QWidget
        if entry.type == "timing":
            whole = timing_text(entry.value)
            value = QPushButton(whole.partition(",")[0], self)
            value.setObjectName("quiet")
            value.setToolTip(whole)
            value.clicked.connect(partial(self.edit_timing, entry.name))
        else:
            value = QLineEdit(palette_value_text(entry), self)
            value.setProperty("flat", True)
            value.setAlignment(Qt.AlignmentFlag.AlignRight)
            value.setEnabled(entry.type in TYPED)
            value.editingFinished.connect(partial(self._set, entry, value))
        value.setAccessibleName(f"Value of {entry.name}")
        gone = QPushButton("✕", self)
        gone.setObjectName("quiet")
        gone.setAccessibleName(f"Remove {entry.name}")
        gone.setToolTip("Take it out of the palette; what uses it keeps its value")
        gone.clicked.connect(partial(self._remove, entry.name))
        grid.addWidget(name, at, 0)
        grid.addWidget(value, at, 1, Qt.AlignmentFlag.AlignRight)
        grid.addWidget(gone, at, 2)
        self.rows[entry.name] = (name, value)

    def edit_timing(self, name: str, _checked: bool = False) -> None:
        """Opens the curve and the dials of a timing."""
        # Each edit builds the rows anew: the popover belongs to what stays.
        TimingPopover(self.bench, name, self.window()).open_below(self.rows[name][1])

    def _remove(self, name: str, _checked: bool = False) -> None:
        self.bench.edit(f"remove {name}", lambda kit: palette_edits.remove(kit, name))

    def _rename(self, name: str, entry: QLineEdit) -> None:
        new = entry.text().strip()
        if not entry.isModified() or not new or new == name:
            return
        entry.setModified(False)
        if not self.bench.edit(f"rename {name}",
                               lambda kit: palette_edits.rename(kit, name, new)):
            entry.setText(name)

    def _add(self, kind: Any) -> None:
        taken = [swatch.name for swatch in self.bench.kit.palette]
        taken += [entry.name for entry in self.bench.kit.values]
        name = identifier({"text-style": "label style"}.get(kind, kind), taken, "value")
        entry = PaletteValue(name=name, type=kind, value=NEW[kind])
        self.bench.edit(f"new {name}", lambda kit: palette_edits.set_palette_value(kit, entry))

    def _set(self, entry: PaletteValue, field: QLineEdit) -> None:
        if not field.isModified():
            return
        field.setModified(False)
        typed = field.text().strip().removesuffix("px").removesuffix("s").strip()
        try:
            value: Any = typed if entry.type == "font" else float(typed)
            new = PaletteValue.model_validate({**dict(entry), "value": value})
        except ValueError:
            self.bench.noticed.emit(Notice(
                f"{entry.name}: “{field.text()}” is not a number. Write digits, such as 12.",
                bad=True))
            field.setText(palette_value_text(entry))
            return
        self.bench.edit(entry.name, lambda kit: palette_edits.set_palette_value(kit, new))


def palette_value_text(entry: PaletteValue) -> str:
    """A palette value in short."""
    value = entry.value
    if entry.type == "length":
        return f"{value:g} px"
    if entry.type == "duration":
        return f"{value:g} s"
    if entry.type == "gradient":
        return f"{len(value)} stops"
    if entry.type == "text-style":
        return f"{value.family.split()[0]} {value.weight} · {value.size:g}"
    return f"{value:g}" if isinstance(value, float) else str(value)
