"""Work spread over turns of the event loop, so that what the user does meanwhile comes between."""

from __future__ import annotations

import time
from collections.abc import Callable, Hashable

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QWidget
from shiboken6 import isValid

# What one turn of the loop may spend on it, in seconds.
BUDGET = 0.008


class Turns(QObject):
    """Does what it is asked for one after the other, as much in a turn as its budget allows."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._waiting: dict[Hashable, Callable[[], object]] = {}
        self._turn = QTimer(self, singleShot=True, interval=0)
        self._turn.timeout.connect(self._work)

    def ask(self, key: Hashable, work: Callable[[], object]) -> None:
        """Has ``work`` done in one of the next turns; once, however often its key is given."""
        self._waiting[key] = work
        self._turn.start()

    def repaint(self, widget: QWidget) -> None:
        """Repaints a widget. By ``update`` Qt would paint all that wait for it in one go."""
        self.ask(widget, lambda: isValid(widget) and widget.isVisible() and widget.repaint())

    def refresh(self, widget: QWidget, refresh: Callable[[], object]) -> None:
        """Has a widget take over what has changed, if it is still there."""
        self.ask((widget, "refresh"), lambda: isValid(widget) and refresh())

    def _work(self) -> None:
        until = time.perf_counter() + BUDGET
        while self._waiting and time.perf_counter() < until:
            self._waiting.pop(next(iter(self._waiting)))()
        if self._waiting:
            self._turn.start()

    @property
    def busy(self) -> bool:
        return bool(self._waiting)
