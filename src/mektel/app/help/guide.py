"""The user guide inside the window, opened at what is in front of the user."""

from __future__ import annotations

import re
from functools import lru_cache
from pathlib import Path

from PySide6.QtCore import Qt, QUrl, Signal
from PySide6.QtGui import QColor, QPalette, QTextBlock, QTextCursor
from PySide6.QtWidgets import (
    QHBoxLayout,
    QMenu,
    QPushButton,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from mektel.app.theme import GAP_2, GAP_3, GAP_4, theme, ui_font
from mektel.app.widgets.menu import add_action
from mektel.app.widgets.plain import PlainLabel, tip

GUIDE = Path(__file__).resolve().parents[2] / "help" / "guide.md"
# Pictures are in front of the user already; notes for the reader of the file are not for here.
LEFT_OUT = re.compile(r"^!\[[^\]]*\]\([^)]*\)\s*$|\s*\(\[picture\]\([^)]*\)\)", re.MULTILINE)


@lru_cache(maxsize=1)
def guide_text() -> str:
    """The guide as Markdown, without its pictures."""
    return LEFT_OUT.sub("", GUIDE.read_text(encoding="utf-8"))


def headings() -> list[str]:
    """What the guide's parts are called, in order, without their numbers."""
    found = re.findall(r"^#{2,3} (.+)$", guide_text(), re.MULTILINE)
    return [plain(title) for title in found]


def plain(title: str) -> str:
    """A heading without its number."""
    return re.sub(r"^\d+\.\s*", "", title)


def slug(title: str) -> str:
    """A heading as links in Markdown name it."""
    return re.sub(r"[^\w\- ]", "", title.casefold()).replace(" ", "-")


class GuidePane(QWidget):
    closed = Signal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setMinimumWidth(320)
        column = QVBoxLayout(self)
        column.setContentsMargins(GAP_4, GAP_3, GAP_3, 0)
        column.setSpacing(GAP_2)
        head = QHBoxLayout()
        title = PlainLabel("Guide", self)
        title.setProperty("role", "heading")
        self.parts = QPushButton("Contents  ▾", self)
        self.parts.setObjectName("quiet")
        menu = QMenu(self.parts)
        for name in headings():
            add_action(menu, name, self.show_part, name)
        self.parts.setMenu(menu)
        self.close_button = QPushButton("✕", self)
        self.close_button.setObjectName("quiet")
        self.close_button.setAccessibleName("Close the guide")
        tip(self.close_button, "Close the guide (Esc)")
        self.close_button.clicked.connect(self.closed)
        head.addWidget(title)
        head.addStretch(1)
        head.addWidget(self.parts)
        head.addWidget(self.close_button)
        column.addLayout(head)
        self.text = QTextBrowser(self)
        self.text.setOpenLinks(False)
        self.text.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.text.setFrameShape(QTextBrowser.Shape.NoFrame)
        self.text.setAccessibleName("Guide")
        self.text.anchorClicked.connect(self._follow)
        column.addWidget(self.text, 1)
        self.retheme()

    def retheme(self) -> None:
        """Sets the text anew, in the colours of the theme."""
        colours = theme()
        self.text.setStyleSheet(
            f"QTextBrowser {{ background: transparent; color: {colours.ink}; }}")
        document = self.text.document()
        document.setDefaultFont(ui_font(13))
        document.setDocumentMargin(0)
        document.setIndentWidth(18)
        palette = self.text.palette()
        palette.setColor(QPalette.ColorRole.Link, QColor(colours.second))
        self.text.setPalette(palette)
        self.text.setMarkdown(guide_text())
        block = document.begin()
        while block.isValid():
            self._set(block)
            block = block.next()

    def _set(self, block: QTextBlock) -> None:
        """Headings in the window's own sizes; room between paragraphs."""
        level = block.blockFormat().headingLevel()
        cursor = QTextCursor(block)
        cursor.select(QTextCursor.SelectionType.BlockUnderCursor)
        form = block.blockFormat()
        form.setLineHeight(130, 1)
        if level:
            form.setTopMargin(GAP_4 if level <= 2 else GAP_3)
            letters = cursor.charFormat()
            letters.setFont(ui_font({1: 18, 2: 16}.get(level, 13), 700))
            cursor.mergeCharFormat(letters)
        form.setBottomMargin(GAP_2)
        QTextCursor(block).setBlockFormat(form)

    def show_part(self, title: str) -> bool:
        """Scrolls to a part by its heading, or what a link calls it; whether there is one."""
        block = self.text.document().begin()
        while block.isValid():
            name = block.text()
            if block.blockFormat().headingLevel() and (
                    title in (name, plain(name)) or slug(name) == title):
                self.text.verticalScrollBar().setValue(
                    round(self.text.document().documentLayout().blockBoundingRect(block).top()))
                return True
            block = block.next()
        return False

    def _follow(self, link: QUrl) -> None:
        if link.fragment() and not link.path():
            self.show_part(link.fragment())

    def keyPressEvent(self, event: object) -> None:
        if event.key() == Qt.Key.Key_Escape:  # type: ignore[attr-defined]
            self.closed.emit()
        else:
            super().keyPressEvent(event)  # type: ignore[arg-type]
