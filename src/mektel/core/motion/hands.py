"""What the hand does, as answers have it: touches, cues, and where followers of the pointer are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from mektel.core.behaviour import Event, Situation
from mektel.core.kit.answers import Answer
from mektel.core.kit.timing import Timing
from mektel.core.motion.answers.frame import MIDDLE, Cue, Hand, Touch
from mektel.core.motion.course import Course, course_to

# Presses, and causes of other answers, that may be answered at once.
MOST_TOUCHES = 6
MOST_CUES = 12
CAUSES = {"entered": "enter", "pressed": "press", "released": "release", "toggled": "check"}


def causes(situations: tuple[Situation, Situation], event: Event, signals: Sequence[str]
           ) -> list[str]:
    """What an event that led from a situation to another gives cause to."""
    before, after = situations
    due = [CAUSES[signal] for signal in signals if signal in CAUSES]
    tried = (event.kind == "press" and event.inside) or (
        event.kind == "key-down" and before.focused and not event.repeat)
    if tried and (before.disabled or before.busy):
        due.append("refuse")
    if before.busy and not after.busy:
        due.append("done")
    return due


def handled(answers: Sequence[Answer], hand: Hand, event: Event,
            situations: tuple[Situation, Situation], signals: Sequence[str]) -> Hand:
    """The hand after an event."""
    touches, cues = hand.touches, hand.cues
    for cause in causes(situations, event, signals):
        cues = (*cues, Cue(cause, event.at))[-MOST_CUES:]
        if cause == "press":
            touches = (*touches, Touch(event.at, event.place or MIDDLE))[-MOST_TOUCHES:]
    if not situations[1].is_down:
        touches = tuple(replace(touch, ended=event.at) if touch.ended is None else touch
                        for touch in touches)
    followers = hand.followers
    left = situations[0].inside and not situations[1].inside
    if (event.place is not None and event.kind in ("move", "press")) or left:
        followers = _followed(answers, followers, event, situations[1].inside)
    return Hand(touches, cues, followers)


def _followed(answers: Sequence[Answer], followers: Mapping[Timing, Course], event: Event,
              inside: bool) -> Mapping[Timing, Course]:
    made = dict(followers)
    timings: set[Any] = {answer.timing for answer in answers if answer.kind in ("lean", "follow")}
    for timing in timings:
        before = made.get(timing)
        now = before.at(event.at) if before is not None else (*MIDDLE, 0.0)
        if inside:
            x, y = event.place or MIDDLE
            # What comes in begins where it comes in.
            start = now if now[2] > 0 else (x, y, 0.0)
            goal = (x, y, 1.0)
        else:
            start, goal = now, (now[0], now[1], 0.0)
        running = before if before is not None and now[2] > 0 else None
        made[timing] = course_to(goal, event.at, timing, start, running)
    return made
