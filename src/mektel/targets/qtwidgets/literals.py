"""Plain values as Python source."""

from __future__ import annotations

from typing import Any

# Columns of a line.
WIDTH = 99
BRACKETS: dict[type[Any], tuple[str, str]] = {
    dict: ("{", "}"), tuple: ("(", ")"), list: ("[", "]")}


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


def pretty(value: Any, indent: int = 0, used: int | None = None, after: int = 1) -> str:
    """A plain value as source, unfolded where a line would grow too long.

    It stands ``used`` columns into a line that is indented by ``indent``, and ``after`` more
    characters follow it. A dict with no indentation has an entry to a line.
    """
    used, whole = indent if used is None else used, isinstance(value, dict) and not indent
    short = literal(value)
    if isinstance(value, str) and not isinstance(value, Name) and used + len(short) > WIDTH:
        return _broken(value, indent)
    if not isinstance(value, dict | tuple | list) or not value or (
            not whole and used + len(short) + after <= WIDTH):
        return short
    block = _block(value, indent, whole)
    if whole:
        return block
    return min(_hanging(value, used + 1, after + 1), block, key=_lines)


def _lines(source: str) -> tuple[bool, int]:
    lines = source.split("\n")
    return any(len(line) > WIDTH for line in lines[1:]), len(lines)


def _entries(value: Any, indent: int, after: int) -> list[str]:
    if not isinstance(value, dict):
        return [pretty(inner, indent, indent, after) for inner in value]
    keys = [f"{literal(key)}: " for key in value]
    return [key + pretty(inner, indent, indent + len(key), after)
            for key, inner in zip(keys, value.values(), strict=True)]


def _block(value: Any, indent: int, whole: bool) -> str:
    """Entries on lines of their own, indented."""
    lines = _entries(value, indent + 4, 1)
    if not whole:
        lines = side_by_side(lines, WIDTH - 5 - indent)
    opening, closing = BRACKETS[type(value)]
    body = "".join(f"{' ' * (indent + 4)}{line},\n" for line in lines)
    return f"{opening}\n{body}{' ' * indent}{closing}"


def _hanging(value: Any, column: int, after: int) -> str:
    """Entries beneath each other, from the bracket on."""
    lines = side_by_side(_entries(value, column, after), WIDTH - column - after)
    opening, closing = BRACKETS[type(value)]
    only = "," if isinstance(value, tuple) and len(value) == 1 else ""
    return opening + f",\n{' ' * column}".join(lines) + only + closing


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
