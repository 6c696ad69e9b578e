"""Paths to values within a layer: ``colour``, ``offset.1``, ``stops.0.colour``, ``arguments.x``."""

from __future__ import annotations

from typing import Any

from mektel.core.errors import NotFoundError


def value_at(part: Any, path: str) -> Any:
    """The value at a path; raises :class:`NotFoundError` where there is none."""
    value = part
    for step in path.split("."):
        value = _step(value, step, path)
    return value


def _step(value: Any, step: str, path: str) -> Any:
    if isinstance(value, tuple):
        if step.isdigit() and int(step) < len(value):
            return value[int(step)]
        raise NotFoundError("value", path, [str(at) for at in range(len(value))])
    if isinstance(value, dict):
        if step in value:
            return value[step]
        raise NotFoundError("value", path, list(value))
    fields = list(type(value).model_fields) if hasattr(type(value), "model_fields") else []
    if step not in fields:
        raise NotFoundError("value", path, fields)
    return getattr(value, step)


def is_past_the_end(part: Any, path: str) -> bool:
    """Whether a path leads beyond what a value of a part has left: a stop, a join, an outline.

    Only below the value's own name: a name that the part never had is another matter.
    """
    name, *steps = path.split(".")
    value = getattr(part, name, None)
    if not steps or name not in type(part).model_fields:
        return False
    if value is None:
        return True
    try:
        for step in steps:
            value = _step(value, step, path)
    except NotFoundError:
        return True
    return False


def put_at(value: Any, steps: list[str], new: Any) -> Any:
    """A value with another laid in at a path below it; tuples and models are made anew.

    A number put at the path of several numbers goes for all of them.
    """
    if not steps:
        if isinstance(value, tuple) and isinstance(new, float | int):
            return tuple(new for _ in value)
        return new
    step, rest = steps[0], steps[1:]
    if isinstance(value, dict):
        return {**value, step: put_at(value[step], rest, new)}
    if isinstance(value, tuple):
        at = int(step)
        return (*value[:at], put_at(value[at], rest, new), *value[at + 1 :])
    return value.model_copy(update={step: put_at(getattr(value, step), rest, new)})


def changed_by(part: Any, path: str, new: Any) -> dict[str, Any]:
    """The change of a whole value that laying ``new`` in at a path makes."""
    name, *steps = path.split(".")
    return {name: put_at(getattr(part, name), steps, new)}
