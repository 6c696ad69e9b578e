"""Looks for widgets, resolved beside the interface thread and kept by value."""

from __future__ import annotations

import time
from collections.abc import Hashable, Iterable
from concurrent.futures import Future, ThreadPoolExecutor, wait
from dataclasses import dataclass
from typing import TypeAlias

import cachetools
from PySide6.QtCore import QObject, Qt, QTimer, Signal, Slot

from mektel.app.faults import faults
from mektel.core.kit import Control, Kit
from mektel.core.look import Look, Margins, resolve, shared_margins

# What one turn of the interface thread's loop waits for looks in all, in seconds.
PATIENCE = 0.012
MOST_KEPT = 256


@dataclass(frozen=True)
class Drawn:
    """What a widget draws of a control in a state: its look, and the margins of all its states."""

    look: Look
    margins: Margins


Key: TypeAlias = Hashable
Task: TypeAlias = "Future[Drawn]"


class Looks(QObject):
    """``get`` gives a look at once if it is there, or in a moment; if not, ``ready`` is sent.

    Most looks take a millisecond and are waited for, so that what is dragged follows the hand. One
    that takes long never holds the interface thread up.
    """

    ready = Signal()
    _done = Signal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._worker = ThreadPoolExecutor(1, thread_name_prefix="looks")
        # The kit and control are kept with what was made of them: their ids are the key.
        self._kept: cachetools.LRUCache[Key, tuple[Kit, Control, Drawn | None]] = (
            cachetools.LRUCache(MOST_KEPT))
        self._asked: dict[Key, tuple[Kit, Control, Task]] = {}
        self._patience = PATIENCE
        self._turn = QTimer(self, singleShot=True, interval=0)
        self._turn.timeout.connect(self._new_turn)
        self._later = QTimer(self, singleShot=True, interval=0)
        self._later.timeout.connect(self.ready)
        # Queued: what is done at once tells so in this thread.
        self._done.connect(self._take, Qt.ConnectionType.QueuedConnection)
        self._stopped = False

    def get(
        self, kit: Kit, control: Control, flags: Iterable[str] = (),
        size: tuple[float, float] | None = None,
    ) -> Drawn | None:
        """A control of ``kit`` in the states ``flags``, ``size`` (width, height) px large."""
        states = frozenset(flags)
        key = (id(kit), id(control), states, size)
        kept = self._kept.get(key)
        if kept is not None:
            return kept[2]
        if key not in self._asked:
            if self._stopped:
                return None
            task = self._worker.submit(
                lambda: Drawn(resolve(kit, control, states, size),
                              shared_margins(kit, control, size)))
            self._asked[key] = (kit, control, task)
            task.add_done_callback(lambda _task: self._done.emit(key))
        return self._wait(key)

    def _wait(self, key: Key) -> Drawn | None:
        task = self._asked[key][2]
        if self._patience > 0:
            began = time.perf_counter()
            wait([task], self._patience)
            self._patience -= time.perf_counter() - began
            self._turn.start()
        if task.done():
            self._keep(key)
            return self._kept[key][2]
        return None

    def _keep(self, key: Key) -> None:
        kit, control, task = self._asked.pop(key)
        error = task.exception()
        if error is not None:
            faults().report(error)
        self._kept[key] = (kit, control, None if error is not None else task.result())

    @Slot(object)
    def _take(self, key: Key) -> None:
        if key in self._asked:
            if not self._asked[key][2].cancelled():
                self._keep(key)
            self._later.start()

    def _new_turn(self) -> None:
        self._patience = PATIENCE

    def drop_waiting(self) -> None:
        """Forgets what nobody has begun to resolve: an edit has made it stale."""
        for key, (_, _, task) in list(self._asked.items()):
            if task.cancel():
                del self._asked[key]

    @property
    def busy(self) -> bool:
        return bool(self._asked)

    def stop(self) -> None:
        """Ends all work for good."""
        self._stopped = True
        self._worker.shutdown(cancel_futures=True)
        self._asked.clear()
