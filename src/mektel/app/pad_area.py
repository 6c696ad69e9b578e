"""What the live control stands on in the try pad, and what covers it when its work is done."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QRectF, Qt, QTimer
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QResizeEvent
from PySide6.QtWidgets import QWidget

from mektel.app.live_control import LiveControl
from mektel.app.theme import ui_font
from mektel.app.widgets.backdrop import caption_colour, paint_backdrop, paint_plate
from mektel.app.workbench import Workbench
from mektel.core.look import natural_size
from mektel.core.motion.answers.iris import opened

FRAME = 16  # ms


class IrisOver(QWidget):
    """The iris of the live control, over all of the pad: its screen."""

    def __init__(self, live: LiveControl, parent: QWidget) -> None:
        super().__init__(parent)
        self.live = live
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.hide()
        self.clock = QTimer(self, interval=FRAME, timerType=Qt.TimerType.PreciseTimer)
        self.clock.timeout.connect(self._follow)
        live.caused.connect(lambda causes: self._begin() if "done" in causes else None)

    def _begin(self) -> None:
        self.setGeometry(self.parentWidget().rect())  # type: ignore[union-attr]
        if self.opened() is not None:
            self.show()
            self.raise_()
            self.clock.start()

    def _follow(self) -> None:
        """The next frame; the last one takes it away."""
        if self.opened() is None:
            self.clock.stop()
            self.hide()
        self.update()

    def opened(self) -> tuple[float, float, str] | None:
        """Radius in px, opacity and colour; None while there is none."""
        motion = self.live.motion
        if motion is None or motion.calm:
            return None
        box = self.live.box
        for answer in motion.settled.control.answers:
            if answer.kind != "iris":
                continue
            disc = opened(answer, motion.hand, self.live.clock.now(),
                          (box.x(), box.y(), box.width(), box.height()),
                          (self.width(), self.height()))
            if disc is not None:
                return (*disc, self.live.bench.drawn.colour(answer.colour))
        return None

    def paintEvent(self, _event: object) -> None:
        disc = self.opened()
        if disc is None:
            return
        radius, opacity, colour = disc
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setOpacity(max(0.0, min(1.0, opacity)))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colour[:7]))
        painter.drawEllipse(self.live.box.center(), radius, radius)


class PadArea(QWidget):
    """The backdrop the live control stands on; its edges can be dragged to resize it."""

    GRIP = 7

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.control = LiveControl(bench, self)
        self.iris = IrisOver(self.control, self)
        self.control.look_placed.connect(self.place)
        self._from: tuple[QPoint, tuple[float, float], tuple[int, int]] | None = None
        self.setMinimumHeight(96)
        self.setMouseTracking(True)

    def reset_size(self) -> None:
        control = self.bench.control
        if control is not None:
            self.control.box_size = natural_size(control, kit=self.bench.drawn)
        self.place()

    def place(self) -> None:
        self.control.refresh()
        # The box stands in the middle, whatever its margins.
        box = self.control.box
        offset = box.center() - QRectF(self.control.geometry()).center()
        middle = QRectF(self.rect()).center() - offset
        self.control.move(
            round(middle.x() - self.control.width() / 2),
            round(middle.y() - self.control.height() / 2),
        )
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.place()

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        paint_backdrop(painter, QRectF(self.rect()), self.bench.backdrop)
        strip = QRectF(0, self.height() - 26, self.width(), 26)
        paint_plate(painter, strip, self.bench.backdrop)
        painter.setPen(caption_colour(self.bench.backdrop, False))
        painter.setFont(ui_font(12))
        width, height = self.control.box_size
        caption = f"{width:.0f} × {height:.0f} px, drag an edge"
        painter.drawText(
            QRectF(self.rect()).adjusted(8, 0, -8, -5),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom, caption,
        )

    def _grip_at(self, at: QPoint) -> tuple[int, int]:
        """Which edge is near: -1, 0 or 1 sideways, and up or down."""
        box, grip = self.control.box, self.GRIP
        if not box.adjusted(-grip, -grip, grip, grip).contains(at):
            return (0, 0)
        if box.adjusted(2, 2, -2, -2).contains(at):
            return (0, 0)
        across = 1 if at.x() > box.right() - grip else -1 if at.x() < box.left() + grip else 0
        down = 1 if at.y() > box.bottom() - grip else -1 if at.y() < box.top() + grip else 0
        return across, down

    def mousePressEvent(self, event: QMouseEvent) -> None:
        grip = self._grip_at(event.position().toPoint())
        if grip != (0, 0) and event.button() is Qt.MouseButton.LeftButton:
            self._from = (event.position().toPoint(), self.control.box_size, grip)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position().toPoint()
        if not event.buttons():
            self._from = None  # let go where it was not seen
        if self._from is None:
            across, down = self._grip_at(at)
            shape = Qt.CursorShape.ArrowCursor
            if across and down:
                same = across == down
                shape = Qt.CursorShape.SizeFDiagCursor if same else Qt.CursorShape.SizeBDiagCursor
            elif across:
                shape = Qt.CursorShape.SizeHorCursor
            elif down:
                shape = Qt.CursorShape.SizeVerCursor
            self.setCursor(shape)
            return
        start, size, (across, down) = self._from
        # It stays centred, so an edge moves both ways.
        width = size[0] + (at.x() - start.x()) * across * 2
        height = size[1] + (at.y() - start.y()) * down * 2
        self.control.box_size = (
            float(max(8, min(self.width(), round(width)))),
            float(max(8, min(self.height(), round(height)))),
        )
        self.place()

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self._from = None
