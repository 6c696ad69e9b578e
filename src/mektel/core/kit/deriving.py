"""Controls that derive from another and hold only what differs.

In memory a derived control is whole; its file has the base's id and the differences. When the
base changes, the differences are laid on the new base: layers are matched by id, parameters and
variations by name, so that nothing depends on positions.
"""

from __future__ import annotations

from mektel.core.errors import DocumentError
from mektel.core.kit.control import Control
from mektel.core.kit.differences import DEEPEST_BASE, OWN, differences, laid_on
from mektel.core.kit.document import Kit
from mektel.core.kit.validated import as_validated, is_validated


def followed_down(kit: Kit, before: Control, after: Control, depth: int = 0) -> Kit:
    """The kit once a change of a base has reached every control that derives from it."""
    if depth > DEEPEST_BASE or not any(control.base == after.id for control in kit.controls):
        return kit
    for control in kit.controls:
        if control.base != after.id:
            continue
        own = {name: getattr(control, name) for name in OWN}
        differs = differences(before, control)
        # What differs in nothing is its base, which was checked.
        new = laid_on(after, differs, own) if differs else after.model_copy(update=own)
        if new == control:
            continue
        # What is the same stays the same object, for memory and for what is remembered by it.
        same = {layer.id: layer for layer in control.layers}
        sharing = new.model_copy(update={"layers": tuple(
            same[layer.id] if same.get(layer.id) == layer else layer for layer in new.layers)})
        new = as_validated(sharing) if is_validated(new) else sharing
        controls = tuple(new if control.id == new.id else control for control in kit.controls)
        kit = followed_down(
            kit.model_copy(update={"controls": controls}), control, new, depth + 1)
    return kit


def derive(kit: Kit, base_id: str, name: str, new_id: str) -> Kit:
    """Adds a control that differs from another in nothing yet."""
    base = kit.control(base_id)
    new = base.model_copy(update={"id": new_id, "name": name, "base": base.id})
    return kit.model_copy(update={"controls": (*kit.controls, new)})


def set_base(kit: Kit, control_id: str, base_id: str | None) -> Kit:
    """Lets a control derive from another, or from none; its look stays as it is."""
    control = kit.control(control_id)
    if base_id is not None:
        at: str | None = kit.control(base_id).id
        while at is not None:
            if at == control.id:
                raise DocumentError("", f"{control.name} would derive from itself")
            at = next((other.base for other in kit.controls if other.id == at), None)
    new = control.model_copy(update={"base": base_id})
    return kit.model_copy(update={
        "controls": tuple(new if other.id == control.id else other for other in kit.controls)})


