"""What the palette names besides colours: lengths, times, timings, fonts and text styles."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QLineEdit, QMenu, QPushButton, QVBoxLayout, QWidget

from mektel.app.notices import Notice
from mektel.app.theme import GAP_2, GAP_3
from mektel.app.widgets.argument_dials import small
from mektel.app.widgets.layouts import remove_later
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import tip
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


class ValueRow:
    """A palette value: its name, its value, and a way to take it out of the palette. It stands for
    a place in the palette, and is kept while names and values change.
    """

    def __init__(self, side: PaletteValues, at: int, is_timing: bool) -> None:
        self.side, self.is_timing = side, is_timing
        self.entry: PaletteValue | None = None
        self.name = QLineEdit(side)
        self.name.setProperty("flat", True)
        self.name.editingFinished.connect(lambda: side.rename(self))
        self.value: QLineEdit | QPushButton
        if is_timing:
            self.value = QPushButton(side)
            self.value.setObjectName("quiet")
            self.value.clicked.connect(lambda: side.edit_timing(self.shown.name))
        else:
            self.value = QLineEdit(side)
            self.value.setProperty("flat", True)
            self.value.setAlignment(Qt.AlignmentFlag.AlignRight)
            self.value.editingFinished.connect(lambda: side.set_value(self))
        self.gone = QPushButton("✕", side)
        self.gone.setObjectName("quiet")
        tip(self.gone, "Take it out of the palette; what uses it keeps its value")
        self.gone.clicked.connect(lambda: side.remove(self.shown.name))
        side.grid.addWidget(self.name, at, 0)
        side.grid.addWidget(self.value, at, 1, Qt.AlignmentFlag.AlignRight)
        side.grid.addWidget(self.gone, at, 2)

    @property
    def shown(self) -> PaletteValue:
        assert self.entry is not None
        return self.entry

    def show_entry(self, entry: PaletteValue) -> None:
        users = palette_edits.users_of(self.side.bench.kit, entry.name)
        tip(self.name, "Used by " + ", ".join(users) if users else "Nothing uses it yet")
        if entry == self.entry:
            return
        self.entry = entry
        self.name.setText(entry.name)
        self.name.setAccessibleName(f"Name of {entry.name}")
        self.value.setAccessibleName(f"Value of {entry.name}")
        self.gone.setAccessibleName(f"Remove {entry.name}")
        if self.is_timing:
            whole = timing_text(entry.value)
            self.value.setText(whole.partition(",")[0])
            tip(self.value, whole)
        else:
            self.value.setText(palette_value_text(entry))
            self.value.setEnabled(entry.type in TYPED)

    def remove(self) -> None:
        for widget in (self.name, self.value, self.gone):
            remove_later(widget)


class PaletteValues(QWidget):
    """A row for each."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.setObjectName("panel")
        self._rows: list[ValueRow] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(GAP_2)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(GAP_3)
        self.grid.setVerticalSpacing(2)
        self.grid.setColumnStretch(0, 1)
        column.addLayout(self.grid)
        self.none = small("None yet. Formulas can use them by name, and changes of state can "
                          "follow a timing.", self)
        self.none.setWordWrap(True)
        column.addWidget(self.none)
        self.more = QPushButton("+ length, time, timing, style", self)
        self.more.setObjectName("quiet")
        menu = QMenu(self.more)
        for kind in NEW:
            add_action(menu, kind.replace("-", " ").capitalize(), self._add, kind)
        self.more.setMenu(menu)
        column.addWidget(self.more, 0, Qt.AlignmentFlag.AlignLeft)

    @property
    def rows(self) -> dict[str, tuple[QLineEdit, QWidget]]:
        return {row.shown.name: (row.name, row.value) for row in self._rows}

    def refresh(self) -> None:
        entries = self.bench.kit.values
        self.none.setVisible(not entries)
        while len(self._rows) > len(entries):
            self._rows.pop().remove()
        for at, entry in enumerate(entries):
            is_timing = entry.type == "timing"
            if at < len(self._rows) and self._rows[at].is_timing != is_timing:
                self._rows[at].remove()
                self._rows[at] = ValueRow(self, at, is_timing)
            elif at == len(self._rows):
                self._rows.append(ValueRow(self, at, is_timing))
            self._rows[at].show_entry(entry)

    def edit_timing(self, name: str) -> None:
        """Opens the curve and the dials of a timing."""
        TimingPopover(self.bench, name, self.window()).open_below(self.rows[name][1])

    def remove(self, name: str) -> None:
        self.bench.edit(f"remove {name}", lambda kit: palette_edits.remove(kit, name))

    def rename(self, row: ValueRow) -> None:
        name, new = row.shown.name, row.name.text().strip()
        if row.name.isModified() and new and new != name:
            row.name.setModified(False)
            self.bench.edit(f"rename {name}", lambda kit: palette_edits.rename(kit, name, new))
            row.name.setText(row.shown.name)  # refused, or as it was once made a name

    def _add(self, kind: Any) -> None:
        taken = [swatch.name for swatch in self.bench.kit.palette]
        taken += [entry.name for entry in self.bench.kit.values]
        name = identifier({"text-style": "label style"}.get(kind, kind), taken, "value")
        entry = PaletteValue(name=name, type=kind, value=NEW[kind])
        self.bench.edit(f"new {name}", lambda kit: palette_edits.set_palette_value(kit, entry))

    def set_value(self, row: ValueRow) -> None:
        field, entry = row.value, row.shown
        if not isinstance(field, QLineEdit) or not field.isModified():
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
        else:
            self.bench.edit(entry.name, lambda kit: palette_edits.set_palette_value(kit, new))
        field.setText(palette_value_text(row.shown))  # where it was refused, or in our own form


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
