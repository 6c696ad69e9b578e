"""Custom properties: worked out where they are declared, inherited, put in where they are used."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import tinycss2

from mektel.formats.css.tokens import CssError, split_by, text_of

DEEPEST, MOST_EXPANDED = 16, 200_000


@dataclass
class Budget:
    """How many tokens custom properties were replaced by, for a whole control, and by which."""

    spent: int = 0
    used: dict[str, None] = field(default_factory=dict)

    def spend(self, count: int = 1) -> None:
        self.spent += count
        if self.spent > MOST_EXPANDED:
            raise CssError(f"custom properties that expand to more than {MOST_EXPANDED} tokens")


@dataclass
class Variables:
    """Custom properties of one element: its ``own`` by name, and through ``parent`` what it
    inherits. ``lines`` has where each was declared.
    """

    budget: Budget
    own: dict[str, list[Any]] = field(default_factory=dict)
    lines: dict[str, int] = field(default_factory=dict)
    parent: Variables | None = None
    _worked_out: dict[str, list[Any] | CssError | None] = field(default_factory=dict)
    _busy: set[str] = field(default_factory=set)

    def value(self, name: str) -> list[Any] | None:
        """The tokens of a custom property, or None where it has no value (CSS Variables 1, 3).

        Raises :class:`CssError` where it refers to itself or to what has no value.
        """
        if name not in self.own:
            return None if self.parent is None else self.parent.value(name)
        if name in self._busy:
            raise CssError("custom properties that refer to each other without end")
        if name not in self._worked_out:
            self._busy.add(name)
            try:
                self._worked_out[name] = self._own_value(name)
            except CssError as error:
                self._worked_out[name] = error
            finally:
                self._busy.discard(name)
        value = self._worked_out[name]
        if isinstance(value, CssError):
            raise value
        return value

    def line_of(self, name: str) -> int:
        """Where it was declared for this element; 1 if it was not."""
        if name in self.lines:
            return self.lines[name]
        return 1 if self.parent is None else self.parent.line_of(name)

    def _own_value(self, name: str) -> list[Any] | None:
        tokens = self.own[name]
        plain = [token for token in tokens if token.type != "whitespace"]
        word = plain[0].lower_value if len(plain) == 1 and plain[0].type == "ident" else ""
        if word == "initial":
            return None
        if word in ("inherit", "unset"):
            return None if self.parent is None else self.parent.value(name)
        return self.put_in(tokens)

    def put_in(self, tokens: list[Any], depth: int = 0) -> list[Any]:
        """``tokens`` with every ``var()`` replaced. Raises :class:`CssError`."""
        if depth > DEEPEST:
            raise CssError("custom properties that refer to each other without end")
        replaced: list[Any] = []
        for token in tokens:
            self.budget.spend()
            if token.type == "function" and token.lower_name == "var":
                parts = split_by(token.arguments, ",")
                name = text_of(parts[0])
                self.budget.used[name] = None
                value = self.value(name)
                if value is not None:
                    self.budget.spend(len(value))
                    replaced += value
                elif len(parts) > 1:
                    joined = [t for part in parts[1:] for t in (*part, _COMMA)][:-1]
                    replaced += self.put_in(joined, depth + 1)
                else:
                    raise CssError(f"{name} has no value")
            elif token.type == "function":
                replaced.append(tinycss2.ast.FunctionBlock(
                    token.source_line, token.source_column, token.name,
                    self.put_in(token.arguments, depth)))
            elif token.type == "() block":
                replaced.append(tinycss2.ast.ParenthesesBlock(
                    token.source_line, token.source_column, self.put_in(token.content, depth)))
            else:
                replaced.append(token)
        return replaced


_COMMA = tinycss2.ast.LiteralToken(1, 1, ",")
