"""What a control is looked at on: checker, colours, a gradient; and the chips to choose one."""

from __future__ import annotations

from functools import lru_cache

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QImage, QLinearGradient, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import QAbstractButton, QHBoxLayout, QWidget

from mektel.app.theme import GAP_1, paint_focus, theme
from mektel.app.widgets.plain import tip
from mektel.app.widgets.tab_order import follow

CHECKER, SAIL, WHITE, NIGHT, DUSK = "checker", "#E9E2D3", "#FFFFFF", "#14201F", "dusk"
DECK = "deck"
NAMES = {
    CHECKER: "Checker: see what is transparent", SAIL: "Sailcloth", WHITE: "White",
    NIGHT: "Night", DUSK: "A gradient",
    DECK: "A picture: planks and portholes",
}
# What stands in for a backdrop of many colours when one colour is needed.
MIDDLE = {CHECKER: "#EAE4D8", DUSK: "#B8B08E", DECK: "#4C7F8C"}


def paint_backdrop(
    painter: QPainter, box: QRectF, backdrop: str, radius: float = 4.0, cell: float = 8.0
) -> None:
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    path = QPainterPath()
    path.addRoundedRect(box, radius, radius)
    if backdrop == DUSK:
        gradient = QLinearGradient(box.topLeft(), box.bottomRight())
        gradient.setColorAt(0, QColor("#7FB2C4"))
        gradient.setColorAt(1, QColor("#EFB06A"))
        painter.fillPath(path, QBrush(gradient))
    elif backdrop == DECK:
        painter.setClipPath(path)
        _paint_deck(painter, box)
    elif backdrop == CHECKER:
        painter.setBrushOrigin(box.topLeft())
        painter.fillPath(path, _checker(*theme().checker, round(cell)))
    else:
        painter.fillPath(path, QColor(backdrop))
    painter.restore()


def _paint_deck(painter: QPainter, box: QRectF) -> None:
    """Planks and portholes: enough going on to see what glass does to it."""
    painter.fillRect(box, QColor("#2C6672"))
    painter.setPen(Qt.PenStyle.NoPen)
    plank, at = 18, 0
    while at * plank < box.height():
        tone = ("#3B7F8B", "#E3C58A", "#2C6672", "#D98A4E")[at % 4]
        row = QRectF(box.x(), box.y() + at * plank, box.width(), plank - 2)
        painter.fillRect(row, QColor(tone))
        at += 1
    painter.setBrush(QColor("#F4E9CE"))
    x = box.x() + 22
    while x < box.right():
        y = box.y() + 26
        while y < box.bottom():
            painter.drawEllipse(QRectF(x, y, 14, 14))
            y += 72
        x += 58


@lru_cache(maxsize=16)
def _checker(first: str, second: str, cell: int) -> QBrush:
    tile = QImage(cell * 2, cell * 2, QImage.Format.Format_RGB32)
    tile.fill(QColor(first))
    painter = QPainter(tile)
    painter.fillRect(0, 0, cell, cell, QColor(second))
    painter.fillRect(cell, cell, cell, cell, QColor(second))
    painter.end()
    return QBrush(tile)


def paint_plate(painter: QPainter, box: QRectF, backdrop: str) -> None:
    """Calm ground for words on a backdrop with much going on."""
    if backdrop == DECK:
        painter.fillRect(box, QColor("#173C45"))


def is_dark(backdrop: str) -> bool:
    if backdrop == CHECKER:
        return QColor(theme().checker[0]).lightnessF() < 0.5
    return QColor(MIDDLE.get(backdrop, backdrop)).lightnessF() < 0.45


def caption_colour(backdrop: str, strong: bool) -> QColor:
    """What words on a backdrop are written in."""
    if is_dark(backdrop):
        return QColor("#F4EFE4" if strong else "#AEBAB4")
    return QColor("#22302F" if strong else "#55625F")


class BackdropChip(QAbstractButton):
    def __init__(self, backdrop: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.backdrop = backdrop
        self.setCheckable(True)
        tip(self, NAMES.get(backdrop, backdrop))
        self.setAccessibleName(f"Backdrop: {NAMES.get(backdrop, backdrop)}")
        self.setFixedSize(26, 26)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def sizeHint(self) -> QSize:
        return QSize(26, 26)

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(4, 4, -4, -4)
        paint_backdrop(painter, box, self.backdrop, 4, 4.5)
        painter.setPen(QPen(QColor(theme().dim), 1))
        painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
        if self.isChecked():
            painter.setPen(QPen(QColor(theme().accent), 2))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 6, 6)
        elif self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1), 6)


class BackdropChips(QWidget):
    chosen = Signal(str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(GAP_1 // 2)
        self._chips: list[BackdropChip] = []

    def show_choices(self, backdrops: list[str], current: str) -> None:
        if [chip.backdrop for chip in self._chips] != backdrops:
            for chip in self._chips:
                chip.deleteLater()
            self._chips = [BackdropChip(backdrop, self) for backdrop in backdrops]
            for chip in self._chips:
                chip.clicked.connect(lambda _=False, b=chip.backdrop: self.chosen.emit(b))
                self._row.addWidget(chip)
            follow(self, self._chips)
        for chip in self._chips:
            chip.setChecked(chip.backdrop == current)
