"""The control itself: what layouts ask, and pointer and keys."""

from __future__ import annotations

import warnings
from collections.abc import Callable, Iterable, Sequence
from functools import partialmethod
from typing import Any, ClassVar

from .design import AnyFrame, Design, Parts, States
from .labels import Text, text_of
from .mirroring import mirrored
from .outlines import body_path
from .parameters import checked, qt_value
from .qt import Property, QtCore, QtGui, QtWidgets, Signal, painter_on
from .resizing import Resizing
from .shown import LastPaint, Outside, from_right, paint
from .variants import Variant, variant_of

LONG_PRESS_MS = 600
NOTHING: dict[str, Any] = {}
FIXED = QtWidgets.QSizePolicy.Policy.Fixed
# What a value follows: the states it belongs to, its part, its path there, and what computes it.
Driven = tuple[States, str, tuple[str | int, ...], Callable[[], Any]]


class Control(QtWidgets.QPushButton):
    """A button drawn as designed. Its geometry is its box, or its outline where that is larger:
    shadows and glows are painted beyond it and take no clicks. Signals of QPushButton, entered,
    left.
    """

    design: ClassVar[Design]
    entered = Signal()
    left = Signal()
    schemeChanged = Signal(str)
    # A sound begins, with its gain; an iris covers the window: what comes next is to be shown.
    soundBegun = Signal(str, float)
    nextDue = Signal()

    def __init__(
        self, text: str | QtWidgets.QWidget | None = None,
        parent: QtWidgets.QWidget | None = None, given: dict[str, Any] = NOTHING,
        actions: dict[str, Any] = NOTHING, **properties: Any,
    ) -> None:
        """``given`` are parameters, ``actions`` what presses call, by name; the rest are Qt's."""
        if isinstance(text, QtWidgets.QWidget):
            # As forms do, which set the rest later.
            text, parent = None, text
        else:
            self._require(text, {**given, **actions})
        super().__init__(parent, **properties)
        self.setMouseTracking(True)  # a pointer on the very edge moves without having entered
        design = self.design
        self._given = {
            name: checked(name, value, design.parameters[name]) for name, value in given.items()
            if value is not None}
        self._scheme = design.schemes[0] if design.schemes else ""
        self._variant: Variant | None = None
        self._last_variant: Variant | None = None
        self._player = design.feel(self) if design.feel is not None else None
        self.last_paint: LastPaint | None = None
        self.resizing: Resizing | None = None
        # What the platform says of contrast, and the word for a high one.
        self.hints: tuple[Any, Any] | None = None
        self._shown: tuple[tuple[str, bool, bool], Text] | None = None
        self._hit: tuple[QtCore.QRectF, QtGui.QPainterPath] | None = None
        self._mnemonics = True
        self._pointer_inside = self._keyboard_focus = self._dotted = False
        # The text as designed, or as it follows what the control is made of; None once another
        # is given.
        self._own_text: str | None = None
        for name, act in actions.items():
            if act is not None:
                self.set_action(name, act)
        if "checked" in design.states:
            self.setCheckable(True)
        if design.behaviour == "group":
            self.setAutoExclusive(True)  # one of those in the same parent
        if not design.stretches:
            self.setSizePolicy(FIXED, FIXED)
        if text is not None:
            self.setText(text)
        elif design.text:
            self._own_text = self._marked(design.text)
            super().setText(self._own_text)
        if not design.text:
            self.setAccessibleName(design.name)
        if design.driven:
            self.variant()

    def __init_subclass__(cls) -> None:
        """Code that is made from forms sets properties by methods."""
        super().__init_subclass__()
        design = cls.__dict__.get("design")
        for name in design.parameters if design else ():
            setter = f"set{name[0].upper()}{name[1:]}"
            if not hasattr(cls, setter):
                setattr(cls, setter, partialmethod(Control.set_argument, name))

    def _require(self, text: str | None, given: dict[str, Any]) -> None:
        missing = [name for name in self.design.required
                   if (text if name == "text" else given[name]) is None]
        if missing:
            raise TypeError(f"{type(self).__name__} needs {' and '.join(missing)}")

    # What an instance may set

    def argument(self, name: str) -> Any:
        """The value of a parameter."""
        return self._given[name]

    def set_argument(self, name: str, value: Any) -> None:
        """Sets a parameter; raises TypeError or ValueError for what it does not take."""
        value = checked(name, value, self.design.parameters[name])
        if value != self._given.get(name):
            self._given[name] = value
            self._changed()
            changed = getattr(self, f"{name}Changed", None)
            if changed is not None:
                changed.emit(qt_value(self, name))

    def set_action(self, name: str, act: Callable[[], object] | None) -> None:
        """What a press calls; None for nothing."""
        if act is not None and not callable(act):
            raise TypeError(f"{name} must be callable, not {act!r}")
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
        if scheme != self._scheme:
            self._scheme = scheme
            self._changed()
            self.schemeChanged.emit(scheme)

    colourScheme = Property(str, scheme, setScheme, notify=schemeChanged)

    def hasMnemonics(self) -> bool:
        """Whether an ampersand marks the letter of a shortcut, as it does in every button."""
        return self._mnemonics

    def setMnemonics(self, mnemonics: bool) -> None:
        """False makes an ampersand a letter as any other."""
        text, own = self.plain_text(), self.text() == self._own_text
        self._mnemonics = mnemonics
        if own:
            self._own_text = self._marked(text)
        self._set_text(self._marked(text) if own else self.text())

    mnemonics = Property(bool, hasMnemonics, setMnemonics)

    def setText(self, text: str) -> None:
        self._own_text = None
        self._set_text(text)
        self._changed()

    def _set_text(self, text: str) -> None:
        super().setText(text)
        if not self._mnemonics:
            self.setShortcut(QtGui.QKeySequence())

    def _marked(self, text: str) -> str:
        """A text that has no mnemonic, as a button takes it."""
        return text.replace("&", "&&") if self._mnemonics else text

    def setIcon(self, icon: QtGui.QIcon | QtGui.QPixmap) -> None:
        self._refuse("icon")

    def setFont(self, font: QtGui.QFont | str | Sequence[str]) -> None:
        self._refuse("font")

    def _refuse(self, what: str) -> None:
        warnings.warn(
            f"{type(self).__name__}: its {what} is part of the design; change it there and export "
            "the control again", stacklevel=3)

    def _changed(self) -> None:
        self._hit = None
        if self.design.driven:
            self._variant = None
            self.variant()
        if self.isVisible():
            self._mark_dotted()
        self.updateGeometry()
        self.update()

    # What follows parameters, the palette's scheme and the size; a control's module says how.

    def _driven_values(self, box: QtCore.QRectF, around: QtWidgets.QWidget, given: dict[str, Any]
                       ) -> Iterable[Driven]:
        return ()

    def _driven_size(self, box: QtCore.QRectF, around: QtWidgets.QWidget, given: dict[str, Any]
                     ) -> dict[int, float]:
        return {}

    def _driven_text(self, box: QtCore.QRectF, around: QtWidgets.QWidget, given: dict[str, Any]
                     ) -> str | None:
        return None

    def variant(self) -> Variant:
        """The design as its parameters, scheme, size and text have it; shared by those alike."""
        if self._variant is None:
            self._variant = variant_of(self)
        return self._variant

    def follow_text(self) -> None:
        """Says what its formula gives, until another text is set."""
        if self.text() != self._own_text:
            return
        text = self._driven_text(self.box(), self.parentWidget() or self, self._given)
        if text is not None:
            self._own_text = self._marked(text)
            self._set_text(self._own_text)

    def showEvent(self, event: QtGui.QShowEvent) -> None:
        if self._player is not None:
            self._player.begin()
        self._reach_out()
        self._report_missing()
        parent = self.parentWidget()
        if self.design.follows_parent:
            if parent is not None:
                parent.installEventFilter(self)
            self._changed()
            self.resize(self.sizeHint())
        super().showEvent(event)

    def _reach_out(self) -> None:
        """Makes room for what lies beyond the box, as soon as it may be seen."""
        if any(self.design.beyond) and self.graphicsEffect() is None:
            self.setGraphicsEffect(Outside(self, max(self.design.beyond)))

    def _report_missing(self) -> None:
        """What a form has not set when it is shown."""
        missing = [name for name in self.design.required
                   if not (self.text() if name == "text" else name in self._given)]
        if missing:
            warnings.warn(f"{type(self).__name__} needs {' and '.join(missing)}", stacklevel=2)

    def eventFilter(self, watched: QtCore.QObject, event: QtCore.QEvent) -> bool:
        """What it stands in has another size, and so has what follows that."""
        if event.type() == QtCore.QEvent.Type.Resize and watched is self.parentWidget():
            self._changed()
            self.resize(self.sizeHint())
        return super().eventFilter(watched, event)

    def resizeEvent(self, event: QtGui.QResizeEvent) -> None:
        self._hit = None
        self._reach_out()
        if self.design.follows_size:
            self._variant = None
            self.variant()
        self._mark_dotted()
        super().resizeEvent(event)

    # What layouts and callers ask

    def bleed(self) -> QtCore.QMargins:
        """How far shadows and glows reach beyond the geometry: margins that show them whole."""
        return QtCore.QMargins(*self.design.beyond)

    def box(self) -> QtCore.QRectF:
        """The control itself, without its shadows."""
        left, top, right, bottom = self.design.overhang
        return QtCore.QRectF(left, top, max(0, self.width() - left - right),
                             max(0, self.height() - top - bottom))

    def shown_text(self) -> Text:
        """What it says, and the letter of its mnemonic."""
        given = self.text(), self._mnemonics, self._dotted
        if self._shown is None or self._shown[0] != given:
            self._shown = given, text_of(*given[:2])._replace(dotted=self._dotted)
        return self._shown[1]

    def plain_text(self) -> str:
        """What it says, without the sign of a mnemonic."""
        return text_of(self.text(), self._mnemonics).shown

    def _mark_dotted(self) -> None:
        """A text that has too little room ends in dots, and a tool tip has the whole of it."""
        dotted, text = self.width() < self.sizeHint().width(), self.plain_text()
        if "<" in text:  # Qt would take it for markup, and load the pictures in it
            text = "<qt>" + text.replace("&", "&amp;").replace("<", "&lt;")
        if dotted and not self.toolTip():
            self.setToolTip(text)
        elif self._dotted and not dotted and self.toolTip() == text:
            self.setToolTip("")
        self._dotted = dotted

    def sizeHint(self) -> QtCore.QSize:
        left, top, right, bottom = self.design.overhang
        size = self.variant().size_for(self.design, self.plain_text())
        return size + QtCore.QSize(left + right, top + bottom)

    def minimumSizeHint(self) -> QtCore.QSize:
        return self.sizeHint()

    def states(self) -> set[str]:
        """What holds now, of ``design.states``."""
        holding = {"checked"} if self.isChecked() else set()
        if not self.isEnabled():
            return holding | {"disabled"}
        holding |= {"hover"} if self._pointer_inside else set()
        holding |= {"pressed"} if self.isDown() else set()
        return holding | ({"focus"} if self._keyboard_focus and self.hasFocus() else set())

    def rest(self) -> Parts:
        """Every value at rest."""
        return self.variant().rest

    def moving(self) -> AnyFrame | None:
        """The frame of this moment; None while nothing moves."""
        return None if self._player is None else self._player.frame()

    def is_calm(self) -> bool:
        """Whether what moves without end stands still."""
        return self._player is not None and self._player.is_calm()

    def hideEvent(self, event: QtGui.QHideEvent) -> None:
        self.last_paint = None
        if self._player is not None:
            self._player.end()
        super().hideEvent(event)

    # Pointer and keys

    def nextCheckState(self) -> None:
        """One of a group stays on when it is pressed, though it be the only one there."""
        if self.design.behaviour == "group":
            self.setChecked(True)
        else:
            super().nextCheckState()

    def hitButton(self, position: QtCore.QPoint) -> bool:
        return self.covers(position)

    def covers(self, position: QtCore.QPoint) -> bool:
        """Whether a place lies within the outline."""
        box = self.box()
        if self._hit is None or self._hit[0] != box:
            outline = self.rest()["outline"]
            if from_right(self):
                outline = mirrored(outline)
            self._hit = box, body_path(outline, box)
        return bool(self._hit[1].contains(QtCore.QPointF(position)))

    def _point_at(self, inside: bool) -> None:
        if inside == self._pointer_inside:
            return
        self._pointer_inside = inside
        if inside:
            self.setCursor(QtGui.QCursor(QtCore.Qt.CursorShape.PointingHandCursor))
        else:
            self.unsetCursor()
        (self.entered if inside else self.left).emit()
        self.update()

    def enterEvent(self, event: QtGui.QEnterEvent) -> None:
        self._point_at(self.isEnabled() and self.covers(event.position().toPoint()))
        super().enterEvent(event)

    def leaveEvent(self, event: QtCore.QEvent) -> None:
        self._point_at(False)
        super().leaveEvent(event)

    def mouseMoveEvent(self, event: QtGui.QMouseEvent) -> None:
        self._point_at(self.covers(event.position().toPoint()))
        super().mouseMoveEvent(event)

    def keyPressEvent(self, event: QtGui.QKeyEvent) -> None:
        self._keyboard_focus = True
        if event.key() in (QtCore.Qt.Key.Key_Return, QtCore.Qt.Key.Key_Enter):
            if not event.isAutoRepeat():
                self.click()
            return
        super().keyPressEvent(event)

    def focusInEvent(self, event: QtGui.QFocusEvent) -> None:
        if event.reason() != QtCore.Qt.FocusReason.ActiveWindowFocusReason:
            # Otherwise as it was before another window came in front.
            self._keyboard_focus = event.reason() != QtCore.Qt.FocusReason.MouseFocusReason
        super().focusInEvent(event)
        self.update()

    def focusOutEvent(self, event: QtGui.QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.update()

    def changeEvent(self, event: QtCore.QEvent) -> None:
        if event.type() == QtCore.QEvent.Type.EnabledChange:
            self._point_at(self.isEnabled() and self.underMouse())
            self.update()
        elif event.type() == QtCore.QEvent.Type.LayoutDirectionChange:
            self._changed()
        super().changeEvent(event)

    def paintEvent(self, _event: QtGui.QPaintEvent) -> None:
        """Without its own effect, as in a window that fades it with another, it has no shadows."""
        if not isinstance(self.graphicsEffect(), Outside):
            with painter_on(self) as painter:
                paint(self, painter)


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

    busy = Property(bool, isBusy, setBusy, notify=busyChanged)

    def states(self) -> set[str]:
        holding = super().states()
        return holding | {"busy"} if self._busy and self.isEnabled() else holding

    def hitButton(self, position: QtCore.QPoint) -> bool:
        return not self._busy and self.covers(position)

    def keyPressEvent(self, event: QtGui.QKeyEvent) -> None:
        if self._busy:
            self._keyboard_focus = True
            event.ignore()
            return
        super().keyPressEvent(event)


class LongPressControl(Control):
    """A control that says so when it has been pressed for a while."""

    longPressed = Signal()

    def __init__(self, *arguments: Any, **properties: Any) -> None:
        super().__init__(*arguments, **properties)
        self._long = QtCore.QTimer(self, singleShot=True, interval=LONG_PRESS_MS)
        self._long.timeout.connect(self.longPressed)
        self.pressed.connect(self._long.start)
        self.released.connect(self._long.stop)
