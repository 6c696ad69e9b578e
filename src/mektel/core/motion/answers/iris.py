"""The iris: a disc that grows from a control over its whole screen, and clears."""

from __future__ import annotations

import math

from mektel.core.easing import easing_from_text
from mektel.core.kit.answers import Iris
from mektel.core.motion.answers.frame import Frame, Hand

# Seconds in which it clears once the screen is covered.
CLEARS = 0.25


def ends(answer: Iris, hand: Hand) -> float:
    return max((cue.at + answer.seconds + CLEARS for cue in hand.cues if cue.cause == "done"),
               default=0.0)


def play(_answer: Iris, _hand: Hand, _moment: float, frame: Frame) -> Frame:
    return frame  # it lies over the screen, not on the control


def opened(answer: Iris, hand: Hand, moment: float, box: tuple[float, float, float, float],
           screen: tuple[float, float]) -> tuple[float, float] | None:
    """Radius (px) and opacity of the iris of a control whose ``box`` (x, y, width, height, px) lies
    in a ``screen`` (width, height); None while there is none.

    It begins as the largest circle in the box, and ends 1 px past the farthest corner.
    """
    begun = max((cue.at for cue in hand.cues if cue.cause == "done" and cue.at <= moment),
                default=None)
    if begun is None or moment >= begun + answer.seconds + CLEARS:
        return None
    x, y, width, height = box
    middle = x + width / 2, y + height / 2
    far = max(math.hypot(middle[0] - a, middle[1] - b) for a in (0, screen[0])
              for b in (0, screen[1])) + 1
    least = min(width, height) / 2
    elapsed = moment - begun
    share = min(1.0, elapsed / max(answer.seconds, 1e-3))
    grown = least + (far - least) * max(0.0, easing_from_text(answer.easing).at(share))
    return grown, 1 - max(0.0, elapsed - answer.seconds) / CLEARS
