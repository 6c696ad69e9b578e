"""``animation`` and ``@keyframes`` as they stand in a sheet (CSS Animations 1)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import tinycss2

from mektel.formats.css.cascade import Style, Values, with_declared
from mektel.formats.css.sheet import Declaration
from mektel.formats.css.tokens import components, split_by, text_of

LONGHANDS = tuple(f"animation-{part}" for part in (
    "name", "duration", "timing-function", "delay", "iteration-count", "direction"))
DIRECTIONS = ("normal", "reverse", "alternate", "alternate-reverse")
EASINGS = ("ease", "ease-in", "ease-out", "ease-in-out", "linear", "step-start", "step-end")
# What else an animation may name that is no name of keyframes.
OTHER = ("none", "forwards", "backwards", "both", "running", "paused", "auto", "replace", "add",
         "accumulate")
MOST_ANIMATIONS, MOST_FRAMES = 8, 24
ENDS = {"from": 0.0, "to": 1.0}


@dataclass(frozen=True)
class Animation:
    """One animation of an element; times in s."""

    name: str
    line: int
    seconds: float = 0.0
    delay: float = 0.0
    endless: bool = False
    direction: str = "normal"
    easing: str = "ease"

    @property
    def alternates(self) -> bool:
        return self.direction.startswith("alternate")

    @property
    def reversed(self) -> bool:
        return self.direction.endswith("reverse")

    @property
    def in_steps(self) -> bool:
        return self.easing.startswith("step")


def animations_of(values: Values) -> list[Animation]:
    """Those that an element has, ``none`` left out; longhands are laid over the shorthand."""
    listed = [_whole(tokens, values["animation"].line)
              for tokens in split_by(values["animation"].tokens, ",")] if (
        "animation" in values) else []
    for name in LONGHANDS:
        if name not in values:
            continue
        parts = [text_of(components(tokens)) for tokens in split_by(values[name].tokens, ",")]
        if name == "animation-name":
            line = values[name].line
            listed += [{"name": "", "line": line} for _ in range(len(parts) - len(listed))]
        for at, entry in enumerate(listed):
            entry |= _longhand(name.removeprefix("animation-"), parts[at % len(parts)])
    return [Animation(**entry) for entry in listed[:MOST_ANIMATIONS]
            if entry.get("name") and entry.get("name") not in OTHER]


def _whole(tokens: list[Any], line: int) -> dict[str, Any]:
    entry: dict[str, Any] = {"name": "", "line": line}
    for token in components(tokens):
        text = text_of([token])
        word = text.lower()
        if token.type == "dimension" and token.lower_unit in ("s", "ms"):
            entry |= _longhand("delay" if "seconds" in entry else "duration", word)
        elif token.type == "function" or word in EASINGS:
            entry["easing"] = word
        elif token.type == "number" or word == "infinite":
            entry["endless"] = word == "infinite"
        elif word in DIRECTIONS:
            entry["direction"] = word
        elif token.type in ("ident", "string") and word not in OTHER:
            entry["name"] = str(token.value)
    return entry


def _longhand(part: str, text: str) -> dict[str, Any]:
    word = text.lower()
    if part == "name":
        return {"name": text.strip("\"'")}
    if part in ("duration", "delay"):
        try:
            seconds = float(word.removesuffix("ms")) / 1000 if word.endswith("ms") else float(
                word.removesuffix("s"))
        except ValueError:
            return {}
        return {"seconds" if part == "duration" else "delay": seconds}
    if part == "iteration-count":
        return {"endless": word == "infinite"}
    return {"direction" if part == "direction" else "easing": word}


def frames_of(content: list[Any], style: Style) -> dict[str, list[tuple[float, Style]]]:
    """For each property that keyframes set, the styles that they make of ``style``, by offset.

    Where none is given for the beginning or the end, it is as without them.
    """
    by_property: dict[str, dict[float, Declaration]] = {}
    for offsets, declarations in _rules(content):
        for declaration in declarations:
            if declaration.name not in LONGHANDS:
                at = by_property.setdefault(declaration.name, {})
                at |= dict.fromkeys(offsets, declaration)
    frames = {}
    for name, declared in by_property.items():
        styles = {offset: with_declared(style, [declaration])
                  for offset, declaration in list(declared.items())[:MOST_FRAMES]}
        frames[name] = sorted({0.0: style, 1.0: style, **styles}.items())
    return frames


def _rules(content: list[Any]) -> Iterator[tuple[list[float], list[Declaration]]]:
    for rule in tinycss2.parse_rule_list(content, skip_comments=True, skip_whitespace=True):
        if rule.type != "qualified-rule":
            continue
        offsets = []
        for tokens in split_by(rule.prelude, ","):
            token = (components(tokens) or [None])[0]
            if token is not None and token.type == "percentage" and 0 <= token.value <= 100:
                offsets.append(float(token.value) / 100)
            elif token is not None and token.type == "ident" and token.lower_value in ENDS:
                offsets.append(ENDS[token.lower_value])
        yield offsets, [
            Declaration(node.lower_name, node.value, node.source_line)
            for node in tinycss2.parse_blocks_contents(
                rule.content, skip_comments=True, skip_whitespace=True)
            if node.type == "declaration" and not node.name.startswith("--")]


def without(values: Values, names: tuple[str, ...]) -> Values:
    """Values without some properties."""
    return {name: value for name, value in values.items() if name not in names}

