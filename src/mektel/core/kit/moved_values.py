"""Which values endless motion and followers of the pointer may move."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from pydantic import BaseModel

from mektel.core.errors import NotFoundError
from mektel.core.kit.answers import WHOLE_VALUES, Follow, Swing
from mektel.core.kit.conditions import REST, checked_condition
from mektel.core.kit.layers import measure_of, value_names
from mektel.core.kit.paths import is_past_the_end, value_at
from mektel.core.kit.value_types import Measure

if TYPE_CHECKING:
    from mektel.core.kit.control import Control

WHOLE = "control"
PAIR = 2


def can_follow(part: Any, name: str) -> bool:
    """Whether a value of a layer is a place or a direction."""
    value = getattr(part, name, None) if name in value_names(part) else None
    if isinstance(value, tuple):
        numbers = all(isinstance(number, float | int) for number in value)
        return numbers and len(value) == PAIR and name not in ("scale", "reach", "pivot")
    try:
        return isinstance(value, float | int) and measure_of(type(part), name).unit == "°"
    except KeyError:
        return False  # a number that names something, or yes or no


def measure_at(part: Any, path: str) -> Measure:
    """Unit and limits of the number at a path; raises KeyError for what has none."""
    model, name, value = type(part), path, part
    for step in path.split("."):
        if isinstance(value, BaseModel):
            model, name = type(value), step
        value = value_at(value, step)
    return measure_of(model, name)


def can_swing(part: Any, path: str) -> bool:
    """Whether a value of a part is a number or a colour."""
    try:
        value = value_at(part, path)
    except NotFoundError:
        return False
    if path.split(".")[0] not in value_names(part) or isinstance(value, bool):
        return False
    if not isinstance(value, float | int):
        return is_colour_path(path)
    try:
        measure_at(part, path)
    except KeyError:
        return False  # a number that names something
    return True


def is_colour_path(path: str) -> bool:
    name = path.rsplit(".", 1)[-1]
    return name == "colour" or name.endswith("_colour")


def checked_answers(control: Control) -> tuple[Any, ...]:
    """The answers; raises ValueError for one that follows what a layer does not have."""
    for at, answer in enumerate(control.answers):
        if isinstance(answer, Follow):
            part = _layer(control, answer.part, f"answers[{at}]")
            if not can_follow(part, answer.value):
                raise ValueError(f"answers[{at}]: “{answer.part}” has no place or direction "
                                 f"“{answer.value}” that could follow the pointer")
    return control.answers


def checked_swings(control: Control) -> tuple[Swing, ...]:
    """The swings, but for those of stops and the like that are gone; raises ValueError for one
    that moves what there is not.
    """
    kept = []
    for at, swing in enumerate(control.swings):
        if swing.during != REST:
            checked_condition(swing.during)
        if swing.part == WHOLE:
            if swing.value not in WHOLE_VALUES:
                raise ValueError(f"swings[{at}]: the control has no “{swing.value}”; there is "
                                 f"{', '.join(WHOLE_VALUES)}")
        else:
            part = (control.outline if swing.part == "outline"
                    else _layer(control, swing.part, f"swings[{at}]"))
            if is_past_the_end(part, swing.value):
                continue
            if not can_swing(part, swing.value):
                raise ValueError(f"swings[{at}]: “{swing.part}” has no number or colour "
                                 f"“{swing.value}”")
        kept.append(swing)
    return tuple(kept)


def without_part(control: Control, part_id: str) -> dict[str, Any]:
    """The answers and swings that are left when a layer is gone."""
    return {"answers": tuple(answer for answer in control.answers
                             if getattr(answer, "part", None) != part_id),
            "swings": tuple(swing for swing in control.swings if swing.part != part_id)}


def _layer(control: Control, part_id: str, where: str) -> Any:
    for layer in control.layers:
        if layer.id == part_id:
            return layer
    raise ValueError(f"{where} is for “{part_id}”, which is not a layer")
