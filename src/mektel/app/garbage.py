"""When Python looks for garbage that only cycles of references keep, and memory is given back.

A look through every object stops all threads for up to half a second, and Python starts one in the
middle of an edit. Here a pause of the user frees what is new garbage, and passes over what outlived
it; all objects are looked through when the user is away.
"""

from __future__ import annotations

import ctypes
import gc
import linecache
import threading
import time

from PySide6.QtCore import QObject, Qt, QTimer
from PySide6.QtGui import QGuiApplication

from mektel.core.paint import forget_scratch

# Of the oldest objects Python takes care by itself only if no pause came in so many rounds.
ROUNDS_WITHOUT_A_PAUSE = 2000
# Milliseconds without an edit that count as a pause, and as an absence.
PAUSE, ABSENCE = 800, 30_000
# Milliseconds after which freed memory is given back in any case, if the process has worked for so
# many seconds since.
REGULARLY, WORK = 10_000, 1.0


class GarbageCollection(QObject):
    """Collects when the user pauses; all of it when they have turned to something else."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        young, middle, _ = gc.get_threshold()
        gc.set_threshold(young, middle, ROUNDS_WITHOUT_A_PAUSE)
        self._pause = QTimer(self, singleShot=True, interval=PAUSE)
        self._pause.timeout.connect(self.collect)
        self._absence = QTimer(self, singleShot=True, interval=ABSENCE)
        self._absence.timeout.connect(lambda: self.collect(everything=True))
        # Long use without a pause, or without an edit, leaves freed memory as well.
        self._worked = time.process_time()
        self._regular = QTimer(self, interval=REGULARLY)
        self._regular.timeout.connect(self._after_work)
        self._regular.start()
        self.collect(everything=True)
        application = QGuiApplication.instance()
        if isinstance(application, QGuiApplication):
            application.applicationStateChanged.connect(self._turned)

    def edited(self) -> None:
        """An edit: the next pause is yet to come."""
        self._pause.start()
        self._absence.start()

    def _after_work(self) -> None:
        """Gives memory back, beside this thread, where there was work since."""
        worked = time.process_time()
        if worked - self._worked > WORK:
            self._worked = worked
            threading.Thread(target=_give_back, daemon=True, name="give back").start()

    def collect(self, everything: bool = False) -> None:
        """Frees what is garbage among what is new, or among ``everything``."""
        if everything:
            gc.unfreeze()
            gc.collect()
        else:
            gc.collect(1)
        gc.freeze()
        forget_scratch()
        # The source of every module that was imported: Qt's binding looks into each, once.
        linecache.clearcache()
        _give_back()

    def _turned(self, state: Qt.ApplicationState) -> None:
        if state is not Qt.ApplicationState.ApplicationActive:
            self.collect(everything=True)


def _give_back() -> None:
    """Has the C library give the system what it keeps of freed memory: worker threads that are
    done with large pictures leave much.
    """
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is not None:
        trim(0)
