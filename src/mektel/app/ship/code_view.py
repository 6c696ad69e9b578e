"""Generated files, read-only, with highlighted code."""

from __future__ import annotations

import time
from collections.abc import Iterator
from typing import Any

from pygments import lex
from pygments.lexers import get_lexer_by_name
from pygments.token import Comment, Keyword, Name, Number, String
from PySide6.QtCore import QTimer
from PySide6.QtGui import QColor, QFont, QPalette, QTextCharFormat, QTextCursor, QTextOption
from PySide6.QtWidgets import QPlainTextEdit, QWidget

from mektel.app.theme import code_font, theme

LONGEST = 200_000
# Seconds of one turn of the loop that colouring may take.
A_TURN = 0.006
LANGUAGES = ("python", "javascript", "html", "json")


def load_languages() -> None:
    for name in LANGUAGES:
        get_lexer_by_name(name)


class CodeView(QPlainTextEdit):
    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setReadOnly(True)
        self.setFont(code_font(12))
        # What is cut off at the right is not read: long lines go on in the next.
        self.setWordWrapMode(QTextOption.WrapMode.WrapAtWordBoundaryOrAnywhere)
        # All of the text, however much of it is shown.
        self.whole = ""
        self._shown: tuple[str, str, str] = ("", "", "")
        self._tokens: Iterator[tuple[Any, str]] = iter(())
        self._at = 0
        self._turn = QTimer(self, singleShot=True, interval=0)
        self._turn.timeout.connect(self._colour_some)

    def show_code(self, text: str, language: str) -> None:
        """Sets the text; colours follow the theme it is shown in."""
        self.whole = text
        key = (text, language, theme().name)
        if key == self._shown:
            return
        self._shown = key
        shown = text[:LONGEST]
        cut = len(text) > LONGEST
        self.setPlainText(shown + ("\n… the rest is in the file" if cut else ""))
        self.setFont(code_font(12))
        self.moveCursor(QTextCursor.MoveOperation.Start)
        self._tokens, self._at = iter(()), 0
        if language and language != "text":
            self._tokens = iter(lex(
                shown, get_lexer_by_name(language, ensurenl=False, stripnl=False)))
            self._turn.start()

    def _colour_some(self) -> None:
        """Colours words for a part of a frame, and goes on in the next turn: a file may be long."""
        until = time.perf_counter() + A_TURN
        cursor = QTextCursor(self.document())
        cursor.beginEditBlock()
        for kind, text in self._tokens:
            made = self._format(kind)
            # The document counts in UTF-16 units.
            length = len(text.encode("utf-16-le")) // 2
            if made is not None:
                cursor.setPosition(self._at)
                cursor.setPosition(self._at + length, QTextCursor.MoveMode.KeepAnchor)
                cursor.setCharFormat(made)
            self._at += length
            if time.perf_counter() > until:
                self._turn.start()
                break
        cursor.endEditBlock()

    def _format(self, kind: object) -> QTextCharFormat | None:
        colours = theme()
        made = QTextCharFormat()
        if kind in Comment or kind in String.Doc:
            made.setForeground(QColor(colours.dim))
        elif kind in String:
            made.setForeground(QColor(colours.good))
        elif kind in Keyword or kind in Name.Tag:
            made.setForeground(QColor(colours.accent))
        elif kind in Number:
            made.setForeground(QColor(colours.warn))
        elif kind in Name.Class or kind in Name.Function:
            made.setForeground(QColor(colours.second))
            made.setFontWeight(QFont.Weight.DemiBold)
        else:
            made.setForeground(self.palette().color(QPalette.ColorRole.Text))
        return made
