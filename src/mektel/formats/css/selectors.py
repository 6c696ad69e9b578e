"""Selectors: their states as marks on an element, what they need an element to have, nesting.

A selector library matches what stands still in a page. So that it also matches ``:hover`` and the
like, each is rewritten to an attribute that only an element in that state has: an attribute
counts as much as a pseudo-class (Selectors 4, 17).
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import cssselect2

from mektel.formats.css.tokens import split_by, text_of

MARK = "mektel-state"
# What the pseudo-classes of a page come to here; None matches nothing.
PSEUDO_CLASSES: dict[str, str | None] = {
    "hover": "hover", "active": "pressed", "focus": "focus", "focus-visible": "focus",
    "focus-within": "focus", "disabled": "disabled", "checked": "checked", "busy": "busy",
    "visited": None, "target": None, "invalid": None, "user-invalid": None, "user-valid": None,
    "autofill": None, "indeterminate": None, "placeholder-shown": None, "read-only": None,
    "fullscreen": None, "modal": None, "popover-open": None, "open": None, "host": None,
    "valid": None, "default": None, "required": None,
}
# Words at the end of classes by which pages bring a state about: "is-active", "btn-disabled".
STATE_WORDS = {
    "hover": "hover", "hovered": "hover", "focus": "focus", "focused": "focus",
    "disabled": "disabled", "active": "checked", "checked": "checked", "selected": "checked",
    "loading": "busy", "busy": "busy",
}
ATTRIBUTES = {
    "disabled": {"disabled": "", "aria-disabled": "true"},
    "checked": {"aria-checked": "true", "aria-pressed": "true", "aria-selected": "true"},
    "busy": {"aria-busy": "true"},
}
STATE_OF_ATTRIBUTE = {name: state for state, given in ATTRIBUTES.items() for name in given}
OF_SELECTORS = ("not", "is", "where", "has", "matches")
COMBINATORS = (">", "+", "~")


@dataclass(eq=False)
class Selector:
    """One selector without commas."""

    tokens: list[Any]

    @cached_property
    def text(self) -> str:
        return text_of(self.tokens)

    @cached_property
    def compiled(self) -> Any:
        """For matching; None where it matches nothing or is not understood."""
        try:
            compiled = cssselect2.compile_selector_list(marked(self.tokens))
        except Exception:
            # An unknown or broken selector takes its rule out (Selectors 4, 3.9).
            return None
        return None if not compiled or compiled[0].never_matches else compiled[0]

    @cached_property
    def subject(self) -> list[Any]:
        """The tokens of the last compound: what the element itself has to be."""
        tokens = list(self.tokens)
        while tokens and tokens[-1].type in ("whitespace", "comment"):
            tokens.pop()
        at = len(tokens)
        while at and not (tokens[at - 1].type == "whitespace" or (
                tokens[at - 1].type == "literal" and tokens[at - 1].value in COMBINATORS)):
            at -= 1
        return tokens[at:]

    @cached_property
    def key(self) -> str:
        """A class, id or tag that the element has to have, to look rules up by; or nothing."""
        tag = ""
        for before, token in zip([None, *self.subject], self.subject, strict=False):
            if token.type == "hash":
                return f"#{token.value}"
            if token.type == "ident":
                mark = before.value if before is not None and before.type == "literal" else ""
                if mark == ".":
                    return f".{token.value}"
                if mark == "" and before is None:
                    tag = token.lower_value
        return tag

    @cached_property
    def states(self) -> frozenset[str]:
        """The states that it asks of the element itself, outside of ``:not()``."""
        return frozenset(_states_in(self.subject))

    @cached_property
    def states_anywhere(self) -> frozenset[str]:
        """The states that it asks of the element or of what surrounds it."""
        return frozenset(_states_in(self.tokens))

    @property
    def simple(self) -> bool:
        """Whether it asks nothing of what surrounds the element."""
        return len(self.subject) == len([t for t in self.tokens if t.type != "comment"]) or (
            text_of(self.subject) == self.text)


def state_of_class(name: str) -> str:
    """The state that a class brings about, by its last word; or nothing."""
    return STATE_WORDS.get(re.split(r"[-_]+", name)[-1].lower(), "")


def applies(state_class: str, classes: Iterable[str]) -> bool:
    """Whether a class that brings a state about is meant for an element with these classes:
    "is-active" for all, "key-active" for a "key", "ui-active" for whatever begins with "ui".
    """
    prefix = state_class[:-len(re.split(r"[-_]+", state_class)[-1])].rstrip("-_")
    return prefix in ("", "is", "has") or any(
        name == prefix or re.split(r"[-_]+", name)[0] == prefix for name in classes)


def classes_in(tokens: list[Any]) -> Iterator[str]:
    """Every class that a selector names, within functions, too."""
    for before, token in zip([None, *tokens], tokens, strict=False):
        if token.type == "ident" and before is not None and before.type == "literal" and (
                before.value == "."):
            yield token.value
        elif token.type == "function":
            yield from classes_in(token.arguments)


def selectors_of(prelude: list[Any]) -> list[Selector]:
    return [Selector(part) for part in split_by(prelude, ",") if text_of(part)]


def _states_in(tokens: list[Any]) -> list[str]:
    states: list[str] = []
    for at, token in enumerate(tokens):
        before = tokens[at - 1] if at else None
        mark = before.value if before is not None and before.type == "literal" else ""
        if token.type == "ident" and mark == ":":
            states.append(PSEUDO_CLASSES.get(token.lower_value) or "")
        elif token.type == "ident" and mark == ".":
            states.append(state_of_class(token.value))
        elif token.type == "function" and token.lower_name in ("is", "where", "matches"):
            states += _states_in(token.arguments)
        elif token.type == "[] block":
            name = next((t.lower_value for t in token.content if t.type == "ident"), "")
            states.append(STATE_OF_ATTRIBUTE.get(name, ""))
    return [state for state in states if state]


def marked(tokens: list[Any]) -> str:
    """A selector as text with its states as attributes."""
    parts: list[str] = []
    at = 0
    while at < len(tokens):
        token = tokens[at]
        following = tokens[at + 1] if at + 1 < len(tokens) else None
        doubled = parts[-1:] == [":"]
        if (token.type == "literal" and token.value == ":" and not doubled
                and following is not None and following.type == "ident"
                and (name := following.lower_value) in (*PSEUDO_CLASSES, "enabled")):
            state = PSEUDO_CLASSES.get(name)
            parts.append(f":not([{MARK}~=disabled])" if name == "enabled"
                         else f"[{MARK}~={state or 'never'}]")
            at += 2
            continue
        if token.type == "function" and token.lower_name in OF_SELECTORS:
            name = "is" if token.lower_name == "matches" else token.lower_name
            parts.append(f"{name}({marked(token.arguments)})")
        elif token.type == "literal":
            parts.append(token.value)
        elif token.type == "whitespace":
            parts.append(" ")
        elif token.type != "comment":
            parts.append(text_of([token]))
        at += 1
    return "".join(parts)


def nested(prelude: list[Any], parent: str) -> str:
    """The selectors of a nested rule as they stand alone (CSS Nesting 1, 3)."""
    listed = []
    # One selector can stand where the mark is; several need a function round them.
    whole = parent if "," not in parent else f":is({parent})"
    for part in split_by(prelude, ","):
        text = text_of(part)
        if text.startswith("&") and "&" not in text[1:]:
            text = whole + text[1:]
        elif any(token.type == "literal" and token.value == "&" for token in part) or "&" in text:
            text = text.replace("&", f":is({parent})")
        else:
            text = f"{whole} {text}"
        listed.append(text)
    return ", ".join(listed)
