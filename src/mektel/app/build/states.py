"""What can be done with a whole state: follow another, take a copy, derive, clear, combine."""

from __future__ import annotations

from collections.abc import Callable
from itertools import combinations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMenu, QWidget

from mektel.app.widgets.menu import add_action
from mektel.app.workbench import Workbench
from mektel.core.kit import (
    REST,
    Kit,
    combined_states,
    condition_of,
    edit,
    parse_flags,
    state_edits,
    states_of,
)

BEHAVIOURS = {
    "push": "Push: acts when pressed", "two-position": "Two positions: stays on or off",
    "group": "One of a group: on turns the others off",
    "long-press": "Long press: acts after 0.6 s",
    "busy": "Busy: shows that work is under way",
}


def behaviour_title(behaviour: str) -> str:
    """How the window calls a behaviour, in short."""
    return BEHAVIOURS[behaviour].partition(":")[0].lower()


def state_menu(bench: Workbench, state: str, parent: QWidget) -> QMenu:
    menu = QMenu(parent)
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    control = bench.control
    assert control is not None
    others = [state_ for state_ in bench.shown_states() if state_ != state]

    def act(title: str, make: Callable[..., Kit]) -> Callable[[], object]:
        return lambda: bench.edit(title, make)

    if state == REST:
        menu.addAction("Rest is where every change starts from").setEnabled(False)
    else:
        linked = control.links.get(state)
        if linked:
            add_action(menu, f"Detach from {linked}", act(
                f"detach {state}",
                lambda kit: state_edits.unlink_state(kit, bench.control_id, state)))
        follow = menu.addMenu("Follow")
        copy = menu.addMenu("Copy the changes of")
        for other in others:
            title = "rest: no changes" if other == REST else other
            add_action(follow, title, act(
                f"{state} follows {other}",
                lambda kit, other=other: state_edits.link_state(
                    kit, bench.control_id, state, other)))
            if other != REST:
                add_action(copy, other, act(
                    f"{state} as a copy of {other}",
                    lambda kit, other=other: state_edits.copy_state(
                        kit, bench.control_id, other, state)))
                layer = bench.part_id
                add_action(copy, f"{other}, this layer only", act(
                    f"copy one layer of {other} into {state}",
                    lambda kit, other=other, layer=layer: state_edits.copy_state(
                        kit, bench.control_id, other, state, layer)))
        derive = menu.addMenu("Suggest its face from rest")
        for how in state_edits.DERIVATIONS:
            add_action(derive, how, act(
                f"{state} {how}",
                lambda kit, how=how: state_edits.derive_state(kit, bench.control_id, state, how)))
        menu.addSeparator()
        add_action(menu, "Clear all its changes", act(
            f"clear {state}", lambda kit: edit.clear_changes(kit, bench.control_id, state)))
    menu.addSeparator()
    combine = menu.addMenu("Show a combination")
    for title in missing_combinations(bench):
        add_action(combine, title, show_combination, bench, title)
    combine.setEnabled(not combine.isEmpty())
    return menu


def missing_combinations(bench: Workbench) -> list[str]:
    """Sets of two or three states that can hold at once and are not on the wall."""
    control = bench.control
    if control is None:
        return []
    can = set(combined_states(control.behaviour))
    shown = {parse_flags(state) for state in bench.shown_states()}
    return [condition_of(some) for count in (2, 3)
            for some in combinations(states_of(control.behaviour), count)
            if frozenset(some) in can and frozenset(some) not in shown]


def show_combination(bench: Workbench, condition: str) -> None:
    """Puts a tile for a set of states on the wall, and selects it."""
    have = bench.selection.more_states.get(bench.control_id, ())
    bench.selection.more_states[bench.control_id] = (*have, condition)
    bench.select(state=condition)


def behaviour_menu(bench: Workbench, parent: QWidget) -> QMenu:
    menu = QMenu(parent)

    def fill() -> None:
        menu.clear()
        control = bench.control
        for kind, title in BEHAVIOURS.items():
            action = add_action(menu, title, bench.edit, f"behave as {kind}",
                                lambda kit, kind=kind: state_edits.set_behaviour(
                                    kit, bench.control_id, kind))
            action.setCheckable(True)
            action.setChecked(control is not None and control.behaviour == kind)

    menu.aboutToShow.connect(fill)
    return menu
