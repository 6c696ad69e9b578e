"""Text is shown as it is, never as markup: the name of a control may be `<img src="…">`, which Qt
would load. Labels, tool tips and questions are made here and nowhere else; a check sees to it.
"""

from __future__ import annotations

from html import escape

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QLabel, QListWidgetItem, QMessageBox, QToolTip, QWidget

MARK = "<qt>"


def as_markup(text: str) -> str:
    """Markup that shows ``text`` as it is; what ``shown_plain`` gave stays."""
    return text if text.startswith(MARK) else escape(text).replace("\n", "<br>")


def shown_plain(text: str) -> str:
    """What Qt, which guesses the format of a tool tip, shows as ``text``."""
    # Qt takes a text with a known tag or entity in its first line for markup.
    if "<" not in text and "&" not in text:
        return text
    return MARK + escape(text).replace("\n", "<br>")


class PlainLabel(QLabel):
    def __init__(self, text: str | QWidget | None = "", parent: QWidget | None = None) -> None:
        if isinstance(text, str):
            super().__init__(parent)
        else:
            super().__init__(text)
        self.setTextFormat(Qt.TextFormat.PlainText)
        if isinstance(text, str):
            self.setText(text)


def markup_label(parent: QWidget) -> QLabel:
    """A label for markup of our own, with nothing of a kit in it."""
    label = QLabel(parent)
    label.setTextFormat(Qt.TextFormat.RichText)
    return label


def tip(owner: QWidget | QAction | QListWidgetItem, text: str) -> None:
    """Gives something its tool tip."""
    owner.setToolTip(shown_plain(text))


def show_tip(at: QPoint, text: str, widget: QWidget) -> None:
    """Shows a tool tip at a place of the screen."""
    QToolTip.showText(at, shown_plain(text), widget)


def show_markup_tip(at: QPoint, markup: str, widget: QWidget) -> None:
    """Shows a tool tip of our own markup; what is of a kit in it went through ``as_markup``."""
    QToolTip.showText(at, markup, widget)


def question(parent: QWidget, title: str, text: str) -> QMessageBox:
    """A question that is gone once it is answered."""
    box = QMessageBox(parent)
    box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    box.setWindowTitle(title)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(text)
    return box
