"""Plays recorded traces on Qt controls with real input. Knows nothing of Mektel."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QKeyEvent, QWindow
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

KEYS = {"space": Qt.Key.Key_Space, "enter": Qt.Key.Key_Return}
LEFT = Qt.MouseButton.LeftButton


class Player:
    """Brings the events of a trace about; ``heard`` gathers the signals that it listens to."""

    def __init__(
        self, control: QWidget, middle: QPoint, before: QWidget, handle: QWindow,
        states: Callable[[], set[str]], set_busy: Callable[[bool], None],
    ) -> None:
        self.control, self.middle, self.before, self.handle = control, middle, before, handle
        self.states, self.set_busy = states, set_busy
        self.heard: list[str] = []
        self.pointer = QPoint(2, 2)

    def play(self, steps: list[dict[str, Any]]) -> list[list[Any]]:
        """After each step the states that hold and the signals it sent."""
        results, clock = [], 0.0
        QTest.mouseMove(self.handle, self.pointer)
        self.before.setFocus()
        self.heard.clear()
        for step in steps:
            event = step["event"]
            if event["kind"] == "wait":
                QTest.qWait(round(1000 * (event["at"] - clock)))
            else:
                self.bring_about(event)
            clock = event["at"]
            QApplication.processEvents()
            results.append([sorted(self.states()), self.heard[:]])
            self.heard.clear()
        return results

    def bring_about(self, event: dict[str, Any]) -> None:
        kind = event["kind"]
        if kind == "move":
            self.pointer = self.middle if event.get("inside") else QPoint(2, 2)
            QTest.mouseMove(self.handle, self.pointer)
        elif kind == "press":
            QTest.mousePress(self.handle, LEFT, pos=self.pointer)
        elif kind == "release":
            QTest.mouseRelease(self.handle, LEFT, pos=self.pointer)
        elif kind == "cancel":
            own, other = self.control.window(), QWidget()
            for window in (other, own):  # another window comes in front, and goes again
                window.show()
                window.activateWindow()
                QTest.qWaitForWindowActive(window)
        elif kind in ("key-down", "key-up"):
            self.press_key(KEYS[event["key"]], kind == "key-down", event.get("repeat", False))
        elif kind == "focus":
            self.control.setFocus(Qt.FocusReason.TabFocusReason)
        elif kind == "blur":
            self.before.setFocus()
        elif kind in ("disable", "enable"):
            self.control.setEnabled(kind == "enable")
        elif kind in ("busy", "idle"):
            self.set_busy(kind == "busy")

    def press_key(self, key: Qt.Key, down: bool, repeat: bool) -> None:
        if repeat:
            QApplication.sendEvent(QApplication.focusWidget() or self.control, QKeyEvent(
                QEvent.Type.KeyPress, key, Qt.KeyboardModifier.NoModifier, "", True))
        elif down:
            QTest.keyPress(self.handle, key)
        else:
            QTest.keyRelease(self.handle, key)
