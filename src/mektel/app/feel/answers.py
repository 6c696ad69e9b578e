"""Answers to touch: which a control has, on a ruler, and the values of the chosen one."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QMenu, QPushButton, QWidget

from mektel.app.theme import GAP_2, GAP_3
from mektel.app.widgets.colour import ColourDial
from mektel.app.widgets.dials import ChoiceDial, Dial, NumberDial, YesNoDial
from mektel.app.widgets.layouts import empty
from mektel.app.widgets.menu import add_action
from mektel.app.workbench import Workbench
from mektel.core.kit import Kit, Measure, measure_of
from mektel.core.kit.answers import ANSWER_KINDS, MOST_ANSWERS, Press
from mektel.core.kit.timing import Timing
from mektel.core.kit.timing_edits import set_answers

TITLES = {"ripple": "Ripple", "press": "Press"}
TIPS = {"ripple": "A disc grows from where it is touched and fades when let go",
        "press": "All of it becomes smaller and sinks while pressed, and springs back"}
MILLISECONDS = Measure("ms", 0, 10_000, 10, 0)
ORIGINS = [("touch", "where touched"), ("centre", "the centre")]


class Answers(QWidget):
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

    def fill(self, menu: QMenu) -> None:
        """Every kind of answer, for one to be added."""
        menu.clear()
        for kind, title in TITLES.items():
            add_action(menu, title, self._add, kind).setToolTip(TIPS[kind])
        menu.setToolTipsVisible(True)

    def refresh(self) -> None:
        control = self.bench.control
        answers = control.answers if control is not None else ()
        self.at = min(self.at, max(0, len(answers) - 1))
        kinds = tuple(answer.kind for answer in answers)
        built = (control.id if control is not None else "", kinds, self.at)
        if built != self._built:
            self._built = built
            self._build(kinds)
        if answers:
            self._show(answers[self.at])

    def _build(self, kinds: tuple[str, ...]) -> None:
        empty(self._grid)
        self.buttons, self.dials = [], {}
        if not kinds:
            none = QLabel("None yet. A press changes its state and nothing more.", self)
            none.setProperty("role", "small")
            self._grid.addWidget(none, 0, 0)
            return
        line = QWidget(self)
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(GAP_2)
        for at, kind in enumerate(kinds):
            button = QPushButton(TITLES[kind], line)
            button.setProperty("small", True)
            button.setCheckable(True)
            button.setChecked(at == self.at)
            button.setToolTip(TIPS[kind])
            button.clicked.connect(partial(self._choose, at))
            self.buttons.append(button)
            row.addWidget(button)
        gone = QPushButton("Remove", line)
        gone.setObjectName("quiet")
        gone.clicked.connect(self._remove)
        row.addWidget(gone)
        row.addStretch(1)
        self._grid.addWidget(line, 0, 0, 1, 3)
        for place, (name, dial) in enumerate(self._dials_of(kinds[self.at]).items()):
            dial.changed.connect(partial(self._set, name))
            dial.drag_ended.connect(self.bench.end_drag)
            self.dials[name] = dial
            self._grid.addWidget(dial, 1 + place // 3, place % 3, Qt.AlignmentFlag.AlignTop)
        for column in range(3):
            self._grid.setColumnStretch(column, 1)

    def _dials_of(self, kind: str) -> dict[str, Dial]:
        if kind == "press":
            return {"scale": NumberDial("Scale", measure_of(Press, "scale"), self),
                    "sink": NumberDial("Sinks", measure_of(Press, "sink"), self),
                    "bounce": NumberDial("Bounce", measure_of(Timing, "bounce"), self),
                    "timing": NumberDial("Settles in", MILLISECONDS, self)}
        return {"colour": ColourDial("Colour", self),
                "origin": ChoiceDial("From", ORIGINS, self),
                "within": YesNoDial("Reach", "inside", "beyond", self),
                "seconds": NumberDial("Grows in", MILLISECONDS, self),
                "fade": NumberDial("Fades in", MILLISECONDS, self)}

    def _show(self, answer: Any) -> None:
        for name, dial in self.dials.items():
            if name == "timing":
                value: Any = answer.timing.seconds * 1000
            elif name == "bounce":
                value = answer.timing.bounce
            else:
                value = getattr(answer, name)
                value = value * 1000 if name in ("seconds", "fade") else value
            if isinstance(dial, ColourDial):
                dial.show_value(value, self.bench.kit)
            else:
                dial.show_value(value)  # type: ignore[attr-defined]

    # Edits

    def _edit(self, step: str, make: Any, merge: str = "") -> None:
        def changed(kit: Kit) -> Kit:
            answers = kit.control(self.bench.control_id).answers
            return set_answers(kit, self.bench.control_id, make(answers))

        self.bench.edit(step, changed, (self.bench.control_id, "answer", self.at, merge)
                        if merge else None)

    def _add(self, kind: str) -> None:
        control = self.bench.control
        if control is None or len(control.answers) >= MOST_ANSWERS:
            return
        self.at = len(control.answers)
        self._edit(f"add {TITLES[kind].lower()}", lambda answers: (*answers, ANSWER_KINDS[kind]()))

    def _remove(self) -> None:
        at = self.at
        self._edit("remove answer", lambda answers: (*answers[:at], *answers[at + 1 :]))

    def _choose(self, at: int, _checked: bool = False) -> None:
        self.at = at
        self._built = ()
        self.refresh()

    def _set(self, name: str, value: Any, drag: bool) -> None:
        at = self.at

        def make(answers: Any) -> Any:
            answer = answers[at]
            if name in ("timing", "bounce"):
                new = ({"seconds": round(value / 1000, 3)} if name == "timing"
                       else {"bounce": value})
                changes = {"timing": answer.timing.model_copy(update=new)}
            else:
                changes = {name: round(value / 1000, 3) if name in ("seconds", "fade") else value}
            return (*answers[:at], answer.model_copy(update=changes), *answers[at + 1 :])

        self._edit(f"answer {name}", make, name if drag else "")
