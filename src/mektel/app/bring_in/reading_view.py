"""A flat picture read as layers, over Build: the picture and ours under one wipe."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from mektel.app.bring_in.over_build import OverBuild
from mektel.app.bring_in.part_card import (
    FIELDS,
    HEIGHT,
    NARROWEST,
    NO_LENGTHS,
    OPTIONAL,
    TITLES,
    PartCard,
)
from mektel.app.bring_in.picture_reading import PictureReading, Texts
from mektel.app.bring_in.state_changes import StateChanges
from mektel.app.bring_in.wipe_view import MODES, WIPE, WipeView
from mektel.app.notices import Notice
from mektel.app.theme import GAP_2, GAP_3, GAP_4, GAP_5
from mektel.app.widgets.flow import Flow
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.workbench import Workbench
from mektel.core.kit.bringing_in import with_arrivals
from mektel.core.kit.conditions import REST

PARTS = ("outline", "shadow", "second", "face", "gloss", "light", "line", "label")
# Those that most buttons have not: they have a card once they were there.
SELDOM = {"second", "gloss"}
DENSITIES = (1.0, 1.5, 2.0, 3.0, 4.0)


class ReadingView(OverBuild):
    """Makes a control of a flat picture; ``closed`` is sent when that is over."""

    def __init__(
        self, paths: Mapping[str, Path], bench: Workbench, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self.bench = bench
        self.reading = PictureReading(paths, bench.background, self)
        self.state = REST
        self._adding = False
        self._once: set[str] = set()
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_5, GAP_4, GAP_5, GAP_3)
        column.setSpacing(GAP_3)
        column.addWidget(self._head(paths))
        self.wipe = WipeView(self)
        column.addWidget(self.wipe, 1)
        self.area = area = QScrollArea(self)
        area.setWidgetResizable(True)
        area.viewport().installEventFilter(self)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setMinimumHeight(HEIGHT)
        area.setMaximumHeight(2 * HEIGHT + GAP_3)
        ground = QWidget(area)
        self.flow = Flow(ground, GAP_3, GAP_3)
        self.cards = {part: PartCard(part, ground) for part in PARTS}
        for card in self.cards.values():
            card.fit_wanted.connect(lambda part: self.reading.fit_again((part,)))
            card.set_by_hand.connect(self._set_value)
            card.wanted_changed.connect(self._want)
            card.locked_changed.connect(self._lock)
            card.hide()
            self.flow.add(card)
        area.setWidget(ground)
        self.changes = StateChanges(self)
        self.changes.discarded.connect(
            lambda part, name: self.reading.discard(self.state, part, name))
        self.pages = QStackedWidget(self)
        self.pages.setMaximumHeight(area.maximumHeight())
        self.pages.addWidget(area)
        self.pages.addWidget(self.changes)
        column.addWidget(self.pages, 1)
        self.status = PlainLabel("", self)
        self.status.setProperty("role", "dim")
        self.status.setWordWrap(True)
        column.addWidget(self.status)
        column.addWidget(self._foot())
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.reading.changed.connect(self._refresh)
        self.reading.went_on.connect(self._show_progress)
        self.reading.failed.connect(self._fail)
        self._refresh()

    def _head(self, paths: Mapping[str, Path]) -> QWidget:
        head = QWidget(self)
        row = Flow(head, GAP_2, GAP_2)
        title = PlainLabel(paths[REST].name, head)
        title.setProperty("role", "title")
        self.hint = PlainLabel("", head)
        self.hint.setProperty("role", "dim")
        row.add(title)
        row.add(self.hint)
        self.state_buttons: dict[str, QPushButton] = {}
        states = QButtonGroup(head)
        for state in paths if len(paths) > 1 else ():
            button = QPushButton(f"{state[0].upper()}{state[1:]}", head)
            button.setProperty("segment", "wide")
            button.setCheckable(True)
            button.setChecked(state == REST)
            button.clicked.connect(lambda _=False, state=state: self.show_state(state))
            states.addButton(button)
            row.add(button)
            self.state_buttons[state] = button
        row.add_space()
        self.modes: dict[str, QPushButton] = {}
        group = QButtonGroup(head)
        for mode, words in MODES.items():
            button = QPushButton(words, head)
            button.setProperty("segment", "wide")
            button.setCheckable(True)
            button.setChecked(mode == WIPE)
            button.clicked.connect(lambda _=False, mode=mode: self.wipe.set_mode(mode))
            group.addButton(button)
            row.add(button)
            self.modes[mode] = button
        self.all_button = QPushButton("Fit all", head)
        self.all_button.setObjectName("quiet")
        tip(self.all_button, "Fit all unlocked parts, from where they are")
        self.all_button.clicked.connect(lambda: self.reading.fit_again(PARTS))
        row.add(self.all_button)
        return head

    def _foot(self) -> QWidget:
        foot = QWidget(self)
        row = Flow(foot, GAP_2, GAP_2)
        self.name_entry, self.text_entry = QLineEdit(foot), QLineEdit(foot)
        self.density_entry = QComboBox(foot)
        for density in DENSITIES:
            self.density_entry.addItem(f"{density:g}×", density)
        for words, entry in (("Name", self.name_entry), ("Label", self.text_entry),
                             ("Density", self.density_entry)):
            label = PlainLabel(words, foot)
            label.setProperty("role", "dim")
            label.setBuddy(entry)
            entry.setAccessibleName(words)
            row.add(label)
            row.add(entry)
            if isinstance(entry, QLineEdit):
                entry.setFixedWidth(132)
                entry.editingFinished.connect(self._set_texts)
        self.density_entry.activated.connect(lambda _: self._set_texts())
        self.progress = QProgressBar(foot)
        self.progress.setTextVisible(False)
        self.progress.setFixedWidth(96)
        self.progress.setRange(0, 100)
        self.progress.setAccessibleName("Picture read")
        row.add(self.progress)
        row.add_space()
        cancel = QPushButton("Cancel", foot)
        cancel.clicked.connect(self.close_view)
        self.add_button = QPushButton("Add control", foot)
        self.add_button.setObjectName("main")
        self.add_button.clicked.connect(self._add)
        row.add(cancel)
        row.add(self.add_button)
        return foot

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize and watched is self.area.viewport():
            room = self.area.viewport().width()
            across = min(len(PARTS), max(1, (room + GAP_3) // (NARROWEST + GAP_3)))
            for card in self.cards.values():
                card.setFixedWidth((room + GAP_3) // across - GAP_3)
        return super().eventFilter(watched, event)

    # What was read

    def _show_progress(self, share: float) -> None:
        self.progress.setValue(round(share * 100))

    def show_state(self, state: str) -> None:
        """Shows a state's picture, and what it changes; of rest its parts."""
        self.state = state
        self._refresh()

    def _refresh(self) -> None:
        reading, states, busy = self.reading.reading, self.reading.states, self.reading.busy
        result = states.compared[self.state] if states else None
        self.progress.setVisible(busy)
        if busy and reading is not None:
            self.progress.setRange(0, 0)
        self.add_button.setEnabled(result is not None)
        if self._adding and result is not None and not busy:
            self._add()
            return
        self.all_button.setEnabled(result is not None and not busy)
        for entry in (self.name_entry, self.text_entry, self.density_entry):
            entry.setEnabled(reading is not None)
        if reading is None or result is None or states is None:
            self.hint.setText("Reading it as layers …" if busy else "")
            self.status.setText("a few seconds" if busy else "")
            return
        self.pages.setCurrentIndex(int(self.state != REST))
        # Beside the states there is no room for more.
        self.hint.setText("" if self.state_buttons else (
            "Lock what is right, correct what is not, and fit the rest again."))
        self.all_button.setVisible(self.state == REST)
        self.wipe.show_images(states.given[self.state], result.ours, result.difference)
        if self.state != REST:
            self.changes.show_changes(states.control, self.state, busy)
        texts = self.reading.texts
        sure = {part.name: part.sure for part in reading.layers}
        geometry = vars(reading.geometry)
        for part, card in self.cards.items():
            there = part in ("outline", *sure)
            self._once |= {part} if there else set()
            card.setVisible(part in self._once or part not in ("label", *SELDOM))
            values = {name: float(geometry[name]) / self._unit(name)
                      for name, _ in FIELDS[part]}
            card.show_part(there, sure.get(part) if part in OPTIONAL else None, values, busy)
            if part == "outline" and len(set(corners := reading.geometry.radii)) > 1:
                card.sure.setText("corners " + ", ".join(
                    f"{round(radius / texts.density, 1):g}" for radius in corners))
            if part == "face":
                radial = reading.parts.radial
                card.title.setText("Face, radial" if radial else TITLES[part])
                card.show_field("direction", reading.parts.stops > 1 and not radial)
        self.text_entry.setEnabled(reading.label is not None)
        self.text_entry.setPlaceholderText("its text" if reading.label is not None else "none")
        for entry, text in ((self.name_entry, texts.name), (self.text_entry, texts.text)):
            if not entry.hasFocus():
                entry.setText(text)
        nearest = min(range(len(DENSITIES)),
                      key=lambda at: abs(DENSITIES[at] - texts.density))
        self.density_entry.setCurrentIndex(nearest)
        means = ", ".join(
            f"{f'{state} ' if len(states.compared) > 1 else ''}{each.mean:.2f}"
            for state, each in states.compared.items())
        self.status.setText(f"mean difference {means} of 255"
                            + (", label left out" if reading.label is not None else ""))

    def _fail(self, text: str) -> None:
        self.bench.noticed.emit(Notice(text, bad=True))
        if self.reading.reading is None:
            self.close_view()

    # What the user does

    def _lock(self, part: str, on: bool) -> None:
        (self.reading.locked.add if on else self.reading.locked.discard)(part)
        self._refresh()

    def _set_value(self, part: str, name: str, value: float) -> None:
        """A value by hand; what is not locked follows."""
        self.reading.fit_again(PARTS, {name: value * self._unit(name)})

    def _unit(self, name: str) -> float:
        """Pixels of the picture for what a value is shown in: px, or what is no length."""
        return 1.0 if name in NO_LENGTHS else self.reading.texts.density

    def _want(self, part: str, there: bool) -> None:
        if there:
            self.reading.fit_again((part, "outline"), added=(part,))
        else:
            self.reading.fit_again(("outline", "face"), without=(part,))

    def _set_texts(self) -> None:
        name, text = self.name_entry.text(), self.text_entry.text()
        density = DENSITIES[self.density_entry.currentIndex()]
        before = self.reading.texts
        if Texts(name, text, density) != before and self.reading.reading is not None:
            self.reading.set_texts(name, text, density)

    def _add(self) -> None:
        """Adds it once what is being done, such as a name that was just typed, is done."""
        self._set_texts()
        self._adding = self.reading.busy
        if self._adding:
            return
        arrival = self.reading.arrival()
        name = arrival.control.name
        if not self.bench.edit(f"read {name}", lambda kit: with_arrivals(kit, [arrival])):
            return
        self.bench.select(self.bench.kit.controls[-1].id)
        layers = [TITLES[part] for part, card in self.cards.items()
                  if card.there and card.isVisible() and part != "outline"]
        self.bench.noticed.emit(Notice(
            f"{name} from {self.reading.paths[REST].name}: {', '.join(layers).lower()}; "
            "missing states suggested."))
        self.close_view()

    def stop(self) -> None:
        self.wipe.set_mode(WIPE)
        self.reading.stop()
