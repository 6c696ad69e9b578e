"""What the marks of the Build view mean, each shown as it looks."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QGridLayout, QWidget

from mektel.app.theme import GAP_2, GAP_3, paint_focus, paint_selected, paint_warning, theme
from mektel.app.widgets.dials import Dial
from mektel.app.widgets.plain import PlainLabel
from mektel.app.widgets.popover import Popover

WIDE, SAMPLE = 420, QSize(92, 44)


class Sample(QWidget):
    """A mark, painted as everywhere else."""

    def __init__(self, paint: Callable[[QPainter, QRectF], None], parent: QWidget) -> None:
        super().__init__(parent)
        self._paint = paint
        self.setFixedSize(SAMPLE)

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint(painter, QRectF(self.rect()).adjusted(8, 8, -8, -8))


def _tile(painter: QPainter, box: QRectF) -> None:
    painter.fillRect(box, QColor(theme().well))


def _selected(painter: QPainter, box: QRectF) -> None:
    _tile(painter, box)
    paint_selected(painter, box.adjusted(-4, -4, 4, 4))


def _focused(painter: QPainter, box: QRectF) -> None:
    _tile(painter, box)
    paint_focus(painter, box)


def _wrong(painter: QPainter, box: QRectF) -> None:
    _tile(painter, box)
    paint_warning(painter, QRectF(box.center().x() - 8, box.center().y() - 8, 16, 16))


class Legend(Popover):
    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setFixedWidth(WIDE)
        grid = QGridLayout(self)
        grid.setContentsMargins(GAP_3, GAP_3, GAP_3, GAP_3)
        grid.setHorizontalSpacing(GAP_3)
        grid.setVerticalSpacing(GAP_2)
        grid.setColumnStretch(1, 1)
        title = PlainLabel("What the marks mean", self)
        title.setProperty("role", "heading")
        grid.addWidget(title, 0, 0, 1, 2)
        differs, driven = Dial("Opacity", self), Dial("Opacity", self)
        differs.set_differs(True, "100 %")
        driven.set_driven("face.opacity")
        for row, (sample, text) in enumerate((
            (Sample(_selected, self), "Selected: edits go here. A selected state is edited alone; "
                                      "with rest selected, every state that has no change of its "
                                      "own follows."),
            (Sample(_focused, self), "Has the keyboard: Space or Enter acts on it."),
            (differs, "Differs from rest in the selected state. Right-click the name to go back."),
            (driven, "Computed by a formula, or set by a parameter; the tip has the formula."),
            (PlainLabel("●  ○", self), "The layer is shown, or hidden, in the selected state."),
            (Sample(_wrong, self), "Something is wrong with this control; the tip says what, and "
                                   "a right-click offers what mends it."),
        ), 1):
            note = PlainLabel(text, self)
            note.setWordWrap(True)
            grid.addWidget(sample, row, 0)
            grid.addWidget(note, row, 1)
