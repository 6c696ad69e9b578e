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
        if at.y() + self.height() > widget.screen().availableGeometry().bottom():
            self.open_above(widget)
        else:
            self._open_at(at, widget)

    def open_above(self, widget: QWidget) -> None:
        """Opens above a widget, so that what it changes below stays in sight."""
        self.adjustSize()
        self._open_at(widget.mapToGlobal(QPoint(0, -self.height() - GAP_1)), widget)

    def _open_at(self, at: QPoint, widget: QWidget) -> None:
        """Shows it at a place, as far as that lies on the screen."""
        screen = widget.screen().availableGeometry()
        at.setY(max(screen.top(), at.y()))
        at.setX(max(screen.left(), min(at.x(), screen.right() - self.width())))
        self.move(at)
        self.show()
