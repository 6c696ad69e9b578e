"""Plain values as Python source."""

from __future__ import annotations

import textwrap
from typing import Any


def _string(text: str) -> str:
    """Text as a Python string literal: whatever it holds, it can only ever be that."""
    escapes = {'"': '\\"', "\\": "\\\\", "\n": "\\n"}
    letters = [
        escapes.get(letter) or (letter if letter.isprintable() else ascii(letter)[1:-1])
        for letter in text
    ]
    return f'"{"".join(letters)}"'


def literal(value: Any) -> str:
    """A plain value as Python source."""
    if isinstance(value, str):
        return _string(value)
    if isinstance(value, tuple):
        return f"({', '.join(map(literal, value))}{',' if len(value) == 1 else ''})"
    if isinstance(value, list):
        return f"[{', '.join(map(literal, value))}]"
    if isinstance(value, dict):
        return f"{{{', '.join(f'{literal(k)}: {literal(v)}' for k, v in value.items())}}}"
    return repr(value)


def pretty(value: dict[str, Any], indent: int = 0) -> str:
    """A dict of dicts as source, unfolded where a line would grow too long."""
    short = literal(value)
    if len(short) + indent < 80 and indent:
        return short
    pad = " " * (indent + 4)
    lines = []
    for key, inner in value.items():
        text = pretty(inner, indent + 4) if isinstance(inner, dict) else literal(inner)
        if not isinstance(inner, dict | str) and len(text) + len(pad) > 96:
            text = textwrap.fill(
                text, 96, initial_indent=pad, subsequent_indent=f"{pad}    ",
                break_long_words=False, break_on_hyphens=False).strip()
        lines.append(f"{pad}{literal(key)}: {text},")
    return "{\n" + "\n".join(lines) + "\n" + " " * indent + "}" if lines else "{}"


def one_line(text: str) -> str:
    """Fit for a comment: nothing that ends a line."""
    return "".join(letter if letter.isprintable() else " " for letter in text)
