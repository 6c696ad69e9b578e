"""Edits: each takes a kit and returns a new one. The document itself never changes."""

from __future__ import annotations

import re
from typing import Any

from pydantic import ValidationError

from mektel.core.errors import DocumentError
from mektel.core.kit.conditions import REST, condition_of, parse_flags
from mektel.core.kit.content import SIZED
from mektel.core.kit.control import (
    CONTROL,
    Control,
    fault_of,
    is_colour,
    names_used,
    retimed,
    with_values,
)
from mektel.core.kit.deriving import followed_down
from mektel.core.kit.document import MOST_COLOURS, MOST_SCHEMES, Kit, Swatch, kit_from_data
from mektel.core.kit.layers import KINDS, OUTLINE, LayerBase
from mektel.core.kit.moved_values import without_part
from mektel.core.kit.palette import PaletteValue


def identifier(title: str, taken: list[str], fallback: str) -> str:
    """An id made from a title, unlike any in ``taken``."""
    base = re.sub(r"[^a-z0-9]+", "-", title.casefold()).strip("-")[:48].strip("-")
    if not base or not base[0].isalpha():
        base = fallback if not base else f"{fallback}-{base}"
    name, count = base, 2
    while name in taken or name == OUTLINE:
        name, count = f"{base}-{count}", count + 1
    return name


def replace_control(kit: Kit, control: Control) -> Kit:
    """The kit with a control in the place of the one with its id; what derives from it follows."""
    before = kit.control(control.id)
    controls = tuple(control if c.id == control.id else c for c in kit.controls)
    changed = kit.model_copy(update={"controls": controls})
    return followed_down(changed, before, control) if before != control else changed


def control_with(control: Control, **fields: Any) -> Control:
    try:
        return Control.model_validate({**dict(control), **fields})
    except ValidationError as error:
        raise DocumentError(*fault_of(error)) from None


def _checked_part(part: Any, values: dict[str, Any]) -> Any:
    try:
        return with_values(part, values)
    except ValidationError as error:
        raise DocumentError(*fault_of(error)) from None


def set_value(kit: Kit, control_id: str, state: str, part_id: str, name: str, value: Any) -> Kit:
    """Sets one value of a layer or the body in one state.

    At rest the value itself is set. In another state a change is stored, or dropped again when
    it equals what shows there without it: rest, or for several states what each of them changes.
    A formula that drove the value is dropped, and a state that followed another takes a copy of
    its own first. Raises :class:`DocumentError` when the value is out of limits.
    """
    state = condition_of(parse_flags(state))
    control = own_copy(_without_formula(kit.control(control_id), state, part_id, name), state)
    part = control.part(part_id)
    changed = _checked_part(part, {name: value})
    if state == REST:
        if part_id == OUTLINE:
            return replace_control(kit, control.model_copy(update={"outline": changed}))
        layers = tuple(changed if layer.id == part_id else layer for layer in control.layers)
        return replace_control(kit, control.model_copy(update={"layers": layers}))
    states = copied_states(control)
    values = states.setdefault(state, {}).setdefault(part_id, {})
    shown = _without_change(control, state, part_id, name).part_in(part_id, {state})
    if getattr(changed, name) == getattr(shown, name):
        values.pop(name, None)
    else:
        values[name] = getattr(changed, name)
    return replace_control(kit, control.model_copy(update={"states": pruned(states)}))


def _without_change(control: Control, state: str, part_id: str, name: str) -> Control:
    """The control without one change of a condition: what shows there otherwise."""
    states = copied_states(control)
    states.get(state, {}).get(part_id, {}).pop(name, None)
    return control.model_copy(update={"states": states})


def own_copy(control: Control, state: str) -> Control:
    """The control with a state that followed another keeping, as its own, what it showed."""
    if state not in control.links:
        return control
    other = state
    while other in control.links:
        other = control.links[other]
    links = {condition: to for condition, to in control.links.items() if condition != state}
    states, formulas = copied_states(control), dict(control.formulas)
    if other in states:
        states[state] = {part: dict(values) for part, values in states[other].items()}
    if other != REST and other in formulas:
        formulas[state] = formulas[other]
    return control.model_copy(update={"links": links, "states": states, "formulas": formulas})


def _without_formula(control: Control, state: str, part_id: str, name: str) -> Control:
    formulas = control.formulas.get(state, {}).get(part_id, {})
    if not any(path.split(".")[0] == name for path in formulas):
        return control
    kept = {path: text for path, text in formulas.items() if path.split(".")[0] != name}
    return with_formulas(control, state, part_id, kept)


def with_formulas(control: Control, state: str, part_id: str, formulas: dict[str, str]) -> Control:
    """The control with these formulas, and no others, for a part in a state."""
    whole = {name: dict(parts) for name, parts in control.formulas.items()}
    whole.setdefault(state, {})[part_id] = formulas
    kept = {name: {part: paths for part, paths in parts.items() if paths}
            for name, parts in whole.items()}
    return control.model_copy(update={
        "formulas": {name: parts for name, parts in kept.items() if parts}})


def clear_changes(
    kit: Kit, control_id: str, state: str, part_id: str | None = None, name: str | None = None
) -> Kit:
    """Back to rest: the whole state, one layer of it, or one value of it."""
    state = condition_of(parse_flags(state))
    control = kit.control(control_id)
    if part_id is not None:
        control = own_copy(control, state)
    states = copied_states(control)
    formulas = {condition: dict(parts) for condition, parts in control.formulas.items()}
    if part_id is None:
        states.pop(state, None)
        formulas.pop(state, None)
    elif name is None:
        states.get(state, {}).pop(part_id, None)
        formulas.get(state, {}).pop(part_id, None)
    else:
        states.get(state, {}).get(part_id, {}).pop(name, None)
        control = _without_formula(control, state, part_id, name)
        formulas = dict(control.formulas)
    links = {condition: to for condition, to in control.links.items()
             if part_id is not None or condition != state}
    return replace_control(kit, control.model_copy(update={
        "states": pruned(states), "links": links,
        "formulas": {condition: parts for condition, parts in formulas.items() if parts}}))


def copied_states(control: Control) -> dict[str, dict[str, dict[str, Any]]]:
    return {
        state: {part: dict(values) for part, values in changes.items()}
        for state, changes in control.states.items()
    }


def pruned(states: dict[str, dict[str, dict[str, Any]]]) -> dict[str, Any]:
    kept = {s: {p: v for p, v in changes.items() if v} for s, changes in states.items()}
    return {state: changes for state, changes in kept.items() if changes}


def set_field(kit: Kit, control_id: str, name: str, value: Any) -> Kit:
    """Sets the control's own ``text``, ``size``, ``name``, ``slices`` or ``transition``."""
    return replace_control(kit, control_with(kit.control(control_id), **{name: value}))


def set_id(kit: Kit, old: str, new: str) -> Kit:
    """Gives a control another id, in everything that names it: what derives from it or embeds its
    look. Shipped files and classes are called by it. Raises :class:`DocumentError`.
    """
    control = kit.control(old)
    if any(other.id == new for other in kit.controls):
        raise DocumentError("", f"another control has the id “{new}”")
    renamed = control_with(control, id=new)

    def followed(other: Control) -> Control:
        if other.id == control.id:
            return renamed
        base = {"base": new} if other.base == control.id else {}
        layers = tuple(
            layer.model_copy(update={"control": new})
            if getattr(layer, "control", None) == control.id else layer for layer in other.layers)
        states = copied_states(other)
        for parts in states.values():
            for values in parts.values():
                if values.get("control") == control.id:
                    values["control"] = new
        if not base and layers == other.layers and states == other.states:
            return other
        return other.model_copy(update={**base, "layers": layers, "states": states})

    return kit.model_copy(update={"controls": tuple(map(followed, kit.controls))})


def add_control(
    kit: Kit, control: Control, palette: tuple[Swatch, ...] = (),
    values: tuple[PaletteValue, ...] = (),
) -> Kit:
    """Puts a control at the end of the shelf under a free id, with the palette colours and timings
    that it needs.

    A palette entry whose name is taken by another is written into the control instead.
    """
    have = {swatch.name: swatch.colour for swatch in kit.palette}
    new = tuple(s for s in palette if s.name not in have)
    if len(kit.palette) + len(new) > MOST_COLOURS:
        # Only what it cannot do without.
        named = {value for _, _, value in names_used(control)}
        new = tuple(s for s in new if s.name in named)
    clash = {s.name: s.colour for s in palette if have.get(s.name, s.colour) != s.colour}
    if clash:
        control = Control.model_validate(renamed_colours(control.model_dump(), clash))
    named = {value for _, what, value in names_used(control) if what == "timing"}
    known: dict[str, Any] = dict.fromkeys([*have, *(s.name for s in new)])
    known |= {entry.name: entry.value for entry in kit.values}
    timings = tuple(entry for entry in values if entry.name in named and entry.name not in known)
    known |= {entry.name: entry.value for entry in timings}
    control = retimed(control, lambda timing: (
        timing if known.get(timing.named or "") == timing.unnamed else timing.unnamed))
    taken = [c.id for c in kit.controls]
    control = control.model_copy(update={"id": identifier(control.name, taken, "control")})
    # The first scheme is the one whose colours stand without a name.
    named_schemes = {scheme: None for swatch in new for scheme in swatch.schemes}
    schemes = kit.schemes or (("light",) if named_schemes else ())
    schemes = tuple(dict.fromkeys([*schemes, *named_schemes]))[:MOST_SCHEMES]
    return kit.model_copy(update={
        "palette": (*kit.palette, *new), "values": (*kit.values, *timings),
        "controls": (*kit.controls, control), "schemes": schemes})


def renamed_colours(data: Any, names: dict[str, str]) -> Any:
    """Plain data with palette colours under other names, or as the colours themselves."""
    if isinstance(data, dict):
        return {
            key: names.get(value, value)
            if is_colour(key) and isinstance(value, str)
            else renamed_colours(value, names)
            for key, value in data.items()
        }
    if isinstance(data, list | tuple):
        return [renamed_colours(value, names) for value in data]
    return data


def remove_control(kit: Kit, control_id: str) -> Kit:
    gone = kit.control(control_id).id
    return kit.model_copy(update={"controls": tuple(c for c in kit.controls if c.id != gone)})


def copy_control(kit: Kit, control_id: str) -> Kit:
    control = kit.control(control_id)
    return add_control(kit, control.model_copy(update={"name": f"{control.name} copy"[:80]}))


def add_layer(kit: Kit, control_id: str, kind: str, name: str, **values: Any) -> Kit:
    """A new layer of this kind beneath the label; a label at the front, a shadow at the back.

    Where content is laid out, what has a size of its own joins it at the end.
    """
    control = kit.control(control_id)
    layer = KINDS[kind](id=_free_layer_id(control, name), name=name, **values)
    if control.content is not None and kind in SIZED:
        content = control.content.model_copy(
            update={"items": (*control.content.items, layer.id)})
        control = control.model_copy(update={"content": content})
    labels = [at for at, other in enumerate(control.layers) if other.kind == "label"]
    below_label = labels[0] if labels and kind != "label" else len(control.layers)
    at = 0 if kind == "shadow" else below_label
    layers = (*control.layers[:at], layer, *control.layers[at:])
    return replace_control(kit, control_with(control, layers=layers))


def copy_layer(kit: Kit, control_id: str, layer_id: str) -> Kit:
    """A copy of a layer in front of it, with its changes in every state."""
    control = kit.control(control_id)
    at = [layer.id for layer in control.layers].index(control.layer(layer_id).id)
    name = f"{control.layers[at].name} copy"[:80]
    twin: LayerBase = control.layers[at].model_copy(
        update={"id": _free_layer_id(control, name), "name": name}
    )
    states = copied_states(control)
    for changes in states.values():
        if layer_id in changes:
            changes[twin.id] = dict(changes[layer_id])
    formulas = {condition: {**parts, **({twin.id: parts[layer_id]} if layer_id in parts else {})}
                for condition, parts in control.formulas.items()}
    timings = {condition: {**parts, **({twin.id: parts[layer_id]} if layer_id in parts else {})}
               for condition, parts in control.timings.items()}
    layers = (*control.layers[: at + 1], twin, *control.layers[at + 1 :])
    return replace_control(kit, control_with(
        control, layers=layers, states=states, formulas=formulas, timings=timings))


def insert_layer(
    kit: Kit, control_id: str, layer: LayerBase, states: dict[str, Any], above: str | None,
    formulas: dict[str, dict[str, str]] | None = None,
) -> Kit:
    """Puts a layer, under a free id, in front of another; with what states change in it, and the
    formulas that drive it.
    """
    control = kit.control(control_id)
    new = layer.model_copy(update={"id": _free_layer_id(control, layer.name)})
    ids = [layer.id for layer in control.layers]
    at = ids.index(above) + 1 if above in ids else len(ids)
    changed = copied_states(control)
    for state, values in states.items():
        changed.setdefault(state, {})[new.id] = dict(values)
    layers = (*control.layers[:at], new, *control.layers[at:])
    driven = {condition: dict(parts) for condition, parts in control.formulas.items()}
    for condition, paths in (formulas or {}).items():
        driven.setdefault(condition, {})[new.id] = dict(paths)
    return replace_control(
        kit, control_with(control, layers=layers, states=changed, formulas=driven))


def remove_layer(kit: Kit, control_id: str, layer_id: str) -> Kit:
    control = kit.control(control_id)
    control.layer(layer_id)
    states = copied_states(control)
    for changes in states.values():
        changes.pop(layer_id, None)
    formulas = {condition: {part: paths for part, paths in parts.items() if part != layer_id}
                for condition, parts in control.formulas.items()}
    layers = tuple(layer for layer in control.layers if layer.id != layer_id)
    content = control.content
    if content is not None:
        content = content.model_copy(update={
            "items": tuple(item for item in content.items if item != layer_id)})
    return replace_control(kit, control_with(
        control, layers=layers, states=pruned(states), content=content,
        timings={condition: {part: timed for part, timed in parts.items() if part != layer_id}
                 for condition, parts in control.timings.items()},
        formulas={condition: parts for condition, parts in formulas.items() if parts},
        **without_part(control, layer_id)))


def move_layer(kit: Kit, control_id: str, layer_id: str, position: int) -> Kit:
    """Moves a layer to a position in paint order (0 is the back)."""
    control = kit.control(control_id)
    layer = control.layer(layer_id)
    rest = [other for other in control.layers if other.id != layer_id]
    rest.insert(max(0, min(position, len(rest))), layer)
    return replace_control(kit, control_with(control, layers=tuple(rest)))


def rename_layer(kit: Kit, control_id: str, layer_id: str, name: str) -> Kit:
    control = kit.control(control_id)
    layers = tuple(
        _checked_part(layer, {"name": name}) if layer.id == layer_id else layer
        for layer in control.layers
    )
    return replace_control(kit, control_with(control, layers=layers))


def _free_layer_id(control: Control, name: str) -> str:
    # Formulas have the control itself under that name.
    taken = [CONTROL, *(layer.id for layer in control.layers)]
    return identifier(name, taken, "layer")


def rename_kit(kit: Kit, name: str) -> Kit:
    return kit_from_data({**kit.model_dump(), "name": name})
