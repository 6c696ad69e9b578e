"""The first walk along the route: a few things to do by hand, on the demo kit, each pointed at."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, QRect, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from mektel.app.theme import GAP_2, GAP_3, GAP_4, theme
from mektel.app.widgets.plain import PlainLabel

if TYPE_CHECKING:
    from mektel.app.window import Window

# Milliseconds between two looks at what was done; px that the mark lies outside its widget.
LOOK, AROUND = 150, 4
NAME = "board"


@dataclass(frozen=True)
class Step:
    """What to do, what it is done with, and whether it was done."""

    text: str
    target: Callable[[], QWidget | None]
    done: Callable[[], bool]


class Mark(QWidget):
    """A ring round what a step is about; nothing of it answers the pointer."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.hide()

    def mark(self, widget: QWidget | None) -> None:
        window = self.parentWidget()
        if widget is None or window is None or not widget.isVisible():
            self.hide()
            return
        # What a scroll area shows of it.
        seen = widget.visibleRegion().boundingRect() or widget.rect()
        spot = QRect(widget.mapTo(window, QPoint(0, 0)) + seen.topLeft(), seen.size())
        self.setGeometry(spot.adjusted(-AROUND, -AROUND, AROUND, AROUND))
        self.show()
        self.raise_()

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(theme().accent), 2.5, Qt.PenStyle.DotLine))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5), 8, 8)


class WalkBar(QFrame):
    """What to do now, below the route; it goes on by itself once that is done."""

    ended = Signal()

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.setObjectName("walk")
        self._window, self._at = window, 0
        self._steps = _steps(window)
        row = QHBoxLayout(self)
        row.setContentsMargins(GAP_4, GAP_2, GAP_2, GAP_2)
        row.setSpacing(GAP_3)
        self.count, self.text = PlainLabel(self), PlainLabel(self)
        self.count.setProperty("role", "dim")
        self.text.setWordWrap(True)
        self.skip = QPushButton("Skip the walk", self)
        self.skip.setObjectName("quiet")
        self.skip.clicked.connect(self.end)
        row.addWidget(self.count)
        row.addWidget(self.text, 1)
        row.addWidget(self.skip)
        self.mark = Mark(window)
        self._look = QTimer(self, interval=LOOK)
        self._look.timeout.connect(self._go_on)
        self._look.start()
        self._show()

    @property
    def step(self) -> int:
        """How many steps are done."""
        return self._at

    def _go_on(self) -> None:
        if self._at < len(self._steps) and self._steps[self._at].done():
            self._at += 1
            self._show()
        elif self._at < len(self._steps):
            self.mark.mark(self._steps[self._at].target())

    def _show(self) -> None:
        if self._at == len(self._steps):
            self.count.setText("Done")
            self.text.setText("That is the whole route, from a design to code that runs. F1 opens "
                              "the guide, Ctrl+K finds everything by its name.")
            self.skip.setText("Close")
            self.mark.hide()
            return
        self.count.setText(f"{self._at + 1} of {len(self._steps)}")
        self.text.setText(self._steps[self._at].text)
        self.mark.mark(self._steps[self._at].target())

    def end(self) -> None:
        self._look.stop()
        self.mark.hide()
        self.mark.deleteLater()
        self.ended.emit()


def _steps(window: Window) -> list[Step]:
    bench = window.bench
    window.go_to("Build")
    if any(control.id == NAME for control in bench.kit.controls):
        bench.select(NAME, state="rest", part_id="face")
    before = bench.kit

    def tile() -> QWidget | None:
        return window.build.wall.tiles.get("hover")

    def was_clicked() -> bool:
        return "clicked" in window.try_pad.signal_names()

    def was_shipped() -> bool:
        return any(card.state.measured_for is not None or card.state.written
                   for card in window.ship.cards.values())

    return [
        Step("Every state of the button is on this wall. Select hover: click its tile.",
             tile, lambda: bench.state == "hover"),
        Step("Edits now go into hover alone. Change a colour: click a stop of the gradient below, "
             "then its colour.",
             lambda: window.build.strip.card, lambda: bench.kit != before),
        Step("Now press the button itself, here in the try pad.",
             lambda: window.try_pad.area, was_clicked),
        Step("It works as designed. Go to Ship, at the end of the route.",
             lambda: window.route.track.stops["Ship"],
             lambda: window.rooms.currentWidget() is not window.build
             and window.route.track.stops["Ship"].isChecked()),
        Step("Write and run all: Mektel writes the controls into the folder above, runs them and "
             "measures that they look as designed.",
             lambda: window.ship.run, was_shipped),
    ]
