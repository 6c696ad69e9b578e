"""Controls that each show one state, put together as one: what every state changes."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from mektel.core.kit.control import Control
from mektel.core.kit.layers import OUTLINE, value_names
from mektel.core.kit.state_words import WORDS


@dataclass
class Layered:
    """The control in one state: its layers in paint order and its text."""

    control: Control
    text: str = ""
    opacity: float = 1.0
    offset: tuple[float, float] = (0.0, 0.0)


@dataclass
class Merged:
    """Layers of all states together, and what each state changes."""

    layers: list[Any]
    states: dict[str, dict[str, dict[str, Any]]] = field(default_factory=dict)


def merged(states: dict[str, Layered]) -> Merged:
    """Layers matched by kind and name, in order; what a state lacks is invisible in it."""
    rest, *_ = states.values()
    made = Merged(list(rest.control.layers))
    for condition, other in list(states.items())[1:]:
        _match(made, condition, rest, other)
    return made


def _match(made: Merged, condition: str, rest: Layered, other: Layered) -> None:
    changes: dict[str, dict[str, Any]] = {}
    pairs = _pairs(made.layers, other.control.layers)
    partner = dict(pairs)
    taken = {layer.id for layer in made.layers}
    new: list[tuple[int, Any]] = []
    behind = -1
    theirs = {second: first for first, second in pairs}
    for index, layer in enumerate(other.control.layers):
        if index in theirs:
            behind = theirs[index]
        else:
            new.append((behind, layer))
    for at, layer in enumerate(made.layers):
        if at in partner:
            found = _differences(layer, other.control.layers[partner[at]])
            if layer.kind == "label" and layer.text is None:
                found.pop("text", None)
                if other.text != rest.text:
                    found["text"] = other.text
            if found:
                changes[layer.id] = found
        elif layer.visible:
            changes[layer.id] = {"visible": False}
    for count, (after, layer) in enumerate(new):
        layer_id = _free(layer.id, taken)
        taken.add(layer_id)
        hidden = layer.model_copy(update={"id": layer_id, "visible": False})
        made.layers.insert(after + 1 + count, hidden)
        changes[layer_id] = {"visible": True}
    whole = {name: getattr(other, name) for name in ("opacity", "offset")
             if getattr(other, name) != getattr(rest, name)}
    if whole:
        changes[OUTLINE] = whole
    if changes:
        made.states[condition] = changes


def _free(name: str, taken: set[str]) -> str:
    number, free = 2, name
    while free in taken:
        free = f"{name[:58]}-{number}"
        number += 1
    return free


def _differences(layer: Any, other: Any) -> dict[str, Any]:
    return {name: getattr(other, name) for name in value_names(layer)
            if getattr(other, name) != getattr(layer, name)
            and not (name == "visible" and layer.visible)} | (
        {"visible": True} if not layer.visible else {})


def _stem(layer: Any) -> str:
    words = re.findall(r"[a-z]+", layer.name.lower())
    return " ".join(word for word in words if word not in WORDS)


def _pairs(first: Sequence[Any], second: Sequence[Any]) -> list[tuple[int, int]]:
    """Places of layers that belong together: the dearest common order of both lists."""
    worth = [[0.0] * (len(second) + 1) for _ in range(len(first) + 1)]

    def score(a: Any, b: Any) -> float:
        if a.kind != b.kind:
            return 0.0
        same_place = getattr(a, "outline", None) == getattr(b, "outline", None)
        return 1.0 + 2.0 * (_stem(a) == _stem(b)) + 0.5 * same_place

    for i in range(len(first) - 1, -1, -1):
        for j in range(len(second) - 1, -1, -1):
            paired = score(first[i], second[j])
            worth[i][j] = max(worth[i + 1][j], worth[i][j + 1],
                              worth[i + 1][j + 1] + paired if paired else 0.0)
    pairs, i, j = [], 0, 0
    while i < len(first) and j < len(second):
        paired = score(first[i], second[j])
        if paired and worth[i][j] == worth[i + 1][j + 1] + paired:
            pairs.append((i, j))
            i, j = i + 1, j + 1
        elif worth[i][j] == worth[i + 1][j]:
            i += 1
        else:
            j += 1
    return pairs
