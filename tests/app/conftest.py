"""A real window and a hand that moves the pointer and presses keys in it."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import pytest
from PySide6.QtCore import QEvent, QPoint, Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QApplication,
    QDialogButtonBox,
    QFileDialog,
    QLineEdit,
    QMessageBox,
    QWidget,
)

from mektel.app import turns
from mektel.app.main import make_application, make_window
from mektel.app.window import Window

LEFT = Qt.MouseButton.LeftButton


class Hand:
    """Everything goes through the window system, as a user's pointer and keys do."""

    def __init__(self, window: Window, wait_until: Callable) -> None:
        self.window, self._wait_until = window, wait_until

    def _at(self, widget: QWidget, at: QPoint | None) -> tuple[object, QPoint]:
        top, spot = widget.window(), None
        for _ in range(6):  # until what was just shown has found its place
            before = spot
            QApplication.processEvents()
            spot = widget.mapTo(top, widget.rect().center() if at is None else at)
            if spot == before:
                break
        return top.windowHandle(), spot

    def move(self, widget: QWidget, at: QPoint | None = None) -> None:
        handle, spot = self._at(widget, at)
        QTest.mouseMove(handle, spot)

    def press(self, widget: QWidget, at: QPoint | None = None) -> None:
        handle, spot = self._at(widget, at)
        QTest.mouseMove(handle, spot)
        QTest.mousePress(handle, LEFT, pos=spot)

    def release(self, widget: QWidget, at: QPoint | None = None) -> None:
        handle, spot = self._at(widget, at)
        QTest.mouseRelease(handle, LEFT, pos=spot)

    def click(self, widget: QWidget, at: QPoint | None = None) -> None:
        self.press(widget, at)
        self.release(widget, at)

    def double_click(self, widget: QWidget, at: QPoint | None = None) -> None:
        handle, spot = self._at(widget, at)
        self.click(widget, at)
        QTest.mouseDClick(handle, LEFT, pos=spot)

    def drag(self, widget: QWidget, start: QPoint, end: QPoint, steps: int = 6) -> None:
        self.press(widget, start)
        for step in range(1, steps + 1):
            self.move(widget, start + (end - start) * (step / steps))
        self.release(widget, end)

    def key(self, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier
            ) -> None:
        QTest.keyClick(QApplication.focusWindow() or self.window.windowHandle(), key, modifier)

    def keys(self, words: str) -> None:
        """Ctrl+Z and the like."""
        QTest.keySequence(self.window, words)

    def write(self, entry: QLineEdit, words: str, key: Qt.Key = Qt.Key.Key_Return) -> None:
        """Clicks into a field, types over what is there, and confirms."""
        self.click(entry)
        entry.selectAll()
        QTest.keyClick(entry, Qt.Key.Key_Delete)
        QTest.keyClicks(entry, words)
        QTest.keyClick(entry, key)

    def until(self, holds: Callable[[], bool], timeout: int = 60_000) -> None:
        self._wait_until(holds, timeout=timeout)

    def focus(self, widget: QWidget) -> None:
        """Gives a widget the keyboard focus once it is shown."""
        self.until(widget.isVisible)
        widget.setFocus()

    def settle(self) -> None:
        QApplication.processEvents()
        bench = self.window.bench
        self.until(lambda: not bench.looks.busy and not bench.pictures.busy)

    def choose(self, menu: object, *words: str) -> None:
        """Picks a menu's entry by its first words, through the menus that lead to it."""
        for word in words:
            action = next(a for a in menu.actions() if a.text().split("\t")[0].startswith(word))
            if action.menu() is not None:
                menu = action.menu()
                menu.aboutToShow.emit()
        action.trigger()

    def name_file(self, path: Path) -> None:
        """Types a path into the open file dialog and confirms it."""
        dialogs = self.window.findChildren(QFileDialog)
        dialog = next(one for one in reversed(dialogs) if one.isVisible())
        entry = dialog.findChild(QLineEdit, "fileNameEdit")
        entry.setText(str(path))
        buttons = dialog.findChild(QDialogButtonBox).buttons()
        accept = next(b for b in buttons if b.text().strip("&") in ("Open", "Save", "Choose"))
        QTest.mouseClick(accept, LEFT)
        self.until(lambda: not any(d.isVisible() for d in self.window.findChildren(QFileDialog)))
        self.window.activateWindow()  # as a window manager does
        QTest.qWaitForWindowActive(self.window)

    def answer(self, words: str) -> None:
        """Presses a button of the open question."""
        box = next(b for b in self.window.findChildren(QMessageBox) if b.isVisible())
        self.click(next(b for b in box.buttons() if b.text() == words))
        self.window.activateWindow()

    def later(self, act: Callable[[], object], delay: int = 50) -> None:
        QTimer.singleShot(delay, act)


@pytest.fixture
def make(qtbot, monkeypatch: pytest.MonkeyPatch) -> Iterator[Callable[..., tuple[Window, Hand]]]:
    make_application()
    # A hand in a test makes no pauses: what is prepared in them would only take its time.
    monkeypatch.setattr(turns, "PAUSE", 3000)
    windows: list[Window] = []

    def build(demo: bool = True, kit: Path | None = None) -> tuple[Window, Hand]:
        window = make_window(kit, demo)
        windows.append(window)
        window.show()
        qtbot.waitExposed(window)
        QTest.qWaitForWindowActive(window)
        hand = Hand(window, qtbot.waitUntil)
        if QApplication.mouseButtons():
            # What another test holds down would take every move for itself.
            QTest.mouseRelease(window.windowHandle(), LEFT)
        hand.settle()
        return window, hand

    yield build
    for window in windows:
        window._closing = True
        window.close()
        window.deleteLater()
    QApplication.processEvents()
    # Outside of an event loop nothing is deleted by itself, and what stays slows the next down.
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


@pytest.fixture
def demo(make: Callable[..., tuple[Window, Hand]]) -> tuple[Window, Hand]:
    return make()
