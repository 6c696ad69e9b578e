"""The control itself: what layouts ask, pointer and keys, and painting its layers."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from copy import deepcopy
from typing import Any, ClassVar

from PySide6.QtCore import (
    QEvent,
    QMargins,
    QObject,
    QPoint,
    QPointF,
    QRectF,
    QSize,
    Qt,
    QTimer,
    Signal,
)
from PySide6.QtGui import (
    QCursor,
    QEnterEvent,
    QFocusEvent,
    QImage,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QResizeEvent,
    QShowEvent,
)
from PySide6.QtWidgets import QAbstractButton, QSizePolicy, QWidget

from .design import Design, Part, Parts, States
from .labels import EM, has_effects, metrics_of, paint_label, shown_text, text_width
from .outlines import Outline, body_path, moved, outline_of, own_outline, turn
from .painting import (
    MODES,
    is_opaque,
    lies_with,
    paint_fill,
    paint_gloss,
    paint_line,
    paint_strokes,
)
from .parameters import checked, put
from .pictures import paint_picture
from .shadows import paint_inner_shadow, paint_shadow

HOLD_MS = 600
# What a value follows: the states it belongs to, its part, its path there, and what computes it.
Driven = tuple[States, str, tuple[str | int, ...], Callable[[], Any]]
Run = list[tuple[str, Part]]


class Control(QAbstractButton):
    """A button drawn as designed. Signals of QAbstractButton, entered, left."""

    design: ClassVar[Design]
    entered = Signal()
    left = Signal()

    def __init__(
        self, text: str | None, parent: QWidget | None, given: dict[str, Any],
        actions: dict[str, Any],
    ) -> None:
        super().__init__(parent)
        design = self.design
        self._rest: Parts = deepcopy(design.rest) if design.driven else design.rest
        self._changes: dict[States, Parts] = (
            deepcopy(design.changes) if design.driven else design.changes)
        self._size = list(design.size)
        self._scheme = design.schemes[0] if design.schemes else ""
        self._given = {
            name: checked(name, value, design.parameters[name]) for name, value in given.items()}
        for name, act in actions.items():
            self.set_action(name, act)
        self._pointer_inside = False
        self._keyboard_focus = False
        self._shadow_images: dict[tuple[object, ...], QImage] = {}
        self.setCheckable("checked" in design.states)
        self.setAutoExclusive(design.behaviour == "group")  # one of those in the same parent
        # A text that follows what the control is made of does so until another is given.
        self._text_given = False
        if text is not None:
            self.setText(text)
        if not design.text:
            self.setAccessibleName(design.name)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Minimum, QSizePolicy.Policy.Fixed)
        self._follow()

    # What an instance may set

    def argument(self, name: str) -> Any:
        """The value of a parameter."""
        return self._given[name]

    def set_argument(self, name: str, value: Any) -> None:
        """Sets a parameter; raises TypeError or ValueError for what it does not take."""
        self._given[name] = checked(name, value, self.design.parameters[name])
        self._changed()

    def set_action(self, name: str, act: Callable[[], object] | None) -> None:
        """What a press calls; None for nothing."""
        if act is not None and not callable(act):
            raise TypeError(f"{name} must be something to call, not {act!r}")
        before = self._given.get(name)
        if before is not None:
            self.clicked.disconnect(before)
        # Without the argument that the signal carries.
        self._given[name] = None if act is None else lambda: act()
        if act is not None:
            self.clicked.connect(self._given[name])

    def scheme(self) -> str:
        """The palette's scheme that it is drawn in; empty where there is but one."""
        return self._scheme

    def setScheme(self, scheme: str) -> None:
        """Draws with the palette of another scheme, one of ``design.schemes``."""
        if scheme not in self.design.schemes:
            raise ValueError(f"scheme must be one of {self.design.schemes}, not {scheme!r}")
        self._scheme = scheme
        self._changed()

    def _changed(self) -> None:
        self._follow()
        self.updateGeometry()
        self.update()

    # What follows parameters, the palette's scheme and the size; a control's module says how.

    def _driven_values(self, box: QRectF, around: QWidget, given: dict[str, Any]
                       ) -> Iterable[Driven]:
        return ()

    def _driven_size(self, box: QRectF, around: QWidget, given: dict[str, Any]
                     ) -> dict[int, float]:
        return {}

    def _driven_text(self, box: QRectF, around: QWidget, given: dict[str, Any]) -> str | None:
        return None

    def _follow(self) -> None:
        """Puts what is driven into the values that are drawn."""
        if not self.design.driven:
            return
        box, around, given = self.box(), self.parentWidget() or self, self._given
        for axis, length in self._driven_size(box, around, given).items():
            self._size[axis] = length
        if not self._text_given:
            text = self._driven_text(box, around, given)
            if text is not None:
                super().setText(text)
                self.setShortcut(QKeySequence())
        for states, part, path, make in self._driven_values(box, around, given):
            try:
                value = make()
            except (ArithmeticError, LookupError, TypeError, ValueError):
                continue  # the last good value stays
            values = self._rest[part]
            if states:
                values = self._changes.setdefault(states, {}).setdefault(part, {})
            put(values, self._rest[part], path, value)

    def showEvent(self, event: QShowEvent) -> None:
        parent = self.parentWidget()
        if self.design.follows_parent:
            if parent is not None:
                parent.installEventFilter(self)
            self._changed()
            self.resize(self.sizeHint())
        super().showEvent(event)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """What it stands in has another size, and so has what follows that."""
        if event.type() == QEvent.Type.Resize and watched is self.parentWidget():
            self._changed()
            self.resize(self.sizeHint())
        return super().eventFilter(watched, event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        if self.design.follows_size:
            self._follow()
        super().resizeEvent(event)

    # What layouts and callers ask

    def setText(self, text: str) -> None:
        self._text_given = True
        super().setText(text)
        self.setShortcut(QKeySequence())  # an ampersand is a letter here, not a mnemonic
        self.updateGeometry()

    def bleed(self) -> QMargins:
        """The room round the box for what is drawn outside it."""
        return QMargins(*self.design.bleed)

    def box(self) -> QRectF:
        """The control itself, without the room for its shadows."""
        return QRectF(self.rect().marginsRemoved(self.bleed()))

    def sizeHint(self) -> QSize:
        width, height = self._size
        room_x, room_y = self._rest["outline"]["padding"]
        for label in self._rest.values():
            if label.get("kind") != "label" or "box" in label:
                continue
            if label.get("flow", "one-line") != "one-line":
                continue
            metrics, share = metrics_of(label, self.design.folder), label["size"] / EM
            text = shown_text(label, label.get("text", self.text()))
            beside = 0 if "text" in label else self.design.beside
            width = max(width, metrics.horizontalAdvance(text) * share + beside + 2 * room_x)
            height = max(height, (metrics.ascent() + metrics.descent()) * share + 2 * room_y)
        return QSize(round(width + 0.49), round(height + 0.49)).grownBy(self.bleed())

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def states(self) -> set[str]:
        """What holds now, of ``design.states``."""
        holding = {"checked": self.isChecked(), "disabled": not self.isEnabled()}
        if self.isEnabled():
            holding |= {"focus": self.hasFocus() and self._keyboard_focus,
                     "hover": self._pointer_inside, "pressed": self.isDown()}
        return {state for state, holds in holding.items() if holds}

    # Pointer and keys

    def nextCheckState(self) -> None:
        """One of a group stays on when it is pressed, though it be the only one there."""
        if self.design.behaviour == "group":
            self.setChecked(True)
        else:
            super().nextCheckState()

    def hitButton(self, position: QPoint) -> bool:
        return self._covers(position)

    def _covers(self, position: QPoint) -> bool:
        """Whether a place lies within the outline."""
        body, box = self._rest["outline"], self.box()
        return body_path(body, box, self.design.size).contains(QPointF(position))

    def _point_at(self, inside: bool) -> None:
        if inside == self._pointer_inside:
            return
        self._pointer_inside = inside
        if inside:
            self.setCursor(QCursor(Qt.CursorShape.PointingHandCursor))
        else:
            self.unsetCursor()
        (self.entered if inside else self.left).emit()
        self.update()

    def enterEvent(self, event: QEnterEvent) -> None:
        self._point_at(self.isEnabled() and self._covers(event.position().toPoint()))
        super().enterEvent(event)

    def leaveEvent(self, event: QEvent) -> None:
        self._point_at(False)
        super().leaveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._point_at(self._covers(event.position().toPoint()))
        super().mouseMoveEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        self._keyboard_focus = True
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if not event.isAutoRepeat():
                self.click()
            return
        super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        if event.reason() != Qt.FocusReason.ActiveWindowFocusReason:
            # Otherwise as it was before another window came in front.
            self._keyboard_focus = event.reason() != Qt.FocusReason.MouseFocusReason
        super().focusInEvent(event)
        self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.update()

    def changeEvent(self, event: QEvent) -> None:
        if event.type() == QEvent.Type.EnabledChange:
            self._point_at(self.isEnabled() and self.underMouse())
            self.update()
        super().changeEvent(event)

    # Drawing, back to front

    def _part(self, name: str, holding: set[str]) -> Part:
        """A layer's values while these states hold."""
        values = dict(self._rest[name])
        for states, changed in self._changes.items():
            if holding.issuperset(states):
                values |= changed.get(name, {})
        return {name: value for name, value in values.items() if value is not None}

    def paintEvent(self, _event: QPaintEvent) -> None:
        holding = self.states()
        parts = {name: self._part(name, holding) for name in self._rest}
        painter = QPainter(self)
        if self.design.isolated:
            # Blended among themselves, not with what the control stands on.
            whole = self._apart(painter, lambda inside: self._paint_parts(inside, parts))
            painter.setOpacity(parts["outline"].get("opacity", 1))
            painter.drawImage(0, 0, whole)
        else:
            self._paint_parts(painter, parts)
        painter.end()

    def _apart(self, painter: QPainter, paint: Callable[[QPainter], object]) -> QImage:
        """A picture of the widget's size of what is painted on nothing."""
        ratio = self.devicePixelRatioF()
        whole = QImage(self.size() * ratio, QImage.Format.Format_ARGB32_Premultiplied)
        whole.setDevicePixelRatio(ratio)
        whole.fill(Qt.GlobalColor.transparent)
        inside = QPainter(whole)
        inside.setRenderHints(painter.renderHints())
        inside.setWorldTransform(painter.worldTransform())
        paint(inside)
        inside.end()
        return whole

    def _paint_parts(self, painter: QPainter, parts: Parts) -> None:
        body = parts["outline"]
        outline = moved(outline_of(body, self.box()), *body["offset"])
        painter.setRenderHints(
            QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
        layers = {name: part for name, part in parts.items() if name != "outline"}
        shown = {name: part for name, part in layers.items()
                 if part["visible"] and part["opacity"] > 0}
        gone = tuple(f"{name}--" for name, part in layers.items()
                     if part["kind"] == "group" and name not in shown)
        run = [(name, part) for name, part in shown.items() if not name.startswith(gone)]
        self._paint_run(painter, run, outline, body)

    def _paint_run(
        self, painter: QPainter, run: Run, outline: Outline, body: Part
    ) -> None:
        grown = self._text_growth() if self.design.following else 0.0
        groups = tuple(f"{name}--" for name, part in run if part["kind"] == "group")
        for at, (name, part) in enumerate(run):
            if name.startswith(groups):
                continue  # painted with what embeds it
            painter.save()
            painter.setOpacity(part["opacity"])
            painter.translate(self.design.following.get(name, 0) * grown, 0)
            painter.setCompositionMode(MODES[part.get("blend", "normal")])
            turn(painter, part, outline.box)
            if part["kind"] == "group":
                inner = [layer for layer in run[at + 1 :] if layer[0].startswith(f"{name}--")]
                self._paint_group(painter, part, inner, outline, body)
            else:
                above = [layer for other, layer in run[at + 1 :] if not other.startswith(groups)]
                self._paint_layer(painter, part, outline, body, above)
            painter.restore()

    def _paint_layer(
        self, painter: QPainter, part: Part, outline: Outline, body: Part, above: list[Part],
    ) -> None:
        design, kind, ratio = self.design, part["kind"], self.devicePixelRatioF()
        place = own_outline(part["own_box"], outline.box) if "own_box" in part else outline
        if kind == "label":
            self._paint_label(painter, part, outline, body)
        elif kind == "shadow":
            hidden = not part.get("cut") and any(
                is_opaque(layer) and lies_with(part, layer) for layer in above)
            paint_shadow(painter, part, place, hidden, design, self._shadow_images, ratio)
        elif kind == "inner-shadow":
            paint_inner_shadow(painter, part, place, design, self._shadow_images, ratio)
        elif kind == "baked":
            # A layer that shows nothing in these states has no picture.
            if "picture" in part:
                paint_picture(painter, design, part["picture"], part, self.box(), ratio)
        elif kind == "strokes":
            paint_strokes(painter, part, outline)
        elif kind == "gloss":
            paint_gloss(painter, part, place)
        elif kind == "fill":
            paint_fill(painter, part, place, above, design.size)
        else:
            paint_line(painter, part, place, design.size)

    def _paint_group(
        self, painter: QPainter, part: Part, inner: Run, outline: Outline, body: Part,
    ) -> None:
        """The layers of an embedded look, faded and blended as one."""
        apart = part["opacity"] < 1 or part.get("blend", "normal") != "normal"
        if not apart and all(layer.get("blend", "normal") == "normal" for _, layer in inner):
            self._paint_run(painter, inner, outline, body)
            return
        whole = self._apart(
            painter, lambda inside: self._paint_run(inside, inner, outline, body))
        painter.resetTransform()
        painter.drawImage(0, 0, whole)

    def _paint_label(self, painter: QPainter, part: Part, outline: Outline, body: Part) -> None:
        def paint(on: QPainter) -> None:
            paint_label(on, part, outline.box, body["padding"][0], self.text(),
                        self.design.folder, self.devicePixelRatioF())

        plain = part["opacity"] == 1 and part.get("blend", "normal") == "normal"
        if plain or not has_effects(part):
            paint(painter)
            return
        # Faded and blended as one: its shadow must not show through its letters.
        whole = self._apart(painter, paint)
        painter.resetTransform()
        painter.drawImage(0, 0, whole)

    def _text_growth(self) -> float:
        """How much wider than designed the text is that the content beside it makes room for."""
        label = next(part for part in self._rest.values()
                     if part.get("kind") == "label" and part.get("text") is None)
        return text_width(label, self.text(), self.design.folder) - self.design.text_width


class BusyControl(Control):
    """A control that can be busy: while it is, it keeps its look for that and answers no press."""

    busyChanged = Signal(bool)
    _busy = False

    def isBusy(self) -> bool:
        return self._busy

    def setBusy(self, busy: bool) -> None:
        if busy != self._busy:
            self._busy = busy
            self.busyChanged.emit(busy)
            self.update()

    def states(self) -> set[str]:
        holding = super().states()
        return holding | {"busy"} if self._busy and self.isEnabled() else holding

    def hitButton(self, position: QPoint) -> bool:
        return not self._busy and self._covers(position)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self._busy:
            self._keyboard_focus = True
            event.ignore()
            return
        super().keyPressEvent(event)


class HoldControl(Control):
    """A control that says so when it has been pressed for a while."""

    held = Signal()

    def __init__(
        self, text: str | None, parent: QWidget | None, given: dict[str, Any],
        actions: dict[str, Any],
    ) -> None:
        super().__init__(text, parent, given, actions)
        self._hold = QTimer(self, singleShot=True, interval=HOLD_MS)
        self._hold.timeout.connect(self.held)
        self.pressed.connect(self._hold.start)
        self.released.connect(self._hold.stop)
