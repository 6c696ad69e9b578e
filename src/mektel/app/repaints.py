"""Repainting many widgets without holding the interface thread up."""

from __future__ import annotations

import time

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QWidget
from shiboken6 import isValid

# What one turn of the loop may spend on repaints, in seconds.
BUDGET = 0.012


class Repaints(QObject):
    """Repaints widgets one after the other, as many in a turn of the loop as its budget allows.

    ``update`` would have Qt paint all of them in one go.
    """

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._waiting: dict[QWidget, None] = {}
        self._turn = QTimer(self, singleShot=True, interval=0)
        self._turn.timeout.connect(self._repaint)

    def ask(self, widget: QWidget) -> None:
        self._waiting[widget] = None
        self._turn.start()

    def _repaint(self) -> None:
        until = time.perf_counter() + BUDGET
        while self._waiting and time.perf_counter() < until:
            widget = next(iter(self._waiting))
            del self._waiting[widget]
            if isValid(widget) and widget.isVisible():
                widget.repaint()
        if self._waiting:
            self._turn.start()

    @property
    def busy(self) -> bool:
        return bool(self._waiting)
