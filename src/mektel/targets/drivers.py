"""What drives values in shipped code: formulas, reduced to what can change there.

A formula may speak of other layers' values, of rest or of palette colours. In shipped code only
parameters, the control's size and palette colours with several schemes change; every other name is
put into the formula as the value or formula it stands for.
"""

from __future__ import annotations

import ast
import copy
from dataclasses import dataclass, replace
from typing import Any

from mektel.core.formula import LONGEST_CHAIN, FormulaError, parse
from mektel.core.kit import (
    CONTROL,
    OUTLINE,
    REST,
    Control,
    EmbeddedLook,
    Kit,
    Label,
    PaletteValue,
    Parameter,
    value_names,
)
from mektel.core.kit.colours_in import colours_in
from mektel.core.kit.conditions import in_order
from mektel.core.kit.parameter_edits import formulas_of, uses_of
from mektel.core.kit.paths import value_at
from mektel.core.look import Margins, settled, shared_margins
from mektel.core.look.embedding import CHOOSING
from mektel.core.look.settle import plain_at, plain_value, without_links

MOST_EXPANDED = 1500
SIZES = ("width", "height", "parent_width", "parent_height")
# Between the name of a part that embeds a look and that of a part of the look.
INSIDE = "--"


@dataclass(frozen=True)
class Driver:
    """One value that shipped code works out: where it goes, and the expression for it.

    ``tree`` has no names but those in ``names``: parameters, sizes, palette colours with schemes.
    """

    condition: str
    part: str
    path: str
    tree: ast.expr
    names: frozenset[str]

    @property
    def parameter(self) -> str:
        """The one name that the value simply is; empty for anything more."""
        return self.tree.id if isinstance(self.tree, ast.Name) else ""


@dataclass(frozen=True)
class Drivers:
    """A control's parameters and driven values, for a target to write in its own language."""

    parameters: tuple[Parameter, ...]
    values: tuple[Driver, ...]
    # Palette colours that differ between schemes: name as in formulas, then scheme and colour.
    palette: dict[str, dict[str, str]]
    schemes: tuple[str, ...]
    # What of an embedded look cannot follow, and why.
    lost: tuple[tuple[Driver, str], ...] = ()

    @property
    def functions(self) -> set[str]:
        """The functions that the expressions call."""
        return {node.func.id for driver in self.values for node in ast.walk(driver.tree)
                if isinstance(node, ast.Call) and isinstance(node.func, ast.Name)}

    def of(self, part: str) -> list[Driver]:
        return [driver for driver in self.values if driver.part == part]


def drivers_of(kit: Kit, control: Control) -> Drivers:
    """What shipped code keeps of a control's parameters, formulas and palette schemes."""
    control = without_links(_with_palette(kit, control))
    varying = _varying(kit)
    drivers: list[Driver] = []
    lost_here: list[tuple[Driver, str]] = []
    for condition, part, path, text in formulas_of(control):
        try:
            tree = _Expanding(kit, control, condition, part, path, varying).visit(
                copy.deepcopy(parse(text).tree))
        except TooLongError as error:
            lost_here.append((Driver(condition, part, path, ast.Constant(0), frozenset()),
                              str(error)))
            continue
        except (FormulaError, RecursionError):
            continue  # reported when the control is settled; its value stays
        names = frozenset(node.id for node in ast.walk(tree) if isinstance(node, ast.Name)
                          and not _is_call(tree, node))
        if names:
            drivers.append(Driver(condition, part, path, ast.fix_missing_locations(tree), names))
    hidden = _hidden_by_finish(kit, control)
    drivers = [driver for driver in drivers
               if driver.part not in hidden or driver.path != "visible"]
    drivers, lost = _into_embedded(kit, control, drivers)
    lost += lost_here
    order = {condition: at for at, (condition, _) in enumerate(in_order(tuple(
        {d.condition for d in drivers if d.condition != REST})))}
    drivers.sort(key=lambda driver: order.get(driver.condition, -1))
    parameters = tuple(
        parameter.model_copy(update={
            # Shipped code knows no pictures of the kit: its own is what is shown without a file.
            "default": "" if parameter.type == "picture" else plain_value(
                kit, parameter.default, parameter.type in ("colour", "colours"))})
        for parameter in control.parameters)
    return Drivers(
        parameters, tuple(drivers), varying, kit.schemes, tuple(lost))


def _hidden_by_finish(kit: Kit, control: Control) -> set[str]:
    """Layers that the kit's finish leaves out: nothing may show them again."""
    if not kit.finish:
        return set()
    plain = settled(kit.model_copy(update={"finish": ""}), control)
    shown = {layer.id for layer in plain.layers if layer.visible}
    return {layer.id for layer in settled(kit, control).layers
            if not layer.visible and layer.id in shown}


def _into_embedded(
    kit: Kit, control: Control, driven: list[Driver]
) -> tuple[list[Driver], list[tuple[Driver, str]]]:
    """What drives the text of an embedded look drives its labels; what chooses the look is lost."""
    kept, lost = [], []
    for driver in driven:
        layer = None if driver.part in (OUTLINE, CONTROL) else control.layer(driver.part)
        if not isinstance(layer, EmbeddedLook) or driver.path.split(".")[0] not in CHOOSING:
            kept.append(driver)
            continue
        other = next((c for c in kit.controls if c.id == layer.control), None)
        labels = [own.id for own in other.layers if isinstance(own, Label) and own.text is None
                  ] if other and driver.path == "text" and driver.condition == REST else []
        kept += [replace(driver, part=f"{layer.id}{INSIDE}{label}") for label in labels]
        if not labels:
            lost.append((driver, "the embedded look is fixed at export"))
    return kept, lost


def widest_margins(kit: Kit, control: Control) -> Margins:
    """Room that suffices for every state and for numbers anywhere within their limits."""
    margins = shared_margins(kit, control)
    for parameter in control.parameters:
        for value in (parameter.min, parameter.max):
            if value is not None and any(True for _ in uses_of(control, parameter.name)):
                margins = margins.union(
                    shared_margins(kit, control, arguments={parameter.name: float(value)}))
    return margins


def _is_call(tree: ast.AST, name: ast.Name) -> bool:
    return any(isinstance(node, ast.Call) and node.func is name for node in ast.walk(tree))


def _varying(kit: Kit) -> dict[str, dict[str, str]]:
    if len(kit.schemes) < 2:
        return {}
    return {
        swatch.name.replace("-", "_"): {
            scheme: swatch.schemes.get(scheme, swatch.colour) for scheme in kit.schemes}
        for swatch in kit.palette if swatch.schemes}


def _with_palette(kit: Kit, control: Control) -> Control:
    """Colours linked to palette entries that have schemes, as formulas of that name."""
    if len(kit.schemes) < 2:
        return control
    varying = {swatch.name for swatch in kit.palette if swatch.schemes}
    taken = {parameter.name for parameter in control.parameters}
    formulas = {c: {p: dict(f) for p, f in parts.items()} for c, parts in control.formulas.items()}

    def take(condition: str, part_id: str, values: dict[str, Any]) -> None:
        for path, colour in colours_in(values):
            name = colour.replace("-", "_")
            if colour in varying and name not in taken:
                formulas.setdefault(condition, {}).setdefault(part_id, {}).setdefault(path, name)

    for layer in control.layers:
        take(REST, layer.id, {name: getattr(layer, name) for name in value_names(layer)})
    for condition, changes in control.states.items():
        for part_id, values in changes.items():
            take(condition, part_id, values)
    return control.model_copy(update={"formulas": formulas})


class TooLongError(FormulaError):
    """A formula that grows too long once what it leans on is put in."""


class _Expanding(ast.NodeTransformer):
    """Puts in what names stand for, until only what can change is left."""

    def __init__(
        self, kit: Kit, control: Control, condition: str, part: str, path: str,
        varying: dict[str, dict[str, str]], depth: int = 0, count: list[int] | None = None,
    ) -> None:
        if depth > LONGEST_CHAIN:
            raise FormulaError("it depends on itself.")
        # How many parts all that was put in has come to.
        self.count = [0] if count is None else count
        self.kit, self.control, self.condition = kit, control, condition
        self.part, self.path, self.varying, self.depth = part, path, varying, depth

    def visit(self, node: ast.AST) -> Any:
        self.count[0] += 1
        if self.count[0] > MOST_EXPANDED:
            raise TooLongError("with the formulas it depends on it is too long for shipped code")
        return super().visit(node)

    def visit_Call(self, node: ast.Call) -> ast.AST:
        node.args = [self.visit(argument) for argument in node.args]
        return node

    def visit_Name(self, node: ast.Name) -> ast.AST:
        name = node.id
        if any(parameter.name == name for parameter in self.control.parameters):
            return node
        if name == "text" or name in SIZES:
            return node
        if name == "rest" and self.condition != REST and self.part != CONTROL:
            return self._value(REST, self.part, self.path)
        if self.part != CONTROL and name in type(self.control.part(self.part)).model_fields:
            return self._value(self.condition, self.part, name)
        if name in self.varying:
            return node
        for swatch in self.kit.palette:
            if swatch.name.replace("-", "_") == name:
                return _literal(swatch.colour)
        for figure in self.kit.values:
            if figure.name.replace("-", "_") == name:
                return _literal(plain_value(self.kit, figure.value))
        raise FormulaError(f"there is no “{name}” here.")

    def visit_Attribute(self, node: ast.Attribute) -> ast.AST:
        assert isinstance(node.value, ast.Name)
        word = node.value.id
        parts = {layer.id.replace("-", "_"): layer.id for layer in self.control.layers}
        parts[OUTLINE] = OUTLINE
        if word in parts:
            return self._value(self.condition, parts[word], node.attr)
        for figure in self.kit.values:
            if figure.name.replace("-", "_") == word and isinstance(figure, PaletteValue):
                return _literal(plain_at(self.kit, figure.value, node.attr))
        raise FormulaError(f"there is no layer “{word}”.")

    def _value(self, condition: str, part: str, path: str) -> ast.AST:
        control = self.control
        for where in dict.fromkeys((condition, REST)):
            text = control.formulas.get(where, {}).get(part, {}).get(path)
            if text is not None:
                inner = _Expanding(self.kit, control, where, part, path, self.varying,
                                   self.depth + 1, self.count)
                expanded: Any = inner.visit(copy.deepcopy(parse(text).tree))
                before = value_at(control.part(part), path)
                if isinstance(before, tuple) and path != "stops" and not isinstance(
                        expanded, ast.Tuple):
                    return ast.Tuple([expanded] * len(before), ast.Load())
                return expanded
            values = control.states.get(where, {}).get(part, {})
            if where != REST and path.split(".")[0] in values:
                changed = control.part(part).model_copy(update=values)
                return _literal(plain_at(self.kit, changed, path))
        return _literal(plain_at(self.kit, control.part(part), path))


def _literal(value: Any) -> ast.AST:
    if isinstance(value, tuple):
        if not all(isinstance(entry, str | float | bool) for entry in value):
            raise FormulaError("a gradient, text style or timing cannot be part of a formula in "
                               "shipped code.")
        return ast.Tuple([ast.Constant(entry) for entry in value], ast.Load())
    return ast.Constant(value)
