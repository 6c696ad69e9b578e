"""Plain values and text as JavaScript source: whatever they hold, they can only ever be that."""

from __future__ import annotations

import json
from typing import Any


def literal(value: Any) -> str:
    """A JavaScript literal that also cannot end the script element it may be put in."""
    text = json.dumps(value, ensure_ascii=False, allow_nan=False)
    for letter in "<>&`$":
        text = text.replace(letter, f"\\u{ord(letter):04x}")
    return _printable(text)


def template(text: str) -> str:
    """A template literal of text on several lines, with nothing in it that is put in or run."""
    for letter in "\\`$":
        text = text.replace(letter, f"\\{letter}")
    text = text.replace("</", "<\\/").replace("<!--", "<\\!--")
    return f"`{_printable(text)}`"


def css_string(text: str) -> str:
    """A CSS string (CSS Syntax 3, 4.3.7): everything but letters and digits is escaped."""
    return '"' + "".join(letter if (letter.isalnum() and letter.isascii()) or letter == " "
                         else f"\\{ord(letter):x} " for letter in text) + '"'


def one_line(text: str) -> str:
    """Fit for a comment: nothing that ends it, a line or a script element."""
    kept = "".join(letter if letter.isprintable() else " " for letter in text)
    return kept.replace("</", "< /").replace("<!--", "< !--").replace("*/", "* /")


def _printable(text: str) -> str:
    if text.replace("\n", "").isprintable():
        return text
    return "".join(
        letter if letter.isprintable() or letter == "\n" else "".join(
            f"\\u{ord(half):04x}" for half in _halves(letter)) for letter in text)


def _halves(letter: str) -> str:
    """A letter beyond the first plane as the two halves that JavaScript escapes."""
    if ord(letter) < 0x10000:
        return letter
    pair = letter.encode("utf-16-le")
    return "".join(chr(int.from_bytes(pair[at : at + 2], "little")) for at in (0, 2))
