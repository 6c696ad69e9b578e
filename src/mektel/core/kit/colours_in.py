"""Colours wherever they stand in a value of the document."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cache
from typing import Any, get_args

from mektel.core.kit.control import is_colour
from mektel.core.kit.value_types import Frozen
from mektel.core.remember import Remembered


def recoloured(
    value: Any, change: Callable[[str], str], name: str = "", also: tuple[str, ...] = ()
) -> Any:
    """A value with each colour in it changed; the same object where none is.

    ``name`` is the value's own; under the names in ``also`` any text is taken for a colour.
    """
    if isinstance(value, str):
        return change(value) if is_colour(name) or name in also else value
    if isinstance(value, tuple):
        values = tuple(recoloured(entry, change, name, also) for entry in value)
        return values if any(a is not b for a, b in zip(values, value, strict=True)) else value
    if isinstance(value, dict):
        made = {key: recoloured(inner, change, name if name in also else key, also)
                for key, inner in value.items()}
        return made if any(made[key] is not value[key] for key in value) else value
    if isinstance(value, Frozen):
        data = value.__dict__
        differing = {}
        for field in _may_have_colours(type(value), also):
            changed = recoloured(data[field], change, field, also)
            if changed is not data[field]:
                differing[field] = changed
        return value.model_copy(update=differing) if differing else value
    return value


@cache
def _may_have_colours(model: type[Frozen], also: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(
        name for name, field in model.model_fields.items()
        if is_colour(name) or name in also or _holds_models(field.annotation))


def _holds_models(kind: Any) -> bool:
    if isinstance(kind, type) and issubclass(kind, Frozen):
        return True
    return any(map(_holds_models, get_args(kind)))


def texts_in(value: Frozen) -> frozenset[str]:
    """Every text that stands anywhere in a part of the document."""
    return _texts.get((value,), (), lambda: frozenset(_texts_in(value)))


_texts = Remembered(2048)


def _texts_in(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, Frozen):
        for inner in value.__dict__.values():
            yield from _texts_in(inner)
    elif isinstance(value, tuple | dict):
        for inner in value.values() if isinstance(value, dict) else value:
            yield from _texts_in(inner)


def colours_in(values: dict[str, Any]) -> Iterator[tuple[str, str]]:
    """The path and the colour of every colour among a layer's values by name."""
    for name, value in values.items():
        if is_colour(name) and isinstance(value, str):
            yield name, value
    for at, stop in enumerate(values.get("stops", ())):
        yield f"stops.{at}.colour", stop.colour
    for name, value in values.get("arguments", {}).items():
        if isinstance(value, str):  # a colour of the palette, where it is the name of one
            yield f"arguments.{name}", value
