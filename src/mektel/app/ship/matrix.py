"""Every control in every target and state, what is farthest from its design first."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPoint, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from mektel.app.theme import paint_focus, theme, ui_font
from mektel.app.widgets.plain import show_tip
from mektel.targets.overview import ControlVerdicts, Verdict

ROW, NAME, STRIPE = 28, 0.3, 4


class Matrix(QWidget):
    """A row per control, a column per target: the worst mean, over a stripe for each state.

    Press a cell, or use the arrow keys, to see its states and pictures: ``selected`` sends
    control, target and state.
    """

    selected = Signal(str, str, str)

    def __init__(self, titles: dict[str, str], parent: QWidget) -> None:
        super().__init__(parent)
        self.titles = titles
        self.rows: list[ControlVerdicts] = []
        self.names: dict[str, str] = {}
        self.at: tuple[str, str] = ("", "")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("All controls, targets and states, the worst first")

    def show_rows(self, rows: list[ControlVerdicts], names: dict[str, str]) -> None:
        self.rows = [row for row in rows if row.control in names]
        self.names = names
        self.setFixedHeight(ROW * (len(self.rows) + 1) if self.rows else 0)
        self.update()

    def show_selected(self, control: str, target: str) -> None:
        self.at = (control, target)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(240, ROW * (len(self.rows) + 1))

    def cell(self, row: int, column: int) -> QRectF:
        """Where a target's cell of a row is; row 0 has the titles."""
        name = NAME * self.width()
        wide = (self.width() - name) / max(1, len(self.titles))
        return QRectF(name + column * wide, row * ROW, wide, ROW)

    def paintEvent(self, _event: object) -> None:
        painter, colours = QPainter(self), theme()
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.setFont(ui_font(12))
        painter.setPen(QColor(colours.dim))
        for column, title in enumerate(self.titles.values()):
            box = self.cell(0, column).adjusted(4, 0, -4, 0)
            painter.drawText(box, middle | Qt.AlignmentFlag.AlignRight,
                             painter.fontMetrics().elidedText(
                                 title, Qt.TextElideMode.ElideRight, int(box.width())))
        for at, row in enumerate(self.rows, 1):
            chosen = row.control == self.at[0]
            if chosen:
                painter.fillRect(QRectF(0, at * ROW, self.width(), ROW), QColor(colours.raised))
            painter.setPen(QPen(QColor(colours.hairline), 1))
            painter.drawLine(0, at * ROW, self.width(), at * ROW)
            painter.setFont(ui_font(13, 600 if chosen else 400))
            painter.setPen(QColor(colours.ink if chosen else colours.dim))
            name = QRectF(6, at * ROW, NAME * self.width() - 10, ROW)
            painter.drawText(name, middle, painter.fontMetrics().elidedText(
                self.names[row.control], Qt.TextElideMode.ElideRight, int(name.width())))
            for column, target in enumerate(self.titles):
                if target in row.targets:
                    self._paint_cell(painter, row, target, self.cell(at, column))
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _paint_cell(
        self, painter: QPainter, row: ControlVerdicts, target: str, box: QRectF
    ) -> None:
        colours, worst = theme(), row.worst(target)
        painter.setFont(ui_font(13, 700 if (row.control, target) == self.at else 400))
        painter.setPen(QColor(colours.good if worst.passes else colours.bad))
        painter.drawText(box.adjusted(4, 0, -4, -STRIPE),
                         Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                         f"{worst.mean:.2f}" if worst.passes else f"differs  {worst.mean:.2f}")
        verdicts = row.targets[target]
        for at, verdict in enumerate(verdicts):
            stripe = self._stripe(box, at, len(verdicts))
            painter.fillRect(stripe, QColor(colours.good if verdict.passes else colours.bad))

    @staticmethod
    def _stripe(box: QRectF, at: int, of: int) -> QRectF:
        inside = box.adjusted(8, 0, -4, 0)
        wide = inside.width() / of
        return QRectF(inside.x() + at * wide, box.bottom() - STRIPE - 1, wide - 1, STRIPE - 1)

    def _spot(self, point: QPoint) -> tuple[ControlVerdicts, str, Verdict] | None:
        """The row, target and state under a point; beside the stripes the worst state."""
        at = point.y() // ROW - 1
        if not 0 <= at < len(self.rows):
            return None
        row = self.rows[at]
        for column, target in enumerate(self.titles):
            box = self.cell(at + 1, column)
            if target not in row.targets or not box.contains(point.toPointF()):
                continue
            verdicts = row.targets[target]
            for place, verdict in enumerate(verdicts):
                stripe = self._stripe(box, place, len(verdicts)).adjusted(0, -4, 1, 4)
                if stripe.contains(point.toPointF()):
                    return row, target, verdict
            return row, target, row.worst(target)
        return None

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent):
            spot = self._spot(event.pos())
            text = ""
            if spot is not None:
                row, target, verdict = spot
                end = "; ".join(verdict.faults) or "as designed"
                text = (f"{self.names[row.control]}, {self.titles[target]}, {verdict.state}: mean "
                        f"{verdict.mean:.2f} of 255, {end}")
            show_tip(event.globalPos(), text, self)
            return True
        return super().event(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        spot = self._spot(event.position().toPoint())
        if spot is not None:
            self._select(*spot)

    def _select(self, row: ControlVerdicts, target: str, verdict: Verdict) -> None:
        self.show_selected(row.control, target)
        self.selected.emit(row.control, target, verdict.state)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0),
                 Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1)}
        if event.key() not in steps or not self.rows:
            super().keyPressEvent(event)
            return
        down, right = steps[Qt.Key(event.key())]
        controls, targets = [row.control for row in self.rows], list(self.titles)
        at = controls.index(self.at[0]) if self.at[0] in controls else 0
        column = targets.index(self.at[1]) if self.at[1] in targets else 0
        row = self.rows[max(0, min(len(controls) - 1, at + down))]
        target = targets[max(0, min(len(targets) - 1, column + right))]
        if target in row.targets:
            self._select(row, target, row.worst(target))
