"""Variations of one control in a live grid: a row for each set of arguments."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QPushButton, QScrollArea, QVBoxLayout, QWidget

from mektel.app.pictures import Wanted, behind_for
from mektel.app.theme import paint_focus, paint_selected, theme, ui_font
from mektel.app.widgets.backdrop import caption_colour, paint_backdrop
from mektel.app.widgets.shows_pictures import ShowsPictures
from mektel.app.workbench import Workbench
from mektel.core.errors import MektelError
from mektel.core.kit import Control, Kit, Variation, parameter_edits
from mektel.core.look import natural_size, parse_flags, resolve, shared_margins

NAMES, ROW = 150, 74
SHOWN = ("rest", "pressed", "disabled")


class VariationRow(ShowsPictures, QWidget):
    """One set of arguments: its name, what differs from the defaults, and how it looks."""

    chosen = Signal(int)

    def __init__(self, at: int, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.at, self.bench = at, bench
        self.selected = False
        self.watch(bench.pictures)
        self.setFixedHeight(ROW)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    @property
    def variation(self) -> Variation | None:
        """None for the first row, which has the defaults."""
        control = self.bench.control
        if control is None or self.at == 0 or self.at > len(control.variations):
            return None
        return control.variations[self.at - 1]

    def captions(self) -> tuple[str, str]:
        control, variation = self.bench.control, self.variation
        if control is None or variation is None:
            return (control.name if control else "", "the defaults")
        said = [f"{name} {_short(value)}" for name, value in variation.arguments.items()]
        if variation.text is not None:
            said.insert(0, f"“{variation.text}”")
        return variation.name, ", ".join(said) or "the defaults"

    def paintEvent(self, _event: object) -> None:
        control = self.bench.control
        painter = QPainter(self)
        painter.setRenderHints(
            QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        area = QRectF(self.rect())
        paint_backdrop(painter, area, self.bench.backdrop)
        if control is None:
            return
        name, said = self.captions()
        self.setAccessibleName(f"Variation {name}")
        box = QRectF(14, area.height() / 2 - 20, NAMES - 20, 18)
        painter.setFont(ui_font(13, 600))
        painter.setPen(caption_colour(self.bench.backdrop, True))
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, _fitted(painter, name, box))
        painter.setFont(ui_font(12))
        painter.setPen(caption_colour(self.bench.backdrop, False))
        box.translate(0, 20)
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, _fitted(painter, said, box))
        problem = self._paint_states(painter, control, area)
        if problem:
            painter.setPen(QColor(theme().bad))
            painter.drawText(QRectF(NAMES, 0, area.width() - NAMES - 12, area.height()),
                             Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap, problem)
        painter.setPen(QPen(QColor(theme().hairline), 1))
        painter.drawLine(QPointF(12, area.bottom() - 0.5),
                         QPointF(area.right() - 12, area.bottom() - 0.5))
        if self.selected:
            paint_selected(painter, area.adjusted(3, 3, -3, -4))
        if self.hasFocus():
            paint_focus(painter, area.adjusted(2, 2, -2, -3))

    def _paint_states(self, painter: QPainter, control: Control, area: QRectF) -> str:
        variation, kit = self.variation, self.bench.drawn
        arguments = variation.arguments if variation is not None else {}
        text = variation.text if variation is not None else None
        cell = (area.width() - NAMES) / len(SHOWN)
        ratio = self.devicePixelRatioF()
        for slot, state in enumerate(SHOWN):
            try:
                size = natural_size(control, text, kit, arguments)
                look = resolve(kit, control, parse_flags(state), size, text, arguments)
                margins = shared_margins(kit, control, size, text, arguments)
            except MektelError as error:
                return str(error)
            share = min(1.0, (cell - 16) / look.width, (ROW - 14) / look.height)
            x = round(NAMES + cell * slot + cell / 2 - (margins.left + look.width / 2) * share)
            y = round(area.height() / 2 - (margins.top + look.height / 2) * share)
            behind = behind_for(look, self.bench.backdrop, area, QPointF(x, y), ratio)
            image = self.picture(Wanted(look, share * ratio, margins, behind=behind), slot)
            if image is not None:
                painter.save()
                painter.setClipRect(area)
                painter.drawImage(
                    QRectF(x, y, image.width() / ratio, image.height() / ratio), image)
                painter.restore()
        return ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self.chosen.emit(self.at)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.chosen.emit(self.at)
        elif event.key() == Qt.Key.Key_Delete and self.variation is not None:
            remove_variation(self.bench, self.at - 1)
        else:
            super().keyPressEvent(event)


class Variations(QScrollArea):
    """All rows, and the way to another one."""

    chosen = Signal(int)

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget(self)
        inside.setObjectName("room")
        self._column = QVBoxLayout(inside)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)
        self.rows: list[VariationRow] = []
        self.more = QPushButton("+ variation", inside)
        self.more.setObjectName("quiet")
        self.more.clicked.connect(self._add)
        self._column.addWidget(self.more, 0, Qt.AlignmentFlag.AlignLeft)
        self._column.addStretch(1)
        self.setWidget(inside)
        self.selected = 0

    def sizeHint(self) -> QSize:
        return QSize(640, 340)

    def refresh(self) -> None:
        control = self.bench.control
        wanted = 1 + len(control.variations) if control else 0
        while len(self.rows) > wanted:
            row = self.rows.pop()
            row.hide()
            row.deleteLater()
        while len(self.rows) < wanted:
            row = VariationRow(len(self.rows), self.bench, self)
            row.chosen.connect(self.select)
            self._column.insertWidget(len(self.rows), row)
            self.rows.append(row)
        self.selected = min(self.selected, max(0, wanted - 1))
        for row in self.rows:
            row.selected = row.at == self.selected
            row.repaint_soon()

    def select(self, at: int) -> None:
        self.selected = at
        self.refresh()
        self.chosen.emit(at)

    def _add(self) -> None:
        control = self.bench.control
        if control is None:
            return
        number = len(control.variations) + 2
        new = (*control.variations, Variation(name=f"{control.name} {number}"[:80]))
        if self.bench.edit("new variation", lambda kit: parameter_edits.set_variations(
                kit, self.bench.control_id, new)):
            self.select(len(new))


def remove_variation(bench: Workbench, at: int) -> None:
    def make(kit: Kit) -> Kit:
        kept = kit.control(bench.control_id).variations
        return parameter_edits.set_variations(
            kit, bench.control_id, (*kept[:at], *kept[at + 1 :]))

    bench.edit("remove variation", make)


def _short(value: object) -> str:
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, bool):
        return "yes" if value else "no"
    return " ".join(value) if isinstance(value, tuple) else str(value)


def _fitted(painter: QPainter, text: str, box: QRectF) -> str:
    return painter.fontMetrics().elidedText(
        text, Qt.TextElideMode.ElideRight, round(box.width()))


