"""Plain values as Python source."""

from __future__ import annotations

from typing import Any


def _string(text: str) -> str:
    """Text as a Python string literal: whatever it holds, it can only ever be that."""
    escapes = {'"': '\\"', "\\": "\\\\", "\n": "\\n"}
    letters = [
        escapes.get(letter) or (letter if letter.isprintable() else ascii(letter)[1:-1])
        for letter in text
    ]
    return f'"{"".join(letters)}"'


class Name(str):
    """Source that names a value written elsewhere in the module."""


def literal(value: Any) -> str:
    """A plain value as Python source."""
    if isinstance(value, Name):
        return str(value)
    if isinstance(value, str):
        return _string(value)
    if isinstance(value, tuple):
        return f"({', '.join(map(literal, value))}{',' if len(value) == 1 else ''})"
    if isinstance(value, list):
        return f"[{', '.join(map(literal, value))}]"
    if isinstance(value, dict):
        return f"{{{', '.join(f'{literal(k)}: {literal(v)}' for k, v in value.items())}}}"
    return repr(value)


def pretty(value: Any, indent: int = 0) -> str:
    """A plain value as source, unfolded entry by entry where a line would grow too long."""
    short = literal(value)
    if isinstance(value, str) and not isinstance(value, Name) and len(short) + indent > 96:
        return _broken(value, indent)
    whole = isinstance(value, dict) and not indent
    if not isinstance(value, dict | tuple | list) or (len(short) + indent < 88 and not whole):
        return short
    pad = " " * (indent + 4)
    if isinstance(value, dict):
        lines = [f"{literal(key)}: {pretty(inner, indent + 4)}" for key, inner in value.items()]
    else:
        lines = [pretty(inner, indent + 4) for inner in value]
    opening, closing = {dict: ("{", "}"), tuple: ("(", ")"), list: ("[", "]")}[type(value)]
    if not lines:
        return opening + closing
    if not whole:
        lines = side_by_side(lines, 92 - indent)
    body = "".join(f"{pad}{line},\n" for line in lines)
    return f"{opening}\n{body}{' ' * indent}{closing}"


def _broken(text: str, indent: int) -> str:
    """A long string as several in a row, broken after spaces."""
    pad, width = " " * (indent + 4), 90 - indent
    lines = [""]
    for word in text.split(" "):
        if lines[-1] and len(literal(lines[-1] + word)) > width:
            lines.append("")
        lines[-1] += f"{word} "
    lines[-1] = lines[-1][:-1]
    body = "".join(f"{pad}{literal(line)}\n" for line in lines)
    return f"(\n{body}{' ' * indent})"


def side_by_side(entries: list[str], width: int) -> list[str]:
    """As many entries on each line as will go; none is ever broken."""
    lines: list[str] = []
    for entry in entries:
        longer = f"{lines[-1]}, {entry}" if lines else entry
        if lines and len(longer) <= width and "\n" not in longer:
            lines[-1] = longer
        else:
            lines.append(entry)
    return lines
