"""Targets as cards: how much is native, baked or lost, how large, and how well it matched."""

from __future__ import annotations

from dataclasses import dataclass, field

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from mektel.app.theme import paint_focus, paint_selected, theme, ui_font
from mektel.app.widgets.plain import tip
from mektel.core.kit import Kit
from mektel.targets import OutFile
from mektel.targets.match import Match

TICK = QRectF(0, 0, 24, 24)
# Cards share the width of their row, px each.
LEAST, MOST = 160, 260


def size_text(size: int) -> str:
    """A number of bytes in the unit that suits it."""
    return f"{size / 2**20:.1f} MB" if size >= 2**20 else f"{max(1, size // 1024)} KB"


@dataclass
class TargetState:
    """What is known of a target for the present kit."""

    chosen: bool = True
    files: list[OutFile] = field(default_factory=list)
    made_for: Kit | None = None
    counts: dict[str, int] = field(default_factory=dict)
    matches: list[Match] = field(default_factory=list)
    measured_for: Kit | None = None
    fault: str = ""
    written: bool = False

    def mean(self) -> float | None:
        means = [(m.without_text or m.with_text).mean for m in self.matches]
        return max(means) if means else None


class TargetCard(QWidget):
    selected = Signal(str)
    chosen = Signal(str, bool)

    def __init__(self, name: str, title: str, summary: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.name, self.title = name, title
        self.state = TargetState()
        self.is_selected = False
        self.kit: Kit | None = None
        self.setFixedHeight(self.sizeHint().height())
        self.setMinimumWidth(LEAST)
        self.setMaximumWidth(MOST)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        tip(self, f"{summary}. Space excludes or includes it.")
        self.setAccessibleName(f"Target {title}")

    def sizeHint(self) -> QSize:
        return QSize(212, 136)

    def lines(self) -> list[tuple[str, str]]:
        """The card's lines with the role of their colour."""
        state = self.state
        ordered = sorted(state.counts.items(), key=lambda entry: -entry[1])
        first, *others = [f"{n} {how}" for how, n in ordered if n] or ["…"]
        size = sum(len(file.content) for file in state.files)
        lines = [(first, "ink"), *([(" · ".join(others), "dim")] if others else [])]
        lines.append((f"{len(state.files)} files, {size_text(size)}", "ink") if state.files
                     else ("making the files…", "dim"))
        mean = state.mean()
        if state.fault:
            lines.append(("did not run", "bad"))
        elif mean is None:
            lines.append(("not run yet", "dim"))
        elif state.measured_for != self.kit:
            lines.append(("out of date", "warn"))
        else:
            good = all(match.passes for match in state.matches)
            lines.append((f"mean difference {mean:.2f} of 255", "good" if good else "bad"))
        return lines

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours = theme()
        box = QRectF(self.rect()).adjusted(6.5, 6.5, -6.5, -6.5)
        painter.setPen(QPen(QColor(colours.ink if self.is_selected else colours.hairline), 1))
        painter.setBrush(QColor(colours.raised if self.is_selected else colours.panel))
        painter.drawRoundedRect(box, 6, 6)
        left = box.x() + 12
        painter.setPen(QColor(colours.ink if self.state.chosen else colours.dim))
        painter.setFont(ui_font(14, 700))
        painter.drawText(QRectF(left, box.y() + 7, box.width() - 40, 22),
                         Qt.AlignmentFlag.AlignVCenter, self.title)
        for at, (text, role) in enumerate(self.lines()):
            painter.setFont(ui_font(12, 600 if role in ("good", "warn", "bad") else 400))
            shown = colours.dim if not self.state.chosen else getattr(colours, role)
            painter.setPen(QColor(shown))
            painter.drawText(QRectF(left, box.y() + 33 + at * 20, box.width() - 20, 20),
                             Qt.AlignmentFlag.AlignVCenter, text)
        self._paint_tick(painter)
        if self.is_selected:
            paint_selected(painter, box.adjusted(-4, -4, 4, 4))
        if self.hasFocus():
            paint_focus(painter, box.adjusted(1, 1, -1, -1))

    def _tick(self) -> QRectF:
        return TICK.translated(self.width() - 6.5 - 30, 6.5 + 6)

    def _paint_tick(self, painter: QPainter) -> None:
        colours = theme()
        box = self._tick().adjusted(4, 4, -4, -4)
        painter.setPen(QPen(QColor(colours.dim), 1.25))
        painter.setBrush(QColor(colours.second) if self.state.chosen else Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box, 4, 4)
        if self.state.chosen:
            painter.setPen(QPen(QColor(colours.raised), 2))
            x, y = box.x(), box.y()
            painter.drawPolyline(
                [QPointF(x + 4, y + 8.5), QPointF(x + 7, y + 11.5), QPointF(x + 12, y + 5)]
            )

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._tick().contains(event.position()):
            self.chosen.emit(self.name, not self.state.chosen)
        else:
            self.selected.emit(self.name)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.selected.emit(self.name)
        elif event.key() == Qt.Key.Key_Space:
            self.chosen.emit(self.name, not self.state.chosen)
        else:
            super().keyPressEvent(event)
