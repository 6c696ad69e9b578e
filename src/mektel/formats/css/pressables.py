"""What of a style sheet describes something pressable, in the order of the sheet."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from mektel.formats.css.selectors import STATE_OF_ATTRIBUTE, Selector, state_of_class
from mektel.formats.css.sheet import StyleSheet
from mektel.formats.css.tokens import text_of

MOST = 400
BUTTONS = frozenset(("btn", "button"))
WORDS = BUTTONS | frozenset((
    "chip", "pill", "toggle", "switch", "key", "fab", "cta", "tab", "knob", "submit"))
PAGES = ("html", "body")
TAGS = frozenset(("button", "summary"))
OTHER_TAGS = ("input", "select", "textarea", "html", "body", "label", "table", "tr", "td")
# Parts and holders of controls are no controls.
HOLDERS = frozenset((
    "group", "toolbar", "bar", "container", "wrapper", "wrap", "label", "text", "list", "row",
    "addon", "header", "content", "box", "item", "check", "panel", "pane", "nav", "menu",
    "dropdown", "field", "input", "textarea", "select", "checkbox", "radio", "file", "card", "col",
    "columns", "section", "buttons", "show", "open", "collapsed"))
BOXES = ("background", "border", "box-shadow", "padding", "border-radius", "outline",
         "background-color", "background-image", "border-width", "border-color")
LOOKS = (*BOXES, "color", "opacity", "font-size")
# Values that only take a look away.
NOTHING = ("0", "none", "inherit", "initial", "transparent", "0 none", "unset")
# What gives all of these builds on nothing.
WHOLE = ("padding", "border", "background")
PRESSED = frozenset(("hover", "pressed"))


@dataclass
class Pressable:
    """A selector that gives something pressable its look, and the one that it builds on."""

    selector: str
    line: int
    base: str = ""
    # What the rule that it was first seen in declares.
    properties: frozenset[str] = frozenset()

    @property
    def title(self) -> str:
        """As the control is called: by what its last classes add to the ones before, or its tag."""
        classes = re.findall(r"\.(-?[A-Za-z_][\w-]*)", self.selector)
        # "key key-red" is a "key red", "button is-red is-small" a "red small".
        added = [name for at, name in enumerate(classes) if not any(
            other.startswith((f"{name}-", f"{name}_")) for other in classes[at + 1:])]
        said = [re.sub(r"^(is|has)[-_]", "", name) for name in added]
        if len(said) > 1 and said[0] == added[0]:
            said = said[1:]
        words = said or re.findall(r"[A-Za-z][\w-]*", self.selector)[:1]
        name = re.sub(r"[-_ ]+", " ", " ".join(words)).strip()
        return name[:1].upper() + name[1:] if name else "Button"


def pressables(sheet: StyleSheet) -> list[Pressable]:
    """Each look of something pressable once; a variant together with what it builds on."""
    seen: dict[str, Pressable] = {}
    answering: set[str] = set()
    for rule in sheet.rules:
        selector = rule.selector
        plain = _plain(selector)
        if not plain or not selector.simple:
            continue
        if selector.states & PRESSED:
            answering.add(plain)
        shown = [entry.name for entry in rule.declarations
                 if entry.name.startswith("--") or (
                     entry.name in LOOKS and entry.text.lower() not in NOTHING)]
        if shown and not selector.states and plain not in seen and len(seen) < 20 * MOST:
            seen[plain] = Pressable(plain, rule.line, properties=frozenset(
                entry.name for entry in rule.declarations))
    chosen = {plain: entry for plain, entry in seen.items()
              if _is_pressable(entry, plain in answering)} or {
                  plain: entry for plain, entry in seen.items()
                  if plain not in PAGES and not _is_part(plain)}
    chosen |= {plain: entry for plain, entry in seen.items() if plain not in chosen
               and plain.startswith(".") and _base(plain, chosen)
               and not _is_part(plain)}
    listed: dict[str, Pressable] = {}
    lines: set[int] = set()
    for plain, entry in chosen.items():
        classes = re.findall(r"\.[\w-]+", plain)
        without_tag = "".join(classes)
        if classes and not plain.startswith(".") and without_tag in chosen:
            continue  # the same with a tag
        if not classes and entry.line in lines:
            continue  # another name for what the same rule gives
        lines.add(entry.line)
        whole = all(any(name.startswith(part) for name in entry.properties) for part in WHOLE)
        entry.base = "" if whole else _base(plain, chosen)
        if entry.base and not without_tag.startswith(f"{entry.base}."):
            entry.selector = plain[:plain.index(".")] + entry.base + without_tag
        listed.setdefault(entry.selector, entry)
    return sorted(listed.values(), key=lambda entry: entry.line)[:MOST]


def bases_among(selectors: Sequence[str], listed: Sequence[Pressable]) -> list[int | None]:
    """For each selector the place in the list of the one that it builds on, if that is there."""
    bases = {entry.selector: entry.base for entry in listed}
    places = {selector: at for at, selector in enumerate(selectors)}
    return [places.get(bases.get(selector, "")) for selector in selectors]


def _plain(selector: Selector) -> str:
    """The subject without states; nothing for parts of an element and what no element has."""
    kept: list[Any] = []
    tokens = selector.subject
    at = 0
    while at < len(tokens):
        token = tokens[at]
        mark = token.value if token.type == "literal" else ""
        following = tokens[at + 1] if at + 1 < len(tokens) else None
        if mark == ":" and following is not None and following.type == "literal":
            return ""
        if mark == ":":
            if following is None or (following.type == "ident" and following.lower_value in (
                    "before", "after", "root", "host", "empty", "first-child", "last-child")):
                return ""
            if following.type == "function" and following.lower_name not in ("not", "where"):
                return ""
            if following.type == "function" and following.lower_name == "where":
                return ""
            at += 2
            continue
        if mark == "." and following is not None and following.type == "ident" and (
                state_of_class(following.value)):
            at += 2
            continue
        if token.type == "[] block" and any(
                part.type == "ident" and part.lower_value in STATE_OF_ATTRIBUTE
                for part in token.content):
            at += 1
            continue
        kept.append(token)
        at += 1
    text = text_of(kept)
    return "" if "*" in text or "|" in text or "&" in text else text


def _parts(plain: str) -> list[str]:
    return re.findall(r"[A-Za-z0-9]+", plain.lower())


def _is_part(plain: str) -> bool:
    """Whether it is a part of a control, also by the naming of "block__part", or holds some."""
    words = _parts(plain)
    return "__" in plain or words[-1:] == ["icon"] or any(word in HOLDERS for word in words)


def _is_pressable(entry: Pressable, answers: bool) -> bool:
    plain = entry.selector
    tag = (re.match(r"[a-z][a-z0-9]*", plain) or [""])[0]
    if tag in TAGS or re.search(r"role=.?(button|switch|tab)", plain):
        return True
    if re.search(r"type=.?(button|submit|reset)", plain):
        return tag in ("input", "")
    words = _parts(plain)
    if tag in OTHER_TAGS or _is_part(plain):
        return False
    if any(word in BUTTONS for word in words):
        return True
    boxed = entry.properties & set(BOXES) and len(entry.properties) > 1
    return bool(boxed) and (any(word in WORDS for word in words) or (
        answers and tag in ("", "a", "div", "span") and plain != tag))


def _base(plain: str, chosen: dict[str, Pressable]) -> str:
    """The longest other selector of which this is a variant: by name, or with more classes."""
    best = ""
    classes = re.findall(r"\.[\w-]+", plain)
    for length in range(1, len(classes)):
        part = "".join(classes[:length])
        if part in chosen and len(part) > len(best):
            best = part
    if best or len(classes) != 1 or not plain.endswith(classes[0]):
        return best
    name = classes[0]
    while (cut := max(name.rfind("-"), name.rfind("_"))) > 1:
        name = name[:cut].rstrip("-_")
        if name in chosen:
            return name
    return ""
