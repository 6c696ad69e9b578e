"""What every view has in common that opens over Build to bring something in."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from mektel.app.widgets.field import gave_back


class OverBuild(QWidget):
    """``closed`` is sent when it is over; Esc ends it without taking anything."""

    closed = Signal()

    def stop(self) -> None:
        """Gives up what is still being done."""

    def close_view(self) -> None:
        self.stop()
        self.closed.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if gave_back(event):
            return
        if event.key() == Qt.Key.Key_Escape:
            self.close_view()
        else:
            super().keyPressEvent(event)
