"""Pictures over Build: the files at the left, the states that they become at the right."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QEvent, QObject, QPoint, Qt, QTimer
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mektel.app.bring_in.over_build import OverBuild
from mektel.app.bring_in.picture_set import PictureSet
from mektel.app.bring_in.source_canvas import SourceCanvas
from mektel.app.bring_in.state_slot import NARROWEST, StateSlot
from mektel.app.notices import Notice
from mektel.app.theme import GAP_2, GAP_3, GAP_4, GAP_5
from mektel.app.widgets.backdrop import CHECKER, NIGHT, SAIL, WHITE, BackdropChips
from mektel.app.widgets.flow import Flow
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.workbench import Workbench
from mektel.core.kit.bringing_in import with_arrivals
from mektel.core.kit.conditions import REST

STATES = ("rest", "hover", "pressed", "focus", "disabled")
CHECKED = ("checked", "checked+hover", "checked+pressed", "checked+disabled")
DENSITIES = (1.0, 1.5, 2.0, 3.0, 4.0)
# Milliseconds for which rest is shown, and then the state.
BLINK = 500


class PicturesView(OverBuild):
    """Makes a control of pictures; ``closed`` is sent when that is over."""

    def __init__(self, paths: Sequence[Path], bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.pictures = PictureSet(paths, bench.background, self)
        self.backdrop = CHECKER
        self._adding = False
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_5, GAP_4, GAP_5, GAP_3)
        column.setSpacing(GAP_3)
        column.addWidget(self._head(paths))
        middle = QHBoxLayout()
        middle.setSpacing(GAP_4)
        self.source_area = self._scrolled()
        self.canvas = SourceCanvas(self.pictures, self.source_area.viewport())
        self.source_area.setWidget(self.canvas)
        self.canvas.backdrop = self.backdrop
        self.canvas.carrying.connect(self._show_wanted)
        self.canvas.carried.connect(self._drop)
        left = QVBoxLayout()
        left.setSpacing(GAP_2)
        left.addWidget(self.source_area, 1)
        keys = PlainLabel("Drag an edge to resize an outline, draw a new one on an empty area, "
                      "zoom with Ctrl and the wheel.", self)
        keys.setProperty("role", "dim")
        keys.setWordWrap(True)
        left.addWidget(keys)
        middle.addLayout(left, 1)
        self.slot_area = self._scrolled()
        self.slot_area.setWidgetResizable(True)
        ground = QWidget(self.slot_area)
        self.flow = Flow(ground, GAP_3, GAP_3)
        self.slots = {state: StateSlot(state, self.pictures, bench, ground)
                      for state in (*STATES, *CHECKED)}
        for slot in self.slots.values():
            slot.backdrop = self.backdrop
            slot.chosen.connect(self._choose)
            self.flow.add(slot)
        self.slot_area.setWidget(ground)
        middle.addWidget(self.slot_area, 1)
        column.addLayout(middle, 1)
        self.status = PlainLabel("", self)
        self.status.setProperty("role", "dim")
        self.status.setWordWrap(True)
        column.addWidget(self.status)
        column.addWidget(self._foot())
        for area in (self.source_area, self.slot_area):
            area.viewport().installEventFilter(self)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self._timer = QTimer(self, interval=BLINK)
        self._timer.timeout.connect(self._blink)
        self.pictures.opened.connect(self._open)
        self.pictures.changed.connect(self._refresh)
        self.pictures.failed.connect(self._fail)
        self._show_checked()
        self._refresh()

    def _scrolled(self) -> QScrollArea:
        area = QScrollArea(self)
        area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        return area

    def _head(self, paths: Sequence[Path]) -> QWidget:
        bench = self.bench
        head = QWidget(self)
        row = Flow(head, GAP_2, GAP_2)
        title = PlainLabel(paths[0].name if len(paths) == 1 else f"{len(paths)} pictures", head)
        title.setProperty("role", "title")
        self.hint = PlainLabel("Reading the pictures …", head)
        self.hint.setProperty("role", "dim")
        self.blink_button = QPushButton("Blink", head)
        self.blink_button.setCheckable(True)
        self.blink_button.setObjectName("quiet")
        tip(self.blink_button, "Alternate between rest and each state, so that a jump shows")
        self.blink_button.toggled.connect(self._set_blinking)
        self.checked_button = QPushButton("Two positions", head)
        self.checked_button.setCheckable(True)
        self.checked_button.setObjectName("quiet")
        tip(self.checked_button, "Show the states of a switch that is on")
        self.checked_button.toggled.connect(lambda _: self._show_checked())
        self.zones_button = QPushButton("Find stretch zones", head)
        self.zones_button.setObjectName("quiet")
        tip(self.zones_button, "Discard the zones set by hand")
        self.zones_button.clicked.connect(lambda: self.pictures.set_insets(None))
        self.read_button = QPushButton("Read as layers", head)
        self.read_button.setObjectName("quiet")
        tip(self.read_button, "Turn flat pictures back into a fill, a line, shadows …")
        self.read_button.clicked.connect(
            lambda: bench.reading_wanted.emit(self.pictures.whole_files()))
        self.read_button.hide()
        self.chips = BackdropChips(head)
        self.chips.show_choices([CHECKER, WHITE, SAIL, NIGHT], self.backdrop)
        self.chips.chosen.connect(self._set_backdrop)
        row.add(title)
        row.add(self.hint)
        row.add_space()
        for widget in (self.read_button, self.blink_button, self.checked_button,
                       self.zones_button, self.chips):
            row.add(widget)
        return head

    def _foot(self) -> QWidget:
        foot = QWidget(self)
        row = Flow(foot, GAP_2, GAP_2)
        self.name_entry = QLineEdit(foot)
        self.name_entry.setAccessibleName("Name of the control")
        self.name_entry.setFixedWidth(140)
        self.name_entry.editingFinished.connect(
            lambda: self.pictures.set_name(self.name_entry.text()))
        self.density_entry = QComboBox(foot)
        self.density_entry.setAccessibleName("Density of the pictures")
        for density in DENSITIES:
            self.density_entry.addItem(f"{density:g}×", density)
        self.density_entry.activated.connect(
            lambda at: self.pictures.set_density(DENSITIES[at]))
        cancel = QPushButton("Cancel", foot)
        cancel.clicked.connect(self.close_view)
        self.add_button = QPushButton("Add control", foot)
        self.add_button.setObjectName("main")
        self.add_button.clicked.connect(self._add)
        for text, entry in (("Name", self.name_entry), ("Density", self.density_entry)):
            label = PlainLabel(text, foot)
            label.setProperty("role", "dim")
            label.setBuddy(entry)
            row.add(label)
            row.add(entry)
        row.add_space()
        row.add(cancel)
        row.add(self.add_button)
        return foot

    # What there is

    def _open(self) -> None:
        self.name_entry.setText(self.pictures.name)
        self.checked_button.setChecked(any(
            state in CHECKED for state in self.pictures.placed))
        self._show_checked()
        self.canvas.fit_to(self.source_area.viewport().width())
        self.setFocus()

    def _refresh(self) -> None:
        pictures = self.pictures
        count = len(pictures.regions)
        if pictures.files:
            self.read_button.setVisible(REST in pictures.whole_files())
            self.hint.setText(
                "Flat pictures can be read as layers." if pictures.flat else
                "Drag each picture to the state it shows." if count > 1 else
                "The other states are derived from it.")
        nearest = min(range(len(DENSITIES)), key=lambda at: abs(DENSITIES[at] - pictures.density))
        self.density_entry.setCurrentIndex(nearest)
        self.zones_button.setVisible(pictures.insets is not None)
        result = pictures.result
        self.add_button.setEnabled(result is not None)
        self.blink_button.setEnabled(result is not None)
        tip(self.status, "")
        if self._adding and result is not None:
            self._add()
            return
        if result is None:
            self._adding = False
            self.status.setText(pictures.error)
            return
        width, height = result.arrival.control.size
        least = result.zones.smallest
        text = (f"{width:g} × {height:g} px, never smaller than "
                f"{least[0]:g} × {least[1]:g}")
        if result.findings:
            some = len(result.findings)
            text += f". {some} thing{'s' if some > 1 else ''} to check"
            tip(self.status, "\n".join(str(finding) for finding in result.findings))
        self.status.setText(text)

    def _fail(self, text: str) -> None:
        self.bench.noticed.emit(Notice(text, bad=True))
        self.close_view()

    def _show_checked(self) -> None:
        for state in CHECKED:
            self.slots[state].setVisible(self.checked_button.isChecked())

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize:
            if watched is self.slot_area.viewport():
                self._fit_slots()
            elif watched is self.source_area.viewport():
                self.canvas.fit_to(self.source_area.viewport().width())
        return super().eventFilter(watched, event)

    def _fit_slots(self) -> None:
        """As many in a row as there is room for, all of it used."""
        room = self.slot_area.viewport().width()
        across = max(1, (room + GAP_3) // (NARROWEST + GAP_3))
        for slot in self.slots.values():
            slot.setFixedWidth((room + GAP_3) // across - GAP_3)

    def _set_backdrop(self, backdrop: str) -> None:
        self.backdrop = backdrop
        self.chips.show_choices([CHECKER, WHITE, SAIL, NIGHT], backdrop)
        self.canvas.backdrop = backdrop
        self.canvas.update()
        for slot in self.slots.values():
            slot.backdrop = backdrop
            slot.repaint_soon()

    def _set_blinking(self, on: bool) -> None:
        if on:
            self._timer.start()
        else:
            self._timer.stop()
            self._show_blink(False)

    def _blink(self) -> None:
        self._show_blink(not self.slots["hover"].blink_rest)

    def _show_blink(self, rest: bool) -> None:
        for slot in self.slots.values():
            slot.blink_rest = rest
            slot.update()

    # What is dragged

    def _slot_at(self, place: QPoint) -> StateSlot | None:
        for slot in self.slots.values():
            if slot.isVisible() and slot.rect().contains(slot.mapFromGlobal(place)):
                return slot
        return None

    def _show_wanted(self, _region: int, place: QPoint) -> None:
        over = self._slot_at(place)
        for slot in self.slots.values():
            if slot.wanted != (slot is over):
                slot.wanted = slot is over
                slot.update()

    def _drop(self, region: int, place: QPoint) -> None:
        slot = self._slot_at(place)
        for each in self.slots.values():
            each.wanted = False
            each.update()
        if slot is not None:
            self.pictures.place(slot.state, region)
            slot.setFocus()

    def _choose(self, state: str) -> None:
        for slot in self.slots.values():
            slot.selected = slot.state == state
            slot.update()
        at = self.pictures.placed.get(state)
        if at is not None:
            self.canvas.select(at)

    # The end

    def _add(self) -> None:
        """Adds it once a name that was just typed is in it."""
        result = self.pictures.result
        self._adding = result is not None and result.arrival.control.name != self.pictures.name
        if result is None or self._adding:
            return
        arrival, name = result.arrival, result.arrival.control.name
        if not self.bench.edit(f"import {name}", lambda kit: with_arrivals(kit, [arrival])):
            return
        control = self.bench.kit.controls[-1]
        self.bench.select(control.id)
        missing = [state for state in STATES[1:] if state not in self.pictures.placed]
        text = f"{name}: {len(self.pictures.placed)} states from pictures"
        text += f", {len(missing)} derived." if missing else "."
        found = tuple(str(finding) for finding in result.findings)
        self.bench.noticed.emit(Notice(text, found))
        self.close_view()

    def stop(self) -> None:
        self._timer.stop()
