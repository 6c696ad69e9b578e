"""Computing a formula from a scope of values."""

from __future__ import annotations

import ast
import math
from typing import Any, Protocol

from mektel.core.formula import colours
from mektel.core.formula.language import (
    COMPARISONS,
    FUNCTIONS,
    LARGEST_EXPONENT,
    LONGEST_TEXT,
    OPERATORS,
    Formula,
    FormulaError,
)

Value = float | bool | str | tuple[Any, ...]


class Scope(Protocol):
    """Where a formula's names get their values; raises :class:`FormulaError` for unknown ones."""

    def name(self, name: str) -> Value: ...

    def field(self, part: str, name: str) -> Value: ...


def evaluate(formula: Formula, scope: Scope) -> Value:
    """The value of a formula. Raises :class:`FormulaError` where it has none.

    Numbers are double precision floats. Division rounds and takes remainders towards minus
    infinity; ``round`` takes halves upward, so that every language it is shipped in agrees.
    """
    try:
        return _value(formula.tree, scope)
    except FormulaError:
        raise
    except RecursionError:
        raise FormulaError(f"“{formula.text}” depends on too many other formulas.") from None
    except ZeroDivisionError:
        raise FormulaError(f"“{formula.text}” divides by zero.") from None
    except (ValueError, TypeError, OverflowError) as error:
        raise FormulaError(f"“{formula.text}”: {error}.") from None


def _value(node: ast.AST, scope: Scope) -> Value:
    match node:
        case ast.Constant(value=bool() | str() as plain):
            return plain
        case ast.Constant(value=number):
            return float(number)  # type: ignore[arg-type]
        case ast.Name(id=name):
            return scope.name(name)
        case ast.Attribute(value=ast.Name(id=part), attr=name):
            return scope.field(part, name)
        case ast.UnaryOp(op=ast.Not(), operand=inner):
            return not _yes(_value(inner, scope))
        case ast.UnaryOp(op=op, operand=inner):
            value = _number(_value(inner, scope))
            return -value if isinstance(op, ast.USub) else value
        case ast.BinOp(left=left, op=op, right=right):
            return _joined(OPERATORS[type(op)], _value(left, scope), _value(right, scope))
        case ast.BoolOp(op=op, values=values):
            # Only as far as is needed, as Python and JavaScript do.
            results = (_yes(_value(operand, scope)) for operand in values)
            return any(results) if isinstance(op, ast.Or) else all(results)
        case ast.Compare(left=left, ops=ops, comparators=others):
            return _compared(_value(left, scope), [
                (COMPARISONS[type(op)], _value(other, scope))
                for op, other in zip(ops, others, strict=True)])
        case ast.IfExp(test=test, body=body, orelse=other):
            return _value(body if _yes(_value(test, scope)) else other, scope)
        case ast.Subscript(value=inner, slice=at):
            return _entry(_value(inner, scope), _number(_value(at, scope)))
        case ast.Call(func=ast.Name(id=name), args=args):
            return _called(name, [_value(operand, scope) for operand in args])
    raise FormulaError(f"{type(node).__name__} is not part of a formula.")


def _joined(operator: str, first: Value, second: Value) -> Value:
    if operator == "+" and isinstance(first, str) and isinstance(second, str):
        if len(first) + len(second) > LONGEST_TEXT:
            raise FormulaError(f"the text is longer than {LONGEST_TEXT} characters.")
        return first + second
    left, right = _number(first), _number(second)
    if operator == "**":
        if abs(right) > LARGEST_EXPONENT or (left < 0 and not right.is_integer()):
            raise FormulaError(f"{left:g} ** {right:g} is too much; powers up to 8 are computed.")
        result = left**right
    else:
        result = {
            "+": lambda: left + right, "-": lambda: left - right, "*": lambda: left * right,
            "/": lambda: left / right, "//": lambda: colours.whole(left, right),
            "%": lambda: colours.modulo(left, right),
        }[operator]()
    if not math.isfinite(result) or abs(result) > 1e12:
        raise FormulaError("the result is too large.")
    return float(result)


def _compared(first: Value, others: list[tuple[str, Value]]) -> bool:
    for operator, second in others:
        if operator in ("==", "!="):
            if type(first) is not type(second):
                raise FormulaError(f"{_kind(first)} and {_kind(second)} cannot be compared.")
            holds = (first == second) == (operator == "==")
        else:
            left, right = _number(first), _number(second)
            holds = {"<": left < right, "<=": left <= right, ">": left > right,
                     ">=": left >= right}[operator]
        if not holds:
            return False
        first = second
    return True


def _entry(values: Value, at: float) -> Value:
    if not isinstance(values, tuple):
        raise FormulaError(f"{_kind(values)} has no entries; only a list has.")
    if not at.is_integer() or not 0 <= at < len(values):
        raise FormulaError(f"the list has entries 0 to {len(values) - 1}, not {at:g}.")
    entry: Value = values[int(at)]
    return entry


def _called(name: str, arguments: list[Value]) -> Value:
    function = FUNCTIONS[name]
    for at, argument in enumerate(arguments):
        wanted = function.takes[min(at, len(function.takes) - 1)]
        if wanted == "n":
            _number(argument)
        elif not is_colour(argument):
            raise FormulaError(f"{name} takes a colour, not {_kind(argument)}.")
    result: Value = function.call(*arguments)
    return result


def is_colour(value: Value) -> bool:
    return (isinstance(value, str) and len(value) in (7, 9) and value[0] == "#"
            and all(letter in "0123456789abcdefABCDEF" for letter in value[1:]))


def _number(value: Value) -> float:
    if isinstance(value, bool) or not isinstance(value, float):
        raise FormulaError(f"a number is needed here, not {_kind(value)}.")
    return value


def _yes(value: Value) -> bool:
    if not isinstance(value, bool):
        raise FormulaError(f"True or False is needed here, not {_kind(value)}.")
    return value


def _kind(value: Value) -> str:
    if isinstance(value, bool):
        return "yes or no"
    if isinstance(value, str):
        return f"the colour {value}" if is_colour(value) else f"the text “{value}”"
    return "a list" if isinstance(value, tuple) else f"the number {value:g}"
