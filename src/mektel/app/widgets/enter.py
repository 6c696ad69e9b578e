"""Enter presses the button that has the focus, as Space does; Qt does so in dialogs alone."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractButton, QApplication


def pressed_by_enter(event: QKeyEvent) -> bool:
    """Whether the key was Enter, and a button had the focus that is now pressed."""
    button = QApplication.focusWidget()
    if event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter) or not isinstance(
            button, QAbstractButton) or not button.isEnabled():
        return False
    button.click()
    return True
