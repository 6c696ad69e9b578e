"""A timing as a curve over time: dragged by its handles, scrubbed by its line."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import QWidget

from mektel.app.theme import paint_focus, theme, ui_font
from mektel.core.kit.timing import Timing
from mektel.core.motion.arrivals import curve, lasts, share_at
from mektel.core.motion.handles import dragged, handles, with_point

LEFT, RIGHT, TOP, BOTTOM = 52.0, 20.0, 26.0, 30.0
NEAR = 11.0
STEPS = (0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0)


class CurveView(QWidget):
    """``changed`` is sent with a timing and whether a drag is going on, ``scrubbed`` with a moment
    in seconds, or with None when nothing is looked at any more.
    """

    changed = Signal(object, bool)
    drag_ended = Signal()
    scrubbed = Signal(object)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.timing: Timing | None = None
        self.span = 0.5
        self.moment: float | None = None
        self._held = ""
        # The levels of a timing over a span: every spot asks for them.
        self._known: tuple[tuple[Timing, float], tuple[float, float]] | None = None
        self.setMinimumHeight(170)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Curve")

    def show_timing(self, timing: Timing | None, span: float) -> None:
        """A timing, over ``span`` seconds; none where the change is at once."""
        self.timing = timing
        if not self._held:
            self.span = span
        self.update()

    def show_moment(self, moment: float | None) -> None:
        self.moment = moment
        self.update()

    # Between seconds and shares, and px

    def _levels(self) -> tuple[float, float]:
        """The lowest and the highest share that is shown."""
        if self.timing is None:
            return 0.0, 1.0
        key = self.timing, self.span
        if self._known is None or self._known[0] != key:
            shares = [share for _, share in curve(self.timing, self.span)]
            self._known = key, (min(0.0, *shares), max(1.12, *shares) + 0.03)
        return self._known[1]

    def _spot(self, moment: float, share: float) -> QPointF:
        low, high = self._levels()
        wide, tall = self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM
        return QPointF(LEFT + moment / self.span * wide,
                       TOP + (high - share) / (high - low) * tall)

    def _at(self, spot: QPointF) -> tuple[float, float]:
        low, high = self._levels()
        wide, tall = self.width() - LEFT - RIGHT, self.height() - TOP - BOTTOM
        return ((spot.x() - LEFT) / wide * self.span,
                high - (spot.y() - TOP) / tall * (high - low))

    def handle_spots(self) -> dict[str, QPointF]:
        if self.timing is None:
            return {}
        return {name: self._spot(*spot) for name, spot in handles(self.timing).items()}

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours = theme()
        painter.setPen(QPen(QColor(colours.hairline), 1))
        painter.setBrush(QColor(colours.raised))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6)
        self._paint_ruler(painter)
        if self.timing is None:
            painter.setPen(QColor(colours.dim))
            painter.setFont(ui_font(13))
            painter.drawText(QRectF(self.rect()), Qt.AlignmentFlag.AlignCenter,
                             "This change is immediate.\nChoose how it moves at the right.")
            return
        self._paint_curve(painter, self.timing)
        if self.hasFocus():
            paint_focus(painter, QRectF(self.rect()).adjusted(2, 2, -2, -2))

    def _paint_ruler(self, painter: QPainter) -> None:
        colours = theme()
        step = next((s for s in STEPS if self.span / s <= 8), STEPS[-1])
        bottom = self.height() - BOTTOM
        painter.setFont(ui_font(12))
        for count in range(int(self.span / step + 1e-6) + 1):
            x = self._spot(count * step, 0).x()
            painter.setPen(QPen(QColor(colours.hairline), 1))
            painter.drawLine(QPointF(x, TOP - 10), QPointF(x, bottom + 4))
            painter.setPen(QColor(colours.dim))
            unit = " ms" if count == 0 else ""
            painter.drawText(QRectF(x - 30, bottom + 6, 60, 16), Qt.AlignmentFlag.AlignCenter,
                             f"{count * step * 1000:.0f}{unit}")
        for share, name in ((0.0, "from"), (1.0, "to")):
            y = self._spot(0, share).y()
            painter.setPen(QPen(QColor(colours.hairline), 1))
            painter.drawLine(QPointF(LEFT, y), QPointF(self.width() - RIGHT, y))
            painter.setPen(QColor(colours.dim))
            painter.drawText(QRectF(8, y - 8, LEFT - 16, 16),
                             Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, name)

    def _paint_curve(self, painter: QPainter, timing: Timing) -> None:
        colours = theme()
        line = QPainterPath()
        for at, (moment, share) in enumerate(curve(timing, self.span, 240)):
            spot = self._spot(moment, share)
            line.lineTo(spot) if at else line.moveTo(spot)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(colours.accent), 2.5))
        painter.drawPath(line)
        spots = self.handle_spots()
        painter.setPen(QPen(QColor(colours.dim), 1, Qt.PenStyle.DashLine))
        for name, anchor in (("first", self._spot(timing.delay, 0)),
                             ("second", self._spot(lasts(timing), 1))):
            if name in spots:
                painter.drawLine(anchor, spots[name])
        for name, spot in spots.items():
            painter.setPen(QPen(QColor(colours.accent), 2))
            painter.setBrush(QColor(colours.accent if name == self._held else colours.raised))
            if name == "end":
                painter.drawRoundedRect(QRectF(spot.x() - 4, spot.y() - 7, 8, 14), 3, 3)
            else:
                painter.drawEllipse(spot, 5.5, 5.5)
        if self.moment is not None:
            spot = self._spot(self.moment, share_at(timing, self.moment))
            painter.setPen(QPen(QColor(colours.second), 2))
            painter.drawLine(QPointF(spot.x(), TOP - 10), QPointF(spot.x(), self.height() - BOTTOM))
            painter.setBrush(QColor(colours.second))
            painter.drawEllipse(spot, 4, 4)
            painter.setFont(ui_font(12, 600))
            painter.drawText(QRectF(spot.x() - 40, 2, 80, 14), Qt.AlignmentFlag.AlignCenter,
                             f"{self.moment * 1000:.0f} ms")

    def _near(self, spot: QPointF) -> str:
        for name, place in reversed(self.handle_spots().items()):
            away = place - spot
            if away.x() ** 2 + away.y() ** 2 <= NEAR**2:
                return name
        return ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._held = self._near(event.position())
        if not self._held:
            self._scrub(event.position())
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held and self.timing is not None:
            moment, share = self._at(event.position())
            self.changed.emit(dragged(self.timing, self._held, moment, share), True)
        elif event.buttons() & Qt.MouseButton.LeftButton:
            self._scrub(event.position())
        else:
            self.setCursor(Qt.CursorShape.SizeAllCursor if self._near(event.position())
                           else Qt.CursorShape.IBeamCursor)

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        if self._held:
            self._held = ""
            self.drag_ended.emit()
            self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.timing is not None and self.timing.kind == "easing":
            self.changed.emit(with_point(self.timing, *self._at(event.position())), False)

    def _scrub(self, spot: QPointF) -> None:
        self.scrub_to(self._at(spot)[0])

    def scrub_to(self, moment: float) -> None:
        """Shows a moment, within the ruler."""
        self.moment = min(self.span, max(0.0, moment))
        self.scrubbed.emit(self.moment)
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        frame = 1 / 60
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = frame if event.key() == Qt.Key.Key_Right else -frame
            self.scrub_to((self.moment or 0.0) + step)
        elif event.key() == Qt.Key.Key_Escape and self.moment is not None:
            self.moment = None
            self.scrubbed.emit(None)
            self.update()
        else:
            super().keyPressEvent(event)
