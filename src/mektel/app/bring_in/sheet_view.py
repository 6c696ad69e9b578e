"""A style sheet over Build: everything pressable in it, live, to be chosen from."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mektel.app.bring_in.over_build import OverBuild
from mektel.app.bring_in.sheet_entries import SheetEntries
from mektel.app.bring_in.sheet_tile import NARROWEST, SheetTile
from mektel.app.notices import Notice
from mektel.app.theme import GAP_1, GAP_2, GAP_3, GAP_4, GAP_5
from mektel.app.widgets.backdrop import CHECKER, NIGHT, SAIL, WHITE, BackdropChips
from mektel.app.widgets.flow import Flow
from mektel.app.widgets.plain import PlainLabel
from mektel.app.workbench import Workbench
from mektel.core.kit.bringing_in import with_arrivals


class SheetView(OverBuild):
    """Chooses from a sheet; ``closed`` is sent when that is over."""

    def __init__(self, text: str, source: str, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.title = Path(source).name
        self.entries = SheetEntries(text, source, bench.background, self)
        self.tiles: list[SheetTile] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_5, GAP_4, GAP_5, GAP_3)
        column.setSpacing(GAP_3)
        column.addWidget(self._head())
        self.area = QScrollArea(self)
        self.area.setWidgetResizable(True)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        inside = QWidget(self.area)
        inner = QVBoxLayout(inside)
        inner.setContentsMargins(0, 0, 0, 0)
        self.ground = QWidget(inside)
        self.flow = Flow(self.ground, GAP_3, GAP_3)
        inner.addWidget(self.ground)
        self.none = PlainLabel("No selector in this sheet matches.", inside)
        self.none.setProperty("role", "dim")
        self.none.hide()
        inner.addWidget(self.none)
        inner.addStretch(1)
        self.area.setWidget(inside)
        column.addWidget(self.area, 1)
        column.addWidget(self._foot())
        self.entries.opened.connect(self._show_entries)
        self.entries.entry_read.connect(self._show_entry)
        self.entries.failed.connect(self._fail)
        self._refresh()

    def _head(self) -> QWidget:
        head = QWidget(self)
        row = Flow(head, GAP_2, GAP_2)
        title = PlainLabel(self.title, head)
        title.setProperty("role", "title")
        self.hint = PlainLabel("", head)
        self.hint.setProperty("role", "dim")
        self.filter = QLineEdit(head)
        self.filter.setPlaceholderText("Find a selector")
        self.filter.setAccessibleName("Find a selector")
        self.filter.setClearButtonEnabled(False)
        self.filter.setFixedWidth(180)
        self.filter.textChanged.connect(lambda _: self._filter())
        label = PlainLabel("Backdrop", head)
        label.setProperty("role", "dim")
        self.chips = BackdropChips(head)
        self.chips.show_choices([WHITE, SAIL, CHECKER, NIGHT], WHITE)
        self.chips.chosen.connect(self._set_backdrop)
        self.backdrop = WHITE
        row.add(title)
        row.add(self.hint)
        row.add_space()
        for widget in (self.filter, label, self.chips):
            row.add(widget)
        return head

    def _foot(self) -> QWidget:
        foot = QWidget(self)
        row = QHBoxLayout(foot)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(GAP_2)
        self.all_button = QPushButton("Select all", foot)
        self.all_button.setObjectName("quiet")
        self.all_button.clicked.connect(self._turn_all)
        self.progress = QProgressBar(foot)
        self.progress.setTextVisible(False)
        self.progress.setFixedWidth(120)
        self.progress.setAccessibleName("Controls read")
        self.status = PlainLabel("", foot)
        self.status.setProperty("role", "dim")
        self.status.setWordWrap(True)
        self.cancel_button = QPushButton("Cancel", foot)
        self.cancel_button.clicked.connect(self.close_view)
        self.add_button = QPushButton("Add", foot)
        self.add_button.setObjectName("main")
        self.add_button.clicked.connect(self._add)
        row.addWidget(self.all_button)
        row.addSpacing(GAP_1)
        row.addWidget(self.progress)
        row.addWidget(self.status, 1)
        row.addWidget(self.cancel_button)
        row.addWidget(self.add_button)
        return foot

    # What was read

    def _show_entries(self) -> None:
        # Shown together: laying out after each would take long.
        self.ground.hide()
        for entry in self.entries.entries:
            tile = SheetTile(entry, self.bench, self.ground)
            tile.backdrop = self.backdrop
            tile.toggled.connect(lambda _: self._refresh())
            self.tiles.append(tile)
            self.flow.add(tile)
        self._fit_tiles()
        self.ground.show()
        self.filter.setFocus()
        self._refresh()

    def _fit_tiles(self) -> None:
        """As many in a row as there is room for, all of it used."""
        room = self.area.viewport().width()
        across = max(1, (room + GAP_3) // (NARROWEST + GAP_3))
        width = (room + GAP_3) // across - GAP_3
        for tile in self.tiles:
            tile.setFixedWidth(width)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit_tiles()

    def _show_entry(self, at: int) -> None:
        self.tiles[at].show_entry(self.entries.entries[at])
        self._refresh()

    def _fail(self, text: str) -> None:
        self.bench.noticed.emit(Notice(text, bad=True))
        self.close_view()

    def _filter(self) -> None:
        words = self.filter.text().lower().split()
        for tile in self.tiles:
            tile.setVisible(all(word in tile.text().lower() for word in words))
        self._refresh()

    def _set_backdrop(self, backdrop: str) -> None:
        self.backdrop = backdrop
        self.chips.show_choices([WHITE, SAIL, CHECKER, NIGHT], backdrop)
        for tile in self.tiles:
            tile.backdrop = backdrop
            tile.repaint_soon()

    # What is chosen

    @property
    def chosen(self) -> list[int]:
        return [at for at, tile in enumerate(self.tiles) if tile.isChecked()]

    def _shown(self) -> list[SheetTile]:
        return [tile for tile in self.tiles if not tile.isHidden() and tile.isEnabled()]

    def _turn_all(self) -> None:
        shown = self._shown()
        on = not all(tile.isChecked() for tile in shown)
        for tile in shown:
            tile.setChecked(on)

    def _refresh(self) -> None:
        count, read, chosen = len(self.tiles), self.entries.count_read, len(self.chosen)
        self.hint.setText("Reading the sheet …" if not count else
                          f"{count} controls in it. Select those you want to bring in.")
        shown = self._shown()
        self.none.setVisible(bool(count) and not any(not tile.isHidden() for tile in self.tiles))
        self.all_button.setEnabled(bool(shown))
        self.all_button.setText("Select none" if shown and all(
            tile.isChecked() for tile in shown) else "Select all")
        self.progress.setVisible(read < count or not count)
        self.progress.setRange(0, count)
        self.progress.setValue(read)
        self.status.setText(f"{read} of {count} read" if count and read < count else
                            "Beneath each: hover, pressed, focus, disabled" if count else "")
        ready = all(self.entries.entries[at].read for at in self.chosen)
        self.add_button.setEnabled(chosen > 0 and ready)
        self.add_button.setText(
            "Add" if not chosen else f"Add {chosen} control{'s' if chosen > 1 else ''}")

    def _add(self) -> None:
        arrivals = self.entries.arrivals(self.chosen)
        skipped = [f"{self.tiles[at].text()}: {finding}" for at in self.chosen
                   for finding in self.entries.entries[at].skipped]
        count = len(arrivals)
        name = arrivals[0].control.name if count == 1 else f"{count} controls"
        before = len(self.bench.kit.controls)
        if not self.bench.edit(f"import {name}", lambda kit: with_arrivals(kit, arrivals)):
            return
        self.bench.select(self.bench.kit.controls[before].id)
        text = f"{name} from {self.title}."
        if skipped:
            text += f" {len(skipped)} thing{'s were' if len(skipped) > 1 else ' was'} skipped."
        self.bench.noticed.emit(Notice(text, tuple(skipped)))
        self.close_view()

    def stop(self) -> None:
        self.entries.stop()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.add_button.isEnabled():
            self._add()
        else:
            super().keyPressEvent(event)
