"""Tokens of a style sheet: taken apart at marks, written as text; the error for what is no CSS."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import tinycss2

from mektel.core.errors import MektelError


class CssError(MektelError):
    """Text that is no CSS for a button; says where and what to do."""


def text_of(tokens: list[Any]) -> str:
    """Tokens as CSS. Raises :class:`CssError` where they are nested beyond reading."""
    try:
        return str(tinycss2.serialize(tokens)).strip()
    except RecursionError:
        raise CssError("functions or brackets nested too deeply") from None


def split_by(tokens: list[Any], mark: str) -> list[list[Any]]:
    """Tokens between commas or slashes."""
    parts: list[list[Any]] = [[]]
    for token in tokens:
        if token.type == "literal" and token.value == mark:
            parts.append([])
        else:
            parts[-1].append(token)
    return parts


def components(tokens: list[Any]) -> list[Any]:
    """Tokens without white space and comments."""
    return [token for token in tokens if token.type not in ("whitespace", "comment")]


@dataclass
class Declared:
    """A property's value as tokens, and its line."""

    tokens: list[Any]
    line: int

    @property
    def text(self) -> str:
        return text_of(self.tokens)
