"""Twist and shake: kicked out of its place, a control springs back."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from mektel.core.kit.answers import Shake, Twist
from mektel.core.motion.answers.frame import Cue, Frame, Hand
from mektel.core.motion.course import LEAST
from mektel.core.motion.spring import spring_of


def blow(bounce: float, seconds: float) -> float:
    """The speed (1/s) at which a spring at its goal first comes as far as 1.

    x(t) = v/ω_d · e^(−ζωt) · sin ω_d·t is greatest where tan ω_d·t = ω_d / ζω.
    """
    spring = spring_of(bounce, seconds)
    zeta, omega = spring.damping, spring.frequency
    if zeta >= 1:
        return omega * math.e
    return omega * math.exp(zeta / math.sqrt(1 - zeta * zeta) * math.acos(zeta))


def swung(answer: Twist | Shake, cues: Sequence[Cue], moment: float) -> float:
    """How far it is out of its place, as a share of how far it comes at the most."""
    spring, speed = spring_of(answer.bounce, answer.seconds), blow(answer.bounce, answer.seconds)
    return sum(spring.at(moment - cue.at, 0.0, speed)[0] for cue in cues
               if cue.cause == answer.cause and cue.at <= moment < _still(answer, cue))


def _still(answer: Twist | Shake, cue: Cue) -> float:
    speed = blow(answer.bounce, answer.seconds)
    return cue.at + spring_of(answer.bounce, answer.seconds).calm(0.0, speed, LEAST)


def ends(answer: Twist | Shake, hand: Hand) -> float:
    return max((_still(answer, cue) for cue in hand.cues if cue.cause == answer.cause),
               default=0.0)


def play(answer: Twist | Shake, hand: Hand, moment: float, frame: Frame) -> Frame:
    share = swung(answer, hand.cues, moment)
    if isinstance(answer, Twist):
        return replace(frame, turn=frame.turn + share * answer.degrees)
    return frame.shifted(share * answer.distance, 0.0)
