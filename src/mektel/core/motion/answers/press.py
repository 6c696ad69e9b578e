"""The press: the whole control gives way under the hand, and comes back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import zip_longest

from mektel.core.kit.answers import Press
from mektel.core.kit.timing import Timing
from mektel.core.motion.answers.frame import Frame, Hand, Touch
from mektel.core.motion.course import Course, Vector, course_to


def pressed_course(
    pressed: Vector, rest: Vector, timing: Timing, touches: Sequence[Touch],
    moment: float = float("inf"),
) -> Course | None:
    """The course of values that are ``pressed`` while it is touched, as known at a moment (s)."""
    course: Course | None = None
    for touch, following in zip_longest(touches, touches[1:]):
        if touch.began > moment:
            break
        start = course.at(touch.began) if course is not None else rest
        begun = course_to(pressed, touch.began, timing, start, course)
        course = begun
        # One that began before this one was let go goes on.
        goes_on = following is not None and following.began < (touch.ended or moment)
        if touch.ended is not None and touch.ended <= moment and not goes_on:
            from_where = begun.at(touch.ended)
            course = course_to(rest, touch.ended, timing, from_where, begun)
    return course


def ends(answer: Press, hand: Hand) -> float:
    course = pressed_course((answer.scale, answer.sink), (1.0, 0.0), answer.timing, hand.touches)
    return course.ends if course is not None else 0.0


def play(answer: Press, hand: Hand, moment: float, frame: Frame) -> Frame:
    course = pressed_course(
        (answer.scale, answer.sink), (1.0, 0.0), answer.timing, hand.touches, moment)
    if course is None:
        return frame
    scale, sink = course.at(moment)
    return replace(frame.shifted(0.0, sink), scale=frame.scale * scale)
