"""Damped springs and followers in closed form: displacement and speed at any moment.

A spring is the damped harmonic oscillator x″ + 2ζω·x′ + ω²·x = 0. ``bounce`` is how far it passes
its goal as a share of the way when it starts at rest, exp(−πζ / √(1 − ζ²)) (the overshoot of a
second-order step response, e.g. Ogata, Modern Control Engineering, 5-3); ``settles`` is when its
envelope has come down to 1 %.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

SETTLED = 0.01
# ωt at which a critically damped spring is within SETTLED: (1 + ωt)·e^(−ωt) = 0.01.
CRITICAL = 6.638352067993813


@dataclass(frozen=True)
class Spring:
    damping: float
    frequency: float

    def at(self, elapsed: float, displacement: float, speed: float) -> tuple[float, float]:
        """Displacement from the goal and its speed, ``elapsed`` seconds after the given ones.

        >>> x, v = spring_of(0.25, 0.4).at(10.0, 1.0, 0.0)
        >>> abs(x) < 1e-9 and abs(v) < 1e-9
        True
        """
        zeta, omega = self.damping, self.frequency
        fade = math.exp(-zeta * omega * elapsed)
        if zeta >= 1:
            rise = speed + omega * displacement
            return (fade * (displacement + rise * elapsed),
                    fade * (speed - omega * rise * elapsed))
        turning = omega * math.sqrt(1 - zeta * zeta)
        side = (speed + zeta * omega * displacement) / turning
        cos, sin = math.cos(turning * elapsed), math.sin(turning * elapsed)
        return (fade * (displacement * cos + side * sin),
                fade * (speed * cos - (zeta * omega * side + turning * displacement) * sin))

    def calm(self, displacement: float, speed: float, least: float) -> float:
        """After how many seconds it stays within ``least`` of the goal (an upper bound)."""
        zeta, omega = self.damping, self.frequency
        if zeta >= 1:
            # (a + b·t)·e^(−ωt) ≤ (a + 2b/ω)·e^(−ωt/2)
            size = abs(displacement) + 2 * abs(speed + omega * displacement) / omega
            return 2 * max(0.0, math.log(max(size, 1e-30) / least)) / omega
        turning = omega * math.sqrt(1 - zeta * zeta)
        size = math.hypot(displacement, (speed + zeta * omega * displacement) / turning)
        return max(0.0, math.log(max(size, 1e-30) / least)) / (zeta * omega)


@lru_cache(maxsize=256)
def spring_of(bounce: float, settles: float) -> Spring:
    """The spring that overshoots by ``bounce`` (0 to 0.9) and has settled after so many seconds."""
    settles = max(settles, 1e-3)
    if bounce < 1e-3:
        return Spring(1.0, CRITICAL / settles)
    swing = -math.log(bounce)
    damping = swing / math.hypot(math.pi, swing)
    envelope = math.log(1 / (SETTLED * math.sqrt(1 - damping * damping)))
    return Spring(damping, envelope / (damping * settles))


def following(settles: float) -> float:
    """The rate 1/s at which a follower closes 99 % of a gap in so many seconds."""
    return math.log(1 / SETTLED) / max(settles, 1e-3)
