"""A plain ground under other widgets that what is repainted on it need not be painted through.

Qt paints every ancestor of what is repainted, up to the first that covers its whole area by itself.
"""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from mektel.app.theme import theme


class Ground(QWidget):
    """Filled with a colour of the theme, given by its name."""

    def __init__(self, colour: str, parent: QWidget) -> None:
        super().__init__(parent)
        self._ground = colour
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    def paintEvent(self, event: QPaintEvent) -> None:
        QPainter(self).fillRect(event.rect(), QColor(getattr(theme(), self._ground)))
