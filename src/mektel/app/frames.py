"""Frames of a control in motion, drawn beside the interface thread, the next when one is there."""

from __future__ import annotations

import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

from PySide6.QtCore import QObject, Qt, QTimer, Signal, Slot
from PySide6.QtGui import QImage

from mektel.app.pictures import Behind, Wanted, picture_or_message
from mektel.core.look import Margins
from mektel.core.look.resolve import look_of
from mektel.core.motion import Motion
from mektel.core.motion.frames import frame_of
from mektel.core.remember import passing, unkept

# No more frames than this a second.
RATE = 60.0


@dataclass(frozen=True)
class Moment:
    """A motion at a moment of its timeline, in seconds."""

    motion: Motion
    at: float
    scale: float
    margins: Margins
    behind: Behind | None = None
    # Whether the next follows at once.
    passes: bool = False


def drawn_frame(moment: Moment) -> QImage:
    """The picture of a moment, for any thread."""
    # What is shown for a 60th of a second pushes nothing out that is kept.
    with passing() if moment.passes else unkept():
        look = (frame_of(moment.motion, moment.at, moment.scale) if moment.passes
                else look_of(moment.motion.at(moment.at)))
        return picture_or_message(
            Wanted(look, moment.scale, moment.margins, behind=moment.behind))


class Frames(QObject):
    """Draws one frame at a time; ``ready`` is sent with it, ``wanted`` when the next may be asked
    for. Nothing runs while nobody asks.
    """

    ready = Signal(QImage)
    wanted = Signal()
    _done = Signal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._worker = ThreadPoolExecutor(1, thread_name_prefix="frames")
        self._begun = 0.0
        self.busy = self._stopped = False
        self.costs: list[float] = []
        self._next = QTimer(self, singleShot=True, timerType=Qt.TimerType.PreciseTimer)
        self._next.timeout.connect(self.wanted)
        self._done.connect(self._take, Qt.ConnectionType.QueuedConnection)

    def ask(self, moment: Moment) -> bool:
        """Draws a frame, unless one is being drawn or is due: then ``wanted`` is sent after it."""
        if self.busy or self._next.isActive() or self._stopped:
            return False
        self.busy, self._begun = True, time.perf_counter()
        self._worker.submit(drawn_frame, moment).add_done_callback(
            lambda task: self._done.emit(None if task.cancelled() else task.result()))
        return True

    @Slot(object)
    def _take(self, image: QImage | None) -> None:
        self.busy = False
        if image is None:
            return
        took = time.perf_counter() - self._begun
        self.costs = [*self.costs[-119:], took]
        self.ready.emit(image)
        self._next.start(max(0, round((1 / RATE - took) * 1000)))

    def stop(self) -> None:
        """Ends all drawing for good, and waits for what is under way."""
        self._stopped = True
        self._next.stop()
        self._worker.shutdown(cancel_futures=True)
