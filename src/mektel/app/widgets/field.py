"""What was typed is never lost: a line takes over its text when it is left, and before what would
pass it by.
"""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication, QLineEdit


def finish_typing() -> None:
    """Takes over the line that is typed into, as leaving it would."""
    entry = QApplication.focusWidget()
    if isinstance(entry, QLineEdit) and entry.isModified():
        entry.editingFinished.emit()


def gave_back(event: QKeyEvent) -> bool:
    """Whether the key was Escape, and a line was typed into that now has again what it had."""
    entry = QApplication.focusWidget()
    if event.key() != Qt.Key.Key_Escape or not isinstance(entry, QLineEdit) or not (
            entry.isModified() and entry.isUndoAvailable()):
        return False
    while entry.isUndoAvailable():
        entry.undo()
    entry.setModified(False)
    return True
