"""While a control is resized: shadows of the size before, until those of the new one are made."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator
from typing import TYPE_CHECKING, ClassVar, TypeVar

from .frames import Cache
from .qt import QtCore, QtGui, Reported

if TYPE_CHECKING:
    from .control import Control

Drawn = TypeVar("Drawn")
PAUSE_MS = 40
# The latest shadow of each layer, whatever its size.
_latest: Cache[QtGui.QImage] = Cache(16 << 20, QtGui.QImage.sizeInBytes)


class Sketch:
    """A painting whose shadows are counted: ``of`` is the look they belong to.

    One that is ``rough`` takes those of the size before; ``due`` makes what they should be.
    """

    current: ClassVar[Sketch | None] = None

    def __init__(self, of: Hashable, rough: bool) -> None:
        self._of, self.rough, self._count = of, rough, 0
        self.due: list[Callable[[], object]] = []

    def drawn(self, draw: Callable[[], Drawn]) -> Drawn:
        """What a function gives that draws."""
        before, Sketch.current = Sketch.current, self
        try:
            return draw()
        finally:
            Sketch.current = before

    def mask(
        self, masks: Cache[QtGui.QImage], key: Hashable, make: Callable[[], QtGui.QImage]
    ) -> QtGui.QImage:
        self._count += 1
        layer = (self._of, self._count)

        def exact() -> QtGui.QImage:
            return _latest.put(layer, masks.get(key, make))

        if self.rough and key not in masks and layer in _latest:
            self.due.append(exact)
            return _latest.get(layer, exact)
        return exact()


class Resizing(QtCore.QTimer):
    """Makes what a rough painting lacks, a step at a time between events, then has the control
    painted as it should be.
    """

    def __init__(self, control: Control) -> None:
        super().__init__(control, singleShot=True)
        self._control = control
        self._steps: Iterator[object] | None = iter(())
        self._size = QtCore.QSize()
        self.timeout.connect(self._go_on)

    def is_over(self) -> bool:
        """Whether all is there for the size that the control has."""
        return self._steps is None and self._size == self._control.size()

    def wait(self, steps: Iterator[object]) -> None:
        self._steps, self._size = steps, self._control.size()
        if not self.isActive():
            self.start(PAUSE_MS)

    def _go_on(self) -> None:
        with Reported():
            if self._steps is not None and next(self._steps, self) is not self:
                self.start(0)
                return
        self._steps = None
        self._control.update()
