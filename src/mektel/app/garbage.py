"""When Python looks for garbage that only cycles of references keep.

A look through every object stops all threads for up to half a second, and Python starts one in the
middle of an edit. Here it waits for a pause of the user, and passes over what outlived the last.
"""

from __future__ import annotations

import gc

from PySide6.QtCore import QObject, Qt, QTimer
from PySide6.QtGui import QGuiApplication

# Of the oldest objects Python takes care by itself only if no pause came in so many rounds.
ROUNDS_WITHOUT_A_PAUSE = 2000
# Milliseconds without an edit that count as a pause.
PAUSE = 1500
# Garbage may be among what is passed over: beyond so many objects all is looked through once.
MOST_PASSED_OVER = 250_000


class GarbageCollection(QObject):
    """Collects when the user pauses; all of it when they have turned to another application."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        young, middle, _ = gc.get_threshold()
        gc.set_threshold(young, middle, ROUNDS_WITHOUT_A_PAUSE)
        self._pause = QTimer(self, singleShot=True, interval=PAUSE)
        self._pause.timeout.connect(self.collect)
        self._looked_through = 0
        self.collect(everything=True)
        application = QGuiApplication.instance()
        if isinstance(application, QGuiApplication):
            application.applicationStateChanged.connect(self._turned)

    def edited(self) -> None:
        """An edit: the next pause is yet to come."""
        self._pause.start()

    def collect(self, everything: bool = False) -> None:
        """Frees what is garbage among what is new, or among ``everything``."""
        everything |= gc.get_freeze_count() - self._looked_through > MOST_PASSED_OVER
        if everything:
            gc.unfreeze()
        gc.collect()
        gc.freeze()
        if everything:
            self._looked_through = gc.get_freeze_count()

    def _turned(self, state: Qt.ApplicationState) -> None:
        if state is not Qt.ApplicationState.ApplicationActive:
            self.collect(everything=True)
