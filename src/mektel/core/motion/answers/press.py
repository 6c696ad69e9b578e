"""The press: the whole control gives way under the hand, and comes back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from mektel.core.kit.answers import Press
from mektel.core.motion.answers.frame import Frame, Touch
from mektel.core.motion.course import Course, course_to

AT_REST = (1.0, 0.0)


def _course(answer: Press, touches: Sequence[Touch]) -> Course | None:
    """The course of scale and sink after all touches so far."""
    course: Course | None = None
    for touch in touches:
        begun = course_to((answer.scale, answer.sink), touch.began, answer.timing, AT_REST, course)
        course = begun
        if touch.ended is not None:
            from_where = begun.at(touch.ended)
            course = course_to(AT_REST, touch.ended, answer.timing, from_where, begun)
    return course


def ends(answer: Press, touches: Sequence[Touch]) -> float:
    course = _course(answer, touches)
    return course.ends if course is not None else 0.0


def play(answer: Press, touches: Sequence[Touch], moment: float, frame: Frame) -> Frame:
    known = [replace(touch, ended=None if touch.ended is None or touch.ended > moment
                     else touch.ended) for touch in touches if touch.began <= moment]
    course = _course(answer, known)
    if course is None:
        return frame
    scale, sink = course.at(moment)
    if (scale, sink) == AT_REST:
        return frame
    (width, height), scale = frame.size, max(0.01, scale)
    matrix = (scale, 0.0, 0.0, scale, width / 2 * (1 - scale), height / 2 * (1 - scale) + sink)
    return replace(frame, matrix=matrix)
