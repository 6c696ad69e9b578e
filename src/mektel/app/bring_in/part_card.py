"""A layer that was read from a picture: how sure it is, its values, locked or fitted again."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from mektel.app.theme import GAP_1, GAP_2
from mektel.app.widgets.plain import PlainLabel, tip

TITLES = {"outline": "Outline", "shadow": "Shadow", "second": "Second shadow", "face": "Face",
          "line": "Line", "light": "Light", "gloss": "Gloss", "label": "Label"}
# By part, the values that are shown: their names in a reading, and what they are called.
FIELDS: dict[str, tuple[tuple[str, str], ...]] = {
    "outline": (("width", "Width"), ("height", "Height"), ("radius", "Corners")),
    "shadow": (("shadow_x", "Right"), ("shadow_y", "Down"), ("shadow_blur", "Blur"),
               ("shadow_spread", "Spread")),
    "second": (("second_x", "Right"), ("second_y", "Down"), ("second_blur", "Blur"),
               ("second_spread", "Spread")),
    "face": (("direction", "Direction"),),
    "line": (("line", "Width"),),
    "light": (("light_y", "Down"), ("light_blur", "Blur")),
    "gloss": (("gloss_height", "Height"), ("gloss_bulge", "Bulge"), ("gloss_fade", "Fade"),
              ("gloss_gap", "Gap")),
    "label": (),
}
OPTIONAL = ("shadow", "second", "line", "light", "gloss")
NARROWEST, HEIGHT, FIELD = 262, 116, 42
# What is no length, so that it is the same in px and in pixels.
NO_LENGTHS = ("direction", "gloss_height", "gloss_bulge", "gloss_fade")


def _shown(value: float) -> str:
    return f"{round(value, 1 if abs(value) >= 100 else 2) + 0.0:g}"


class PartCard(QFrame):
    """``fit_wanted`` is for this part alone, ``set_by_hand`` sends a value, ``wanted_changed`` that
    the part is to be there or not, ``locked_changed`` that it is locked.
    """

    fit_wanted = Signal(str)
    set_by_hand = Signal(str, str, float)
    wanted_changed = Signal(str, bool)
    locked_changed = Signal(str, bool)

    def __init__(self, part: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.part, self.there = part, True
        self._shown: dict[str, float] = {}
        self.setObjectName("partCard")
        self.setFixedHeight(HEIGHT)
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_2, GAP_2, GAP_2, GAP_2)
        column.setSpacing(GAP_1)
        self.title = PlainLabel(TITLES[part], self)
        self.title.setProperty("role", "heading")
        self.sure = PlainLabel("", self)
        self.sure.setProperty("role", "dim")
        head = QHBoxLayout()
        head.addWidget(self.title)
        head.addStretch(1)
        head.addWidget(self.sure)
        column.addLayout(head)
        self.fields: dict[str, QLineEdit] = {}
        self._labels: dict[str, QLabel] = {}
        grid = QGridLayout()
        grid.setHorizontalSpacing(GAP_2)
        grid.setVerticalSpacing(GAP_1)
        grid.setColumnStretch(4, 1)
        for at, (name, words) in enumerate(FIELDS[part]):
            label = PlainLabel(words, self)
            label.setProperty("role", "dim")
            entry = QLineEdit(self)
            entry.setAccessibleName(f"{TITLES[part]}, {words.lower()}")
            entry.setFixedWidth(FIELD)
            entry.setAlignment(Qt.AlignmentFlag.AlignRight)
            entry.editingFinished.connect(lambda name=name: self._typed(name))
            label.setBuddy(entry)
            grid.addWidget(label, at // 2, at % 2 * 2)
            grid.addWidget(entry, at // 2, at % 2 * 2 + 1)
            self.fields[name], self._labels[name] = entry, label
        column.addLayout(grid)
        if part == "label":
            hint = PlainLabel("Left out of the fit. Type its text below.", self)
            hint.setProperty("role", "dim")
            hint.setWordWrap(True)
            column.addWidget(hint)
        column.addStretch(1)
        self.lock_box = QCheckBox("Lock", self)
        self.lock_box.setMinimumHeight(24)
        tip(self.lock_box, "Leave it as it is while other parts are fitted")
        self.lock_box.toggled.connect(lambda on: self.locked_changed.emit(self.part, on))
        self.fit_button = QPushButton("Fit", self)
        self.fit_button.setObjectName("quiet")
        tip(self.fit_button, "Fit this part again, and no other")
        self.fit_button.clicked.connect(lambda: self.fit_wanted.emit(self.part))
        self.wanted_button = QPushButton("Remove", self)
        self.wanted_button.setObjectName("quiet")
        self.wanted_button.clicked.connect(
            lambda: self.wanted_changed.emit(self.part, not self.there))
        foot = QHBoxLayout()
        foot.setSpacing(GAP_1)
        foot.addWidget(self.lock_box)
        foot.addStretch(1)
        foot.addWidget(self.fit_button)
        foot.addWidget(self.wanted_button)
        column.addLayout(foot)

    def show_part(
        self, there: bool, sure: float | None, values: dict[str, float], busy: bool
    ) -> None:
        self.there = there
        self.sure.setText("" if sure is None else f"{sure:.0%} sure" if there else "none")
        self._shown = values
        for name, entry in self.fields.items():
            entry.setEnabled(there)
            # Not disabled: the focus would go on to the next button, and Enter with it.
            entry.setReadOnly(busy)
            if not entry.hasFocus() or not entry.isModified():
                entry.setText(_shown(values[name]) if there and name in values else "")
        fits = bool(self.fields) and there
        self.lock_box.setVisible(fits)
        self.fit_button.setVisible(fits)
        self.fit_button.setEnabled(not busy and not self.lock_box.isChecked())
        self.wanted_button.setVisible(self.part in OPTIONAL)
        self.wanted_button.setEnabled(not busy)
        self.wanted_button.setText("Remove" if there else "Add")

    def show_field(self, name: str, fits: bool) -> None:
        """Whether a value has a meaning for what was read."""
        self.fields[name].setVisible(fits)
        self._labels[name].setVisible(fits)

    def _typed(self, name: str) -> None:
        entry = self.fields[name]
        if not entry.isModified():
            return
        entry.setModified(False)
        try:
            value = float(entry.text().replace(",", "."))
        except ValueError:
            entry.setText(_shown(self._shown.get(name, 0.0)))
            return
        if abs(value - self._shown.get(name, value + 1)) > 1e-6:
            self.set_by_hand.emit(self.part, name, value)
