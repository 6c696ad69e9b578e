"""A button that shows letters in one colour on another, and says which and how well they read."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QAbstractButton, QWidget

from mektel.app.theme import paint_focus, theme, ui_font
from mektel.app.widgets.colour_swatch import qcolour

HIGH, SAMPLE = 30, 40


class ContrastSample(QAbstractButton):
    """``name`` at the left beside its sample, ``figure`` at the right in the colour of a role."""

    def __init__(self, name: str, figure: str, role: str, ink: str, ground: str,
                 parent: QWidget) -> None:
        super().__init__(parent)
        self.name = name
        self.show_contrast(figure, role, ink, ground)
        self.setFixedHeight(HIGH)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def show_contrast(self, figure: str, role: str, ink: str, ground: str) -> None:
        self.figure, self.role, self.ink, self.ground = figure, role, ink, ground
        self.setAccessibleName(f"{self.name}, contrast {figure}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(260, HIGH)

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours, whole = theme(), QRectF(self.rect())
        if self.isChecked() or self.underMouse():
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(colours.raised if self.isChecked() else colours.ground))
            painter.drawRoundedRect(whole, 5, 5)
        if self.isChecked():
            painter.fillRect(QRectF(0, 4, 3, HIGH - 8), QColor(colours.accent))
        sample = QRectF(8, 3, SAMPLE, HIGH - 6)
        painter.setPen(QPen(QColor(colours.hairline), 1))
        painter.setBrush(qcolour(self.ground))
        painter.drawRoundedRect(sample.adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.setFont(ui_font(13, 600))
        painter.setPen(qcolour(self.ink))
        painter.drawText(sample, Qt.AlignmentFlag.AlignCenter, "Aa")
        text = whole.adjusted(8 + SAMPLE + 8, 0, -8, 0)
        painter.setPen(QColor(getattr(colours, self.role)))
        painter.drawText(text, middle | Qt.AlignmentFlag.AlignRight, self.figure)
        taken = painter.fontMetrics().horizontalAdvance(self.figure) + 8
        painter.setFont(ui_font(13, 600 if self.isChecked() else 400))
        painter.setPen(QColor(colours.ink))
        room = text.adjusted(0, 0, -taken, 0)
        painter.drawText(room, middle, painter.fontMetrics().elidedText(
            self.name, Qt.TextElideMode.ElideRight, int(room.width())))
        if self.hasFocus():
            paint_focus(painter, whole.adjusted(1, 1, -1, -1))
