"""The timings that a state has: of all parts, of single parts and values; one is edited."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QMenu, QPushButton, QToolButton, QWidget

from mektel.app.build.names import value_title
from mektel.app.theme import GAP_1, GAP_3
from mektel.app.widgets.layouts import empty
from mektel.app.widgets.menu import add_action
from mektel.app.workbench import Workbench
from mektel.core.kit import OUTLINE, Control
from mektel.core.kit.control import ALL, CONTROL
from mektel.core.motion.arrivals import summary

Place = tuple[str, str]
WHOLE: Place = (CONTROL, ALL)
ACROSS = 3


def place_title(control: Control, place: Place) -> str:
    """A part and value in words."""
    part, name = place
    if place == WHOLE:
        return "All parts"
    title = "Outline" if part == OUTLINE else control.layer(part).name
    return title if name == ALL else f"{title}, {value_title(name)}"


class OwnTimings(QWidget):
    """``chosen`` is sent with (part, value), ``removed`` with one whose timing is taken away."""

    chosen = Signal(object)
    removed = Signal(object)

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.place = WHOLE
        self.buttons: dict[Place, QPushButton] = {}
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(GAP_3)
        self._grid.setVerticalSpacing(GAP_1)

    def refresh(self, goal: str) -> None:
        control = self.bench.control
        empty(self._grid)
        self.buttons = {}
        if control is None:
            return
        own = control.timings.get(goal, {})
        places: list[Place] = [WHOLE]
        places += [(part, name) for part, names in own.items() for name in names
                   if (part, name) != WHOLE]
        if self.place not in places:
            places.append(self.place)
        for at, place in enumerate(places):
            timing = own.get(place[0], {}).get(place[1])
            text = f"{place_title(control, place)}  ·  "
            text += summary(timing) if timing is not None else (
                "as at rest" if place == WHOLE else "as all parts")
            button = QPushButton(text, self)
            button.setProperty("small", True)
            button.setCheckable(True)
            button.setChecked(place == self.place)
            button.clicked.connect(lambda _=False, place=place: self.choose(place))
            self.buttons[place] = button
            self._grid.addWidget(button, at // ACROSS, at % ACROSS * 2)
            if timing is not None:
                gone = QToolButton(self)
                gone.setText("×")
                gone.setObjectName("quiet")
                gone.setToolTip(f"Take away the timing of {place_title(control, place)}")
                gone.setAccessibleName(gone.toolTip())
                gone.clicked.connect(lambda _=False, place=place: self.removed.emit(place))
                self._grid.addWidget(gone, at // ACROSS, at % ACROSS * 2 + 1)
        at = len(places) - 1
        self._grid.setColumnStretch(ACROSS * 2, 1)
        self._grid.setRowStretch(at // ACROSS + 1, 1)

    def fill(self, menu: QMenu) -> None:
        """Every part, for one to be given a timing of its own."""
        menu.clear()
        control = self.bench.control
        if control is not None:
            add_action(menu, "Outline", self.choose, (OUTLINE, ALL))
            for layer in reversed(control.layers):
                add_action(menu, layer.name, self.choose, (layer.id, ALL))

    def choose(self, place: Place) -> None:
        self.place = place
        self.chosen.emit(place)
