"""Answers to touch and endless motion as shipped code has them, whatever its language."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import PurePosixPath
from typing import Any

from mektel.core.kit import REST
from mektel.core.kit.answers import Swing
from mektel.core.kit.control import CONTROL
from mektel.core.kit.moved_values import is_colour_path, measure_at
from mektel.core.motion.answers.frame import CONTENT
from mektel.core.motion.answers.lift import DOWN, SOFTER
from mektel.targets.base import LayerPlan, OutFile
from mektel.targets.sheet import Part, Sheet

__all__ = ["DOWN", "SOFTER", "answers_plan", "content_names", "limits_of", "moved_part",
           "sound_files"]

NATIVE = "native"
# Why a target does not play an answer, or a swing, or not all of it; empty where it does.
Reason = Callable[[Any], str]


def content_names(sheet: Sheet) -> tuple[str, ...]:
    """The layers that stand on the face, above what answers draw there."""
    return tuple(part.name for part in sheet.layers if not part.host and part.kind in CONTENT)


def limits_of(sheet: Sheet, swing: Swing) -> tuple[float, float] | None:
    """What the document limits a value that swings to; None for what has no limits."""
    if swing.part == CONTROL or is_colour_path(swing.value):
        return None
    measure = measure_at(sheet.part(swing.part).rest.values, swing.value)
    return measure.low, measure.high


def title_of(sheet: Sheet, entry: Any) -> str:
    """How plans name an answer or a swing."""
    if not isinstance(entry, Swing):
        return str(entry.kind).capitalize()
    where = "Control" if entry.part == CONTROL else sheet.part(entry.part).title
    when = "" if entry.during == REST else f" while {entry.during.replace('+', ' and ')}"
    return f"{where}, {entry.value} swings{when}"


def answers_plan(
    sheet: Sheet, reason: Reason, partly: Reason = lambda _entry: ""
) -> list[LayerPlan]:
    """One entry for each answer and swing: played, played in part, or lost; and why."""
    plans = []
    for entry in (*sheet.answers, *sheet.swings):
        lost, less = reason(entry), partly(entry)
        how = "lost" if lost else "partly" if less else NATIVE
        plans.append(LayerPlan(title_of(sheet, entry), how, lost or less))
    return plans


def sound_files(sheets: Iterable[Sheet]) -> list[OutFile]:
    """The sounds that these controls play, in a folder beside them."""
    sounds = {answer.sound: sheet.sound(answer.sound) for sheet in sheets
              for answer in sheet.answers if answer.kind == "sound"}
    return [OutFile(PurePosixPath("sounds") / f"{name}.wav", content)
            for name, content in sorted(sounds.items())]


def moved_part(sheet: Sheet, entry: Any) -> Part | None:
    """The part that an answer or a swing moves a value of; None for the whole control."""
    name = getattr(entry, "part", CONTROL)
    return None if name == CONTROL else sheet.part(name)

