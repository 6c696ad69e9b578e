"""Work beside the interface thread whose result is shown when it is there, if still wanted."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal, Slot
from shiboken6 import isValid

from mektel.app.faults import faults


class _Sender(QObject):
    done = Signal(str, int, object, object)


class _Task(QRunnable):
    def __init__(self, slot: str, number: int, make: Callable[[], Any], sender: _Sender) -> None:
        super().__init__()
        self.slot, self.number, self.make, self.sender = slot, number, make, sender

    def run(self) -> None:
        result, fault = None, None
        try:
            result = self.make()
        except Exception as error:
            fault = error
        self.sender.done.emit(self.slot, self.number, result, fault)


class Background(QObject):
    """One thread. Of several asks for the same slot only the last is answered."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._sender = _Sender()
        self._sender.done.connect(self._take)
        self._asked: dict[str, tuple[int, Callable[[Any], None], _Task]] = {}
        self._count = 0
        self._stopped = False

    def ask(self, slot: str, make: Callable[[], Any], take: Callable[[Any], None]) -> None:
        """Runs ``make`` in the thread; ``take`` gets its result in this one."""
        if self._stopped:
            return
        self._count += 1
        if slot in self._asked:
            self._pool.tryTake(self._asked[slot][2])
        task = _Task(slot, self._count, make, self._sender)
        task.setAutoDelete(False)
        self._asked[slot] = (self._count, take, task)
        self._pool.start(task)

    @Slot(str, int, object, object)
    def _take(self, slot: str, number: int, result: Any, fault: BaseException | None) -> None:
        asked = self._asked.get(slot)
        if asked is None or asked[0] != number:
            return
        del self._asked[slot]
        owner = getattr(asked[1], "__self__", None)
        if isinstance(owner, QObject) and not isValid(owner):
            return  # whoever asked is gone
        if fault is not None:
            faults().report(fault)
        else:
            asked[1](result)

    @property
    def busy(self) -> bool:
        return bool(self._asked)

    def stop(self) -> None:
        """Ends all work for good. Qt waits for a busy pool with the interpreter's lock held, which
        its task may be waiting for: it must be idle, and stay so, before it is taken down."""
        self._stopped = True
        self._asked.clear()
        self._pool.clear()
        self._pool.waitForDone()
