"""A hand that uses the whole window at random: pointer, wheel and keys on whatever is there.

Nothing outside the window is touched: what starts another program or writes files is left alone.
"""

from __future__ import annotations

import random
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from unittest.mock import patch

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PySide6.QtGui import QDrag, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QFileDialog,
    QLineEdit,
    QMenu,
    QWidget,
)

from mektel.app.window import Window
from tests.app.watchdog import Watchdog

LEFT = Qt.MouseButton.LeftButton
LEFT_ALONE = ("quit", "new window", "open in a new window", "open folder", "write", "run", "save",
              "show in", "choose…", "browse", "import", "open", "recent", "read a picture")
PATIENCE = 15
# Milliseconds.
WAITING = 3000
KEYS = (Qt.Key.Key_Tab, Qt.Key.Key_Backtab, Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Up,
        Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Space, Qt.Key.Key_Home,
        Qt.Key.Key_End, Qt.Key.Key_Delete, Qt.Key.Key_PageDown)
SEQUENCES = ("Ctrl+Z", "Ctrl+Z", "Ctrl+Shift+Z", "Ctrl+1", "Ctrl+2", "Ctrl+3", "Ctrl+4", "Ctrl+K",
             "F1", "Ctrl+C", "Ctrl+V")
TEXTS = ("12", "0.5", "#2F8C93", "tide", "beacon", "width / 2", "Cast off", "-3", "<b>&x", "")


class RandomUse:
    """``step`` does one thing; the same seed does the same things to a window that is as fast."""

    def __init__(self, window: Window, seed: int) -> None:
        self.window, self.dice = window, random.Random(seed)
        self.done: Counter[str] = Counter()
        self.last = ""
        # What lies over the window, and for how many steps it has.
        self._over: tuple[QWidget | None, int] = (None, 0)

    @property
    def top(self) -> QWidget:
        """What takes input now."""
        return (QApplication.activePopupWidget() or QApplication.activeModalWidget()
                or self.window)

    def _close_what_stays(self) -> None:
        """Something that opened and takes all input is left, as a user leaves it in the end."""
        top = self.top
        steps = self._over[1] + 1 if top is self._over[0] else 0
        self._over = (top, steps)
        # Files can be renamed and deleted in their dialog.
        patience = 0 if isinstance(top, QFileDialog) else PATIENCE
        if top is not self.window and steps >= patience:
            top.close()
            self._over = (None, 0)

    def step(self) -> None:
        self._close_what_stays()
        acts = (self._press, self._press, self._press, self._press_anywhere, self._drag, self._key,
                self._key, self._sequence, self._type, self._wheel)
        act = self.dice.choice(acts)
        self.last = act.__name__
        self.done[act.__name__] += 1
        act()
        QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        if not self.window.bench.kit.controls:
            self.window.bench.undo()

    def _shown(self, kind: type[QWidget]) -> list[QWidget]:
        return [widget for widget in self.top.findChildren(kind)
                if widget.isVisible() and widget.isEnabled() and widget.window() is self.top
                and not widget.visibleRegion().isEmpty()]

    def _is_left_alone(self, words: str) -> bool:
        words = words.lower().replace("&", "")
        return any(words.startswith(start) for start in LEFT_ALONE)

    def _press(self) -> None:
        if isinstance(self.top, QMenu):
            self._choose(self.top)
            return
        kind = self.dice.choice((QAbstractButton, QAbstractButton, QLineEdit, QWidget))
        shown = self._shown(kind)
        if not shown:
            return
        widget = self.dice.choice(shown)
        words = widget.text() if isinstance(widget, QAbstractButton) else widget.accessibleName()
        if self._is_left_alone(words):
            return
        self.last = f"press {type(widget).__name__} {words}"
        size = widget.size()
        QTest.mouseMove(widget)
        QTest.mouseClick(widget, self.dice.choice((LEFT, LEFT, LEFT, Qt.MouseButton.RightButton)),
                         pos=QPoint(self.dice.randrange(max(1, size.width())),
                                    self.dice.randrange(max(1, size.height()))))

    def _choose(self, menu: QMenu) -> None:
        actions = [action for action in menu.actions() if action.isEnabled() and action.isVisible()
                   and not action.isSeparator() and not self._is_left_alone(action.text())]
        if not actions or self.dice.random() < 0.3:
            menu.close()
            return
        action = self.dice.choice(actions)
        self.last = f"choose {action.text()}"
        if action.menu() is not None:
            menu.setActiveAction(action)
            QTest.keyClick(menu, Qt.Key.Key_Right)
        else:
            QTest.mouseClick(menu, LEFT, pos=menu.actionGeometry(action).center())

    def _place(self) -> QPoint:
        size = self.top.size()
        return QPoint(self.dice.randrange(max(1, size.width())),
                      self.dice.randrange(max(1, size.height())))

    def _press_anywhere(self) -> None:
        if not isinstance(self.top, QMenu):
            place = self._place()
            under = self.top.childAt(place)
            words = under.text() if isinstance(under, QAbstractButton) else ""
            if not self._is_left_alone(words):
                QTest.mouseMove(self.top.windowHandle(), place)
                QTest.mouseClick(self.top.windowHandle(), LEFT, pos=place)

    def _drag(self) -> None:
        if isinstance(self.top, QMenu):
            return
        handle, start, end = self.top.windowHandle(), self._place(), self._place()
        under = self.top.childAt(start)
        if isinstance(under, QAbstractButton):
            return
        QTest.mouseMove(handle, start)
        QTest.mousePress(handle, LEFT, pos=start)
        for share in (0.2, 0.6, 1.0):
            QTest.mouseMove(handle, start + (end - start) * share)
            QApplication.processEvents()
        QTest.mouseRelease(handle, LEFT, pos=end)

    def _focused(self) -> QWidget:
        return QApplication.focusWidget() or self.top

    def _key(self) -> None:
        focused = self._focused()
        key = self.dice.choice(KEYS)
        self.last = f"{key.name} on {type(focused).__name__} {focused.accessibleName()}"
        words = focused.text() if isinstance(focused, QAbstractButton) else ""
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Space) and (
                self._is_left_alone(words) or isinstance(self.top, QMenu)):
            return
        QTest.keyClick(focused, key)

    def _sequence(self) -> None:
        if self.top is self.window:
            QTest.keySequence(self.window, self.dice.choice(SEQUENCES))

    def _type(self) -> None:
        entries = self._shown(QLineEdit)
        if entries:
            entry = self.dice.choice(entries)
            if "older" in entry.accessibleName():
                return  # the folder that is written to
            QTest.mouseClick(entry, LEFT)
            QTest.keySequence(self.top, "Ctrl+A")
            for letter in self.dice.choice(TEXTS):
                if isinstance(QApplication.focusWidget(), QLineEdit):
                    QTest.keyClick(self._focused(), letter)
            self._key()

    def _wheel(self) -> None:
        place = self._place()
        under = self.top.childAt(place) or self.top
        at = QPointF(under.mapFrom(self.top, place))
        QApplication.sendEvent(under, QWheelEvent(
            at, under.mapToGlobal(at), QPoint(), QPoint(0, self.dice.choice((-120, 120, 480))),
            Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase, False))


@contextmanager
def inside_the_window() -> Iterator[None]:
    """Drags to other programs, other windows and other programs are not begun."""
    with (patch.object(QDrag, "exec", lambda *_: Qt.DropAction.IgnoreAction),
          patch("mektel.app.window.open_window", lambda *_: None),
          patch("PySide6.QtGui.QDesktopServices.openUrl", lambda *_: True)):
        yield


def use_for(use: RandomUse, seconds: float, watch: Watchdog | None = None) -> int:
    """Steps until the time is over; how many there were. What opens and waits within a step, as
    some menus do, is closed after a while.
    """
    end, steps = time.monotonic() + seconds, 0
    waiting = QTimer(interval=WAITING)
    waiting.timeout.connect(lambda: None if use.top is use.window else use.top.close())
    while time.monotonic() < end:
        waiting.start()
        use.step()
        steps += 1
        if watch is not None:
            watch.take_beat()
            watch.doing = use.last
    return steps
