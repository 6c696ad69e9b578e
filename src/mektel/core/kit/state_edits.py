"""Edits of whole states: following another, taking a copy, deriving, and how a control behaves."""

from __future__ import annotations

from mektel.core.errors import DocumentError
from mektel.core.kit.conditions import (
    REST,
    condition_of,
    parse_flags,
    states_of,
)
from mektel.core.kit.content import SIZED
from mektel.core.kit.control import Control, check_links
from mektel.core.kit.document import Kit
from mektel.core.kit.edit import (
    clear_changes,
    control_with,
    copied_states,
    own_copy,
    replace_control,
    with_formulas,
)

# Layers that are the control's content: they keep their own colours when a face is derived.
CONTENT_KINDS = (*SIZED, "picture", "progress")
DERIVATIONS = {
    "lighter": ("lighten(rest, {amount})", 0.05), "darker": ("darken(rest, {amount})", 0.07),
    "washed out": ("wash(rest, {amount})", 0.75),
}


def link_state(kit: Kit, control_id: str, state: str, other: str) -> Kit:
    """Makes a state show what another changes, and keep following it.

    Following ``rest`` is having no look of its own, on purpose. What it had is dropped.
    """
    control = kit.control(control_id)
    condition, to = condition_of(parse_flags(state)), condition_of(parse_flags(other))
    if condition == REST:
        raise DocumentError("", "rest is where changes start from; it cannot follow a state")
    control = clear_changes(kit, control_id, condition).control(control_id)
    links = {**control.links, condition: to}
    try:
        check_links({}, links)
    except ValueError as error:
        raise DocumentError("", str(error)) from None
    return replace_control(kit, control.model_copy(update={"links": links}))


def unlink_state(kit: Kit, control_id: str, state: str) -> Kit:
    """Gives a state that follows another its own copy of what it shows."""
    return replace_control(kit, own_copy(kit.control(control_id), condition_of(parse_flags(state))))


def copy_state(
    kit: Kit, control_id: str, source: str, state: str, part_id: str | None = None
) -> Kit:
    """Gives a state a copy of another's changes, whole or of one layer; its own are replaced."""
    control = kit.control(control_id)
    condition, other = condition_of(parse_flags(state)), condition_of(parse_flags(source))
    if condition == REST:
        raise DocumentError("", "rest is where changes start from; copy into another state")
    control = own_copy(own_copy(control, condition), other)
    states = copied_states(control)
    given = states.get(other, {})
    formulas = {condition: dict(parts) for condition, parts in control.formulas.items()}
    driven = formulas.get(other, {})
    if part_id is None:
        states[condition] = {part: dict(values) for part, values in given.items()}
        formulas[condition] = dict(driven)
    else:
        states.setdefault(condition, {})[part_id] = dict(given.get(part_id, {}))
        formulas.setdefault(condition, {})[part_id] = dict(driven.get(part_id, {}))
    kept = {condition: {part: values for part, values in parts.items() if values}
            for condition, parts in states.items()}
    driven_kept = {condition: {part: paths for part, paths in parts.items() if paths}
                   for condition, parts in formulas.items()}
    return replace_control(kit, control.model_copy(update={
        "states": {condition: parts for condition, parts in kept.items() if parts},
        "formulas": {condition: parts for condition, parts in driven_kept.items() if parts}}))


def derive_state(
    kit: Kit, control_id: str, state: str, how: str, amount: float | None = None
) -> Kit:
    """Drives the face's colours in a state by a formula over rest, so that they keep following.

    ``how`` is lighter, darker or washed out. Content (label, icon …) keeps its own colours.
    """
    if how not in DERIVATIONS:
        raise DocumentError("", f"a state can be {', '.join(DERIVATIONS)}, not “{how}”")
    condition = condition_of(parse_flags(state))
    formula, usual = DERIVATIONS[how]
    text = formula.format(amount=f"{usual if amount is None else amount:g}")
    control = own_copy(kit.control(control_id), condition)
    states = copied_states(control)
    for layer in control.layers:
        paths = face_colours(control, layer.id)
        changed = states.get(condition, {}).get(layer.id, {})
        for path in paths:
            changed.pop(path.split(".")[0], None)
        formulas = dict(control.formulas.get(condition, {}).get(layer.id, {}))
        if paths:
            control = with_formulas(
                control, condition, layer.id, {**formulas, **dict.fromkeys(paths, text)})
    kept = {condition: {part: values for part, values in parts.items() if values}
            for condition, parts in states.items()}
    control = control.model_copy(
        update={"states": {condition: parts for condition, parts in kept.items() if parts}})
    return replace_control(kit, control)


def face_colours(control: Control, layer_id: str) -> list[str]:
    """The paths of the colours that make a layer's part of the face; none for content."""
    layer = control.layer(layer_id)
    if layer.kind not in ("fill", "line", "glow", "inner-glow") or not layer.visible:
        return []
    if getattr(layer, "style", "solid") != "solid":
        return [f"stops.{at}.colour" for at in range(len(layer.stops))]  # type: ignore[union-attr]
    return ["colour"]


def set_behaviour(kit: Kit, control_id: str, behaviour: str) -> Kit:
    """Makes a control behave another way; changes for states it cannot be in are kept."""
    return replace_control(kit, control_with(kit.control(control_id), behaviour=behaviour))


def unreachable(control: Control) -> list[str]:
    """Conditions with changes that a control of this behaviour never meets."""
    can = set(states_of(control.behaviour))
    return [condition for condition in {**control.states, **control.links, **control.formulas}
            if condition != REST and not parse_flags(condition) <= can]
