"""A line for a formula: what it may name, what it comes to, and where it is at fault."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QPoint, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import (
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from mektel.app.build.names import part_name
from mektel.app.theme import GAP_1, GAP_2, GAP_3, code_font, theme, ui_font
from mektel.app.widgets.plain import PlainLabel
from mektel.app.widgets.popover import Popover
from mektel.app.workbench import Workbench
from mektel.core.errors import MektelError
from mektel.core.kit import CONTROL, OUTLINE, REST
from mektel.core.look.formula_help import Term, fault_at, matching, terms_at, value_by

WIDE, ROW, SHOWN = 400, 26, 7
TERM = Qt.ItemDataRole.UserRole


class FormulaEntry(QLineEdit):
    """Underlines the characters from where a formula is at fault."""

    def __init__(self, text: str, parent: QWidget) -> None:
        super().__init__(text, parent)
        self.fault: int | None = None

    def show_fault(self, at: int | None) -> None:
        self.fault = at
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self.fault is None:
            return
        # Where the text begins, however far it is scrolled.
        metrics, text = self.fontMetrics(), self.text()
        cursor = self.cursorRect().center().x() + 0.5
        start = cursor - metrics.horizontalAdvance(text[: self.cursorPosition()])
        at = min(self.fault, len(text))
        left = start + metrics.horizontalAdvance(text[:at])
        right = start + max(metrics.horizontalAdvance(text), metrics.horizontalAdvance(text[:at]))
        base = (self.height() + metrics.height()) / 2
        painter = QPainter(self)
        painter.setPen(QPen(QColor(theme().bad), 2))
        painter.drawLine(QPoint(round(left), round(base)),
                         QPoint(round(max(right, left + 7)), round(base)))


class TermRow(QStyledItemDelegate):
    """A term, what it is, and its present value at the right."""

    def sizeHint(self, _option: QStyleOptionViewItem, _index: object) -> QSize:
        return QSize(WIDE - 40, ROW)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: object) -> None:
        term: Term = index.data(TERM)  # type: ignore[attr-defined]
        colours, box = theme(), QRectF(option.rect)
        if option.state & QStyle.StateFlag.State_Selected:
            painter.fillRect(box, QColor(colours.well))
        inside = box.adjusted(8, 0, -8, 0)
        middle = Qt.AlignmentFlag.AlignVCenter
        painter.setFont(code_font(12))
        painter.setPen(QColor(colours.ink))
        painter.drawText(inside, middle, term.shown)
        taken = painter.fontMetrics().horizontalAdvance(term.shown) + 12
        painter.setFont(ui_font(12))
        painter.drawText(inside, middle | Qt.AlignmentFlag.AlignRight, term.value)
        after = painter.fontMetrics().horizontalAdvance(term.value) + 12
        if len(term.value) == 7 and term.value.startswith("#"):
            chip = QRectF(inside.right() - after - 8, inside.center().y() - 6, 12, 12)
            painter.fillRect(chip, QColor(term.value))
            after += 20
        painter.setPen(QColor(colours.dim))
        room = inside.adjusted(taken, 0, -after, 0)
        painter.drawText(room, middle, painter.fontMetrics().elidedText(
            term.help, Qt.TextElideMode.ElideRight, int(room.width())))


class FormulaPopover(Popover):
    """Checked as it is typed. Down and Up choose among what can be named, Tab takes it over,
    Enter sets the formula; ``take`` says whether it could be set.
    """

    def __init__(
        self, bench: Workbench, place: tuple[str, str], title: str, text: str,
        take: Callable[[str], bool], parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self.bench, self.place, self._set = bench, place, take
        control = bench.control
        assert control is not None
        self.state = REST if place[0] == CONTROL else bench.state
        self.problem, self.value, self.start = "", "", 0
        self.terms = terms_at(bench.drawn, control, self.state, place[0])
        self.setFixedWidth(WIDE)
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_3, GAP_3, GAP_3, GAP_3)
        column.setSpacing(GAP_2)
        where = "the control" if place[0] in (CONTROL, OUTLINE) else part_name(control, place[0])
        heading = PlainLabel(f"{title} of {where} =", self)
        heading.setProperty("role", "heading")
        column.addWidget(heading)
        self.entry = FormulaEntry(text, self)
        self.entry.setAccessibleName("Formula")
        self.entry.setFont(code_font(13))
        self.entry.setPlaceholderText("such as height / 4 or darken(tide, 0.1)")
        self.entry.installEventFilter(self)
        column.addWidget(self.entry)
        self.outcome = PlainLabel(self)
        self.outcome.setWordWrap(True)
        self.outcome.setMinimumHeight(34)
        self.outcome.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.addWidget(self.outcome)
        self.list = QListWidget(self)
        self.list.setAccessibleName("What a formula can name here")
        self.list.setItemDelegate(TermRow(self.list))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.itemClicked.connect(lambda _item: self._insert())
        column.addWidget(self.list)
        column.addStretch(1)
        hint = PlainLabel("↓ ↑ choose, Tab inserts", self)
        hint.setProperty("role", "small")
        column.addWidget(hint)
        column.addSpacing(GAP_1)
        self.done = QPushButton("Set formula", self)
        self.done.setObjectName("main")
        self.done.clicked.connect(self._take)
        column.addWidget(self.done, 0, Qt.AlignmentFlag.AlignLeft)
        self.entry.textChanged.connect(self._check)
        self.entry.cursorPositionChanged.connect(self._offer)
        self.entry.returnPressed.connect(self._take)
        self._check()
        self._offer()

    def open_above(self, widget: QWidget) -> None:
        super().open_above(widget)
        self.entry.setFocus()

    def _check(self) -> None:
        text, control = self.entry.text(), self.bench.control
        problem, value = "", ""
        if control is not None and text.strip():
            try:
                value = value_by(self.bench.drawn, control.id, self.state, self.place, text)
            except MektelError as error:
                problem = str(error)
        self.problem, self.value = problem, value
        self.done.setEnabled(not problem)
        self._show_outcome()

    def _show_outcome(self) -> None:
        """What it comes to, or why not; a name that may still become a known one is no fault."""
        text = self.entry.text()
        typed = text[self.start : self.entry.cursorPosition()].lower()
        term: Term | None = None
        if typed and self.list.count():
            term = self.list.item(0).data(TERM)
        unfinished = (self.problem and term is not None and fault_at(self.terms, text) == self.start
                      and term.insert.lower().startswith(typed))
        problem = "" if unfinished else self.problem
        self.entry.show_fault(fault_at(self.terms, text) if problem else None)
        self.outcome.setText(
            problem or ("choose a name below, or keep typing" if unfinished
                        else f"= {self.value}" if self.value
                        else "valid" if text.strip()
                        else "empty: no formula"))
        self.outcome.setProperty("role", "bad" if problem else "dim")
        self.outcome.style().polish(self.outcome)

    def _offer(self) -> None:
        self.start, terms = matching(self.terms, self.entry.text(), self.entry.cursorPosition())
        self.list.clear()
        for term in terms[:60]:
            item = QListWidgetItem()
            item.setData(TERM, term)
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{term.shown}, {term.help}")
            self.list.addItem(item)
        self.list.setCurrentRow(0)
        self.list.setFixedHeight(max(1, min(SHOWN, self.list.count())) * ROW + 2)
        self._show_outcome()

    def _insert(self) -> None:
        """Writes the chosen term in place of what is typed of it."""
        item = self.list.currentItem()
        if item is None:
            return
        term: Term = item.data(TERM)
        text, cursor = self.entry.text(), self.entry.cursorPosition()
        self.entry.setText(text[: self.start] + term.insert + text[cursor:])
        self.entry.setCursorPosition(self.start + len(term.insert))
        self.entry.setFocus()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            row = self.list.currentRow()
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.setCurrentRow(max(0, min(self.list.count() - 1, row + step)))
                return True
            if event.key() == Qt.Key.Key_Tab and self.list.count():
                self._insert()
                return True
        return super().eventFilter(watched, event)

    def _take(self) -> None:
        if self.done.isEnabled() and self._set(self.entry.text()):
            self.close()
