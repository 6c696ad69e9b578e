"""A row of answers or of swings, and the dials of the chosen one."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QMenu, QPushButton, QWidget

from mektel.app.theme import GAP_2, GAP_3
from mektel.app.widgets.colour import ColourDial
from mektel.app.widgets.dials import Dial
from mektel.app.widgets.layouts import empty
from mektel.app.widgets.plain import PlainLabel
from mektel.app.workbench import Workbench
from mektel.core.kit import Control, Kit

ACROSS = 4


class Entries(QWidget):
    """What a control has of a kind, each by a button; ``what`` is how edits name it."""

    what = ""
    none = ""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.at = 0
        self.buttons: list[QPushButton] = []
        self.dials: dict[str, Dial] = {}
        self._built: tuple[Any, ...] = ()
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(GAP_3)
        self._grid.setVerticalSpacing(0)

    # What a kind of entries says

    def entries(self, control: Control) -> tuple[Any, ...]:
        raise NotImplementedError

    def kept(self, kit: Kit, entries: tuple[Any, ...]) -> Kit:
        """The kit with these entries for the selected control."""
        raise NotImplementedError

    def title(self, control: Control, entry: Any) -> str:
        raise NotImplementedError

    def dials_of(self, control: Control, entry: Any) -> dict[str, Dial]:
        raise NotImplementedError

    def value(self, entry: Any, name: str) -> Any:
        """What a dial shows."""
        raise NotImplementedError

    def changed(self, entry: Any, name: str, value: Any) -> Any:
        """The entry after a dial was set."""
        raise NotImplementedError

    def built_for(self, entry: Any) -> Any:
        """What decides which dials there are."""
        return entry.kind

    def fill(self, menu: QMenu) -> None:
        """Every kind of entry, for one to be added."""
        raise NotImplementedError

    # What is shown

    def refresh(self) -> None:
        control = self.bench.control
        entries = self.entries(control) if control is not None else ()
        self.at = min(self.at, max(0, len(entries) - 1))
        built = (control.id if control is not None else "",
                 control.behaviour if control is not None else "", self.at,
                 tuple(map(self.built_for, entries)))
        if built != self._built and control is not None:
            self._built = built
            self._build(control, entries)
        if control is None:
            return
        for button, entry in zip(self.buttons, entries, strict=False):
            button.setText(self.title(control, entry))
        if entries:
            self._show(entries[self.at])

    def _build(self, control: Control, entries: tuple[Any, ...]) -> None:
        empty(self._grid)
        self.buttons, self.dials = [], {}
        if not entries:
            none = PlainLabel(self.none, self)
            none.setProperty("role", "small")
            self._grid.addWidget(none, 0, 0)
            return
        line = QWidget(self)
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(GAP_2)
        for at, entry in enumerate(entries):
            button = QPushButton(self.title(control, entry), line)
            button.setProperty("small", True)
            button.setCheckable(True)
            button.setChecked(at == self.at)
            button.clicked.connect(partial(self.choose, at))
            self.buttons.append(button)
            row.addWidget(button)
        gone = QPushButton("Remove", line)
        gone.setObjectName("quiet")
        gone.clicked.connect(self._remove)
        row.addWidget(gone)
        row.addStretch(1)
        self._grid.addWidget(line, 0, 0, 1, ACROSS)
        for place, (name, dial) in enumerate(self.dials_of(control, entries[self.at]).items()):
            dial.changed.connect(partial(self.set_value, name))
            dial.drag_ended.connect(self.bench.end_drag)
            self.dials[name] = dial
            self._grid.addWidget(
                dial, 1 + place // ACROSS, place % ACROSS, Qt.AlignmentFlag.AlignTop)
        for column in range(ACROSS):
            self._grid.setColumnStretch(column, 1)

    def _show(self, entry: Any) -> None:
        for name, dial in self.dials.items():
            value = self.value(entry, name)
            if isinstance(dial, ColourDial):
                dial.show_value(value, self.bench.kit)
            else:
                dial.show_value(value)  # type: ignore[attr-defined]

    # Edits

    def edit(self, step: str, make: Callable[[tuple[Any, ...]], tuple[Any, ...]], merge: str = ""
             ) -> None:
        def changed(kit: Kit) -> Kit:
            return self.kept(kit, make(self.entries(kit.control(self.bench.control_id))))

        self.bench.edit(step, changed, (self.bench.control_id, self.what, self.at, merge)
                        if merge else None)

    def add(self, title: str, entry: Any, most: int) -> None:
        control = self.bench.control
        if control is None or len(self.entries(control)) >= most:
            return
        self.at = len(self.entries(control))
        self.edit(f"add {title.lower()}", lambda entries: (*entries, entry))

    def _remove(self) -> None:
        at = self.at
        self.edit(f"remove {self.what}", lambda entries: (*entries[:at], *entries[at + 1 :]))

    def choose(self, at: int, _checked: bool = False) -> None:
        self.at = at
        self._built = ()
        self.refresh()

    def set_value(self, name: str, value: Any, drag: bool) -> None:
        at = self.at
        self.edit(f"{self.what} {name}", lambda entries: (
            *entries[:at], self.changed(entries[at], name, value), *entries[at + 1 :]),
            name if drag else "")
