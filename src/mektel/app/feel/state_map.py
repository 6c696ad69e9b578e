"""The map of states: a stop for each, and an arrow for each way between two."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPainterPathStroker,
    QPen,
    QPolygonF,
)
from PySide6.QtWidgets import QWidget

from mektel.app.theme import paint_focus, theme, ui_font
from mektel.app.widgets.plain import tip
from mektel.app.workbench import Workbench
from mektel.core.kit import REST, states_of
from mektel.core.motion.arrivals import Arrival, arrivals_of, summary, timing_at

ACROSS, HIGH = 112.0, 32.0
UPPER, LOWER = 54.0, 150.0


class StateMap(QWidget):
    """``chosen`` is sent with the way that was clicked, or moved to by arrow keys."""

    chosen = Signal(object)

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.arrival = Arrival("hover", "pressed")
        self._under: Arrival | None = None
        self.setFixedHeight(188)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("States")

    def ways(self) -> tuple[Arrival, ...]:
        control = self.bench.control
        return arrivals_of(control) if control is not None else ()

    def places(self) -> dict[str, QPointF]:
        """The middle of each state's stop."""
        control = self.bench.control
        if control is None:
            return {}
        width = float(self.width())
        half = ACROSS / 2
        spots = {REST: QPointF(half + 1, UPPER), "hover": QPointF(width / 2, UPPER),
                 "pressed": QPointF(width - half - 1, UPPER)}
        more = [state for state in states_of(control.behaviour) if state not in spots]
        for at, state in enumerate(more):
            share = (at + 1) / (len(more) + 0.6)
            spots[state] = QPointF(half + share * (width - ACROSS), LOWER)
        return spots

    def path(self, way: Arrival) -> QPainterPath:
        """An arrow's line; there and back bend to different sides."""
        spots = self.places()
        start, goal = spots[way.start], spots[way.goal]
        flat = start.y() == goal.y()
        if flat:
            right = goal.x() > start.x()
            side = 1 if right else -1
            lift = -11.0 if right else 11.0
            begin = QPointF(start.x() + side * ACROSS / 2, start.y() + lift / 2)
            end = QPointF(goal.x() - side * (ACROSS / 2 + 2), goal.y() + lift / 2)
            middle = (begin + end) / 2 + QPointF(0, lift * 2.2)
        else:
            # Out of the side of rest and down into a stop's top, past the others above them.
            down = goal.y() > start.y()
            lower = goal if down else start
            shift = 7.0 if down else -7.0
            upper = spots[REST]
            top = QPointF(upper.x() - (18 if down else 34), upper.y() + HIGH / 2 + 1)
            bottom = QPointF(lower.x() + shift, lower.y() - HIGH / 2 - 2)
            begin, end = (top, bottom) if down else (bottom, top + QPointF(0, 1))
            middle = QPointF(top.x() + (bottom.x() - top.x()) * 0.3, top.y() + 54)
        line = QPainterPath(begin)
        line.quadTo(middle, end)
        return line

    def paintEvent(self, _event: object) -> None:
        control = self.bench.control
        if control is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours = theme()
        for way in sorted(self.ways(), key=lambda way: way == self.arrival):
            strong = way == self.arrival
            colour = QColor(colours.accent if strong else
                            colours.ink if way == self._under else colours.dim)
            line = self.path(way)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(colour, 2.5 if strong else 1.5))
            painter.drawPath(line)
            self._paint_head(painter, line, colour, strong)
        for name, spot in self.places().items():
            box = QRectF(spot.x() - ACROSS / 2, spot.y() - HIGH / 2, ACROSS, HIGH)
            goal = name == self.arrival.goal
            painter.setPen(QPen(QColor(colours.ink if goal or name == self.arrival.start
                                       else colours.dim), 1.25))
            painter.setBrush(QColor(colours.ink if goal else colours.raised))
            painter.drawRoundedRect(box, HIGH / 2, HIGH / 2)
            painter.setPen(QColor(colours.panel if goal else colours.ink))
            painter.setFont(ui_font(13, 600))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, name)
        for way in self.ways():
            if self.places()[way.start].y() == self.places()[way.goal].y() or way == self.arrival:
                self._paint_summary(painter, way)
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def _paint_summary(self, painter: QPainter, way: Arrival) -> None:
        control = self.bench.control
        assert control is not None
        text = summary(timing_at(control, way.goal))
        strong = way == self.arrival
        painter.setFont(ui_font(12, 600 if strong else 400))
        wide = painter.fontMetrics().horizontalAdvance(text) + 10
        flat = self.places()[way.start].y() == self.places()[way.goal].y()
        middle = self.path(way).pointAtPercent(0.5)
        if not flat:  # beside the stop in the lower row, where no other line is
            lower = way.start if way.goal == REST else way.goal
            middle = self.places()[lower] + QPointF(0, HIGH / 2 + 12)
        above = flat and self.places()[way.goal].x() > self.places()[way.start].x()
        shift = (-20 if above else 5) if flat else -9
        box = QRectF(middle.x() - wide / 2, middle.y() + shift, wide, 16)
        painter.fillRect(box, QColor(theme().ground))
        painter.setPen(QColor(theme().accent if strong else theme().dim))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_head(self, painter: QPainter, line: QPainterPath, colour: QColor, strong: bool
                    ) -> None:
        end, before = line.pointAtPercent(1.0), line.pointAtPercent(0.93)
        way = end - before
        length = max(1e-6, (way.x() ** 2 + way.y() ** 2) ** 0.5)
        along = way / length
        across = QPointF(-along.y(), along.x())
        size = 9.0 if strong else 7.0
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        painter.drawPolygon(QPolygonF([
            end, end - along * size + across * size * 0.5, end - along * size - across * size * 0.5,
        ]))

    def way_at(self, spot: QPointF) -> Arrival | None:
        """The arrow near a place; of a stop, the first arrow that leads to it."""
        near = QPainterPathStroker()
        near.setWidth(14)
        for way in self.ways():
            if near.createStroke(self.path(way)).contains(spot):
                return way
        for name, middle in self.places().items():
            if abs(spot.x() - middle.x()) < ACROSS / 2 and abs(spot.y() - middle.y()) < HIGH / 2:
                return next((way for way in self.ways() if way.goal == name), None)
        return None

    def choose(self, way: Arrival) -> None:
        self.arrival = way
        self.update()
        self.chosen.emit(way)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        under = self.way_at(event.position())
        if under != self._under:
            self._under = under
            self.setCursor(Qt.CursorShape.PointingHandCursor if under
                           else Qt.CursorShape.ArrowCursor)
            tip(self, f"{under.start} → {under.goal}" if under else "")
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        way = self.way_at(event.position())
        if way is not None and event.button() == Qt.MouseButton.LeftButton:
            self.choose(way)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}
        ways = self.ways()
        if event.key() in steps and self.arrival in ways:
            self.choose(ways[(ways.index(self.arrival) + steps[Qt.Key(event.key())]) % len(ways)])
        else:
            super().keyPressEvent(event)
