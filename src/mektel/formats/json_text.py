"""JSON as our readers take it: strict, of limited depth, only what can be written again."""

from __future__ import annotations

import json
import math
import re
from typing import Any

from mektel.core.errors import MektelError, reading

LONGEST_INTEGER = 16
# An escaped half of a letter: a pair is fine, half of one cannot be written as UTF-8.
HALF_LETTER = re.compile(r"\\u[dD][89a-fA-F]")


def json_from_text(text: str, source: str, error: type[MektelError], deepest: int) -> Any:
    """The document in ``text``.

    Raises ``error`` naming line and column, or the place, of what is no JSON, nested deeper than
    ``deepest``, a key given twice, a number too large for a double, or half a letter.
    """
    with reading(source, error):
        try:
            data = json.loads(
                text, parse_constant=_refuse_constant, parse_float=_number, parse_int=_integer,
                object_pairs_hook=_unique)
        except json.JSONDecodeError as fault:
            raise error(f"{source}: line {fault.lineno}, column {fault.colno}: {fault.msg}. "
                        "This is not valid JSON.") from None
        except RecursionError:
            raise error(f"{source}: nested deeper than {deepest} levels.") from None
        except ValueError as fault:
            raise error(f"{source}: {fault}.") from None
    if depth(data) > deepest:
        raise error(f"{source}: nested deeper than {deepest} levels.")
    if HALF_LETTER.search(text) and (place := _half_letter(data)):
        raise error(f"{source}: {place}: a lone surrogate, which is not valid text.")
    return data


def depth(data: Any) -> int:
    """How many levels of objects and lists lie within each other; a plain value is one."""
    deepest, todo = 0, [(data, 1)]
    while todo:
        value, level = todo.pop()
        deepest = max(deepest, level)
        children = (value.values() if isinstance(value, dict)
                    else value if isinstance(value, list) else ())
        todo += [(child, level + 1) for child in children]
    return deepest


def _half_letter(data: Any) -> str:
    """The place of a text that cannot be written, or nothing."""
    todo: list[tuple[str, Any]] = [("", data)]
    while todo:
        place, value = todo.pop()
        if isinstance(value, dict):
            for key, inner in value.items():
                if not _can_be_written(key):
                    return f"{place or 'the outermost object'}, a key"
                todo.append((f"{place}.{key}" if place else key, inner))
        elif isinstance(value, list):
            todo += [(f"{place}[{at}]", inner) for at, inner in enumerate(value)]
        elif isinstance(value, str) and not _can_be_written(value):
            return place or "the text"
    return ""


def _can_be_written(text: str) -> bool:
    return not any("\ud800" <= letter <= "\udfff" for letter in text)


def _refuse_constant(name: str) -> None:
    raise ValueError(f"{name} is not a number that it may hold")


def _number(digits: str) -> float:
    value = float(digits)
    if not math.isfinite(value):
        raise ValueError(f"the number {digits[:40]} is too large")
    return value


def _integer(digits: str) -> int:
    if len(digits) > LONGEST_INTEGER:
        raise ValueError(f"the number {digits[:40]} is too large")
    return int(digits)


def _unique(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    unique: dict[str, Any] = {}
    for key, value in pairs:
        if key in unique:
            raise ValueError(f"the key “{key}” stands twice in one object")
        unique[key] = value
    return unique
