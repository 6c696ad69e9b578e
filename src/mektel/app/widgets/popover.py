"""What opens beside a widget and closes by Escape or a click elsewhere."""

from __future__ import annotations

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QWidget

from mektel.app.theme import GAP_1
from mektel.app.widgets.enter import pressed_by_enter


class Popover(QFrame):
    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("popover")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not pressed_by_enter(event):
            super().keyPressEvent(event)

    def open_below(self, widget: QWidget) -> None:
        """Opens below a widget, or above it where the screen ends."""
        self.adjustSize()
        at = widget.mapToGlobal(QPoint(0, widget.height() + GAP_1))
        screen = widget.screen().availableGeometry()
        if at.y() + self.height() > screen.bottom():
            at.setY(widget.mapToGlobal(QPoint(0, 0)).y() - self.height() - GAP_1)
        at.setY(max(screen.top(), at.y()))
        at.setX(max(screen.left(), min(at.x(), screen.right() - self.width())))
        self.move(at)
        self.show()
