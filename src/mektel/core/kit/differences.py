"""Derived controls as data: what they differ from their base in, and laid on it again.

Layers are matched by id, parameters and variations by name, so that nothing depends on positions.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from pydantic import ValidationError

from mektel.core.errors import DocumentError
from mektel.core.kit.control import Control, fault_of
from mektel.core.kit.layers import OUTLINE
from mektel.core.kit.validated import as_validated
from mektel.core.remember import Remembered

KEYED = {"layers": "id", "parameters": "name", "variations": "name"}


# What a derived control never takes from its base.
OWN = ("id", "name", "base")


# Values whose inside is not looked into: they differ, or they do not.
WHOLE = ("stops", "outline", "box", "joins", "arguments", "size")


DEEPEST_BASE = 8


def differences(base: Control, control: Control) -> dict[str, Any]:
    """What lays on ``base`` to give ``control``; None stands for what is taken away."""
    before, after = (
        {name: value for name, value in _data(c).items() if name not in OWN}
        for c in (base, control))
    return _difference(before, after)


_dumped = Remembered(64)


def _data(control: Control) -> dict[str, Any]:
    """A control as plain data by name, to be read only; an edit shares most controls."""
    return _dumped.get((control,), (), lambda: _keyed(control.model_dump(mode="json")))


def laid_on(base: Control, differs: dict[str, Any], own: dict[str, Any]) -> Control:
    """A derived control made whole. Raises :class:`DocumentError` if that gives no control.

    Differences of layers that the base no longer has are left out.
    """
    data = _data(base)
    whole = _patched(data, _still_there(data, differs))
    for name in OWN:
        whole.pop(name, None)
    for name in ("states", "formulas", "timings"):
        # What is taken away of something that the base no longer has leaves nothing behind.
        parts = {condition: {p: v for p, v in values.items() if v != {}}
                 for condition, values in (whole.get(name) or {}).items()}
        whole[name] = {condition: values for condition, values in parts.items() if values}
    try:
        return as_validated(Control.model_validate({**_listed(whole), **own}))
    except ValidationError as error:
        raise DocumentError(*fault_of(error)) from None


def written(kit_data: dict[str, Any], controls: Iterable[Control]) -> dict[str, Any]:
    """The kit's data with each derived control as its differences from its base."""
    by_id = {control.id: control for control in controls}
    for data, control in zip(kit_data["controls"], controls, strict=True):
        base = by_id.get(control.base or "")
        if base is not None and _is_grounded(by_id, control):
            differs = differences(base, control)
            own = {name: getattr(control, name) for name in OWN}
            if laid_on(base, differs, own) != control:
                continue  # written whole: nothing of it may be lost
            data.clear()
            data |= {"id": control.id, "name": control.name, "base": control.base}
            if differs:
                data["differs"] = differs
    return kit_data


def _is_grounded(by_id: dict[str, Control], control: Control) -> bool:
    """Whether a control's bases end at one without a base, within ``DEEPEST_BASE`` of them."""
    seen = [control.id]
    at = by_id.get(control.base or "")
    while at is not None and at.base is not None:
        seen.append(at.id)
        if at.base in seen or len(seen) > DEEPEST_BASE:
            return False
        at = by_id.get(at.base)
    return True


def read(controls: list[Any]) -> list[Any]:
    """Controls as data, derived ones made whole; what has no base to lay on is left as it is."""
    by_id = {str(control.get("id")): control for control in controls if isinstance(control, dict)}
    known: dict[str, Control] = {}
    return [_whole(control, (str(control.get("id")),) if isinstance(control, dict) else (),
                   by_id, known)
            for control in controls]


def _whole(
    data: Any, under_way: tuple[str, ...], by_id: dict[str, Any], known: dict[str, Control],
) -> Any:
    """A control laid on its base, which is put into ``known`` first."""
    if not isinstance(data, dict) or ("differs" not in data and (
            "layers" in data or data.get("base") is None)):
        return data
    base_id, differs = str(data.get("base")), data.get("differs", {})
    own = {name: data[name] for name in OWN if name in data}
    if base_id in under_way or len(under_way) > DEEPEST_BASE:
        raise ValueError(f"controls derive from each other: {' → '.join(under_way)}")
    if not isinstance(differs, dict):
        raise ValueError("what differs must be an object")
    base_data = by_id.get(base_id)
    if base_data is not None and base_id not in known:
        base = _whole(base_data, (*under_way, base_id), by_id, known)
        known[base_id] = Control.model_validate(base)
    try:
        if base_data is None:
            # A finding says so; what it has whole is kept.
            return {**_listed(_patched({}, _still_there({"layers": {}}, differs))), **own}
        return laid_on(known[base_id], differs, own)
    except DocumentError as error:
        raise ValueError(f"“{data.get('id')}”: {error}") from None
    except (AttributeError, TypeError, KeyError):
        raise ValueError(f"“{data.get('id')}”: what differs is not of the form of what it "
                         f"differs from, “{base_id}”") from None


def _keyed(data: dict[str, Any]) -> dict[str, Any]:
    """Lists of named things as objects by name, their order beside them."""
    keyed = dict(data)
    for name, key in KEYED.items():
        entries = keyed.pop(name, None) or []
        keyed[name] = {
            entry[key]: {k: v for k, v in entry.items() if k != key} for entry in entries}
        keyed[f"{name} in order"] = [entry[key] for entry in entries]
    return keyed


def _listed(data: dict[str, Any]) -> dict[str, Any]:
    listed = dict(data)
    for name, key in KEYED.items():
        entries, order = listed.pop(name, {}), listed.pop(f"{name} in order", [])
        names = [name for name in order if name in entries]
        names += [name for name in entries if name not in names]
        listed[name] = [{key: entry_name, **entries[entry_name]} for entry_name in names]
    return listed


def _is_whole(path: tuple[str, ...], name: str) -> bool:
    """Whether a value differs whole or not at all; the control's own outline is a part."""
    is_part = not path or (len(path) == 2 and path[0] in ("states", "formulas", "timings"))
    return name in WHOLE and not (is_part and name == OUTLINE)


def _difference(
    before: dict[str, Any], after: dict[str, Any], path: tuple[str, ...] = ()
) -> dict[str, Any]:
    differs: dict[str, Any] = {name: None for name in before if name not in after}
    for name, value in after.items():
        old = before.get(name)
        if isinstance(value, dict) and isinstance(old, dict) and not _is_whole(path, name):
            inner = _difference(old, value, (*path, name))
            if inner:
                differs[name] = inner
        elif name not in before or old != value:
            differs[name] = value
    return differs


def _patched(
    data: dict[str, Any], differs: dict[str, Any], path: tuple[str, ...] = ()
) -> dict[str, Any]:
    patched = dict(data)
    for name, value in differs.items():
        if value is None:
            patched.pop(name, None)
        elif isinstance(value, dict) and not _is_whole(path, name):
            inner = patched.get(name)
            patched[name] = _patched(inner if isinstance(inner, dict) else {}, value, (*path, name))
        else:
            patched[name] = value
    return patched


def _still_there(data: dict[str, Any], differs: dict[str, Any]) -> dict[str, Any]:
    """Differences without those of layers that the base has lost."""
    mine = {layer_id: values for layer_id, values in (differs.get("layers") or {}).items()
            if layer_id in data["layers"] or (isinstance(values, dict) and "kind" in values)}
    there = {*data["layers"], *mine, "outline", "control"}
    kept_data = {**differs, **({"layers": mine} if "layers" in differs else {})}
    for name in ("states", "formulas", "timings"):
        if isinstance(kept_data.get(name), dict):
            kept = {
                condition: {part: values for part, values in parts.items() if part in there}
                if isinstance(parts, dict) else parts
                for condition, parts in kept_data[name].items()}
            kept_data[name] = {condition: parts for condition, parts in kept.items() if parts != {}}
    return kept_data
