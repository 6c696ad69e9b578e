"""Edits of how values move: of a control, of a part, of one value, in what a state arrives at."""

from __future__ import annotations

from mektel.core.kit.answers import Answer, Swing
from mektel.core.kit.control import ALL, CONTROL
from mektel.core.kit.document import Kit
from mektel.core.kit.edit import control_with, replace_control
from mektel.core.kit.timing import Timing


def set_timing(
    kit: Kit, control_id: str, condition: str, timing: Timing | None, part_id: str = CONTROL,
    name: str = ALL,
) -> Kit:
    """Gives what is arrived at in a condition (or ``rest``) a timing; None takes it away."""
    control = kit.control(control_id)
    timings = {key: {part: dict(by_name) for part, by_name in parts.items()}
               for key, parts in control.timings.items()}
    by_name = timings.setdefault(condition, {}).setdefault(part_id, {})
    if timing is None:
        by_name.pop(name, None)
    else:
        by_name[name] = timing
    return replace_control(kit, control_with(control, timings=timings))


def set_answers(kit: Kit, control_id: str, answers: tuple[Answer, ...]) -> Kit:
    """Gives a control these answers to touch, and no others."""
    return replace_control(kit, control_with(kit.control(control_id), answers=answers))


def set_swings(kit: Kit, control_id: str, swings: tuple[Swing, ...]) -> Kit:
    """Gives a control this endless motion, and no other."""
    return replace_control(kit, control_with(kit.control(control_id), swings=swings))
