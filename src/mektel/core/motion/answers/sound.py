"""Sounds: heard, and not drawn."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from mektel.core.kit.answers import Sound
from mektel.core.motion.answers.frame import Frame, Hand


def ends(_answer: Sound, _hand: Hand) -> float:
    return 0.0


def play(_answer: Sound, _hand: Hand, _moment: float, frame: Frame) -> Frame:
    return frame


def sounds_due(answers: Sequence[object], causes: Iterable[str]) -> list[Sound]:
    """The sounds that are due to what happened."""
    happened = set(causes)
    return [answer for answer in answers
            if isinstance(answer, Sound) and answer.cause in happened]
