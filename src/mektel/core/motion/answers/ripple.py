"""The ripple: discs that grow from where a control was touched, and fade once let go."""

from __future__ import annotations

import math

from mektel.core.easing import easing_from_text
from mektel.core.kit.answers import Ripple
from mektel.core.look.pose import PosedLayer
from mektel.core.look.primitives import Disc
from mektel.core.motion.answers.frame import Frame, Hand


def ends(answer: Ripple, hand: Hand) -> float:
    return max((touch.began + answer.seconds if touch.ended is None
                else max(touch.ended, touch.began) + answer.fade for touch in hand.touches),
               default=0.0)


def play(answer: Ripple, hand: Hand, moment: float, frame: Frame) -> Frame:
    width, height = frame.size
    for at, touch in enumerate(hand.touches):
        elapsed = moment - touch.began
        left = 1.0
        if touch.ended is not None and moment > touch.ended:
            left = 1 - (moment - touch.ended) / answer.fade if answer.fade else 0.0
        if elapsed < 0 or left <= 0:
            continue
        share = min(1.0, elapsed / answer.seconds) if answer.seconds else 1.0
        grown = max(0.0, easing_from_text(answer.easing).at(share))
        place = touch.place if answer.origin == "touch" else (0.5, 0.5)
        x, y = place[0] * width, place[1] * height
        far = max(math.hypot(x - across, y - down) for across in (0, width) for down in (0, height))
        # It is on the face, and goes with it.
        right, down = getattr(frame.outline, "offset", (0.0, 0.0))
        if grown > 0:
            frame = frame.on_face(PosedLayer(Disc(
                f"ripple-{at}", answer.colour, (x + right, y + down), far * grown, left,
                answer.within)))
    return frame
