"""The lift: a control rises under the hand, and its shadows follow from that."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from mektel.core.kit.answers import Lift
from mektel.core.motion.answers.frame import Frame, Hand
from mektel.core.motion.answers.press import pressed_course

# A shadow that falls from above moves and softens by these shares of the height.
DOWN, SOFTER = 0.5, 1.0


def ends(answer: Lift, hand: Hand) -> float:
    course = pressed_course((answer.height,), (0.0,), answer.timing, hand.touches)
    return course.ends if course is not None else 0.0


def play(answer: Lift, hand: Hand, moment: float, frame: Frame) -> Frame:
    course = pressed_course((answer.height,), (0.0,), answer.timing, hand.touches, moment)
    height = course.at(moment)[0] if course is not None else 0.0
    if not height:
        return frame
    return replace(frame, layers=tuple(
        replace(layer, values=layer.values.model_copy(update=cast(layer.values, height)))
        if layer.values.kind == "shadow" else layer for layer in frame.layers))


def cast(shadow: Any, height: float) -> dict[str, Any]:
    """Offset and blur (px) of a shadow of what has risen by ``height`` px."""
    x, y = shadow.offset
    return {"offset": (x, y + DOWN * height), "blur": max(0.0, shadow.blur + SOFTER * height)}
