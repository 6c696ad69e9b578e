"""The measured difference per state, and the pictures it was measured on."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QLinearGradient,
    QMouseEvent,
    QPainter,
    QPen,
)
from PySide6.QtWidgets import (
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from mektel.app.ship.matrix import Matrix
from mektel.app.theme import GAP_2, paint_focus, theme, ui_font
from mektel.app.widgets.plain import PlainLabel, tip
from mektel.core.proof import difference_picture
from mektel.targets.match import BAR, BAR_WITH_TEXT, Match
from mektel.targets.overview import ControlVerdicts

ROW = 28
COLUMNS = ((0.46, "without text"), (0.63, "with text"), (0.74, "worst"), (1.0, "verdict"))
GAIN, SCALE = 8, 22
MOST_FAULTS = 4


class MatchRows(QWidget):
    """One row per state; press a row, or use the arrow keys, to see its pictures."""

    selected = Signal(int)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.matches: list[Match] = []
        self.at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Difference per state")
        tip(self,
            f"Mean difference of 255 without text (at most {BAR:g}) and with text (at most "
            f"{BAR_WITH_TEXT:g}), the worst pixel; the verdict looks at every block, at edges, "
            "at what answers the pointer, and at the text"
        )

    def show_matches(self, matches: list[Match]) -> None:
        self.matches = matches
        self.at = min(self.at, max(0, len(matches) - 1))
        self.setFixedHeight(ROW * (len(matches) + 1) if matches else 0)
        self.update()

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        colours = theme()
        width = self.width()

        def cell(row: int, at: int, text: str, colour: str, weight: int = 500) -> None:
            right = COLUMNS[at][0] * (width - 8)
            painter.setFont(ui_font(13 if row else 12, weight))
            painter.setPen(QColor(colour))
            painter.drawText(
                QRectF(right - 90, row * ROW, 90, ROW),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text,
            )

        for at, (_, text) in enumerate(COLUMNS):
            cell(0, at, text, colours.dim, 400)
        for row, match in enumerate(self.matches, 1):
            if row - 1 == self.at:
                painter.fillRect(QRectF(0, row * ROW, width, ROW), QColor(colours.raised))
            painter.setPen(QPen(QColor(colours.hairline), 1))
            painter.drawLine(0, row * ROW, width, row * ROW)
            painter.setFont(ui_font(13, 600 if row - 1 == self.at else 400))
            painter.setPen(QColor(colours.ink if row - 1 == self.at else colours.dim))
            painter.drawText(QRectF(6, row * ROW, 120, ROW), Qt.AlignmentFlag.AlignVCenter,
                             match.state)
            bare = match.without_text
            if bare is not None:
                cell(row, 0, f"{bare.mean:.2f}", colours.good if bare.mean <= BAR else colours.bad)
            full = match.with_text
            bar = BAR_WITH_TEXT if bare is not None else BAR
            cell(row, 1, f"{full.mean:.2f}", colours.good if full.mean <= bar else colours.bad)
            cell(row, 2, f"{full.worst}", colours.ink)
            cell(row, 3, "as designed" if match.passes else "differs",
                 colours.good if match.passes else colours.bad)
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def select(self, at: int) -> None:
        if 0 <= at < len(self.matches):
            self.at = at
            self.update()
            self.selected.emit(at)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.select(int(event.position().y() // ROW) - 1)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Up:
            self.select(self.at - 1)
        elif event.key() == Qt.Key.Key_Down:
            self.select(self.at + 1)
        else:
            super().keyPressEvent(event)


class Evidence(QWidget):
    """As designed, as it runs, and the difference made strong."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._images: list[tuple[str, QImage]] = []
        self.setFixedHeight(0)

    def show_match(self, match: Match | None) -> None:
        self._images = []
        if match is not None:
            apart = difference_picture(match.designed, match.taken, GAIN)
            for title, pixels in (
                ("designed", match.designed), ("as it runs", match.taken),
                (f"difference × {GAIN}", apart),
            ):
                height, width = pixels.shape[:2]
                image = QImage(
                    pixels.tobytes(), width, height, width * 3, QImage.Format.Format_RGB888
                ).copy()
                self._images.append((title, image))
        self.setFixedHeight(96 + SCALE if match is not None else 0)
        self.update()

    def paintEvent(self, _event: object) -> None:
        if not self._images:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        gap = GAP_2
        width = (self.width() - gap * (len(self._images) - 1)) / len(self._images)
        for at, (title, image) in enumerate(self._images):
            cell = QRectF(at * (width + gap), 0, width, 72)
            ground = QColor(image.pixel(0, 0))
            painter.fillRect(cell, ground)
            share = min(cell.width() / image.width(), cell.height() / image.height())
            drawn = QRectF(0, 0, image.width() * share, image.height() * share)
            drawn.moveCenter(cell.center())
            painter.drawImage(drawn, image)
            painter.setPen(QColor(theme().dim))
            painter.setFont(ui_font(12))
            painter.drawText(QRectF(cell.x(), 74, width, 20), Qt.AlignmentFlag.AlignCenter, title)
        self._paint_scale(painter, QRectF(self.width() - width, 98, width, 6))

    def _paint_scale(self, painter: QPainter, ramp: QRectF) -> None:
        """What the brightness of the difference stands for."""
        run = QLinearGradient(ramp.topLeft(), ramp.topRight())
        run.setColorAt(0, QColor("black"))
        run.setColorAt(1, QColor("white"))
        painter.fillRect(ramp, run)
        painter.setFont(ui_font(12))
        painter.setPen(QColor(theme().dim))
        below = QRectF(ramp.x() - 60, ramp.bottom(), ramp.width() + 60, 16)
        painter.drawText(below.adjusted(60, 0, 0, 0), Qt.AlignmentFlag.AlignLeft, "same")
        painter.drawText(below, Qt.AlignmentFlag.AlignRight, f"{255 // GAIN} or more")


class MatchPanel(QWidget):
    """The figures of the selected control, or of all controls in all targets."""

    def __init__(self, targets: dict[str, str], parent: QWidget) -> None:
        super().__init__(parent)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(GAP_2)
        self.one, self.all = QPushButton("This control", self), QPushButton("All controls", self)
        self.pages = QStackedWidget(self)
        group, row = QButtonGroup(self), QHBoxLayout()
        row.setSpacing(0)
        for at, button in enumerate((self.one, self.all)):
            button.setCheckable(True)
            button.setProperty("segment", "wide")
            group.addButton(button, at)
            row.addWidget(button)
        row.addStretch(1)
        group.idToggled.connect(lambda at, on: self.pages.setCurrentIndex(at) if on else None)
        self.one.setChecked(True)
        column.addLayout(row)
        column.addWidget(self.pages, 1)
        self.pages.addWidget(self._page_of_one())
        self.matrix = Matrix(targets, self)
        self.pages.addWidget(self._page_of_all())
        self.show_overview([], {})

    def _page_of_one(self) -> QWidget:
        scroll, column = self._page()
        self.heading = self._label("heading")
        self.text = self._label("dim")
        self.rows = MatchRows(self)
        self.evidence = Evidence(self)
        self.verdict = PlainLabel(self)
        self.verdict.setWordWrap(True)
        self.rows.selected.connect(lambda at: self._show(self.rows.matches[at]))
        for widget in (self.heading, self.text, self.rows):
            column.addWidget(widget)
        column.addSpacing(GAP_2)
        column.addWidget(self.verdict)
        column.addWidget(self.evidence)
        column.addStretch(1)
        return scroll

    def _page_of_all(self) -> QWidget:
        scroll, column = self._page()
        self.overview = self._label("dim")
        column.addWidget(self.overview)
        column.addWidget(self.matrix)
        column.addStretch(1)
        return scroll

    def _label(self, role: str) -> QLabel:
        label = PlainLabel(self)
        label.setProperty("role", role)
        label.setWordWrap(True)
        return label

    def _page(self) -> tuple[QScrollArea, QVBoxLayout]:
        """A page that scrolls, and the column to fill."""
        scroll = QScrollArea(self)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inside = QWidget(scroll)
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, GAP_2, 0)
        column.setSpacing(GAP_2)
        scroll.setWidget(inside)
        return scroll, column

    def show_overview(self, rows: list[ControlVerdicts], names: dict[str, str]) -> None:
        """All controls that ran, ``names`` being the kit's."""
        self.matrix.show_rows(rows, names)
        self.overview.setText(
            "Mean difference of 255, of the worst state of each; a stripe for each state. Worst "
            "first; press a cell to see its pictures." if rows
            else "Nothing was run yet. “Write and run all” measures every control in every state.")

    def show_matches(self, name: str, run: str, text: str, matches: list[Match]) -> None:
        self.heading.setText(f"{name} · {run} · difference of 255" if matches else name)
        self.text.setText(text)
        self.text.setVisible(bool(text))
        self.rows.show_matches(matches)
        self._show(matches[self.rows.at] if matches else None)

    def go_to(self, state: str) -> None:
        """Shows the pictures of a state of the selected control."""
        self.one.setChecked(True)
        for at, match in enumerate(self.rows.matches):
            if match.state == state:
                self.rows.select(at)

    def _show(self, match: Match | None) -> None:
        """What of a state is not as designed, in words, over the pictures that show it."""
        faults = match.faults if match is not None else ()
        lines = [f"{fault[0].upper()}{fault[1:]}." for fault in faults[:MOST_FAULTS]]
        if match is not None and not faults:
            lines = [f"{match.state}: every block, edge and letter is as designed."]
        self.verdict.setText("\n".join(lines))
        self.verdict.setVisible(bool(lines))
        self.verdict.setProperty("role", "bad" if faults else "small")
        self.verdict.style().polish(self.verdict)
        self.evidence.show_match(match)
