"""Formulas as Python source: as a control's module writes them, within a method of the control."""

from __future__ import annotations

import ast
import inspect
from collections.abc import Iterable
from typing import Any

from mektel.core.formula import colours
from mektel.core.formula.language import COMPARISONS
from mektel.core.kit import Parameter
from mektel.core.kit.parameters import NUMERIC
from mektel.targets.drivers import Driver
from mektel.targets.qtwidgets.literals import literal

SIZES = {"width": "box.width()", "height": "box.height()",
         "parent_width": "around.width()", "parent_height": "around.height()"}
HINTS = {"colours": "tuple", "yes-no": "bool", "action": "object",
         **dict.fromkeys(NUMERIC, "float")}
CALLED = {"round": "round_", "text": "text_of"}
OPERATORS = {ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/", ast.Pow: "**"}


def python_of(node: ast.AST, palette: Iterable[str] = ()) -> str:
    """An expression as the module writes it, within a method of the control."""
    colours = frozenset(palette)

    def of(inner: ast.AST) -> str:
        return python_of(inner, colours)

    match node:
        case ast.Constant(value=value):
            return literal(value)
        case ast.Name(id=name):
            return SIZES.get(name) or ("self.plain_text()" if name == "text" else (
                f"PALETTE[{literal(name)}][self._scheme]" if name in colours
                else f"given[{literal(name)}]"))
        case ast.UnaryOp(op=ast.Not(), operand=inner):
            return f"(not {of(inner)})"
        case ast.UnaryOp(op=op, operand=inner):
            return f"({'-' if isinstance(op, ast.USub) else '+'}{of(inner)})"
        case ast.BinOp(left=left, op=ast.FloorDiv() | ast.Mod() as op, right=right):
            name = "whole" if isinstance(op, ast.FloorDiv) else "modulo"
            return f"{name}({of(left)}, {of(right)})"
        case ast.BinOp(left=left, op=op, right=right):
            return f"({of(left)} {OPERATORS[type(op)]} {of(right)})"
        case ast.BoolOp(op=op, values=values):
            sign = " or " if isinstance(op, ast.Or) else " and "
            return f"({sign.join(map(of, values))})"
        case ast.Compare(left=left, ops=ops, comparators=others):
            signs = (COMPARISONS[type(op)] for op in ops)
            rest = "".join(
                f" {sign} {of(operand)}" for sign, operand in zip(signs, others, strict=True))
            return f"({of(left)}{rest})"
        case ast.IfExp(test=test, body=body, orelse=other):
            return f"({of(body)} if {of(test)} else {of(other)})"
        case ast.Subscript(value=inner, slice=at):
            return f"{of(inner)}[int({of(at)})]"
        case ast.Tuple(elts=entries):
            return f"({''.join(f'{of(operand)}, ' for operand in entries)})"
        case ast.Call(func=ast.Name(id=name), args=args):
            return f"{CALLED.get(name, name)}({', '.join(map(of, args))})"
    raise TypeError(type(node).__name__)


def called(drivers: Iterable[Driver]) -> list[str]:
    """The functions that expressions call, as the file that is shipped for them has them."""
    nodes = [node for driver in drivers for node in ast.walk(driver.tree)]
    own = {CALLED.get(node.func.id, node.func.id) for node in nodes
           if isinstance(node, ast.Call) and isinstance(node.func, ast.Name)}
    operators = {ast.FloorDiv: "whole", ast.Mod: "modulo"}
    own |= {name for kind, name in operators.items()
            if any(isinstance(node, kind) for node in nodes)}
    return sorted(own - {"min", "max", "abs"})


def formulas_source() -> str:
    """The file that computes formulas here, as it is: shipped code computes them alike."""
    return inspect.getsource(colours)


def hint(parameter: Parameter) -> str:
    return HINTS.get(parameter.type, "str")


def checks(parameters: Iterable[Parameter]) -> dict[str, tuple[Any, ...]]:
    """Type, limits and choices of every parameter, for the module's own checks."""
    return {
        parameter.name: (parameter.type, parameter.min, parameter.max, parameter.choices)
        for parameter in parameters
    }
