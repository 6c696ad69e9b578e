"""Real frames of a change of state, at equal steps of time on the curve's ruler."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from mektel.app.frames import Moment, drawn_frame
from mektel.app.theme import theme, ui_font
from mektel.app.widgets.backdrop import paint_backdrop
from mektel.app.workbench import Workbench
from mektel.core.look.resolve import look_of
from mektel.core.motion import change
from mektel.core.motion.arrivals import Arrival
from mektel.core.motion.room import moving_room

FRAMES, GAP = 8, 8
# Where a press is shown to begin, as shares of the control's box.
TOUCH = (0.3, 0.5)


class FilmStrip(QWidget):
    """``picked`` is sent with the moment of the frame that was clicked."""

    picked = Signal(float)

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.images: list[QImage] = []
        self.moments: list[float] = []
        self.moment: float | None = None
        self.setFixedHeight(84)
        self.setAccessibleName("Film strip")
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(600, 84)

    def show_change(self, way: Arrival, span: float) -> None:
        """Draws the frames of a way, beside the interface thread; the old ones stay till then."""
        kit, control = self.bench.drawn, self.bench.control
        if control is None:
            return
        moments = [span * at / (FRAMES - 1) for at in range(FRAMES)]
        ratio = self.devicePixelRatioF()
        cell = self._cell(0).adjusted(4, 4, -4, -22).size()

        def draw() -> tuple[list[float], list[QImage]]:
            motion = change(kit, control, *way.flags, place=TOUCH)
            look = look_of(motion.still)
            start = look_of(change(kit, control, way.flags[0], way.flags[0]).still)
            room = moving_room(control, look.margins().union(start.margins()))
            wide = look.width + room.left + room.right
            high = look.height + room.top + room.bottom
            scale = min(1.0, cell.width() / wide, cell.height() / high) * ratio
            return moments, [drawn_frame(Moment(motion, at, scale, room)) for at in moments]

        self.bench.background.ask("film strip", draw, self._take)

    def _take(self, made: tuple[list[float], list[QImage]]) -> None:
        self.moments, self.images = made
        self.update()

    def show_moment(self, moment: float | None) -> None:
        self.moment = moment
        self.update()

    def _cell(self, at: int) -> QRectF:
        wide = (self.width() - GAP * (FRAMES - 1)) / FRAMES
        return QRectF(at * (wide + GAP), 0, wide, self.height())

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        ratio = self.devicePixelRatioF()
        for at, (moment, image) in enumerate(zip(self.moments, self.images, strict=True)):
            cell = self._cell(at)
            face = cell.adjusted(0, 0, 0, -18)
            paint_backdrop(painter, face, self.bench.backdrop)
            size = QSize(round(image.width() / ratio), round(image.height() / ratio))
            corner = face.center() - QPointF(size.width() / 2, size.height() / 2)
            painter.drawImage(QRectF(corner, size), image)
            painter.setPen(QColor(theme().dim))
            painter.setFont(ui_font(12))
            painter.drawText(QRectF(cell.left(), cell.bottom() - 16, cell.width(), 16),
                             Qt.AlignmentFlag.AlignCenter, f"{moment * 1000:.0f} ms")
        if self.moment is not None and self.moments and self.moments[-1] > 0:
            first, last = self._cell(0).center().x(), self._cell(FRAMES - 1).center().x()
            x = first + (last - first) * min(1.0, self.moment / self.moments[-1])
            painter.setPen(QPen(QColor(theme().second), 2))
            painter.drawLine(QPointF(x, 0), QPointF(x, self.height() - 18))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for at, moment in enumerate(self.moments):
            if self._cell(at).contains(event.position()):
                self.picked.emit(moment)
