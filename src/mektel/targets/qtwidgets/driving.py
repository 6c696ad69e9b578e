"""Driven values in the Python module: where each goes, and its expression as Python source."""

from __future__ import annotations

import ast
import inspect
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from mektel.core.formula import colours
from mektel.core.formula.language import COMPARISONS
from mektel.core.kit import CONTROL, REST, Control, Parameter
from mektel.core.kit.conditions import parse_flags
from mektel.core.kit.document import is_colour
from mektel.core.kit.parameters import NUMERIC
from mektel.core.kit.paths import value_at
from mektel.targets.driven import Driven, Shipped
from mektel.targets.qtwidgets.literals import literal

SIZES = {"width": "box.width()", "height": "box.height()",
         "parent_width": "around.width()", "parent_height": "around.height()"}
HINTS = {"colours": "tuple", "yes-no": "bool", "action": "object",
         **dict.fromkeys(NUMERIC, "float")}
# Values that a picture or a polygon holds, and that thus cannot follow while it runs.
SHAPING = {"form", "joins", "outline", "power", "points", "waist", "rounding", "path", "fit"}


@dataclass(frozen=True)
class Put:
    """One line of the module's table: in these states, this part's value at this path."""

    states: tuple[str, ...]
    part: str
    path: tuple[str | int, ...]
    source: str


def puts(
    control: Control, shipped: Shipped, rest: dict[str, Any], changes: dict[Any, Any]
) -> tuple[list[Put], list[tuple[Driven, str]]]:
    """What the module can follow, and what it cannot, with why. ``control`` is settled."""
    found, lost = [], []
    for one in shipped.values:
        if one.part == CONTROL:
            continue
        why = _why_not(control, one, rest)
        if why:
            lost.append((one, why))
            continue
        flags = parse_flags(one.condition) if one.condition != REST else frozenset()
        states = next((key for key in changes if set(key) == flags), tuple(sorted(flags)))
        path, wrap = _spot(control, one)
        source = python_of(one.tree, shipped.palette)
        found.append(Put(states, one.part, path, wrap.format(source)))
    return found, lost


def _why_not(control: Control, one: Driven, rest: dict[str, Any]) -> str:
    name, part = one.path.split(".")[0], rest.get(one.part)
    if name == "picture":
        return "" if part is not None and one.parameter else "it is in a picture"
    if part is None or (part.get("kind") == "baked" and name not in part):
        return "it is in a picture"
    if name == "outline" and "own_box" in part and one.path != "outline.form":
        return ""
    if name in SHAPING or ("paths" in part and name in ("radii", "width", "grow", "gap")):
        return "its outline is drawn for the designed size"
    if name == "stops" and getattr(control.part(one.part), "mixing", "srgb") == "oklab":
        return "its OKLab gradient is worked out when shipped"
    if name == "icon":
        return "" if "commands" in part else "it is in a picture"
    if name not in part:
        return "it is not kept apart in the code"
    return ""


def _spot(control: Control, one: Driven) -> tuple[tuple[str | int, ...], str]:
    """Where in a part's values it goes, and what the source is wrapped in."""
    name, *steps = one.path.split(".")
    if name == "picture":
        return ("file",), "{}"
    value = value_at(control.part(one.part), one.path)
    if name in ("outline", "box"):
        held = "own_box" if name == "outline" else name
        path = (held, *(int(step) if step.isdigit() else step for step in steps))
        return path, f"({{}},) * {len(value)}" if isinstance(value, tuple) else "{}"
    if is_colour(one.path.split(".")[-1]):
        path = (name, int(steps[0]), 1) if steps else (name,)
        return path, "runtime.qt_colour({})"
    if name == "stops" and not steps:
        return (name,), "runtime.stops_of({})"
    if name == "stops":
        return (name, int(steps[0]), 0), "{}"
    if name == "icon":
        return ("commands",), "ICONS[{}]"
    if isinstance(value, tuple):
        return (name,), f"({{}},) * {len(value)}"
    return (name, *(int(step) for step in steps)), "{}"


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
            return SIZES.get(name) or ("self.text()" if name == "text" else (
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
                f" {sign} {of(one)}" for sign, one in zip(signs, others, strict=True))
            return f"({of(left)}{rest})"
        case ast.IfExp(test=test, body=body, orelse=other):
            return f"({of(body)} if {of(test)} else {of(other)})"
        case ast.Subscript(value=inner, slice=at):
            return f"{of(inner)}[int({of(at)})]"
        case ast.Tuple(elts=entries):
            return f"({''.join(f'{of(one)}, ' for one in entries)})"
        case ast.Call(func=ast.Name(id=name), args=args):
            return f"{CALLED.get(name, name)}({', '.join(map(of, args))})"
    raise TypeError(type(node).__name__)


def called(shipped: Shipped) -> list[str]:
    """The functions that the expressions call, as the file that is shipped for them has them."""
    nodes = [node for one in shipped.values for node in ast.walk(one.tree)]
    operators = {ast.FloorDiv: "whole", ast.Mod: "modulo"}
    own = {CALLED.get(name, name) for name in shipped.functions - {"min", "max", "abs"}}
    own |= {name for kind, name in operators.items()
            if any(isinstance(node, kind) for node in nodes)}
    return sorted(own)


def formulas_source() -> str:
    """The file that computes formulas here, as it is: shipped code computes them alike."""
    return inspect.getsource(colours)


def size_sources(shipped: Shipped) -> dict[int, str]:
    """Expressions for the control's own width (0) and height (1)."""
    return {int(one.path[-1]): python_of(one.tree) for one in shipped.of(CONTROL)
            if one.path.startswith("size")}


def text_source(shipped: Shipped) -> str:
    return next((python_of(one.tree) for one in shipped.of(CONTROL) if one.path == "text"), "")


def hint(parameter: Parameter) -> str:
    return HINTS.get(parameter.type, "str")


def checks(parameters: tuple[Parameter, ...]) -> dict[str, tuple[Any, ...]]:
    """Type, limits and choices of every parameter, for the module's own checks."""
    return {one.name: (one.type, one.min, one.max, one.choices) for one in parameters}


def uses_size(shipped: Shipped) -> bool:
    return any(one.names & {"width", "height"} for one in shipped.values if one.part != CONTROL)
