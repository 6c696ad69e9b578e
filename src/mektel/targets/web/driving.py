"""Driven values in the custom element: CSS properties, and JavaScript that works them out."""

from __future__ import annotations

import ast
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from markupsafe import Markup

from mektel.core.formula.language import COMPARISONS
from mektel.core.kit import CONTROL, OUTLINE, REST, Control, Kit
from mektel.core.kit.document import is_colour
from mektel.core.kit.paths import value_at
from mektel.targets.driven import Driven, Shipped, shipped
from mektel.targets.web.layers import baked_reason
from mektel.targets.web.literals import literal
from mektel.targets.web.outlines import is_round

SIZES = {"width": "box.width", "height": "box.height", "parent_width": "around.width",
         "parent_height": "around.height"}
BLURRED = {"shadow", "glow", "inner-shadow", "inner-glow"}
# (kind, value) and the CSS property that holds it, with its unit.
HELD = {
    **{(kind, path): held for kind in BLURRED for path, held in {
        "blur": ("--blur", "px"), "spread": ("--spread", "px"), "offset.0": ("--x", "px"),
        "offset.1": ("--y", "px")}.items()},
    ("line", "width"): ("--width", "px"), ("fill", "angle"): ("--angle", "deg"),
    ("line", "angle"): ("--angle", "deg"), ("label", "spacing"): ("letter-spacing", "px"),
    ("icon", "thickness"): ("stroke-width", ""),
}
# CSS names of a box's sides, and what marks a property that is the px of one.
SIDES = {"x": "left", "y": "top", "width": "width", "height": "height"}
BOX = ".box"
# What stands for the text of an element.
TEXT = "text"
# What stands for the file that takes a picture's place.
FILE = "file"
COMMON = {"opacity": ("opacity", ""), "rotate": ("rotate", "deg"), "visible": ("visibility", "")}


@dataclass(frozen=True)
class Property:
    """A CSS custom property that the element sets: its name, and the source of its value.

    ``told`` is the CSS property of the layer that refers to it, ``path`` what it stands for.
    """

    name: str
    source: str
    condition: str
    part: str
    path: str
    told: str
    # The parameter that it simply is: then it can be set in a style sheet, too.
    parameter: str
    # The same for what cannot be set there.
    tree_name: str = ""
    # The number that it has as designed, where it is part of a length.
    designed: float = 0.0


def properties(control: Control, shipped: Shipped
               ) -> tuple[list[Property], list[tuple[Driven, str]]]:
    """What the element can follow, and what it cannot, with why. ``control`` is settled."""
    found: list[Property] = []
    lost = []
    for one in shipped.values:
        if one.part == CONTROL and one.path == "text":
            continue
        told, unit, why = _held(control, one)
        if why:
            lost.append((one, why))
            continue
        source = js_of(one.tree)
        if told == FILE:
            source = f'`url("${{encodeURI({source})}}")`'
        elif unit:
            source = f"`${{finite({source})}}{unit}`"
        elif told == "visibility":
            source = f'{source} ? "visible" : "hidden"'
        elif told == "--stops" and one.path == "stops":
            source = f"stopsOf({source})"
        elif told != TEXT:
            source = f"finite({source})"
        name = one.parameter if one.parameter and is_colour(one.path.split(".")[-1]) else ""
        words = "-".join([] if one.condition == REST else [one.condition.replace("+", "-")])
        own = "-".join(filter(None, [words, one.part, one.path.replace(".", "-")]))
        found.append(Property(
            f"--{(name or own).replace('_', '-')}", source, one.condition, one.part, one.path,
            told, name, one.parameter,
            float(value_at(control.part(one.part), one.path)) if told.endswith(BOX) else 0.0))
    return found, lost


def _held(control: Control, one: Driven) -> tuple[str, str, str]:
    """CSS property and unit for a value, or why there is none."""
    name = one.path.split(".")[0]
    if one.part == CONTROL:
        return ("min-width", "min-height")[int(one.path[-1])], "px", ""
    if one.part == OUTLINE:
        plain = control.outline.form == "box" and is_round(control.outline)
        if one.path == "radii" and plain and control.outline.radii_y is None:
            return "radius", "px", ""
        if one.path == "opacity":
            return "opacity", "", ""
        if one.path == "offset" or name == "offset":
            return f"translate.{one.path[-1]}", "px", ""
        if name == "padding":
            return f"padding.{one.path[-1] if '.' in one.path else ''}", "px", ""
        return "", "", "its outline is written for the designed form"
    kind = control.layer(one.part).kind
    if kind == "picture" and one.path == "picture" and one.parameter:
        return FILE, "", ""
    if kind == "label" and one.path == "text":
        return TEXT, "", ""
    if one.path in COMMON:
        return *COMMON[one.path], ""
    if baked_reason(control, one.part) and not (kind in BLURRED and one.path == "colour"):
        return "", "", "it is in a picture"
    if (kind, one.path) in HELD:
        return *HELD[kind, one.path], ""
    steps = one.path.split(".")
    if steps[0] == "outline" and steps[-1] == "1" and steps[1] in SIDES and is_round(
            getattr(control.layer(one.part), "outline", None) or control.outline):
        return f"{SIDES[steps[1]]}{BOX}", "px", ""
    if one.path == "colour":
        return "--colour", "", ""
    if name == "stops" and (one.path == "stops" or one.path.endswith("colour")):
        return "--stops", "", ""
    if kind == "label" and one.path == "size":
        return "font", "px", ""
    return "", "", "CSS has it in a value with others"


def declared_with(declared: dict[str, str], mine: list[Property]) -> dict[str, str]:
    """A layer's declarations, referring to the properties that drive it."""
    found = dict(declared)
    stops = found.get("--stops", "").split(", ")
    for one in mine:
        reference = f"var({one.name}, {{}})"
        if one.told == "--stops" and one.path != "stops":
            at = int(one.path.split(".")[1])
            if at < len(stops):
                colour, _, place = stops[at].partition(" ")
                stops[at] = f"{reference.format(colour)} {place}"
        elif one.told == "font" and "font" in found:
            words = found["font"].split(" ")
            words[1] = reference.format(words[1])
            found["font"] = " ".join(words)
        elif one.told.endswith(BOX):
            name = one.told.removesuffix(BOX)
            if name in found:
                found[name] = _with_px(found[name], reference, one.designed)
        elif one.told.startswith(("translate.", "padding.")):
            name, _, at_text = one.told.partition(".")
            words = found.get(name, "").split(" ")
            places = [int(at_text)] if at_text else range(len(words))
            for place_ in places:
                at = 1 - place_ if name == "padding" else place_
                if at < len(words):
                    words[at] = reference.format(words[at])
            found[name] = " ".join(words)
        elif one.told in found:
            found[one.told] = reference.format(found[one.told])
    if any(one.told == "--stops" and one.path != "stops" for one in mine) and "--stops" in found:
        found["--stops"] = ", ".join(stops)
    return found


def _with_px(length: str, reference: str, designed: float) -> str:
    """A length of a share and px, with its px from a property; what they differ by stays."""
    words = length.removeprefix("calc(").removesuffix(")").split()
    share = next((one for one in words if one.endswith("%")), "")
    pixels = next((float(one[:-2]) for one in words if one.endswith("px")), 0.0)
    pixels = -pixels if "-" in words else pixels
    parts = [share] if share else []
    parts.append(reference.format(f"{designed:g}px"))
    text = " + ".join(parts)
    more = pixels - designed
    if abs(more) > 1e-6:
        text += f" {'+' if more > 0 else '-'} {abs(more):g}px"
    return f"calc({text})" if " " in text else text


def with_radius(declared: dict[str, str], one: Property, radius: float) -> dict[str, str]:
    """Corners that follow the control's radius, keeping what they are larger or smaller by."""
    def following(text: str) -> str:
        if not text.endswith("px") or " " in text:
            return text
        more = float(text.removesuffix("px")) - radius
        inner = f"var({one.name}, {radius:g}px)"
        sign = "+" if more > 0 else "-"
        return inner if not more else f"max(0px, calc({inner} {sign} {abs(more):g}px))"

    found = dict(declared)
    if "border-radius" in found:
        found["border-radius"] = following(found["border-radius"])
    head, round_, corner = found.get("clip-path", "").partition(" round ")
    if round_:
        found["clip-path"] = f"{head}{round_}{following(corner.removesuffix(')'))})"
    return found


def js_of(node: ast.AST) -> str:
    """An expression as JavaScript, within a method of the element."""
    match node:
        case ast.Constant(value=bool() as value):
            return "true" if value else "false"
        case ast.Constant(value=str() as value):
            return literal(value)
        case ast.Constant(value=int() | float() as value):
            return f"{value:g}" if float(f"{value:g}") == value else repr(value)
        case ast.Name(id=name):
            return SIZES.get(name) or ("this.label" if name == "text" else f"given.{name}")
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
            called = {"min": "Math.min", "max": "Math.max", "abs": "Math.abs", "round": "round_",
                      "text": "text_of"}.get(name, name)
            return f"{called}({', '.join(js_of(one) for one in args)})"
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
    found = []
    for op, other in zip(ops, others, strict=True):
        sign = {"==": "===", "!=": "!=="}.get(COMPARISONS[type(op)], COMPARISONS[type(op)])
        found.append(f"{js_of(left)} {sign} {js_of(other)}")
        left = other
    return f"({' && '.join(found)})"


@lru_cache(maxsize=1)
def helpers() -> str:
    return (Path(__file__).parent / "formulas.js").read_text(encoding="utf-8")


def text_source(shipped: Shipped) -> str:
    return next((js_of(one.tree) for one in shipped.of(CONTROL) if one.path == "text"), "")


def required_attributes(kit: Kit, control: Control) -> Markup:
    """Attributes for every argument that has to be given, with its sample."""
    found = Markup("")
    for one in shipped(kit, control).parameters:
        if one.required and one.name != "text" and one.type != "action":
            value = " ".join(one.default) if isinstance(one.default, tuple) else one.default
            found += Markup(' {}="{}"').format(
                one.name.replace("_", "-"), f"{value:g}" if isinstance(value, float) else value)
    return found
