"""The tracks of a change: the timings of all parts, of single parts and values, and the answers
that play meanwhile. One timing is edited.
"""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QMenu, QPushButton, QToolButton, QWidget

from mektel.app.build.names import value_title
from mektel.app.feel.answers import TITLES
from mektel.app.feel.track import Track
from mektel.app.theme import GAP_1, GAP_3
from mektel.app.widgets.layouts import empty
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.workbench import Workbench
from mektel.core.kit import OUTLINE, Control, Kit
from mektel.core.kit.control import ALL, CONTROL
from mektel.core.kit.timing_edits import lasting, set_timing, stretch_answer
from mektel.core.motion.arrivals import answers_on, summary

Place = tuple[str, str]
WHOLE: Place = (CONTROL, ALL)


def place_title(control: Control, place: Place) -> str:
    """A part and value in words."""
    part, name = place
    if place == WHOLE:
        return "All parts"
    title = "Outline" if part == OUTLINE else control.layer(part).name
    return title if name == ALL else f"{title}, {value_title(name).lower()}"


class OwnTimings(QWidget):
    """``chosen`` is sent with (part, value), ``removed`` with one whose timing is taken away."""

    chosen = Signal(object)
    removed = Signal(object)

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.place = WHOLE
        self.goal = ""
        self.buttons: dict[Place, QPushButton] = {}
        self.tracks: dict[Any, Track] = {}
        self._built: Any = None
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(GAP_3)
        self._grid.setVerticalSpacing(GAP_1)
        self._grid.setColumnStretch(1, 1)

    def refresh(self, goal: str, span: float) -> None:
        control = self.bench.control
        self.goal = goal
        if control is None:
            return
        own = control.timings.get(goal, {})
        places: list[Place] = [WHOLE]
        places += [(part, name) for part, names in own.items() for name in names
                   if (part, name) != WHOLE]
        if self.place not in places:
            places.append(self.place)
        answers = answers_on(control, goal)
        built = (control.id, goal, places, [(at, answer.kind) for at, answer in answers],
                 [own.get(part, {}).get(name) is not None for part, name in places])
        if built != self._built:
            self._built = built
            self._build(control, places, answers)
        for place in places:
            timing = own.get(place[0], {}).get(place[1])
            text = f"{place_title(control, place)}  ·  "
            text += summary(timing) if timing is not None else (
                "same as rest" if place == WHOLE else "same as all parts")
            self.buttons[place].setText(text)
            self.buttons[place].setChecked(place == self.place)
            if place in self.tracks and timing is not None:
                self.tracks[place].show_times(timing.delay, timing.seconds, span)
        for at, answer in answers:
            self.tracks[at].show_times(0.0, lasting(answer), span)

    def _build(self, control: Control, places: list[Place], answers: list[tuple[int, Any]]
               ) -> None:
        empty(self._grid)
        self.buttons, self.tracks = {}, {}
        own = control.timings.get(self.goal, {})
        for row, place in enumerate(places):
            button = QPushButton(self)
            button.setProperty("small", True)
            button.setCheckable(True)
            button.setMinimumWidth(220)
            button.clicked.connect(lambda _=False, place=place: self.choose(place))
            self.buttons[place] = button
            self._grid.addWidget(button, row, 0)
            if own.get(place[0], {}).get(place[1]) is not None:
                self._add_track(place, place_title(control, place), row, True)
                gone = QToolButton(self)
                gone.setText("×")
                gone.setObjectName("quiet")
                tip(gone, f"Remove the timing of {place_title(control, place)}")
                gone.setAccessibleName(gone.toolTip())
                gone.clicked.connect(lambda _=False, place=place: self.removed.emit(place))
                self._grid.addWidget(gone, row, 2)
        for row, (at, answer) in enumerate(answers, len(places)):
            label = PlainLabel(f"Answer  ·  {TITLES[answer.kind][0]}", self)
            label.setProperty("role", "small")
            self._grid.addWidget(label, row, 0)
            self._add_track(at, TITLES[answer.kind][0], row, False)
        self._grid.setRowStretch(len(places) + len(answers), 1)

    def _add_track(self, key: Any, title: str, row: int, moves: bool) -> None:
        track = Track(title, moves, self)
        track.changed.connect(partial(self._stretch, key))
        track.drag_ended.connect(self.bench.end_drag)
        self.tracks[key] = track
        self._grid.addWidget(track, row, 1)

    def _stretch(self, key: Any, begin: float, seconds: float, drag: bool) -> None:
        """A timing, by its place, or an answer, by its number, takes other times."""
        name, goal = self.bench.control_id, self.goal

        def changed(kit: Kit) -> Kit:
            if isinstance(key, int):
                return stretch_answer(kit, name, key, seconds)
            timing = kit.control(name).timings[goal][key[0]][key[1]]
            return set_timing(kit, name, goal, timing.model_copy(
                update={"delay": begin, "seconds": seconds}), *key)

        self.bench.edit(f"times of {goal}", changed, (name, "track", goal, key) if drag else None)

    def choose(self, place: Place) -> None:
        self.place = place
        self.chosen.emit(place)

    def fill(self, menu: QMenu) -> None:
        """Every part, for one to be given a timing of its own."""
        menu.clear()
        control = self.bench.control
        if control is None:
            return
        add_action(menu, "Outline", self.choose, (OUTLINE, ALL))
        for layer in reversed(control.layers):
            add_action(menu, layer.name, self.choose, (layer.id, ALL))

