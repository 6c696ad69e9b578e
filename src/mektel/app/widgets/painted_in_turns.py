"""For widgets whose painting takes a while, of which many may have to be painted at once."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QPixmap

from mektel.app.widgets.shows_pictures import ShowsPictures


class PaintedInTurns(ShowsPictures):
    """Qt's own repaints, of a whole window perhaps, show what was painted last; it is painted anew
    in a turn right after.
    """

    _painting: QPixmap | None = None

    def paint(self, painter: QPainter) -> None:
        """Paints it as it is now, over nothing."""
        raise NotImplementedError

    def paintEvent(self, _event: object) -> None:
        if self._pictures.turns.working:
            ratio = self.devicePixelRatioF()
            painting = QPixmap(self.size() * ratio)
            painting.setDevicePixelRatio(ratio)
            painting.fill(Qt.GlobalColor.transparent)
            painter = QPainter(painting)
            try:
                self.paint(painter)
            finally:
                painter.end()
            self._painting = painting
        else:
            self.repaint_soon()
        if self._painting is not None:
            QPainter(self).drawPixmap(0, 0, self._painting)
