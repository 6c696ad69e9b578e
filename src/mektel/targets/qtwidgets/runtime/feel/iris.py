"""The iris: when a control's work is done, a disc grows from it over its whole window."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING, Any

from ..qt import QtCore, QtGui, QtWidgets, painter_on
from .clock import FRAME, clock
from .easing import ease

if TYPE_CHECKING:
    from ..control import Control

# Milliseconds in which it clears once the window is covered.
CLEARS = 250


class Iris(QtWidgets.QWidget):
    """Lies over a window while the next screen comes, and takes no clicks."""

    def __init__(self, control: Control, answer: dict[str, Any]) -> None:
        window = control.window()
        super().__init__(window)
        self.setAttribute(QtCore.Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self._control, self._answer = control, answer
        self._from = QtCore.QRectF(control.mapTo(window, QtCore.QPoint(0, 0)), control.size())
        self._began, self._sent = clock().now(), False
        self.setGeometry(window.rect())
        self._timer = QtCore.QTimer(self, interval=FRAME)
        self._timer.timeout.connect(self._tick)
        self._timer.start()
        self.show()
        self.raise_()

    def radius(self) -> float:
        """How far it reaches by now: from the control's own circle past the farthest corner."""
        middle = self._from.center()
        far = max(hypot(middle.x() - x, middle.y() - y)
                  for x in (0, self.width()) for y in (0, self.height()))
        least = min(self._from.width(), self._from.height()) / 2
        return least + (far + 1 - least) * max(0.0, ease(self._answer["shape"], self._share()))

    def _share(self) -> float:
        elapsed = clock().now() - self._began
        return min(1.0, elapsed / max(float(self._answer["seconds"]), 1e-3))

    def _tick(self) -> None:
        parent = self.parentWidget()
        if parent is not None and self.size() != parent.size():
            self.resize(parent.size())
        if not self._sent and self._share() >= self._answer["next"]:
            self._sent = True
            self._control.nextDue.emit()
            self.raise_()
        left = self._left()
        if left <= 0:
            self._timer.stop()
            self.hide()
            self.deleteLater()
            return
        self.update()

    def _left(self) -> float:
        """How much of it is there: 1 until the window is covered."""
        elapsed = clock().now() - self._began - float(self._answer["seconds"])
        return 1 - max(0.0, elapsed) * 1000 / CLEARS

    def paintEvent(self, _event: QtGui.QPaintEvent) -> None:
        with painter_on(self) as painter:
            painter.setRenderHint(QtGui.QPainter.RenderHint.Antialiasing)
            painter.setOpacity(max(0.0, min(1.0, self._left())))
            painter.setPen(QtCore.Qt.PenStyle.NoPen)
            painter.setBrush(QtGui.QColor(self._answer["colour"]))
            radius = self.radius()
            painter.drawEllipse(self._from.center(), radius, radius)
