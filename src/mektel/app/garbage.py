"""When Python looks for garbage that only cycles of references keep, and memory is given back.

A look through every object stops all threads for up to half a second, and Python starts one in the
middle of an edit. Here a pause of the user frees what is new garbage; what came since is looked
through when no edit comes for a while, and all objects once the window is left for another, or when
they have become many.
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
# All is looked through in an absence, too, once so many times as many objects were passed over.
GROWN = 1.6
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
        self._absence.timeout.connect(self._absent)
        # Long use without a pause, or without an edit, leaves freed memory as well.
        self._worked = time.process_time()
        self._regular = QTimer(self, interval=REGULARLY)
        self._regular.timeout.connect(self._after_work)
        self._regular.start()
        self.collect_all()
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

    def collect(self) -> None:
        """Frees what is garbage among what is new."""
        gc.collect(1)
        self._forget()

    def collect_all(self) -> None:
        """Frees all that is garbage; what outlives that is passed over from now on."""
        gc.unfreeze()
        gc.collect()
        gc.freeze()
        self._passed_over = gc.get_freeze_count()
        self._forget()

    def _absent(self) -> None:
        if gc.get_freeze_count() > GROWN * self._passed_over:
            self.collect_all()
            return
        gc.collect()
        gc.freeze()
        self._forget()

    def _forget(self) -> None:
        forget_scratch()
        # The source of every module that was imported: Qt's binding looks into each, once.
        linecache.clearcache()
        _give_back()

    def _turned(self, state: Qt.ApplicationState) -> None:
        if state is not Qt.ApplicationState.ApplicationActive:
            self.collect_all()


def _give_back() -> None:
    """Has the C library give the system what it keeps of freed memory: worker threads that are
    done with large pictures leave much.
    """
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is not None:
        trim(0)
