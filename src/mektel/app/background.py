"""Work beside the interface thread whose result is shown when it is there, if still wanted."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any

from PySide6.QtCore import QObject, Qt, Signal, Slot
from shiboken6 import isValid

from mektel.app.faults import faults
from mektel.core.stopping import StoppedError, while_wanted


class Background(QObject):
    """One thread. Of several asks for the same slot only the last is answered."""

    _done = Signal(str, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._worker = ThreadPoolExecutor(1, thread_name_prefix="background")
        self._done.connect(self._take, Qt.ConnectionType.QueuedConnection)
        self._asked: dict[str, tuple[Future[Any], Callable[[Any], None]]] = {}
        self._latest: dict[str, object] = {}
        self._stopped = False

    def ask(self, slot: str, make: Callable[[], Any], take: Callable[[Any], None]) -> None:
        """Runs ``make`` in the thread; ``take`` gets its result in this one."""
        if self._stopped:
            return
        if slot in self._asked:
            self._asked[slot][0].cancel()
        self._latest[slot] = made_for = object()
        task = self._worker.submit(self._make, slot, made_for, make)
        self._asked[slot] = (task, take)
        task.add_done_callback(lambda task: self._done.emit(slot, task))

    def _make(self, slot: str, made_for: object, make: Callable[[], Any]) -> Any:
        """Gives up at the next longer step once it is asked anew, or the window is closed."""
        with while_wanted(lambda: not self._stopped and self._latest[slot] is made_for):
            return make()

    @Slot(str, object)
    def _take(self, slot: str, task: Future[Any]) -> None:
        if slot not in self._asked or self._asked[slot][0] is not task:
            return
        _, take = self._asked.pop(slot)
        owner = getattr(take, "__self__", None)
        if isinstance(owner, QObject) and not isValid(owner):
            return  # whoever asked is gone
        error = task.exception()
        if isinstance(error, StoppedError):
            return
        if error is not None:
            faults().report(error)
        else:
            take(task.result())

    @property
    def busy(self) -> bool:
        return bool(self._asked)

    def stop(self) -> None:
        """Ends all work for good, and waits for what is under way."""
        self._stopped = True
        self._asked.clear()
        self._worker.shutdown(cancel_futures=True)
