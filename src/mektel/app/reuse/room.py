"""The Reuse room: one design, many controls."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPushButton,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from mektel.app.reuse.palette import PaletteSide
from mektel.app.reuse.parameters import ParameterTable
from mektel.app.reuse.variations import NAMES, SHOWN, Variations, remove_variation
from mektel.app.theme import GAP_1, GAP_2, GAP_3, GAP_5
from mektel.app.widgets.argument_dials import show_value, small, typed_value, value_editor
from mektel.app.widgets.backdrop import CHECKER, DUSK, NIGHT, SAIL, WHITE, BackdropChips
from mektel.app.widgets.dials import Dial
from mektel.app.widgets.flow import Flow
from mektel.app.widgets.layouts import empty
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.app.workbench import Workbench
from mektel.core.kit import Kit, Variation, parameter_edits

ACROSS = 5
# Texts to look at a design with; the last two need a font that has their letters.
LAID_IN = {
    "Longest text": "Return crossing with a bicycle",
    "German": "Überfahrt mit Fahrradanhänger",
    "Finnish": "Polkupyöränkuljetusmaksu",
    "Vietnamese": "Vé khứ hồi kèm xe đạp",
    "Cyrillic": "Переправа туда и обратно",
    "Hebrew, from the right": "מעבורת הלוך ושוב",
}


class Arguments(QWidget):
    """The selected variation's name and arguments."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.at = 0
        self.dials: dict[str, Dial] = {}
        self._built: tuple[Any, ...] = ()
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(GAP_3)
        self._grid.setVerticalSpacing(2)

    def show_row(self, at: int) -> None:
        control = self.bench.control
        self.at = at
        shown = control is not None and 0 < at <= len(control.variations)
        self.setVisible(shown)
        if not shown or control is None:
            return
        variation = control.variations[at - 1]
        shape = (control.id, at, tuple((p.name, p.type, p.choices) for p in control.parameters))
        if shape != self._built:
            self._built = shape
            self._build()
        if not self.name.isModified():
            self.name.setText(variation.name)
        if not self.text.isModified():
            self.text.setText(variation.text or "")
        for parameter in control.parameters:
            dial = self.dials.get(parameter.name)
            if dial is not None:
                value = variation.arguments.get(parameter.name, parameter.default)
                show_value(dial, parameter, value, self.bench.drawn)

    def _build(self) -> None:
        control = self.bench.control
        assert control is not None
        empty(self._grid)
        self.dials = {}
        self.name = QLineEdit(self)
        self.name.setAccessibleName("Variation name")
        self.name.editingFinished.connect(self._rename)
        self.text = QLineEdit(self)
        self.text.setAccessibleName("Variation text")
        self.text.setPlaceholderText(control.text)
        self.text.editingFinished.connect(self._set_text)
        cells: list[tuple[str, QWidget]] = [("name", self.name), ("text", self.text)]
        for parameter in control.parameters:
            dial = value_editor(parameter, f"Argument {parameter.name}", self)
            if dial is not None and parameter.name != "text":
                dial.changed.connect(lambda value, drag, p=parameter: self._set(
                    p.name, typed_value(p, value), drag))
                dial.drag_ended.connect(self.bench.end_drag)
                self.dials[parameter.name] = dial
                cells.append((parameter.name, dial))
        for at, (title, widget) in enumerate(cells):
            self._grid.addWidget(small(title, self), at // ACROSS * 2, at % ACROSS)
            self._grid.addWidget(widget, at // ACROSS * 2 + 1, at % ACROSS)
            self._grid.setColumnStretch(at % ACROSS, 1)
        gone = QPushButton("Remove", self)
        gone.setObjectName("quiet")
        tip(gone, "Remove this variation")
        gone.clicked.connect(lambda: remove_variation(self.bench, self.at - 1))
        self._grid.addWidget(gone, 1, ACROSS)

    def _set(self, name: str, value: Any, drag: bool) -> None:
        at = self.at - 1
        self.bench.edit(
            f"argument {name}",
            lambda kit: parameter_edits.set_argument(kit, self.bench.control_id, at, name, value),
            (self.bench.control_id, "argument", at, name) if drag else None)

    def _set_text(self) -> None:
        if self.text.isModified():
            self.text.setModified(False)
            self._set("text", self.text.text() or None, False)

    def _rename(self) -> None:
        title, at = self.name.text().strip(), self.at - 1
        if not self.name.isModified() or not title:
            return
        self.name.setModified(False)

        def make(kit: Kit) -> Kit:
            kept = kit.control(self.bench.control_id).variations
            renamed_variation = kept[at].model_copy(update={"name": title[:80]})
            return parameter_edits.set_variations(
                kit, self.bench.control_id, (*kept[:at], renamed_variation, *kept[at + 1 :]))

        self.bench.edit("rename variation", make)


class ReuseRoom(QWidget):
    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("room")
        self.bench = bench
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.empty = PlainLabel("Nothing to reuse yet. Put a control on the shelf first: choose a "
                            "starter, or drop a drawing.", self)
        self.empty.setProperty("role", "dim")
        self.empty.setAlignment(Qt.AlignmentFlag.AlignCenter)
        row.addWidget(self.empty, 1)
        self.split = QSplitter(Qt.Orientation.Vertical, self)
        self.split.setHandleWidth(3)
        upper = QWidget(self.split)
        column = QVBoxLayout(upper)
        column.setContentsMargins(GAP_5, GAP_3, GAP_5, GAP_2)
        column.setSpacing(GAP_2)
        column.addWidget(self._header(upper))
        column.addLayout(self._captions(upper))
        self.variations = Variations(bench, upper)
        column.addWidget(self.variations, 1)
        self.arguments = Arguments(bench, upper)
        column.addWidget(self.arguments)
        self.table = ParameterTable(bench, self.split)
        self.split.addWidget(upper)
        self.split.addWidget(self.table)
        self.split.setStretchFactor(0, 1)
        self.split.setSizes([500, 250])
        row.addWidget(self.split, 1)
        self.palette_side = PaletteSide(bench, self)
        self.palette_side.setFixedWidth(308)
        row.addWidget(self.palette_side)
        self.variations.chosen.connect(self.arguments.show_row)
        for signal in (bench.kit_changed, bench.selected_changed, bench.view_changed):
            signal.connect(self.refresh)

    def _header(self, parent: QWidget) -> QWidget:
        whole = QWidget(parent)
        row = Flow(whole, GAP_3, GAP_1)
        self.title = PlainLabel(parent)
        self.title.setProperty("role", "title")
        self.count = PlainLabel(parent)
        self.count.setProperty("role", "dim")
        self.longest = QPushButton("Try another text  ▾", parent)
        self.longest.setProperty("small", True)
        tip(self.longest, "Adds a variation with a long text, or one in another language")
        menu = QMenu(self.longest)
        for title, text in LAID_IN.items():
            add_action(menu, title, self._lay_in, text, title)
        self.longest.setMenu(menu)
        self.chips = BackdropChips(parent)
        self.chips.chosen.connect(lambda backdrop: self.bench.view(backdrop=backdrop))
        row.add(self.title)
        row.add(self.count)
        row.add_space()
        row.add(self.chips)
        row.add(self.longest)
        return whole

    def _captions(self, parent: QWidget) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        spacer = QWidget(parent)
        spacer.setFixedWidth(NAMES)
        row.addWidget(spacer)
        for state in SHOWN:
            label = small(state, parent)
            label.setAlignment(Qt.AlignmentFlag.AlignCenter)
            row.addWidget(label, 1)
        return row

    def _lay_in(self, text: str, name: str) -> None:
        control = self.bench.control
        if control is None:
            return
        new = (*control.variations, Variation(name=name, text=text))
        if self.bench.edit(f"try {name.lower()}", lambda kit: parameter_edits.set_variations(
                kit, self.bench.control_id, new)):
            self.variations.select(len(new))

    def refresh(self) -> None:
        control = self.bench.control
        self.empty.setVisible(control is None)
        self.split.setVisible(control is not None)
        if not self.isVisible():
            return  # brought up to date when it is shown
        self.palette_side.refresh()
        if control is None:
            return
        self.title.setText(control.name)
        count = 1 + len(control.variations)
        text = "1 variation" if count == 1 else f"{count} variations of one design"
        controls = self.bench.kit.controls
        base = next((other.name for other in controls if other.id == control.base), "")
        if control.base is not None:
            text += f", derives from {base or f'“{control.base}”, which is not in this kit'}"
        self.count.setText(text)
        self.chips.show_choices([CHECKER, SAIL, WHITE, NIGHT, DUSK], self.bench.backdrop)
        self.variations.refresh()
        self.arguments.show_row(self.variations.selected)
        self.table.refresh()

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()
