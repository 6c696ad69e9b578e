"""The language of formulas: what of Python's expression syntax it has, and its limits.

Numbers, "texts", names and ``layer.value``; ``+ - * / // % **``; comparisons; ``and or not``;
``a if test else b``; ``list[0]``; and the functions below. Nothing else: no attributes of objects,
no calls of anything but these, no names that begin with an underscore.
"""

from __future__ import annotations

import ast
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from mektel.core.errors import MektelError
from mektel.core.formula import colours

LONGEST, DEEPEST, MOST_NODES = 400, 24, 120
LARGEST_EXPONENT = 8.0
# Letters that a formula's text may come to; formulas that lean on each other, in a row.
LONGEST_TEXT, LONGEST_CHAIN = 2000, 24


class FormulaError(MektelError):
    """A formula that cannot be read or computed; says what, where and what to do.

    ``at`` is the index of the first character that is at fault, where one is.
    """

    at: int | None = None


@dataclass(frozen=True)
class Function:
    """What a formula calls: how many arguments it takes, and its own code."""

    least: int
    most: int
    call: Callable[..., Any]
    # What its arguments are: n number, c colour, in order; the last goes for all further ones.
    takes: str
    # The names of its arguments, as they are shown.
    arguments: str
    help: str


FUNCTIONS: dict[str, Function] = {
    "min": Function(2, 8, min, "n", "a, b, …", "the smallest of the numbers"),
    "max": Function(2, 8, max, "n", "a, b, …", "the largest of the numbers"),
    "abs": Function(1, 1, abs, "n", "number", "the number without its sign"),
    "round": Function(1, 1, colours.round_, "n", "number", "to the nearest whole number"),
    "floor": Function(1, 1, colours.floor, "n", "number", "down to a whole number"),
    "ceil": Function(1, 1, colours.ceil, "n", "number", "up to a whole number"),
    "clamp": Function(3, 3, colours.clamp, "n", "value, low, high", "kept between two numbers"),
    "text": Function(1, 1, colours.text_of, "n", "number", "a number as text"),
    "lighten": Function(2, 2, colours.lighten, "cn", "colour, 0.1", "lighter by that much"),
    "darken": Function(2, 2, colours.darken, "cn", "colour, 0.1", "darker by that much"),
    "wash": Function(2, 2, colours.wash, "cn", "colour, 0.75", "toward grey"),
    "translucent": Function(2, 2, colours.translucent, "cn", "colour, 0.5", "more translucent"),
    "mix": Function(3, 3, colours.mix, "ccn", "colour, other, 0.5", "between two colours"),
    "readable_on": Function(1, 3, colours.readable_on, "c", "colour, light, dark",
                            "light or dark, as reads better on it"),
}
OPERATORS = {
    ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/", ast.FloorDiv: "//", ast.Mod: "%",
    ast.Pow: "**",
}
COMPARISONS = {
    ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!=",
}
_ALLOWED = (
    ast.Expression, ast.BinOp, ast.UnaryOp, ast.USub, ast.UAdd, ast.Not, ast.BoolOp, ast.And,
    ast.Or, ast.IfExp, ast.Compare, ast.Call, ast.Constant, ast.Name, ast.Load, ast.Attribute,
    ast.Subscript, *OPERATORS, *COMPARISONS,
)


@dataclass(frozen=True)
class Formula:
    """A formula that keeps the rules: its text, its tree, and the names it depends on.

    ``names`` are plain names, ``fields`` pairs of layer and value.
    """

    text: str
    tree: ast.expr
    names: frozenset[str]
    fields: frozenset[tuple[str, str]]

    @property
    def is_name(self) -> bool:
        return isinstance(self.tree, ast.Name)


@lru_cache(maxsize=2048)
def parse(text: str) -> Formula:
    """A formula from text; raises :class:`FormulaError` with the place of the fault.

    >>> sorted(parse("mix(face, ink, 0.2)").names)
    ['face', 'ink']
    """
    if len(text) > LONGEST:
        raise FormulaError(
            f"The formula has {len(text)} characters; {LONGEST} is the most. Name a part of it.")
    if not text.strip():
        raise FormulaError("The formula is empty. Write a name, a number or a sum such as 2 * gap.")
    try:
        tree = ast.parse(text.strip(), mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError) as error:
        at = getattr(error, "offset", None)
        where = f" at character {at}" if at else ""
        fault = FormulaError(f"“{text}” cannot be read{where}. Write it like 0.5 * height.")
        fault.at = min(at, len(text.strip())) - 1 if at else None
        raise fault from None
    names: set[str] = set()
    fields: set[tuple[str, str]] = set()
    _check(tree.body, text, 0, [0], names, fields)
    return Formula(text.strip(), tree.body, frozenset(names), frozenset(fields))


def _check(
    node: ast.AST, text: str, depth: int, count: list[int], names: set[str],
    fields: set[tuple[str, str]],
) -> None:
    count[0] += 1
    if depth > DEEPEST or count[0] > MOST_NODES:
        raise FormulaError(f"“{text}” is too long to follow. Put a part of it into a parameter.")
    if not isinstance(node, _ALLOWED):
        raise _fault(node, text, f"{type(node).__name__} is not part of a formula")
    children = list(ast.iter_child_nodes(node))
    if isinstance(node, ast.Constant):
        if isinstance(node.value, bool) or not isinstance(node.value, int | float | str):
            if not isinstance(node.value, bool):
                raise _fault(node, text, "only numbers, texts, True and False can stand here")
        elif isinstance(node.value, int | float) and abs(node.value) > 1e9:
            raise _fault(node, text, "the number is too large")
    elif isinstance(node, ast.Name):
        _check_name(node.id, node, text)
        names.add(node.id)
    elif isinstance(node, ast.Attribute):
        if not isinstance(node.value, ast.Name):
            raise _fault(node, text, "write layer.value, with one dot")
        _check_name(node.value.id, node, text)
        _check_name(node.attr, node, text)
        fields.add((node.value.id, node.attr))
        children = []
    elif isinstance(node, ast.Call):
        if not isinstance(node.func, ast.Name) or node.func.id not in FUNCTIONS:
            known = ", ".join(FUNCTIONS)
            raise _fault(node, text, f"there is no such function. Available: {known}")
        function = FUNCTIONS[node.func.id]
        if node.keywords or any(isinstance(argument, ast.Starred) for argument in node.args):
            raise _fault(node, text, "give the arguments in order, without names")
        if not function.least <= len(node.args) <= function.most:
            much = (f"{function.least}" if function.least == function.most
                    else f"{function.least} to {function.most}")
            raise _fault(node, text, f"{node.func.id} takes {much} arguments")
        children = list(node.args)
    elif isinstance(node, ast.Subscript) and isinstance(node.slice, ast.Slice):
        raise _fault(node, text, "a list needs an index: colours[0]")
    for child in children:
        _check(child, text, depth + 1, count, names, fields)


def _check_name(name: str, node: ast.AST, text: str) -> None:
    if name.startswith("_") or not name.isascii():
        raise _fault(node, text, f"“{name}” is not a name for a value")


def _fault(node: ast.AST, text: str, why: str) -> FormulaError:
    at = getattr(node, "col_offset", 0)
    fault = FormulaError(f"“{text}”, character {at + 1}: {why}.")
    fault.at = at
    return fault
