"""Formulas as Python source: as a control's module writes them, within a method of the control."""

from __future__ import annotations

import ast
import inspect
import re
from collections.abc import Iterable
from typing import Any

from mektel.core.formula import colours
from mektel.core.formula.language import COMPARISONS
from mektel.core.kit import Parameter
from mektel.core.kit.parameters import NUMERIC
from mektel.targets.qtwidgets.literals import literal
from mektel.targets.sheet import Sheet

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


def called(sheets: Iterable[Sheet]) -> list[str]:
    """The functions that expressions call, as the file that is shipped for them has them."""
    nodes = [node for sheet in sheets for driver in sheet.driven for node in ast.walk(driver.tree)]
    own = {CALLED.get(node.func.id, node.func.id) for node in nodes
           if isinstance(node, ast.Call) and isinstance(node.func, ast.Name)}
    operators = {ast.FloorDiv: "whole", ast.Mod: "modulo"}
    own |= {name for kind, name in operators.items()
            if any(isinstance(node, kind) for node in nodes)}
    return sorted(own - {"min", "max", "abs"})


def formulas_source(names: Iterable[str]) -> str:
    """The file that computes formulas here, but for functions that are not needed for these:
    shipped code computes them alike.
    """
    source = inspect.getsource(colours)
    tree = ast.parse(source)
    functions = {node.name: node for node in tree.body if isinstance(node, ast.FunctionDef)}
    needed, left = set[str](), list(names)
    while left:
        needed.add(name := left.pop())
        left += {node.id for node in ast.walk(functions[name])
                 if isinstance(node, ast.Name) and node.id in functions} - needed
    used = {node.id for name in needed for node in ast.walk(functions[name])
            if isinstance(node, ast.Name)}
    gone = {line for node in tree.body if _is_unused(node, needed, used)
            for line in range(node.lineno, (node.end_lineno or node.lineno) + 1)}
    lines = [line for at, line in enumerate(source.splitlines(), 1) if at not in gone]
    return re.sub(r"\n{4,}", "\n\n\n", "\n".join(lines)).rstrip() + "\n"


def _is_unused(node: ast.stmt, functions: set[str], names: set[str]) -> bool:
    if isinstance(node, ast.FunctionDef):
        return node.name not in functions
    if isinstance(node, ast.Assign):
        return not names & {inner.id for inner in ast.walk(node) if isinstance(inner, ast.Name)}
    return isinstance(node, ast.Import | ast.ImportFrom) and (
        getattr(node, "module", "") != "__future__" and not names & {
            (name.asname or name.name) for name in node.names})


def hint(parameter: Parameter) -> str:
    return HINTS.get(parameter.type, "str")


def checks(parameters: Iterable[Parameter]) -> dict[str, tuple[Any, ...]]:
    """Type, limits and choices of every parameter, for the module's own checks."""
    return {
        parameter.name: (parameter.type, parameter.min, parameter.max, parameter.allowed)
        for parameter in parameters
    }
