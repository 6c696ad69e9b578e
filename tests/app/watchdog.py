"""Finds what holds the interface thread up: how much of a processor each turn of its loop takes,
and where. Its own time is counted, so that other programs that are busy do not matter.
"""

from __future__ import annotations

import contextlib
import sys
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QTimer

BEAT = 0.004


class Watchdog:
    """While entered, ``held`` gathers (seconds, stack) of every pause longer than ``limit``."""

    def __init__(self, limit: float = 0.05) -> None:
        self.limit = limit
        self.held: list[tuple[float, str]] = []
        self._clock = time.pthread_getcpuclockid(threading.get_ident())
        self._beat = self._now()
        self._ended = threading.Event()
        self._excused = False
        self._main = threading.get_ident()
        # What is being done, for the stacks.
        self.doing = ""

    def __enter__(self) -> Watchdog:
        self._timer = QTimer(interval=2)
        self._timer.timeout.connect(self.take_beat)
        self._timer.start()
        self._thread = threading.Thread(target=self._watch, daemon=True)
        self._beat = self._now()
        self._thread.start()
        return self

    def _now(self) -> float:
        """Seconds that the interface thread has run."""
        return time.clock_gettime(self._clock)

    @contextlib.contextmanager
    def excused(self) -> Iterator[None]:
        """What the test itself does meanwhile is not the window's."""
        self._excused = True
        try:
            yield
        finally:
            self._beat = self._now()
            self._excused = False

    def take_beat(self) -> None:
        """The loop could have taken what the user does: a turn is over."""
        self._beat = self._now()

    def _watch(self) -> None:
        began, stack = 0.0, ""
        while not self._ended.wait(BEAT):
            if self._excused:
                continue
            late = self._now() - self._beat
            if late > self.limit and not stack:
                began, stack = self._beat, f"{self.doing}\n{self._stack()}".strip()
            elif late <= self.limit and stack:
                self.held.append((self._beat - began, stack))
                stack = ""

    def _stack(self) -> str:
        """Where the interface thread is. No frame is kept: it would keep a painter alive."""
        places, frame = [], sys._current_frames().get(self._main)
        while frame is not None and len(places) < 24:
            code = frame.f_code
            places.append((code.co_filename, frame.f_lineno, code.co_name))
            frame = frame.f_back
        del frame
        return "\n".join(f"{name} ({Path(file).name}:{line})" for file, line, name in places) or "?"

    def __exit__(
        self, _kind: type[BaseException] | None, _error: BaseException | None,
        _trace: TracebackType | None,
    ) -> None:
        self._ended.set()
        self._thread.join()
        self._timer.stop()

    @property
    def longest(self) -> tuple[float, str]:
        return max(self.held, default=(0.0, ""))
