"""The rules for every edit's result: nothing is taken that could not be written and read again.

Only what an edit made anew is looked at: an edit shares every control that it left alone.
"""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ValidationError

from mektel.core.errors import DocumentError
from mektel.core.kit.conditions import in_order
from mektel.core.kit.control import Control, fault_of
from mektel.core.kit.document import (
    MOST_COLOURS,
    MOST_CONTROLS,
    TOO_MANY_CONTROLS,
    Kit,
    check_names,
    with_palette_timings,
)
from mektel.core.kit.validated import is_validated


def checked(kit: Kit, before: Kit) -> Kit:
    """``kit`` as the document has it, made by an edit of ``before``.

    Formulas that drive what a value no longer has are gone in it. Raises :class:`DocumentError`
    for what a kit file could not hold.
    """
    if kit is before:
        return kit
    if len(kit.controls) > MOST_CONTROLS:
        raise DocumentError("", TOO_MANY_CONTROLS)
    for what, entries in (("colours", kit.palette), ("other palette entries", kit.values)):
        if len(entries) > MOST_COLOURS:
            raise DocumentError("", f"a palette holds at most {MOST_COLOURS} {what}; "
                                    f"this would make {len(entries)}")
    known = {id(control) for control in before.controls}
    new = [control for control in kit.controls if id(control) not in known]
    parts = {id(part) for control in before.controls for part in _models(control)}
    made = {id(control): control if is_validated(control) else _checked_control(control, parts)
            for control in new}
    controls = (
        tuple(made.get(id(control), control) for control in kit.controls) if new else kit.controls
    )
    light = _checked_frame(kit, before)
    result = light.model_copy(update={"controls": controls})
    ids = [control.id for control in controls]
    if len(set(ids)) < len(ids):
        twice = next(name for name in ids if ids.count(name) > 1)
        raise DocumentError("controls", f"the id “{twice}” is used twice")
    others = (kit.palette is not before.palette or kit.assets is not before.assets
              or kit.values is not before.values or kit.sounds is not before.sounds)
    changed = controls if others else [made[id(control)] for control in new]
    check_names(result, changed)
    return with_palette_timings(result, changed)


def _models(control: Control) -> list[BaseModel]:
    """Everything in a control that is checked as a whole: outline, layers, parameters …"""
    values = (getattr(control, name) for name in Control.model_fields)
    listed = (value if isinstance(value, tuple) else (value,) for value in values)
    return [entry for entries in listed for entry in entries if isinstance(entry, BaseModel)]


def _checked_control(control: Control, sound: set[int]) -> Control:
    """``sound`` has the ids of the parts that were checked before; only others are checked."""
    fields = {name: _plain(getattr(control, name), sound) for name in Control.model_fields}
    fields["states"] = {
        state: control.states[state] for state, _ in in_order(tuple(control.states))
    }
    try:
        made = Control.model_validate(fields)
    except ValidationError as error:
        place, why = fault_of(error)
        raise DocumentError(f"{control.name}: {place}" if place else control.name, why) from None
    # The same object stays the same: much is remembered by it.
    return control if made == control and list(made.states) == list(control.states) else made


def _plain(value: Any, sound: set[int]) -> Any:
    if isinstance(value, BaseModel):
        return value if id(value) in sound else value.model_dump()
    return tuple(_plain(part, sound) for part in value) if isinstance(value, tuple) else value


def _checked_frame(kit: Kit, before: Kit) -> Kit:
    """Everything but the controls; pictures and sounds were checked when they were taken in."""
    names = ("palette", "values", "schemes", "name", "finish", "tokens", "assets", "sounds")
    if all(getattr(kit, name) is getattr(before, name) for name in names):
        return kit
    sound = {id(entry) for entry in (*before.palette, *before.values)}
    fields = {name: getattr(kit, name) for name in names} | {"assets": (), "sounds": ()}
    for name in ("palette", "values"):
        fields[name] = tuple(
            entry if id(entry) in sound else entry.model_dump() for entry in getattr(kit, name)
        )
    try:
        made = Kit.model_validate(fields)
    except ValidationError as error:
        raise DocumentError(*fault_of(error)) from None
    return made.model_copy(
        update={"assets": kit.assets, "sounds": kit.sounds, "controls": kit.controls})
