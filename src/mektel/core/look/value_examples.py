"""What a value does, shown: a look as it is, and with that value moved far enough to be seen."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal, get_args, get_origin

from pydantic import ValidationError

from mektel.core.errors import MektelError
from mektel.core.kit import Control, Kit, Measure, edit, measure_of
from mektel.core.kit.conditions import parse_flags
from mektel.core.kit.paths import changed_by, value_at
from mektel.core.look.look import Look, Margins
from mektel.core.look.resolve import resolve

# How far a number is moved by its unit; of px also the share of the control's shorter side.
FAR = {"%": 0.45, "°": 60.0}
LEAST_PX, SHARE_PX = 6.0, 0.25
# Values that are as many words as a picture: what they are called says it all.
PLAIN = ("visible", "text", "picture", "icon", "control", "variation", "path")


@dataclass(frozen=True)
class ValueExample:
    """The look as it is, that with the value ``moved``, and the room that both need."""

    value: Any
    moved: Any
    before: Look
    after: Look
    margins: Margins


def example_of(
    kit: Kit, control: Control, state: str, part_id: str, path: str
) -> ValueExample | None:
    """Two looks that differ in one value of a part in a state; None where that shows nothing.

    Formulas of the value are followed in the first and let go in the second.
    """
    try:
        part = control.part_in(part_id, parse_flags(state))
        value = value_at(part, path)
        before = resolve(kit, control, parse_flags(state))
        for moved in _others(part, path, value, min(control.size)):
            name = path.split(".")[0]
            changed = changed_by(part, path, moved)[name]
            other = edit.set_value(_free(kit, control, part_id, name), control.id, state, part_id,
                                   name, changed)
            after = resolve(other, other.control(control.id), parse_flags(state))
            if after != before:
                return ValueExample(
                    value, moved, before, after, before.margins().union(after.margins()))
    except (MektelError, ValidationError, AttributeError, LookupError, TypeError, ValueError):
        return None  # an example helps or is not there
    return None


def _free(kit: Kit, control: Control, part_id: str, name: str) -> Kit:
    """The kit without the formulas that would put the value back."""
    formulas = {
        condition: {part: {path: text for path, text in paths.items()
                           if part != part_id or path.split(".")[0] != name}
                    for part, paths in parts.items()}
        for condition, parts in control.formulas.items()}
    free = control.model_copy(update={"formulas": formulas, "base": None})
    return kit.model_copy(update={"controls": tuple(
        free if other.id == control.id else other for other in kit.controls)})


def _others(part: Any, path: str, value: Any, side: float) -> list[Any]:
    """Values to try, the most telling first."""
    owner, name = part, path.split(".")[-1]
    for step in path.split(".")[:-1]:
        owner = getattr(owner, step)
    if name in PLAIN or value is None or isinstance(value, bool):
        return []
    choices = _choices(type(owner).model_fields[name].annotation) if hasattr(owner, name) else []
    if choices or isinstance(value, str):
        return [choice for choice in choices if choice != value]
    measure = measure_of(type(owner), name)
    numbers = value if isinstance(value, tuple) else (value,)
    found = []
    for way in (1.0, -1.0):
        far = FAR.get(measure.unit) or (
            max(LEAST_PX, round(SHARE_PX * side)) if measure.unit == "px" else 0.6 * max(
                1.0, *(abs(number) for number in numbers)))
        moved = tuple(_within(measure, number + way * far) for number in numbers)
        if moved != numbers:
            found.append(moved if isinstance(value, tuple) else moved[0])
    return found


def _within(measure: Measure, number: float) -> float:
    return float(round(min(measure.high, max(measure.low, number)), measure.decimals))


def _choices(annotation: Any) -> list[Any]:
    if get_origin(annotation) is Literal:
        return list(get_args(annotation))
    return [choice for inner in get_args(annotation) for choice in _choices(inner)]
