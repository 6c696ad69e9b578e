"""Leaning: a control turns or tilts to the side that the pointer is on."""

from __future__ import annotations

from dataclasses import replace

from mektel.core.kit.answers import Lean
from mektel.core.motion.answers.frame import Frame, Hand


def ends(answer: Lean, hand: Hand) -> float:
    return hand.pointed(answer.timing)


def play(answer: Lean, hand: Hand, moment: float, frame: Frame) -> Frame:
    x, y, inside = hand.pointer(answer.timing, moment)
    across, down = ((2 * place - 1) * inside * answer.degrees for place in (x, y))
    if answer.by == "turn":
        return replace(frame, turn=frame.turn + across)
    return replace(frame, tilt=(frame.tilt[0] + down, frame.tilt[1] + across))
