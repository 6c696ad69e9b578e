"""The one place where a fault of the window itself ends: logged, reported, and the rest goes on.

An exception that leaves an event handler for Qt takes the painter it had with it, and that ends
the process. So every handler of every widget of ours is wrapped, once its class is there.
"""

from __future__ import annotations

import contextlib
import functools
import re
import sys
import threading
import time
import traceback
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from types import TracebackType
from typing import Any

from PySide6.QtCore import QObject, QSize, Signal

from mektel.core.errors import MektelError

# What Qt calls in a widget, an application or a thread, and what it gets where that fails.
CALLED_BY_QT = re.compile(r"\w+Event|event|eventFilter|sizeHint|minimumSizeHint|run|highlightBlock")
INSTEAD: dict[str, Callable[[], Any]] = {
    "event": lambda: False, "eventFilter": lambda: False,
    "sizeHint": lambda: QSize(24, 24), "minimumSizeHint": lambda: QSize(24, 24),
}
MARK = "_guarded"
LARGEST_LOG = 256 * 1024
# The same fault is reported again only after so many seconds: a paint may fail at every frame.
AGAIN = 30.0


class Faults(QObject):
    """What went wrong inside. ``reported`` has a text for the user, in the window's thread."""

    reported = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.log: Path | None = None
        # Where faults happened since the start; tests look here.
        self.places: list[str] = []
        self._last: dict[str, float] = {}

    def report(self, error: BaseException) -> None:
        """Logs a fault and tells of it. Never raises."""
        frames = traceback.extract_tb(error.__traceback__)
        place = f"{Path(frames[-1].filename).name}:{frames[-1].lineno}" if frames else "?"
        self.places.append(f"{place}: {type(error).__name__}: {error}")
        now = time.monotonic()
        if now - self._last.get(place, -AGAIN) < AGAIN:
            return
        self._last[place] = now
        with contextlib.suppress(Exception):
            self._write("".join(traceback.format_exception(error)))
        why = str(error) if isinstance(error, MektelError) else f"{type(error).__name__} at {place}"
        log = f" The details are in {self.log}." if self.log else ""
        with contextlib.suppress(RuntimeError):  # when all is being taken down
            self.reported.emit(f"Something could not be shown or done: {why} Your work is kept; "
                           f"undo what you did last, or save it under another name.{log}")

    def _write(self, text: str) -> None:
        if self.log is None:
            return
        self.log.parent.mkdir(parents=True, exist_ok=True)
        if self.log.exists() and self.log.stat().st_size > LARGEST_LOG:
            self.log.replace(self.log.with_suffix(".old"))
        with self.log.open("a", encoding="utf-8") as file:
            file.write(f"{datetime.now():%Y-%m-%d %H:%M:%S}\n{text}\n")


@functools.lru_cache(maxsize=1)
def faults() -> Faults:
    return Faults()


def guard() -> None:
    """Wraps what Qt calls in every class of ours that is there by now; cheap to call again."""
    todo: list[type] = [QObject]
    while todo:
        kinds: list[type] = todo.pop().__subclasses__()
        for kind in kinds:
            todo.append(kind)
            if kind.__module__.startswith("mektel.app.") and MARK not in vars(kind):
                for name, method in list(vars(kind).items()):
                    if callable(method) and CALLED_BY_QT.fullmatch(name):
                        setattr(kind, name, _guarded(name, method))
                setattr(kind, MARK, True)


def _guarded(name: str, method: Callable[..., Any]) -> Callable[..., Any]:
    @functools.wraps(method)
    def call(*arguments: Any) -> Any:
        try:
            return method(*arguments)
        except Exception as error:
            faults().report(error)
            _let_go(error)
            return INSTEAD.get(name, lambda: None)()

    return call


def _let_go(error: BaseException | None) -> None:
    """Drops what the frames of a fault and of what led to it hold: a painter must end before Qt
    goes on, not when the fault is forgotten.
    """
    while error is not None:
        traceback.clear_frames(error.__traceback__)
        error = error.__context__


def install(log: Path) -> None:
    """Takes every fault that nobody else has caught, of slots and threads as well."""
    faults().log = log

    def take(
        kind: type[BaseException], error: BaseException | None, trace: TracebackType | None
    ) -> None:
        if error is None or isinstance(error, KeyboardInterrupt | SystemExit):
            sys.__excepthook__(kind, error or kind(), trace)
            return
        faults().report(error)
        sys.__excepthook__(kind, error, trace)

    def take_from_thread(thrown: threading.ExceptHookArgs) -> None:
        take(thrown.exc_type, thrown.exc_value, thrown.exc_traceback)

    sys.excepthook = take
    threading.excepthook = take_from_thread
    guard()
