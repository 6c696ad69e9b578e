"""The control in the try pad: pressed for real, at a size that is dragged by its edges."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any, Literal

from PySide6.QtCore import QEvent, QPoint, QPointF, QRectF, QSignalBlocker, Qt, QTimer, Signal
from PySide6.QtGui import (
    QEnterEvent,
    QFocusEvent,
    QHideEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
)
from PySide6.QtWidgets import QAbstractButton, QWidget

from mektel.app.clock import Clock
from mektel.app.frames import Frames, Moment
from mektel.app.looks import Drawn
from mektel.app.paint_trails import paint_trails
from mektel.app.pictures import Behind, Wanted, behind_for
from mektel.app.widgets.shows_pictures import ShowsPictures
from mektel.app.workbench import Workbench
from mektel.core.behaviour import LONG_PRESS_SECONDS, Event, Kind, Situation, step
from mektel.core.kit import states_of
from mektel.core.look import Look, parse_flags
from mektel.core.motion import Motion, motion_of
from mektel.core.motion.hands import causes
from mektel.core.motion.room import moving_room
from mektel.core.motion.trails import Trail

# What can come next from any state, drawn ahead so that an answer never waits.
LIKELY = ("rest", "hover", "hover+pressed", "focus", "focus+hover", "focus+hover+pressed",
          "focus+pressed", "disabled")

KEYS: dict[int, Literal["space", "enter"]] = {
    Qt.Key.Key_Space: "space", Qt.Key.Key_Return: "enter", Qt.Key.Key_Enter: "enter"}


class LiveControl(ShowsPictures, QAbstractButton):
    """The selected control as it behaves: pointer, keys and focus go to the state machine that all
    shipped code follows.
    """

    signalled = Signal(str)
    # An event of the hand or of the pad's own switches, before anything comes of it.
    took = Signal(object)
    flags_changed = Signal()
    # Its look has come: it may be of another size.
    look_placed = Signal()
    # What the hand or the work gave cause to, for those who answer beside the control.
    caused = Signal(object)

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__(parent)
        self.bench = bench
        self.box_size = (160.0, 48.0)
        self.situation = Situation()
        # What moves, on a timeline of its own; none until there is a control.
        self.motion: Motion | None = None
        self._moved_for: tuple[Any, ...] = ()
        self.clock = Clock()
        self.calm = False
        # The pointer is a finger: inside only while it touches.
        self.touch = False
        self.trails: tuple[Trail, ...] = ()
        self._frame: QImage | None = None
        self._scrubbed: tuple[Motion, float] | None = None
        self._asked: tuple[Motion, float] | None = None
        self._drawn_at = 0.0
        self.frames = Frames(self)
        self.frames.ready.connect(self._show_frame)
        self.frames.wanted.connect(self._ask_frame)
        self._holding = QTimer(self, singleShot=True, timerType=Qt.TimerType.PreciseTimer)
        self._holding.timeout.connect(lambda: self._take("wait"))
        self.watch(bench.pictures)
        self.watch_looks(bench.looks)
        # Its look at rest: where it is pressed, and the room round it.
        self._rest: Drawn | None = None
        self._ahead = QTimer(self, singleShot=True, interval=150)
        self._ahead.timeout.connect(self._draw_ahead)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        # Only help for the disabled presses it so: all else goes through the machine.
        self.clicked.connect(self._press_by_help)

    def _take(self, kind: Kind, **values: Any) -> None:
        """Something happened just now."""
        event = Event(self.clock.now(), kind, **values)
        self.took.emit(event)
        self.apply(event)

    def apply(self, event: Event) -> None:
        """What happened goes to the state machine; what it answers is shown and sent."""
        behaviour = self.bench.control.behaviour if self.bench.control is not None else "push"
        before = self.situation
        self.show_moment(None, 0.0)
        motion = self._own_motion()
        if motion is not None:
            self.motion = motion.after(event)
            self.caused.emit(causes((before, self.motion.situation), event, self.motion.signals))
            self.situation, signals = self.motion.situation, self.motion.signals
            self._begin_to_move()
        else:
            self.situation, signals = step(behaviour, before, event)
        if before.inside != self.situation.inside:
            if self.situation.inside:
                self.setCursor(Qt.CursorShape.PointingHandCursor)
            else:
                self.unsetCursor()
        if "pressed" in signals and behaviour == "long-press":
            self._holding.start(math.ceil(LONG_PRESS_SECONDS / self.clock.speed * 1000) + 1)
        elif not self.situation.is_down:
            self._holding.stop()
        self._follow()
        for signal in signals:
            toggled = "checked" if self.situation.checked else "unchecked"
            self.signalled.emit(toggled if signal == "toggled" else signal)
        self.flags_changed.emit()
        self.update()

    def _follow(self) -> None:
        """What Qt tells help for the disabled is as the machine has it."""
        with QSignalBlocker(self):
            self.setDown(self.situation.is_down)
            if self.isCheckable():
                super().setChecked(self.situation.checked)

    def _press_by_help(self) -> None:
        self._take("focus", by="key")
        self._take("key-down", key="enter")

    # Motion

    def _own_motion(self) -> Motion | None:
        """The motion of what is shown now; one that stands still where that has changed."""
        control = self.bench.control
        if control is None:
            return None
        shown = (self.bench.drawn, control, self.box_size, self.calm)
        if self.motion is None or any(a is not b and a != b for a, b in zip(
                shown[2:], self._moved_for[2:], strict=True)) or any(
                a is not b for a, b in zip(shown[:2], self._moved_for[:2], strict=True)):
            self._moved_for = shown
            self.motion = motion_of(self.bench.drawn, control, self.box_size,
                                    situation=self.situation, calm=self.calm)
        return self.motion

    def _stand_still(self) -> None:
        """What moves is there at once."""
        self.motion, self._frame = None, None

    @property
    def settles(self) -> float:
        """The moment of the pad's clock from which on nothing but endless motion
        goes on."""
        return self.motion.arrives if self.motion is not None else 0.0

    def end_gesture(self) -> None:
        """As if nobody had touched it; what is checked stays."""
        self.situation = replace(Situation(), checked=self.situation.checked,
                                 disabled=not self.isEnabled())
        self._stand_still()
        self._follow()
        self.flags_changed.emit()
        self.update()

    def set_calm(self, calm: bool) -> None:
        """Less motion: states change, and nothing moves."""
        self.calm = calm
        self._stand_still()
        self.update()

    @property
    def moving(self) -> bool:
        return self.motion is not None and self.motion.ends > self.clock.now()

    def set_touch(self, touch: bool) -> None:
        """What presses it is a finger, or the pointer again."""
        self.touch = touch
        if self.situation.inside:
            self._take("move")

    def show_moment(self, motion: Motion | None, at: float) -> None:
        """Shows a moment of a motion until the pointer comes, or none is to be shown."""
        if motion is None and self._scrubbed is None:
            return
        self._scrubbed = (motion, at) if motion is not None else None
        if motion is None:
            self._frame = None
            self.update()
        self._ask_frame()

    def _begin_to_move(self) -> None:
        if self.moving:
            wanted = self._wanted(self.flags())
            if wanted is not None:
                self.bench.pictures.get(wanted)  # there when everything has settled
            self._ask_frame()

    def _ask_frame(self) -> None:
        if self._rest is None:
            return
        shown = self._scrubbed or ((self.motion, self.clock.now()) if self.motion else None)
        if self._scrubbed is None and not self.moving:
            # What a press that goes on has set off stays as it is then.
            held = self.motion is not None and self.motion.holds
            if not held or self.motion is None or self._drawn_at >= self.motion.ends:
                self.update()
                return
            shown = (self.motion, self.motion.ends)
        if shown is None:
            return
        if self._asked is shown and self._scrubbed is not None:
            return
        ratio = self.devicePixelRatioF()
        if self.frames.ask(Moment(*shown, ratio, self._rest.margins,
                                  self._behind(self._rest.look, ratio),
                                  passes=self._scrubbed is None and self.moving)):
            self._asked, self._drawn_at = shown, shown[1]

    def _show_frame(self, image: QImage) -> None:
        shown = self._scrubbed is not None or self.motion is not None
        self._frame = image if shown else None
        self.update()

    def flags(self) -> frozenset[str]:
        return self.situation.states

    @property
    def busy(self) -> bool:
        return self.situation.busy

    def set_busy(self, busy: bool) -> None:
        """While busy it answers no press, as in shipped code."""
        self._take("busy" if busy else "idle")
        self.signalled.emit("busy" if busy else "no longer busy")

    def setChecked(self, on: bool) -> None:
        self.situation = replace(self.situation, checked=on)
        self._stand_still()
        self._follow()
        self.update()

    def refresh(self) -> None:
        """Takes the size that the control with its margins needs, and draws likely states."""
        control = self.bench.control
        if control is None:
            return
        self.setAccessibleName(f"{control.name}, live")
        if self._moved_for and self._moved_for[1].id != control.id:
            # What the one before it had begun is not played on.
            self._moved_for = ()
            self._stand_still()
        self.setCheckable("checked" in states_of(control.behaviour))
        if control.behaviour != "busy" and self.situation.busy:
            self._take("idle")
        if not self.isCheckable() and self.situation.checked:
            self.setChecked(False)
        drawn = self.look(self.bench.drawn, control, (), self.box_size)
        if drawn is None:
            return  # placed once it is resolved
        self._rest = replace(drawn, margins=moving_room(control, drawn.margins, self.box_size))
        margins = self._rest.margins
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
            likely = [parse_flags(states) | lasting for states in LIKELY]
            if self.isCheckable():
                likely.append(frozenset({"hover"} | ({"checked"} - lasting)))
            for flags in likely:
                wanted = self._wanted(flags)
                if wanted is not None:
                    self.bench.pictures.get(wanted)

    def look_ready(self) -> None:
        self.look_placed.emit()

    def _wanted(self, flags: frozenset[str]) -> Wanted | None:
        control = self.bench.control
        assert control is not None
        drawn = self.look(self.bench.drawn, control, flags, self.box_size)
        if drawn is None:
            return None
        ratio = self.devicePixelRatioF()
        margins = self._rest.margins if self._rest is not None else drawn.margins
        return Wanted(drawn.look, ratio, margins, behind=self._behind(drawn.look, ratio))

    def _behind(self, look: Look, ratio: float) -> Behind | None:
        area = self.parentWidget()
        assert area is not None
        return behind_for(
            look, self.bench.backdrop, QRectF(area.rect()), QPointF(self.pos()), ratio)

    def paintEvent(self, _event: object) -> None:
        if self.bench.control is None:
            return
        held = self.motion is not None and self.motion.holds
        image = self._frame if self.moving or held or self._scrubbed is not None else None
        if image is None:
            wanted = self._wanted(self.flags())
            image = self.last_picture() if wanted is None else self.picture(wanted)
            if self._frame is not None and (wanted is None or self.awaits()):
                image = self._frame  # nearer to what comes than what was shown before it moved
            else:
                self._frame = None
        if image is not None:
            painter = QPainter(self)
            ratio = self.devicePixelRatioF()
            painter.drawImage(QRectF(0, 0, image.width() / ratio, image.height() / ratio), image)
            if self.trails and self._rest is not None:
                margins = self._rest.margins
                painter.translate(margins.left, margins.top)
                paint_trails(painter, self.trails)

    def show_trails(self, trails: tuple[Trail, ...]) -> None:
        """Draws the paths of a motion over the control."""
        if trails != self.trails:
            self.trails = trails
            self.update()

    def _covers(self, at: QPoint) -> bool:
        """Whether a place lies within the outline."""
        if self.bench.control is None or self._rest is None:
            return False
        margins = self._rest.margins
        return self._rest.look.outline.contains(
            at.x() + 0.5 - margins.left, at.y() + 0.5 - margins.top)

    def stop(self) -> None:
        """Ends all drawing for good."""
        self.frames.stop()

    @property
    def box(self) -> QRectF:
        """The control without its margins, as a part of what surrounds it."""
        if self._rest is None:
            return QRectF(self.geometry())
        margins, look = self._rest.margins, self._rest.look
        return QRectF(self.x() + margins.left, self.y() + margins.top, look.width, look.height)

    # What happens

    def enterEvent(self, event: QEnterEvent) -> None:
        self._point_at(event.position())

    def leaveEvent(self, _event: object) -> None:
        if self.situation.inside:
            self._take("move")

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._point_at(event.position())
        # Unless it is pressed, what it stands on follows the pointer as well.
        event.setAccepted(self.situation.pressed_by == "pointer")

    def _point_at(self, position: QPointF) -> None:
        if self.touch and not self.situation.pressed_by:
            return
        inside = self._covers(position.toPoint())
        control = self.bench.control
        follows = inside and control is not None and any(
            answer.kind in ("lean", "follow") for answer in control.answers)
        if inside != self.situation.inside or follows:
            self._take("move", inside=inside, place=self._share_at(position))

    def _share_at(self, position: QPointF) -> tuple[float, float] | None:
        """A place as shares of the control's box."""
        if self._rest is None:
            return None
        margins, look = self._rest.margins, self._rest.look
        return (round((position.x() - margins.left) / look.width, 4),
                round((position.y() - margins.top) / look.height, 4))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        inside = self._covers(event.position().toPoint())
        event.setAccepted(inside)  # beside the outline is what it stands on
        if event.button() is Qt.MouseButton.LeftButton:
            place = self._share_at(event.position())
            if self.touch:
                self._take("move", inside=inside, place=place)
            self._take("press", inside=inside, place=place)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        # A press that went on to what it stands on ends there as well.
        event.setAccepted(self.situation.pressed_by == "pointer")
        if event.button() is Qt.MouseButton.LeftButton:
            self._take("release", place=self._share_at(event.position()))
            if self.touch:
                self._take("move")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in KEYS:
            self._take("key-down", key=KEYS[event.key()], repeat=event.isAutoRepeat())
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if event.key() in KEYS:
            self._take("key-up", key=KEYS[event.key()], repeat=event.isAutoRepeat())
        else:
            super().keyReleaseEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        by_key = event.reason() is not Qt.FocusReason.MouseFocusReason
        if event.reason() is Qt.FocusReason.ActiveWindowFocusReason:
            by_key = self.situation.by_keyboard  # as it was before another window came in front
        self._take("focus", by="key" if by_key else "pointer")

    def focusOutEvent(self, event: QFocusEvent) -> None:
        if event.reason() is Qt.FocusReason.ActiveWindowFocusReason:
            self._take("cancel")
        self._take("blur")

    def hideEvent(self, event: QHideEvent) -> None:
        self._take("cancel")
        super().hideEvent(event)

    def changeEvent(self, event: QEvent) -> None:
        if event.type() == QEvent.Type.EnabledChange:
            self._take("enable" if self.isEnabled() else "disable")
        super().changeEvent(event)
