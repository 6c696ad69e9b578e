"""Answers to touch: one file for each kind, listed here.

A new one is a class of the document (``core/kit/answers.py``) and a player: ``ends`` says until
when it moves, ``play`` what it makes of a frame.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Protocol

from mektel.core.motion.answers import press, ripple
from mektel.core.motion.answers.frame import Frame, Touch

__all__ = ["PLAYERS", "Frame", "Touch", "answered", "answers_end"]


class Player(Protocol):
    def ends(self, answer: Any, touches: Sequence[Touch]) -> float:
        """The moment (s) from which on it does not move, as far as is known by now."""

    def play(self, answer: Any, touches: Sequence[Touch], moment: float, frame: Frame) -> Frame:
        """The frame with the answer in it at a moment."""


PLAYERS: dict[str, Player] = {"ripple": ripple, "press": press}


def answers_end(answers: Sequence[Any], touches: Sequence[Touch]) -> float:
    """The moment from which on no answer moves."""
    return max((PLAYERS[answer.kind].ends(answer, touches) for answer in answers), default=0.0)


def answered(answers: Sequence[Any], touches: Sequence[Touch], moment: float, frame: Frame
             ) -> Frame:
    """A frame with every answer to these touches in it."""
    for answer in answers:
        frame = PLAYERS[answer.kind].play(answer, touches, moment, frame)
    return frame
