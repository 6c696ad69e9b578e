"""``calc()``, ``min()``, ``max()`` and ``clamp()`` (CSS Values 4, 10)."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from mektel.formats.css.tokens import CssError, components, split_by

SUMS = ("calc", "min", "max", "clamp", "-webkit-calc")
DEEPEST = 24
# A number, and whether it is a length (in px) or has no unit.
Value = tuple[float, bool]


def is_sum(token: Any) -> bool:
    return bool(token.type == "function" and token.lower_name in SUMS)


def worked_out(token: Any, length: Callable[[Any], float], depth: int = 0) -> Value:
    """The value of a sum; ``length`` gives those of lengths in it. Raises :class:`CssError`."""
    if depth > DEEPEST:
        raise CssError("a sum nested too deeply")
    if token.type == "number":
        return float(token.value), False
    if token.type in ("dimension", "percentage"):
        return length(token), True
    if token.type == "() block":
        return _sum(components(token.content), length, depth + 1)
    if not is_sum(token):
        raise CssError(f"{token.serialize()[:40]} in a sum")
    parts = [_sum(components(part), length, depth + 1) for part in split_by(token.arguments, ",")]
    of_length = any(is_length for _, is_length in parts)
    values = [value for value, _ in parts]
    if token.lower_name == "min":
        return min(values), of_length
    if token.lower_name == "max":
        return max(values), of_length
    if token.lower_name == "clamp" and len(values) == 3:
        return max(values[0], min(values[1], values[2])), of_length
    if len(values) != 1:
        raise CssError(f"{token.serialize()[:40]}: too many values")
    return parts[0]


def _sum(tokens: list[Any], length: Callable[[Any], float], depth: int) -> Value:
    values = [(*_product(term, length, depth), mark) for term, mark in _terms(tokens, "+-")]
    kinds = {is_length for value, is_length, _ in values if value or is_length}
    if len(kinds) > 1:
        raise CssError("a length and a plain number in one sum")
    return sum(-value if mark == "-" else value for value, _, mark in values), True in kinds


def _product(tokens: list[Any], length: Callable[[Any], float], depth: int) -> Value:
    total, of_length = 1.0, False
    for factor, mark in _terms(tokens, "*/"):
        if len(factor) != 1:
            raise CssError("a sum that is not complete")
        value, is_length = worked_out(factor[0], length, depth)
        if mark == "/":
            if value == 0:
                raise CssError("a division by zero")
            total /= value
        else:
            total, of_length = total * value, of_length or is_length
    return total, of_length


def _terms(tokens: list[Any], marks: str) -> list[tuple[list[Any], str]]:
    """Tokens between marks, each with the mark before it."""
    terms: list[tuple[list[Any], str]] = [([], "")]
    for token in tokens:
        if token.type == "literal" and token.value in marks and terms[-1][0]:
            terms.append(([], token.value))
        else:
            terms[-1][0].append(token)
    if not terms[-1][0]:
        raise CssError("a sum that is not complete")
    return terms
