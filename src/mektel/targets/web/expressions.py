"""Formulas as JavaScript: as an element's file writes them."""

from __future__ import annotations

import ast
from collections.abc import Iterable

from mektel.core.formula.language import COMPARISONS
from mektel.targets.drivers import Driver
from mektel.targets.web.literals import literal

SIZES = {"width": "box.width", "height": "box.height", "parent_width": "around.width",
         "parent_height": "around.height"}
CALLED = {"min": "Math.min", "max": "Math.max", "abs": "Math.abs", "round": "round_",
          "text": "text_of"}


def js_of(node: ast.AST) -> str:
    """An expression as JavaScript of ``given``, ``box``, ``around`` and ``text``."""
    match node:
        case ast.Constant(value=bool() as value):
            return "true" if value else "false"
        case ast.Constant(value=str() as value):
            return literal(value)
        case ast.Constant(value=int() | float() as value):
            return f"{value:g}" if float(f"{value:g}") == value else repr(value)
        case ast.Name(id=name):
            return SIZES.get(name) or ("text" if name == "text" else f"given.{name}")
        case ast.UnaryOp(op=ast.Not(), operand=inner):
            return f"!{js_of(inner)}"
        case ast.UnaryOp(op=op, operand=inner):
            return f"({'-' if isinstance(op, ast.USub) else '+'}{js_of(inner)})"
        case ast.BinOp(left=left, op=op, right=right):
            return _joined(js_of(left), op, js_of(right))
        case ast.BoolOp(op=op, values=values):
            sign = " || " if isinstance(op, ast.Or) else " && "
            return f"({sign.join(js_of(one) for one in values)})"
        case ast.Compare(left=left, ops=ops, comparators=others):
            return _compared(left, ops, others)
        case ast.IfExp(test=test, body=body, orelse=other):
            return f"({js_of(test)} ? {js_of(body)} : {js_of(other)})"
        case ast.Subscript(value=inner, slice=at):
            return f"{js_of(inner)}[{js_of(at)}]"
        case ast.Tuple(elts=entries):
            return f"[{', '.join(js_of(one) for one in entries)}]"
        case ast.Call(func=ast.Name(id=name), args=args):
            return f"{CALLED.get(name, name)}({', '.join(js_of(one) for one in args)})"
    raise TypeError(type(node).__name__)


def _joined(left: str, op: ast.operator, right: str) -> str:
    match op:
        case ast.FloorDiv():
            return f"Math.floor({left} / {right})"
        case ast.Mod():
            return f"({left} - {right} * Math.floor({left} / {right}))"
        case ast.Pow():
            return f"(({left}) ** ({right}))"
    sign = {ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/"}[type(op)]
    return f"({left} {sign} {right})"


def _compared(left: ast.AST, ops: list[ast.cmpop], others: list[ast.expr]) -> str:
    comparisons = []
    for op, other in zip(ops, others, strict=True):
        sign = {"==": "===", "!=": "!=="}.get(COMPARISONS[type(op)], COMPARISONS[type(op)])
        comparisons.append(f"{js_of(left)} {sign} {js_of(other)}")
        left = other
    return f"({' && '.join(comparisons)})"


def called(drivers: Iterable[Driver]) -> list[str]:
    """The functions that expressions call, as the runtime has them."""
    names = {CALLED.get(node.func.id, node.func.id) for driver in drivers
             for node in ast.walk(driver.tree)
             if isinstance(node, ast.Call) and isinstance(node.func, ast.Name)}
    return sorted(name for name in names if not name.startswith("Math."))
