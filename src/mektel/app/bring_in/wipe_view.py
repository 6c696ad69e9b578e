"""Two pictures of one size under a wipe, by turns, or as what differs."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from mektel.app.theme import GAP_2, paint_focus, theme, ui_font

WIPE, BLINK, DIFFERENCE = "wipe", "blink", "difference"
MODES = {WIPE: "Wipe", BLINK: "Blink", DIFFERENCE: "Difference"}
TURN = 500
NEAR = 10.0


class WipeView(QWidget):
    """The given picture at the left of the line, ours at the right; arrow keys move it."""

    moved = Signal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.mode, self.share = WIPE, 0.5
        self._images: dict[str, QImage] = {}
        self._second = False
        self._timer = QTimer(self, interval=TURN)
        self._timer.timeout.connect(self._turn)
        self.setMinimumHeight(120)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The picture and ours")

    def show_images(self, given: object, ours: object, difference: object) -> None:
        """Arrays of shape (height, width, 3), uint8."""
        for name, pixels in (("given", given), ("ours", ours), ("difference", difference)):
            height, width = pixels.shape[:2]  # type: ignore[attr-defined]
            self._images[name] = QImage(
                pixels.tobytes(), width, height, 3 * width,  # type: ignore[attr-defined]
                QImage.Format.Format_RGB888).copy()
        self.update()

    def set_mode(self, mode: str) -> None:
        self.mode = mode
        self._second = False
        if mode == BLINK:
            self._timer.start()
        else:
            self._timer.stop()
        self.update()

    def _turn(self) -> None:
        self._second = not self._second
        self.update()

    def picture_rect(self) -> QRectF:
        """Where the pictures stand: whole, or each pixel as several."""
        image = self._images.get("given")
        if image is None:
            return QRectF()
        room = QRectF(self.rect()).adjusted(GAP_2, 24, -GAP_2, -GAP_2)
        share = min(room.width() / image.width(), room.height() / image.height())
        share = float(int(share)) if share >= 1 else share
        width, height = image.width() * share, image.height() * share
        return QRectF(round(room.center().x() - width / 2), round(room.center().y() - height / 2),
                      width, height)

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        colours = theme()
        painter.fillRect(self.rect(), QColor(colours.well))
        box = self.picture_rect()
        if not box.isEmpty():
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform,
                                  box.width() < self._images["given"].width())
            self._paint_pictures(painter, box)
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _paint_pictures(self, painter: QPainter, box: QRectF) -> None:
        colours = theme()
        painter.setFont(ui_font(12))
        painter.setPen(QColor(colours.dim))
        words = QRectF(box.x(), box.y() - 22, max(box.width(), 300.0), 18)
        if self.mode == DIFFERENCE:
            painter.drawImage(box, self._images["difference"])
            painter.drawText(words, Qt.AlignmentFlag.AlignVCenter,
                             "Difference × 8")
            return
        if self.mode == BLINK:
            painter.drawImage(box, self._images["ours" if self._second else "given"])
            painter.drawText(words, Qt.AlignmentFlag.AlignVCenter,
                             "Ours" if self._second else "The picture")
            return
        at = box.x() + box.width() * self.share
        painter.drawImage(box, self._images["ours"])
        painter.save()
        painter.setClipRect(QRectF(box.x(), box.y(), at - box.x(), box.height()))
        painter.drawImage(box, self._images["given"])
        painter.restore()
        words.setWidth(box.width())
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, "The picture")
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, "Ours")
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for width, colour in ((4.0, colours.panel), (1.5, colours.ink)):
            painter.setPen(QPen(QColor(colour), width))
            painter.drawLine(QPointF(at, box.y() - 4), QPointF(at, box.bottom() + 4))
        painter.setBrush(QColor(colours.ink))
        painter.setPen(QPen(QColor(colours.panel), 1.5))
        painter.drawEllipse(QPointF(at, box.center().y()), 6, 6)

    def _move_to(self, x: float) -> None:
        box = self.picture_rect()
        if not box.isEmpty():
            self.share = min(1.0, max(0.0, (x - box.x()) / box.width()))
            self.update()
            self.moved.emit()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.mode == WIPE and event.button() == Qt.MouseButton.LeftButton:
            self._move_to(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self.mode == WIPE and event.buttons() & Qt.MouseButton.LeftButton:
            self._move_to(event.position().x())
        self.setCursor(Qt.CursorShape.SplitHCursor if self.mode == WIPE
                       else Qt.CursorShape.ArrowCursor)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: -0.05, Qt.Key.Key_Right: 0.05}
        if event.key() in steps and self.mode == WIPE:
            box = self.picture_rect()
            self._move_to(box.x() + box.width() * (self.share + steps[Qt.Key(event.key())]))
        else:
            super().keyPressEvent(event)
