"""Answers to touch: one file for each kind, listed here.

A new one is a class of the document (``core/kit/answers.py``) and a player: ``ends`` says until
when it moves, ``play`` what it makes of a frame.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Protocol

from mektel.core.motion.answers import (
    flash,
    follow,
    iris,
    kick,
    lean,
    lift,
    press,
    ripple,
    sound,
)
from mektel.core.motion.answers.frame import Cue, Frame, Hand, Touch

__all__ = ["PLAYERS", "Cue", "Frame", "Hand", "Touch", "answered", "answers_end"]


class Player(Protocol):
    def ends(self, answer: Any, hand: Hand) -> float:
        """The moment (s) from which on it does not move, as far as is known by now."""

    def play(self, answer: Any, hand: Hand, moment: float, frame: Frame) -> Frame:
        """The frame with the answer in it at a moment."""


PLAYERS: dict[str, Player] = {
    "ripple": ripple, "press": press, "lift": lift, "twist": kick, "shake": kick, "lean": lean,
    "follow": follow, "flash": flash, "sound": sound, "iris": iris,
}


def answers_end(answers: Sequence[Any], hand: Hand) -> float:
    """The moment from which on no answer moves."""
    return max((PLAYERS[answer.kind].ends(answer, hand) for answer in answers), default=0.0)


def answered(answers: Sequence[Any], hand: Hand, moment: float, frame: Frame) -> Frame:
    """A frame with every answer to what the hand did in it."""
    for answer in answers:
        frame = PLAYERS[answer.kind].play(answer, hand, moment, frame)
    return frame
