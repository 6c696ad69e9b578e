"""Work spread over turns of the event loop, so that what the user does meanwhile comes between."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable, Hashable
from typing import TypeVar

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QWidget
from shiboken6 import isValid

Key = TypeVar("Key")
# What one turn of the loop may spend on it, in seconds.
BUDGET = 0.008
# Other work of this thread since, in seconds, after which one turn is left to what else waits.
OTHER_WORK = 0.025
# Milliseconds before spare time is made use of, and between pieces of work done in it; seconds that
# one waits for it at most.
PAUSE, BREATH, PATIENCE = 400, 15, 1.0


class Turns(QObject):
    """Does what it is asked for one after the other, as much in a turn as its budget allows."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._waiting: dict[Hashable, Callable[[], object]] = {}
        self._turn = QTimer(self, singleShot=True, interval=0)
        self._turn.timeout.connect(self._work)
        self._worked, self._left_out = time.thread_time(), False
        # Whether work of a turn is under way.
        self.working = False

    def ask(self, key: Hashable, work: Callable[[], object]) -> None:
        """Has ``work`` done in one of the next turns; once, however often its key is given."""
        self._waiting[key] = work
        self._turn.start()

    def drop(self, kind: type[Key]) -> list[Key]:
        """Forgets what waits under keys of this kind; gives these keys."""
        dropped = [key for key in self._waiting if isinstance(key, kind)]
        for key in dropped:
            del self._waiting[key]
        return dropped

    def repaint(self, widget: QWidget) -> None:
        """Repaints a widget. By ``update`` Qt would paint all that wait for it in one go."""
        self.ask(widget, lambda: isValid(widget) and widget.isVisible() and widget.repaint())

    def refresh(self, widget: QWidget, refresh: Callable[[], object]) -> None:
        """Has a widget take over what has changed, if it is still there."""
        self.ask((widget, "refresh"), lambda: isValid(widget) and refresh())

    def _work(self) -> None:
        until = time.perf_counter() + BUDGET
        busy = time.thread_time() - self._worked > OTHER_WORK
        self._left_out = busy and not self._left_out
        self.working = True
        try:
            while self._waiting and not self._left_out and time.perf_counter() < until:
                self._waiting.pop(next(iter(self._waiting)))()
        finally:
            # A piece that fails is reported; the others go on.
            self.working = False
            self._worked = time.thread_time()
            if self._waiting:
                self._turn.start()

    @property
    def busy(self) -> bool:
        return bool(self._waiting)


class SpareTime(QObject):
    """Does what will be needed later, a piece at a time, while nothing is needed now."""

    def __init__(self, is_busy: Callable[[], bool], parent: QObject) -> None:
        super().__init__(parent)
        self._is_busy = is_busy
        self._waiting: deque[Callable[[], object]] = deque()
        self._last = 0.0
        self._breath = QTimer(self, singleShot=True)
        self._breath.timeout.connect(self._work)

    def ask(self, work: Callable[[], object], first: bool = False) -> None:
        """Has ``work`` done after what waits already, or before it."""
        if not self._breath.isActive():
            self._last = time.monotonic() + PAUSE / 1000
            self._breath.start(PAUSE)
        (self._waiting.appendleft if first else self._waiting.append)(work)

    def _work(self) -> None:
        try:
            if not self._is_busy() or time.monotonic() - self._last > PATIENCE:
                self._last = time.monotonic()
                self._waiting.popleft()()
        finally:
            if self._waiting:
                self._breath.start(BREATH)
