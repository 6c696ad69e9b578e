"""Edits of how values move: of a control, of a part, of one value, in what a state arrives at."""

from __future__ import annotations

from mektel.core.kit.answers import Answer, Swing
from mektel.core.kit.control import ALL, CONTROL
from mektel.core.kit.document import Kit, with_palette_timings
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
    made = replace_control(kit, control_with(control, timings=timings))
    return with_palette_timings(made, made.controls)


def set_answers(kit: Kit, control_id: str, answers: tuple[Answer, ...]) -> Kit:
    """Gives a control these answers to touch, and no others."""
    return replace_control(kit, control_with(kit.control(control_id), answers=answers))


def set_swings(kit: Kit, control_id: str, swings: tuple[Swing, ...]) -> Kit:
    """Gives a control this endless motion, and no other."""
    return replace_control(kit, control_with(kit.control(control_id), swings=swings))


def lasting(answer: Answer) -> float:
    """Seconds that an answer takes to grow, or to settle; 0 for one that is only heard."""
    timing = getattr(answer, "timing", None)
    return float(timing.seconds if timing is not None else getattr(answer, "seconds", 0.0))


def stretch_answer(kit: Kit, control_id: str, at: int, seconds: float) -> Kit:
    """Gives one of a control's answers another length."""
    answers = kit.control(control_id).answers
    answer = answers[at]
    changes = ({"timing": answer.timing.model_copy(update={"seconds": seconds})}
               if hasattr(answer, "timing") else {"seconds": seconds})
    return set_answers(kit, control_id, (
        *answers[:at], answer.model_copy(update=changes), *answers[at + 1 :]))
