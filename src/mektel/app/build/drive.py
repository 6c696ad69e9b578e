"""Driving a dial: lifting its value into a parameter, or by a formula."""

from __future__ import annotations

from PySide6.QtCore import QPoint, Qt, Signal
from PySide6.QtWidgets import QFrame, QLabel, QLineEdit, QMenu, QPushButton, QVBoxLayout, QWidget

from mektel.app.build.names import PARTS, part_name
from mektel.app.notices import Notice
from mektel.app.theme import GAP_2, GAP_3
from mektel.app.widgets.menu import add_action
from mektel.app.workbench import Workbench
from mektel.core.errors import MektelError, NotFoundError
from mektel.core.formula import FUNCTIONS
from mektel.core.kit import (
    CONTROL,
    OUTLINE,
    Control,
    Kit,
    condition_of,
    parameter_edits,
    parse_flags,
    value_names,
)
from mektel.core.kit import edit as edits
from mektel.core.kit.paths import value_at
from mektel.core.look import problems_of

Place = tuple[str, str]  # part and path
SPANS = ("x", "y", "width", "height")  # of a box of a layer's own: a share and px


def places_of(control: Control, part_id: str, name: str, stop: int) -> list[tuple[str, Place]]:
    """What of a dial can be driven: in words, and where it is. Empty for a dial that cannot."""
    if name == "=text":
        return [("", (CONTROL, "text"))]
    if name == "=size":
        return [("width", (CONTROL, "size.0")), ("height", (CONTROL, "size.1"))]
    if name == "=gradient":
        return [("", (part_id, "stops"))]
    if name in ("=stop", "=at"):
        return [("", (part_id, f"stops.{stop}.{'colour' if name == '=stop' else 'position'}"))]
    if name.startswith("="):
        return []
    try:
        value, last = value_at(control.part(part_id), name), name.split(".")[-1]
    except NotFoundError:
        return []  # an argument that is not set
    if isinstance(value, tuple) and last in PARTS:
        each = [(part_name, (part_id, f"{name}.{at}")) for at, part_name in enumerate(PARTS[last])]
        return [("all alike", (part_id, name)), *each]
    if isinstance(value, tuple) and last in SPANS:
        return [("px", (part_id, f"{name}.1")), ("share", (part_id, f"{name}.0"))]
    return [("", (part_id, name))]


def formula_of(control: Control, state: str, place: Place) -> str:
    """The formula that drives a place in a state, or one of whole or part of it."""
    part, path = place
    condition = "rest" if part == CONTROL else condition_of(parse_flags(state))
    formulas = control.formulas.get(condition, {}).get(part, {})
    if path in formulas:
        return formulas[path]
    inner = [text for other, text in formulas.items() if other.startswith(f"{path}.")]
    return inner[0] if inner else ""


def drive_menu(
    bench: Workbench, name: str, title: str, stop: int, differs: bool, parent: QWidget,
) -> QMenu:
    """What a right-click on a dial offers."""
    control = bench.control
    assert control is not None
    part_id, state = bench.part_id, bench.state
    menu = QMenu(parent)
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    if differs:
        stored = "stops" if name in ("=stop", "=at", "=gradient") else name.split(".")[0]
        add_action(menu, f"Back to rest in {state}", bench.edit, f"{title.lower()} back to rest",
                   lambda kit: edits.clear_changes(kit, bench.control_id, state, part_id, stored))
        menu.addSeparator()
    for what, place in places_of(control, part_id, name, stop):
        of = f", {what}" if what else ""
        formula = formula_of(control, state, place)
        add_action(menu, f"Make it a parameter{of}", lift, bench, place)
        shown = f": = {formula[:40]}" if formula else "…"
        add_action(menu, f"Compute by formula{of}{shown}", ask_formula, bench, place, title, parent)
        if formula:
            add_action(menu, f"Remove the formula{of}", set_formula, bench, place, "")
    timed = "stops" if name in ("=stop", "=at", "=gradient") else name.split(".")[0]
    if timed in value_names(control.part(part_id)):
        add_action(menu, "Give it a timing of its own…", bench.timing_wanted.emit, part_id, timed)
    return menu


def lift(bench: Workbench, place: Place) -> None:
    """One gesture: a parameter with a sensible name drives the value."""
    made: list[str] = []
    state = "rest" if place[0] == CONTROL else bench.state

    def make(kit: Kit) -> Kit:
        kit, name = parameter_edits.lift(kit, bench.control_id, state, *place)
        made.append(name)
        return kit

    if bench.edit(f"make {place[1].split('.')[0]} a parameter", make) and made:
        bench.noticed.emit(Notice(
            f"“{made[-1]}” is now a parameter of {bench.control.name if bench.control else ''}; "
            "its limits and uses are in Reuse."))


def set_formula(bench: Workbench, place: Place, text: str) -> bool:
    state = "rest" if place[0] == CONTROL else bench.state
    part, path = place
    what = "drive" if text.strip() else "let go of"
    control = bench.control
    name = part_name(control, part) if control and part not in (CONTROL,) else "control"
    return bench.edit(
        f"{what} {name.lower()} {path.split('.')[0]}",
        lambda kit: parameter_edits.set_formula(kit, bench.control_id, state, part, path, text))


def formula_problem(bench: Workbench, place: Place, text: str) -> str:
    """Why a formula cannot drive a place; empty if it can. Nothing is changed."""
    control, state = bench.control, "rest" if place[0] == CONTROL else bench.state
    if control is None or not text.strip():
        return ""
    try:
        kit = parameter_edits.set_formula(bench.kit, control.id, state, *place, text)
        problems = problems_of(kit, kit.control(control.id))
    except MektelError as error:
        return str(error)
    mine = [problem for problem in problems if (problem.part, problem.path) == place]
    return mine[0].text if mine else ""


def ask_formula(bench: Workbench, place: Place, title: str, parent: QWidget) -> None:
    popover = FormulaPopover(bench, place, title, parent)
    popover.adjustSize()
    corner = parent.mapToGlobal(QPoint(0, 0))
    popover.move(corner.x(), max(8, corner.y() - popover.height() - 6))
    popover.show()
    popover.entry.setFocus()


class FormulaPopover(QFrame):
    """A line for a formula, checked as it is typed, with what it may speak of."""

    closed = Signal()

    def __init__(self, bench: Workbench, place: Place, title: str, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("popover")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.bench, self.place = bench, place
        control = bench.control
        assert control is not None
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_3, GAP_3, GAP_3, GAP_3)
        column.setSpacing(GAP_2)
        where = "the control" if place[0] in (CONTROL, OUTLINE) else part_name(control, place[0])
        heading = QLabel(f"{title} of {where} =", self)
        heading.setProperty("role", "heading")
        column.addWidget(heading)
        self.entry = QLineEdit(formula_of(control, bench.state, place), self)
        self.entry.setAccessibleName("Formula")
        self.entry.setMinimumWidth(340)
        self.entry.setPlaceholderText("such as height / 4 or darken(tide, 0.1)")
        column.addWidget(self.entry)
        self.outcome = QLabel(self)
        self.outcome.setWordWrap(True)
        self.outcome.setMinimumHeight(34)
        column.addWidget(self.outcome)
        names = [parameter.name for parameter in control.parameters]
        names += ["width", "height"] + (["rest"] if bench.state != "rest" else [])
        names += [swatch.name.replace("-", "_") for swatch in bench.kit.palette[:8]]
        help_ = QLabel(f"It can use {', '.join(names)}; values of other layers, as face.blur; and "
                       f"the functions {', '.join(FUNCTIONS)}.", self)
        help_.setWordWrap(True)
        help_.setProperty("role", "small")
        column.addWidget(help_)
        self.done = QPushButton("Set formula", self)
        self.done.setObjectName("main")
        self.done.clicked.connect(self._take)
        column.addWidget(self.done, 0, Qt.AlignmentFlag.AlignLeft)
        self.entry.textChanged.connect(self._check)
        self.entry.returnPressed.connect(self._take)
        self._check()

    def _check(self) -> None:
        text = self.entry.text()
        problem = formula_problem(self.bench, self.place, text)
        self.outcome.setText(problem or ("it can be computed" if text.strip() else
                                      "empty: the value stands by itself"))
        self.outcome.setProperty("role", "bad" if problem else "dim")
        self.outcome.style().polish(self.outcome)
        self.done.setEnabled(not problem)

    def _take(self) -> None:
        if self.done.isEnabled() and set_formula(self.bench, self.place, self.entry.text()):
            self.close()


def driven_text(control: Control, state: str, part_id: str, name: str, stop: int) -> str:
    """What drives a dial in the selected state, for its tip; empty if nothing does."""
    formulas = [formula_of(control, state, place)
             for _, place in places_of(control, part_id, name, stop)]
    return next(filter(None, formulas), "")
