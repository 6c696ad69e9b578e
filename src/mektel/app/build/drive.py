"""Driving a dial: lifting its value into a parameter, or by a formula."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMenu, QWidget

from mektel.app.build.formula_popover import FormulaPopover
from mektel.app.build.names import PARTS, part_name
from mektel.app.notices import Notice
from mektel.app.widgets.menu import add_action
from mektel.app.workbench import Workbench
from mektel.core.errors import NotFoundError
from mektel.core.kit import (
    CONTROL,
    Control,
    Kit,
    condition_of,
    parameter_edits,
    parse_flags,
    value_names,
)
from mektel.core.kit import edit as edits
from mektel.core.kit.paths import value_at

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
    what = "set formula of" if text.strip() else "remove formula of"
    control = bench.control
    name = part_name(control, part) if control and part not in (CONTROL,) else "control"
    return bench.edit(
        f"{what} {name.lower()} {path.split('.')[0]}",
        lambda kit: parameter_edits.set_formula(kit, bench.control_id, state, part, path, text))


def ask_formula(bench: Workbench, place: Place, title: str, parent: QWidget) -> None:
    control = bench.control
    assert control is not None
    popover = FormulaPopover(
        bench, place, title, formula_of(control, bench.state, place),
        lambda text: set_formula(bench, place, text), parent)
    popover.open_above(parent)


def driven_text(control: Control, state: str, part_id: str, name: str, stop: int) -> str:
    """What drives a dial in the selected state, for its tip; empty if nothing does."""
    formulas = [formula_of(control, state, place)
             for _, place in places_of(control, part_id, name, stop)]
    return next(filter(None, formulas), "")
