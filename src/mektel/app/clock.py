"""The time of a timeline: it can go slower than the clock on the wall."""

from __future__ import annotations

import time

SPEEDS = {"1/10": 0.1, "1/4": 0.25, "1/2": 0.5, "real speed": 1.0}


class Clock:
    """Seconds since it was made, at a ``speed`` that can be changed on the way."""

    def __init__(self) -> None:
        self._since, self._before, self._speed = time.monotonic(), 0.0, 1.0

    def now(self) -> float:
        return self._before + (time.monotonic() - self._since) * self._speed

    @property
    def speed(self) -> float:
        return self._speed

    @speed.setter
    def speed(self, speed: float) -> None:
        self._before = self.now()
        self._since, self._speed = time.monotonic(), speed
