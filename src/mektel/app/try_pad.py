"""The try pad: the control, pressed for real; what is true now; what the application hears."""

from __future__ import annotations

import time
from collections import deque

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import (
    QEnterEvent,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QResizeEvent,
)
from PySide6.QtWidgets import (
    QAbstractButton,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from mektel.app.looks import Drawn
from mektel.app.parts.backdrop import MIDDLE, caption_colour, paint_backdrop, paint_plate
from mektel.app.parts.shows_pictures import ShowsPictures
from mektel.app.pictures import Wanted, behind_for
from mektel.app.theme import GAP_1, GAP_2, GAP_3, GAP_4, theme, ui_font
from mektel.app.workbench import Workbench
from mektel.core.kit import Kit, states_of
from mektel.core.look import natural_size, parse_flags
from mektel.core.look.parts import rgba
from mektel.core.proof import LabelContrast, state_contrasts

FLAGS = ("pointer inside", "pressed", "focus", "disabled", "checked", "busy")
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
        if self.bench.control is not None and self.bench.control.kind == "hold":
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
        self.setCheckable("checked" in states_of(control.kind))
        if control.kind != "busy":
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
        control = self.bench.control
        if control is None or self.busy or self._rest is None:
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
        self._point_at(self.hitButton(event.position().toPoint()))

    def leaveEvent(self, _event: object) -> None:
        self._point_at(False)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._point_at(self.hitButton(event.position().toPoint()))
        super().mouseMoveEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        self.flags_changed.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        self._by_keyboard = True
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
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


class Flag(QLabel):
    def __init__(self, words: str, parent: QWidget) -> None:
        super().__init__(words, parent)
        self.show_holds(False)

    def show_holds(self, holds: bool) -> None:
        colours = theme()
        self.holds = holds
        ground = colours.ink if holds else "transparent"
        ink = colours.panel if holds else colours.dim
        edge = colours.ink if holds else colours.hairline
        weight = 600 if holds else 400
        self.setStyleSheet(
            f"background: {ground}; color: {ink}; border: 1px solid {edge}; border-radius: 9px; "
            f"padding: 1px 8px; font-size: 12px; font-weight: {weight};"
        )


class TryPad(QWidget):
    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("tryPad")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.bench = bench
        self._signals: deque[tuple[str, float]] = deque(maxlen=6)
        self._shown_control = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_4, GAP_3, GAP_4, GAP_4)
        column.setSpacing(GAP_2)
        head = QHBoxLayout()
        head.addWidget(self._heading("Try pad"))
        head.addStretch(1)
        self.reset = QPushButton("Own size", self)
        self.reset.setObjectName("quiet")
        self.reset.setToolTip("Back to the control’s own size")
        self.disable = QPushButton("Disable", self)
        self.disable.setObjectName("quiet")
        self.disable.setCheckable(True)
        self.disable.clicked.connect(self._set_disabled)
        self.busy = QPushButton("Busy", self)
        self.busy.setObjectName("quiet")
        self.busy.setCheckable(True)
        self.busy.setToolTip("As while its work is under way")
        head.addWidget(self.reset)
        head.addWidget(self.busy)
        head.addWidget(self.disable)
        column.addLayout(head)
        self.area = PadArea(bench, self)
        self.reset.clicked.connect(self.area.reset_size)
        self.busy.clicked.connect(self._set_busy)
        column.addWidget(self.area, 1)
        flags = QGridLayout()
        flags.setSpacing(GAP_1)
        self.flags = {words: Flag(words, self) for words in FLAGS}
        for at, flag in enumerate(self.flags.values()):
            flags.addWidget(flag, at // 2, at % 2, Qt.AlignmentFlag.AlignLeft)
        flags.setColumnStretch(2, 1)
        column.addLayout(flags)
        column.addSpacing(GAP_1)
        column.addWidget(self._heading("Signals the application receives"))
        self._rows = QGridLayout()
        self._rows.setVerticalSpacing(2)
        self._lines: list[tuple[QLabel, QLabel]] = []
        for row in range(6):
            name, when = QLabel(self), QLabel(self)
            when.setProperty("role", "dim")
            self._rows.addWidget(name, row, 0)
            self._rows.addWidget(when, row, 1, Qt.AlignmentFlag.AlignRight)
            self._rows.setRowMinimumHeight(row, 20)
            self._lines.append((name, when))
        column.addLayout(self._rows)
        column.addSpacing(GAP_1)
        column.addWidget(self._heading("Contrast of label on face"))
        contrast = QHBoxLayout()
        self.ratio, self.verdict = QLabel(self), QLabel(self)
        self.ratio.setProperty("role", "figure")
        contrast.addWidget(self.ratio)
        contrast.addWidget(self.verdict)
        contrast.addStretch(1)
        column.addLayout(contrast)
        self.exempt = QLabel(self)
        self.exempt.setProperty("role", "small")
        self.exempt.setWordWrap(True)
        column.addWidget(self.exempt)
        self.area.control.told.connect(self._take_signal)
        self.area.control.flags_changed.connect(self._show_flags)
        self._clock = QTimer(self, interval=200)
        self._clock.timeout.connect(self._show_signals)
        self._show_signals()
        self._late = QTimer(self, singleShot=True, interval=120)
        self._late.timeout.connect(self._show_contrast)
        bench.kit_changed.connect(self.refresh)
        bench.held_changed.connect(self.refresh)
        bench.view_changed.connect(self.refresh)

    def _heading(self, words: str) -> QLabel:
        label = QLabel(words, self)
        label.setProperty("role", "heading")
        return label

    def sizeHint(self) -> QSize:
        return QSize(260, 600)

    def refresh(self) -> None:
        control = self.bench.control
        self.area.control.setVisible(control is not None)
        if control is None:
            return
        key = f"{control.id} {natural_size(control, kit=self.bench.drawn)}"
        if key != self._shown_control:
            self._shown_control = key
            self.area.reset_size()
        else:
            self.area.place()
        self._show_flags()
        self._late.start()

    def _set_busy(self, on: bool) -> None:
        self.area.control.set_busy(on)
        self.busy.setText("Done" if on else "Busy")
        self._show_flags()

    def _set_disabled(self, on: bool) -> None:
        live = self.area.control
        live.setEnabled(not on)
        self.disable.setText("Enable" if on else "Disable")
        live._point_at(False)
        self._show_flags()

    def _take_signal(self, signal: str) -> None:
        self._signals.appendleft((signal, time.monotonic()))
        self._show_signals()
        self._clock.start()

    def signal_names(self) -> list[str]:
        """What was sent, the latest first."""
        return [name for name, _ in self._signals]

    def _show_signals(self) -> None:
        now = time.monotonic()
        for at, (name, when) in enumerate(self._lines):
            if at >= len(self._signals):
                first = at == 0
                name.setText("none yet; press the control" if first else "")
                name.setStyleSheet(f"color: {theme().dim};")
                when.setText("")
                continue
            signal, sent = self._signals[at]
            ago = now - sent
            name.setText(signal)
            name.setStyleSheet("font-weight: 600;" if at == 0 else "")
            when.setText("now" if ago < 0.2 else f"{ago:.1f} s ago" if ago < 60 else "over 1 min")

    def _show_flags(self) -> None:
        live = self.area.control
        flags = live.flags()
        held = {
            "pointer inside": "hover" in flags, "pressed": "pressed" in flags,
            "focus": live.hasFocus(), "disabled": not live.isEnabled(),
            "checked": live.isChecked(), "busy": live.busy,
        }
        control = self.bench.control
        can = states_of(control.kind) if control is not None else ()
        self.busy.setVisible("busy" in can)
        for words in ("checked", "busy"):
            self.flags[words].setVisible(words in can)
        for words, flag in self.flags.items():
            if flag.holds != held[words]:
                flag.show_holds(held[words])

    def retheme(self) -> None:
        for flag in self.flags.values():
            flag.show_holds(flag.holds)
        self._show_signals()

    def _show_contrast(self) -> None:
        control = self.bench.control
        if control is None:
            return
        ground = rgba(Kit(), MIDDLE.get(self.bench.backdrop, self.bench.backdrop))
        kit = self.bench.drawn
        self.bench.background.ask(
            "contrast", lambda: state_contrasts(kit, control, ground), self._show_measured)

    def _show_measured(self, measured: dict[str, LabelContrast]) -> None:
        if not measured:
            self.ratio.setText("–")
            self.verdict.setText("no label to read")
            self.verdict.setProperty("role", "dim")
            self.exempt.setText("")
        else:
            worst_state, worst = min(measured.items(), key=lambda item: item[1].ratio)
            passing = sum(one.passes for one in measured.values())
            every = passing == len(measured)
            self.ratio.setText(f"{int(worst.ratio * 10) / 10:.1f}")
            self.verdict.setText(f"AA in {passing} of {len(measured)} states")
            self.verdict.setProperty("role", "good" if every else "warn")
            where = f"lowest in {worst_state}, {worst.needed:g} needed; " if not every else ""
            self.exempt.setText(f"{where}disabled is exempt")
        self.verdict.style().polish(self.verdict)
