"""The control in the try pad: pressed for real, at a size that is dragged by its edges."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QEnterEvent,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QResizeEvent,
)
from PySide6.QtWidgets import QAbstractButton, QWidget

from mektel.app.looks import Drawn
from mektel.app.pictures import Wanted, behind_for
from mektel.app.theme import ui_font
from mektel.app.widgets.backdrop import caption_colour, paint_backdrop, paint_plate
from mektel.app.widgets.shows_pictures import ShowsPictures
from mektel.app.workbench import Workbench
from mektel.core.kit import states_of
from mektel.core.look import natural_size, parse_flags

# What can come next from any state, drawn ahead so that an answer never waits.
LIKELY = ("rest", "hover", "hover+pressed", "focus", "focus+hover", "focus+hover+pressed",
          "focus+pressed", "disabled")


class LiveControl(ShowsPictures, QAbstractButton):
    """The held control as it behaves: pointer, keys and focus as in the shipped code."""

    told = Signal(str)
    flags_changed = Signal()

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.box_size = (160.0, 48.0)
        self._inside = False
        self._by_keyboard = False
        self.busy = False
        self._holding = QTimer(self, singleShot=True, interval=600)
        self._holding.timeout.connect(lambda: self._tell("held"))
        self.watch(bench.pictures)
        self.watch_looks(bench.looks)
        # Its look at rest: where it is pressed, and the room round it.
        self._rest: Drawn | None = None
        self._ahead = QTimer(self, singleShot=True, interval=150)
        self._ahead.timeout.connect(self._draw_ahead)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.pressed.connect(self._begin_press)
        self.released.connect(self._holding.stop)
        self.toggled.connect(lambda on: self._tell("checked" if on else "unchecked"))
        self.released.connect(lambda: self._tell("released"))
        self.clicked.connect(lambda: self._tell("clicked"))

    def _begin_press(self) -> None:
        self._tell("pressed")
        if self.bench.control is not None and self.bench.control.behaviour == "hold":
            self._holding.start()

    def _tell(self, signal: str) -> None:
        self.told.emit(signal)
        self.flags_changed.emit()
        self.update()

    def flags(self) -> frozenset[str]:
        lasting = {"checked"} if self.isChecked() else set()
        if not self.isEnabled():
            return frozenset(lasting | {"disabled"})
        holding = {
            "hover": self._inside, "pressed": self.isDown() and not self.busy,
            "focus": self.hasFocus() and self._by_keyboard, "busy": self.busy,
        }
        return frozenset(lasting | {flag for flag, holds in holding.items() if holds})

    def set_busy(self, busy: bool) -> None:
        """While busy it answers no press, as in shipped code."""
        self.busy = busy
        self.setDown(False)
        self._tell("busy" if busy else "no longer busy")

    def refresh(self) -> None:
        """Takes the size that the control with its margins needs, and draws likely states."""
        control = self.bench.control
        if control is None:
            return
        self.setAccessibleName(control.name)
        self.setCheckable("checked" in states_of(control.behaviour))
        if control.behaviour != "busy":
            self.busy = False
        drawn = self.look(self.bench.drawn, control, (), self.box_size)
        if drawn is None:
            return  # placed once it is resolved
        self._rest = drawn
        margins = drawn.margins
        width, height = drawn.look.width, drawn.look.height
        self.resize(
            round(width) + margins.left + margins.right,
            round(height) + margins.top + margins.bottom,
        )
        self._ahead.start()
        self.update()

    def _draw_ahead(self) -> None:
        if self.bench.control is not None:
            lasting = {"checked"} & self.flags()
            likely = [parse_flags(words) | lasting for words in LIKELY]
            if self.isCheckable():
                likely.append(frozenset({"hover"} | ({"checked"} - lasting)))
            for flags in likely:
                wanted = self._wanted(flags)
                if wanted is not None:
                    self.bench.pictures.get(wanted)

    def look_ready(self) -> None:
        area = self.parentWidget()
        assert isinstance(area, PadArea)
        area.place()

    def _wanted(self, flags: frozenset[str]) -> Wanted | None:
        control = self.bench.control
        assert control is not None
        drawn = self.look(self.bench.drawn, control, flags, self.box_size)
        if drawn is None:
            return None
        look, margins = drawn.look, drawn.margins
        ratio = self.devicePixelRatioF()
        area = self.parentWidget()
        assert area is not None
        behind = behind_for(
            look, self.bench.backdrop, QRectF(area.rect()), QPointF(self.pos()), ratio)
        return Wanted(look, ratio, margins, behind=behind)

    def paintEvent(self, _event: object) -> None:
        if self.bench.control is None:
            return
        wanted = self._wanted(self.flags())
        image = self.last_picture() if wanted is None else self.picture(wanted)
        if image is not None:
            painter = QPainter(self)
            ratio = self.devicePixelRatioF()
            painter.drawImage(QRectF(0, 0, image.width() / ratio, image.height() / ratio), image)

    def hitButton(self, at: QPoint) -> bool:
        return not self.busy and self._covers(at)

    def nextCheckState(self) -> None:
        """One of a group stays on when it is pressed."""
        control = self.bench.control
        if control is not None and control.behaviour == "group":
            self.setChecked(True)
        else:
            super().nextCheckState()

    def _covers(self, at: QPoint) -> bool:
        """Whether a place lies within the outline."""
        if self.bench.control is None or self._rest is None:
            return False
        margins = self._rest.margins
        return self._rest.look.outline.contains(
            at.x() + 0.5 - margins.left, at.y() + 0.5 - margins.top)

    @property
    def box(self) -> QRectF:
        """The control without its margins, as a part of what surrounds it."""
        if self._rest is None:
            return QRectF(self.geometry())
        margins, look = self._rest.margins, self._rest.look
        return QRectF(self.x() + margins.left, self.y() + margins.top, look.width, look.height)

    def _point_at(self, inside: bool) -> None:
        inside = inside and self.isEnabled()
        if inside != self._inside:
            self._inside = inside
            if inside:
                self.setCursor(Qt.CursorShape.PointingHandCursor)
            else:
                self.unsetCursor()
            self._tell("entered" if inside else "left")

    def enterEvent(self, event: QEnterEvent) -> None:
        self._point_at(self._covers(event.position().toPoint()))

    def leaveEvent(self, _event: object) -> None:
        self._point_at(False)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._point_at(self._covers(event.position().toPoint()))
        super().mouseMoveEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        self.flags_changed.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        self._by_keyboard = True
        if self.busy:
            event.ignore()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if not event.isAutoRepeat():
                self.click()
        else:
            super().keyPressEvent(event)
        self.update()
        self.flags_changed.emit()

    def focusInEvent(self, event: QFocusEvent) -> None:
        self._by_keyboard = event.reason() != Qt.FocusReason.MouseFocusReason
        super().focusInEvent(event)
        self.flags_changed.emit()
        self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.flags_changed.emit()
        self.update()


class PadArea(QWidget):
    """The backdrop the live control stands on; its edges can be dragged to resize it."""

    GRIP = 7

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.control = LiveControl(bench, self)
        self._from: tuple[QPoint, tuple[float, float], tuple[int, int]] | None = None
        self.setMinimumHeight(200)
        self.setMouseTracking(True)

    def reset_size(self) -> None:
        control = self.bench.control
        if control is not None:
            self.control.box_size = natural_size(control, kit=self.bench.drawn)
        self.place()

    def place(self) -> None:
        self.control.refresh()
        # The box stands in the middle, whatever its margins.
        box = self.control.box
        offset = box.center() - QRectF(self.control.geometry()).center()
        middle = QRectF(self.rect()).center() - offset
        self.control.move(
            round(middle.x() - self.control.width() / 2),
            round(middle.y() - self.control.height() / 2),
        )
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.place()

    def paintEvent(self, _event: object) -> None:
        painter = QPainter(self)
        paint_backdrop(painter, QRectF(self.rect()), self.bench.backdrop)
        strip = QRectF(0, self.height() - 26, self.width(), 26)
        paint_plate(painter, strip, self.bench.backdrop)
        painter.setPen(caption_colour(self.bench.backdrop, False))
        painter.setFont(ui_font(12))
        width, height = self.control.box_size
        words = f"{width:.0f} × {height:.0f} px, drag an edge"
        painter.drawText(
            QRectF(self.rect()).adjusted(8, 0, -8, -5),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom, words,
        )

    def _grip_at(self, at: QPoint) -> tuple[int, int]:
        """Which edge is near: -1, 0 or 1 sideways, and up or down."""
        box, grip = self.control.box, self.GRIP
        if not box.adjusted(-grip, -grip, grip, grip).contains(at):
            return (0, 0)
        if box.adjusted(2, 2, -2, -2).contains(at):
            return (0, 0)
        across = 1 if at.x() > box.right() - grip else -1 if at.x() < box.left() + grip else 0
        down = 1 if at.y() > box.bottom() - grip else -1 if at.y() < box.top() + grip else 0
        return across, down

    def mousePressEvent(self, event: QMouseEvent) -> None:
        grip = self._grip_at(event.position().toPoint())
        if grip != (0, 0):
            self._from = (event.position().toPoint(), self.control.box_size, grip)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position().toPoint()
        if self._from is None:
            across, down = self._grip_at(at)
            shape = Qt.CursorShape.ArrowCursor
            if across and down:
                same = across == down
                shape = Qt.CursorShape.SizeFDiagCursor if same else Qt.CursorShape.SizeBDiagCursor
            elif across:
                shape = Qt.CursorShape.SizeHorCursor
            elif down:
                shape = Qt.CursorShape.SizeVerCursor
            self.setCursor(shape)
            return
        start, size, (across, down) = self._from
        # It stays centred, so an edge moves both ways.
        width = size[0] + (at.x() - start.x()) * across * 2
        height = size[1] + (at.y() - start.y()) * down * 2
        self.control.box_size = (
            float(max(8, min(self.width(), round(width)))),
            float(max(8, min(self.height(), round(height)))),
        )
        self.place()

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self._from = None
