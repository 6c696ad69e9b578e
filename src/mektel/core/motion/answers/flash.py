"""The flash: the face lights up at once, and the light fades."""

from __future__ import annotations

import math

from mektel.core.kit.answers import Flash
from mektel.core.look.pose import PosedLayer
from mektel.core.look.primitives import Disc
from mektel.core.motion.answers.frame import Frame, Hand


def ends(answer: Flash, hand: Hand) -> float:
    return max((cue.at + answer.seconds for cue in hand.cues if cue.cause == answer.cause),
               default=0.0)


def play(answer: Flash, hand: Hand, moment: float, frame: Frame) -> Frame:
    left = max((1 - (moment - cue.at) / max(answer.seconds, 1e-3) for cue in hand.cues
                if cue.cause == answer.cause and cue.at <= moment), default=0.0)
    if left <= 0:
        return frame
    width, height = frame.size
    return frame.on_face(PosedLayer(Disc(
        "flash", answer.colour, (width / 2, height / 2), math.hypot(width, height), left, True)))
