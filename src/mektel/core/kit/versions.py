"""Two versions of a kit: which controls differ, and in what."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, NamedTuple

from mektel.core.kit.control import CONTROL, Control
from mektel.core.kit.document import Kit
from mektel.core.kit.layers import OUTLINE, value_names

# They are compared part by part.
BY_PART = ("layers", "outline", "states")


class DiffersIn(NamedTuple):
    """One value; ``value`` is empty for a layer that only one version has."""

    state: str
    part: str
    value: str


@dataclass(frozen=True)
class Differing:
    """A control as both versions have it; None where one does not have it."""

    mine: Control | None
    theirs: Control | None
    where: tuple[DiffersIn, ...] = ()


def differing(mine: Kit, theirs: Kit) -> list[Differing]:
    """The controls that are not the same in both, in the order of mine, theirs alone at the end."""
    others = {control.id: control for control in theirs.controls}
    listed = []
    for control in mine.controls:
        other = others.pop(control.id, None)
        if other is None:
            listed.append(Differing(control, None))
        elif other != control:
            listed.append(Differing(control, other, tuple(_where(control, other))))
    return [*listed, *(Differing(None, other) for other in others.values())]


def differing_besides(mine: Kit, theirs: Kit) -> list[str]:
    """What else of the kit differs: the names of its fields."""
    return [name for name in Kit.model_fields
            if name not in ("format", "controls") and getattr(mine, name) != getattr(theirs, name)]


def _where(mine: Control, theirs: Control) -> Iterator[DiffersIn]:
    for name in Control.model_fields:
        if name not in BY_PART and getattr(mine, name) != getattr(theirs, name):
            yield DiffersIn("rest", CONTROL, name)
    there = {control_id: {layer.id: layer for layer in control.layers}
             for control_id, control in (("mine", mine), ("theirs", theirs))}
    parts: dict[str, tuple[Any, Any]] = {OUTLINE: (mine.outline, theirs.outline)}
    for layer_id in {**there["mine"], **there["theirs"]}:
        parts[layer_id] = (there["mine"].get(layer_id), there["theirs"].get(layer_id))
    for part_id, (own, other) in parts.items():
        if own is None or other is None or type(own) is not type(other):
            yield DiffersIn("rest", part_id, "")
            continue
        for name in ("name", *value_names(own)):
            if getattr(own, name, None) != getattr(other, name, None):
                yield DiffersIn("rest", part_id, name)
    for state in {**mine.states, **theirs.states}:
        own_parts, other_parts = mine.states.get(state, {}), theirs.states.get(state, {})
        for part_id in {**own_parts, **other_parts}:
            yield from (DiffersIn(state, part_id, name) for name in _unlike(
                own_parts.get(part_id, {}), other_parts.get(part_id, {})))
    if list(there["mine"]) != list(there["theirs"]) and set(there["mine"]) == set(there["theirs"]):
        yield DiffersIn("rest", CONTROL, "order")


def _unlike(own: Mapping[str, Any], other: Mapping[str, Any]) -> Iterator[str]:
    return (name for name in {**own, **other}
            if (name in own) != (name in other) or own.get(name) != other.get(name))
