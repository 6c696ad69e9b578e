"""Edits of parameters, variations and formulas, and what is asked about them."""

from __future__ import annotations

import io
import tokenize
from collections.abc import Callable, Iterator
from typing import Any

from pydantic import ValidationError

from mektel.core.errors import DocumentError
from mektel.core.formula import parse
from mektel.core.kit.conditions import REST, condition_of, parse_flags
from mektel.core.kit.control import CONTROL, Control, check_formula, fault_of, is_colour
from mektel.core.kit.document import Kit
from mektel.core.kit.edit import control_with, own_copy, replace_control, with_formulas
from mektel.core.kit.forms import Area
from mektel.core.kit.instance import Instance
from mektel.core.kit.layers import OUTLINE, measure_of
from mektel.core.kit.parameters import TAKEN, Parameter, ParameterType, Variation
from mektel.core.kit.paths import value_at
from mektel.core.kit.value_types import Measure

Use = tuple[str, str, str, str]


def add_parameter(kit: Kit, control_id: str, parameter: Parameter) -> Kit:
    control = kit.control(control_id)
    return replace_control(
        kit, control_with(control, parameters=(*control.parameters, parameter)))


def set_parameter(kit: Kit, control_id: str, which: str, /, **fields: Any) -> Kit:
    """Changes a parameter. A new name goes into every formula and variation that has the old."""
    control = kit.control(control_id)
    before = parameter_of(control, which)
    try:
        changed = Parameter.model_validate({**dict(before), **fields})
    except ValidationError as error:
        raise DocumentError(which, fault_of(error)[1]) from None
    parameters = tuple(
        changed if parameter.name == which else parameter for parameter in control.parameters
    )
    more: dict[str, Any] = {"parameters": parameters}
    if changed.name != which:
        more["formulas"] = {
            condition: {
                part: {path: renamed(text, which, changed.name) for path, text in formulas.items()}
                for part, formulas in parts.items()
            }
            for condition, parts in control.formulas.items()
        }
        more["variations"] = tuple(
            variation.model_copy(
                update={
                    "arguments": {
                        changed.name if key == which else key: value
                        for key, value in variation.arguments.items()
                    }
                }
            )
            for variation in control.variations
        )
    kit = replace_control(kit, control_with(control, **more))
    return kit if changed.name == which else _in_instances(
        kit, control_id, lambda given: {
            changed.name if key == which else key: value for key, value in given.items()})


def _in_instances(
    kit: Kit, control_id: str, change: Callable[[dict[str, Any]], dict[str, Any]]
) -> Kit:
    """The kit with the arguments of every instance of a control changed, at rest and in states."""
    def is_instance(control: Control, part_id: str) -> bool:
        layer = next((layer for layer in control.layers if layer.id == part_id), None)
        return isinstance(layer, Instance) and layer.control == control_id

    for control in kit.controls:
        layers = tuple(
            layer.model_copy(update={"arguments": change(layer.arguments)})
            if isinstance(layer, Instance) and layer.control == control_id and layer.arguments
            else layer for layer in control.layers)
        states = {
            condition: {
                part_id: {**values, "arguments": change(values["arguments"])}
                if "arguments" in values and is_instance(control, part_id) else values
                for part_id, values in parts.items()}
            for condition, parts in control.states.items()}
        if layers != control.layers or states != control.states:
            kit = replace_control(kit, control_with(control, layers=layers, states=states))
    return kit


def remove_parameter(kit: Kit, control_id: str, name: str) -> Kit:
    """Takes a parameter away; what it drove keeps its present value, without a formula."""
    control = kit.control(control_id)
    parameter_of(control, name)
    for condition, part, path, _ in uses_of(control, name):
        formulas = dict(control.formulas[condition][part])
        del formulas[path]
        control = with_formulas(control, condition, part, formulas)
    variations = tuple(
        variation.model_copy(
            update={"arguments": {k: v for k, v in variation.arguments.items() if k != name}}
        )
        for variation in control.variations
    )
    kit = replace_control(kit, control_with(
        control, parameters=tuple(p for p in control.parameters if p.name != name),
        variations=variations))
    return _in_instances(kit, control_id, lambda given: {
        key: value for key, value in given.items() if key != name})


def parameter_of(control: Control, name: str) -> Parameter:
    for parameter in control.parameters:
        if parameter.name == name:
            return parameter
    known = ", ".join(parameter.name for parameter in control.parameters) or "none"
    raise DocumentError("", f"there is no parameter “{name}”. Available: {known}")


def uses_of(control: Control, name: str) -> list[Use]:
    """Where formulas depend on a name: (condition, part, path, formula)."""
    return [
        use
        for use in formulas_of(control)
        if name in parse(use[3]).names or any(p == name for p, _ in parse(use[3]).fields)
    ]


def formulas_of(control: Control) -> Iterator[Use]:
    for condition, parts in control.formulas.items():
        for part, formulas in parts.items():
            for path, text in formulas.items():
                yield condition, part, path, text


def renamed(formula: str, old: str, new: str) -> str:
    """A formula with one name changed, texts and layers' values left alone.

    >>> renamed('face.blur + blur * 2', "blur", "soft")
    'face.blur + soft * 2'
    """
    letters, after_dot = list(formula), False
    starts = [0]  # of each line: a formula in brackets may go on
    for line in formula.splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    spots = []
    for token in tokenize.generate_tokens(io.StringIO(formula).readline):
        if token.type == tokenize.NAME and token.string == old and not after_dot:
            spots.append(starts[token.start[0] - 1] + token.start[1])
        after_dot = token.string == "."
    for at in reversed(spots):
        letters[at : at + len(old)] = new
    return "".join(letters)


def set_formula(kit: Kit, control_id: str, state: str, part_id: str, path: str, text: str) -> Kit:
    """Drives a value by a formula; an empty one lets it go, keeping the value it has.

    Raises :class:`DocumentError` for a formula that cannot be read or drives nothing.
    """
    return replace_control(
        kit, _with_formula(kit.control(control_id), state, part_id, path, text))


def _with_formula(control: Control, state: str, part_id: str, path: str, text: str) -> Control:
    condition = condition_of(parse_flags(state))
    control = own_copy(control, condition)
    formulas = dict(control.formulas.get(condition, {}).get(part_id, {}))
    if text.strip():
        try:
            check_formula(control, condition, part_id, path, text.strip())
        except ValueError as error:
            raise DocumentError("", str(error)) from None
        # One formula for a whole value and another for a part of it would fight.
        formulas = {
            other: kept
            for other, kept in formulas.items()
            if not other.startswith(f"{path}.") and not path.startswith(f"{other}.")
        }
        formulas[path] = text.strip()
    else:
        formulas.pop(path, None)
    return with_formulas(control, condition, part_id, formulas)


def lift(kit: Kit, control_id: str, state: str, part_id: str, path: str) -> tuple[Kit, str]:
    """Makes a value a parameter that drives it; the kit, and the parameter's name."""
    control = kit.control(control_id)
    parameter = proposed_parameter(control, state, part_id, path)
    if path.startswith("arguments."):
        # As the control has it that the instance is of.
        inner = parameter_of(kit.control(control.part(part_id).control), path.split(".")[1])
        parameter = inner.model_copy(update={
            "name": parameter.name, "default": parameter.default, "required": False})
    # One change: all that derives from the control follows it once.
    control = control_with(control, parameters=(*control.parameters, parameter))
    control = _with_formula(control, state, part_id, path, parameter.name)
    return replace_control(kit, control), parameter.name


def proposed_parameter(control: Control, state: str, part_id: str, path: str) -> Parameter:
    """A parameter that would drive a value: its type, limits and a sensible name."""
    condition = condition_of(parse_flags(state))
    if part_id == CONTROL:
        value: Any = control.text if path == "text" else control.size[int(path[-1])]
        kind: ParameterType = "text" if path == "text" else "length"
        name = {"text": "text", "size.0": "across", "size.1": "tall"}[path]
        return Parameter(
            name=_free(control, name), type=kind, default=value, required=path == "text"
        )
    part = control.part_in(part_id, {condition})
    value, name = value_at(part, path), path.split(".")[0]
    limits: dict[str, Any] = {}
    if path == "stops":
        kind, value = "colours", tuple(stop.colour for stop in value)
    elif is_colour(path.split(".")[-1]):
        kind = "colour"
    elif isinstance(value, bool):
        kind = "yes-no"
    elif isinstance(value, float | int):
        measure = _measure_at(part, path)
        kind = {"px": "length", "s": "duration"}.get(measure.unit, "number")  # type: ignore[assignment]
        limits = {"min": measure.low, "max": measure.high}
    elif isinstance(value, tuple):
        if not all(isinstance(entry, float | int) for entry in value) or not value:
            raise DocumentError(
                "", f"“{path}” is a list; a parameter can drive a value in it, not the whole"
            )
        measure = _measure_at(part, path)
        kind, value = "length" if measure.unit == "px" else "number", value[0]
        limits = {"min": measure.low, "max": measure.high}
    else:
        kind = {"icon": "icon", "picture": "picture", "family": "font"}.get(name, "text")  # type: ignore[assignment]
    proposal = _proposed_name(control, part_id, path, condition)
    return Parameter(name=_free(control, proposal), type=kind, default=value, **limits)


def _measure_at(part: Any, path: str) -> Measure:
    """Unit and limits of the number at a path, which may lie in an outline of the part's own."""
    steps = [step for step in path.split(".") if not step.isdigit()]
    for step in steps[:-1]:
        part = getattr(part, step)
    if steps[-1] in Area.model_fields and path.endswith(".0"):
        return Measure("", -4, 4, 0.01, 3)  # a share of the control's size
    return measure_of(type(part), steps[-1])


def _proposed_name(control: Control, part_id: str, path: str, condition: str) -> str:
    """A layer's main colour is called as the layer; anything else says which value it is."""
    steps = [step for step in path.replace("-", "_").split(".") if not step.isdigit()]
    number = next((f"{int(step) + 1}" for step in path.split(".") if step.isdigit()), "")
    part = "" if part_id == OUTLINE else part_id.replace("-", "_")
    value = "" if steps[-1] in ("colour", "stops") and part else steps[-1]
    name_parts = [part, value, number if "stops" in steps else ""]
    if condition != REST:
        name_parts.append(condition.replace("+", "_"))
    return "_".join(word for word in name_parts if word)[:36] or "value"


def _free(control: Control, name: str) -> str:
    taken = {parameter.name for parameter in control.parameters} | (TAKEN - {"text"})
    base, count = name, 2
    if name in TAKEN and name != "text":
        base = f"{name}_value"
    candidate = base
    while candidate in taken:
        candidate, count = f"{base}_{count}", count + 1
    return candidate


def set_variations(kit: Kit, control_id: str, variations: tuple[Variation, ...]) -> Kit:
    return replace_control(kit, control_with(kit.control(control_id), variations=variations))


def set_argument(kit: Kit, control_id: str, at: int, name: str, value: Any) -> Kit:
    """One argument of one variation; None lets the default hold again. ``text`` is its text."""
    control = kit.control(control_id)
    variation = control.variations[at]
    if name == "text":
        changed = Variation(name=variation.name, arguments=variation.arguments, text=value)
    else:
        arguments = {k: v for k, v in variation.arguments.items() if k != name}
        if value is not None:
            arguments[name] = value
        changed = Variation(name=variation.name, arguments=arguments, text=variation.text)
    new = (*control.variations[:at], changed, *control.variations[at + 1 :])
    return set_variations(kit, control_id, new)
