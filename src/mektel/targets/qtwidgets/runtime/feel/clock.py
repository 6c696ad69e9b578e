"""One clock for all controls, which stands still while nothing moves; and whether to move."""

from __future__ import annotations

import time
from collections.abc import Callable
from contextlib import suppress

from ..qt import QtCore, QtWidgets

# Milliseconds from frame to frame.
FRAME = 16


class Clock(QtCore.QObject):
    """Repaints what moves, some 60 times a second; stands still while nothing does."""

    def __init__(self) -> None:
        super().__init__()
        self.now: Callable[[], float] = time.monotonic
        self._moving: set[QtWidgets.QWidget] = set()
        self._timer = QtCore.QTimer(
            self, interval=FRAME, timerType=QtCore.Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._tick)

    def watch(self, control: QtWidgets.QWidget) -> None:
        """Has a control repainted until it stands still."""
        self._moving.add(control)
        if not self._timer.isActive():
            self._timer.start()

    @property
    def runs(self) -> bool:
        return bool(self._timer.isActive())

    def _tick(self) -> None:
        moving, self._moving = self._moving, set()
        for control in moving:
            with suppress(RuntimeError):  # deleted meanwhile
                control.update()  # painted, it says whether it still moves
        if not moving:
            self._timer.stop()


_clocks: list[Clock] = []
_reduced: list[bool | None] = [None]


def clock() -> Clock:
    """The clock of all controls of the application."""
    if not _clocks:
        _clocks.append(Clock())
    return _clocks[0]


def set_reduced_motion(reduced: bool | None) -> None:
    """True makes states change at once; None follows the platform: a style without animations."""
    _reduced[0] = reduced


def reduced_motion(control: QtWidgets.QWidget) -> bool:
    if _reduced[0] is not None:
        return _reduced[0]
    hint = QtWidgets.QStyle.StyleHint.SH_Widget_Animation_Duration
    return bool(control.style().styleHint(hint, None, control) <= 0)
