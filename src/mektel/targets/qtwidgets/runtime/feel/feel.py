"""How a control moves: what its design says of that, and what plays it."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from .answers import Answer, Answers, Swing
from .clock import clock, reduced_motion
from .motion import Motion, Timings
from .moving import Frame, Plan

if TYPE_CHECKING:
    from ..control import Control


@dataclass(frozen=True, eq=False)
class Feel:
    """What moves in a control: its values when states are arrived in, what a touch sets off, and
    what moves without end; ``content`` are the layers that stand above such answers.
    """

    timings: Timings = ()
    answers: tuple[Answer, ...] = ()
    swings: tuple[Swing, ...] = ()
    content: tuple[str, ...] = ()

    def __call__(self, control: Control) -> Player:
        return Player(control, self)


class Player:
    """Plays a feel in a control."""

    def __init__(self, control: Control, feel: Feel) -> None:
        self._control, self._feel = control, feel
        self._motion: Motion | None = None
        self._answers: Answers | None = None
        self._plans: dict[Hashable, Plan] = {}

    def begin(self) -> None:
        """It is shown."""
        if self._answers is None and (self._feel.answers or self._feel.swings):
            self._answers = Answers(self._control, self._feel.answers, self._feel.swings)

    def end(self) -> None:
        """It is hidden: when it is shown again, it is as it is then."""
        self._motion = None
        self._plans.clear()

    def is_calm(self) -> bool:
        """Whether what moves without end stands still."""
        return bool(self._feel.swings) and reduced_motion(self._control)

    def frame(self) -> Frame | None:
        """What is on its way, or is kept so by the hand; None while nothing is."""
        control, answers = self._control, self._answers
        if not self._feel.timings and answers is None:
            return None
        now, calm = clock().now(), reduced_motion(control)
        if self._motion is None or calm:
            self._motion = Motion(control, self._feel.timings)
        moves = self._motion.follow(now)
        if answers is not None and not calm:
            moves = answers.follow(frozenset(control.states()), now) or moves
        if not moves and (calm or answers is None or not answers.holds):
            self._plans.clear()
            return None
        if moves:
            clock().watch(control)
        box = control.box()
        frame = Frame(
            self._motion.values(now), (box.width(), box.height()), self._feel.content,
            self._plans)
        if answers is not None and not calm:
            answers.play(frame, now)
        return frame
