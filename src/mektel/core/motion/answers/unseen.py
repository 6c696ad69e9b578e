"""Answers that are not drawn on the control: sounds are heard, an iris covers the screen."""

from __future__ import annotations

from mektel.core.kit.answers import Iris, Sound
from mektel.core.motion.answers.frame import Frame, Hand


def ends(_answer: Sound | Iris, _hand: Hand) -> float:
    return 0.0


def play(_answer: Sound | Iris, _hand: Hand, _moment: float, frame: Frame) -> Frame:
    return frame
