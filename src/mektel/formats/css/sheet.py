"""A whole style sheet: rules with layer, scheme and order, keyframes. Nothing is fetched."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import tinycss2

from mektel.core.finding import Finding, Place
from mektel.formats.css.conditions import media_holds, scheme_of, supported
from mektel.formats.css.selectors import (
    Selector,
    classes_in,
    nested,
    selectors_of,
    state_of_class,
)
from mektel.formats.css.tokens import CssError, components, split_by, text_of

LARGEST_TEXT = 4 * 1024 * 1024
MOST_RULES, MOST_DECLARATIONS = 120_000, 400_000
DEEPEST, LONGEST_SELECTOR = 12, 4000
MOST_LISTED = 200
# Rules of a page that say nothing about how a control looks.
PASSED_OVER = {"charset", "font-face", "namespace", "page", "property", "counter-style",
               "font-feature-values", "view-transition", "position-try", "starting-style"}


@dataclass(frozen=True)
class Declaration:
    """One property with its value, as the sheet has it."""

    name: str
    tokens: list[Any]
    line: int
    important: bool = False

    @property
    def text(self) -> str:
        return text_of(self.tokens)


@dataclass(eq=False)
class Rule:
    """Declarations for one selector; ``layer`` is its rank, ``scheme`` when it holds."""

    selector: Selector
    content: list[Any]
    line: int
    order: int
    layer: int
    scheme: str = ""

    @cached_property
    def declarations(self) -> list[Declaration]:
        return [
            Declaration(node.name if node.name.startswith("--") else node.lower_name, node.value,
                        node.source_line, node.important)
            for node in self.content if node.type == "declaration"
        ]


@dataclass
class StyleSheet:
    """Rules by what an element has to have; keyframes by name; what was skipped."""

    source: str = "CSS"
    rules: list[Rule] = field(default_factory=list)
    by_key: dict[str, list[Rule]] = field(default_factory=dict)
    keyframes: dict[str, list[Any]] = field(default_factory=dict)
    skipped: list[Finding] = field(default_factory=list)
    # Ranks of layers by their full name, in the order in which they are first named.
    layers: dict[str, int] = field(default_factory=dict)
    # The classes that bring about each state.
    state_classes: dict[str, dict[str, None]] = field(default_factory=dict)
    declarations: int = 0

    @property
    def unlayered(self) -> int:
        """The rank of what stands in no layer: above all of them (CSS Cascade 5, 6.4.4)."""
        return 1 << 30

    def skip(self, line: int, what: str) -> None:
        if len(self.skipped) < MOST_LISTED and all(entry.message != what for entry in self.skipped):
            self.skipped.append(Finding("not-taken-over", Place(line=line), what))

    def rules_for(self, tag: str, classes: set[str], identity: str | None) -> Iterator[Rule]:
        """Those that can match an element with these, in no order."""
        keys = ["", tag, *(f".{name}" for name in classes)]
        for key in (*keys, f"#{identity}") if identity else keys:
            yield from self.by_key.get(key, ())


def parse_sheet(text: str, source: str) -> StyleSheet:
    """Every rule of a sheet. Raises :class:`CssError` for one that is too large."""
    if len(text) > LARGEST_TEXT:
        raise CssError(f"{source}: longer than {LARGEST_TEXT // 2**20} MB, so it is not read.")
    sheet = StyleSheet(source)
    rules = tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True)
    _walk(rules, sheet, "", "", "", 0)
    return sheet


def _walk(
    nodes: list[Any], sheet: StyleSheet, layer: str, scheme: str, parent: str, depth: int
) -> None:
    if depth > DEEPEST:
        raise CssError(f"{sheet.source}: rules nested more than {DEEPEST} deep")
    for node in nodes:
        if node.type == "error":
            sheet.skip(node.source_line, f"not CSS: {node.message}")
        elif node.type == "at-rule":
            _at_rule(node, sheet, layer, scheme, parent, depth)
        elif node.type == "qualified-rule":
            _style_rule(node, sheet, layer, scheme, parent, depth)


def _style_rule(
    node: Any, sheet: StyleSheet, layer: str, scheme: str, parent: str, depth: int
) -> None:
    prelude = node.prelude
    if parent:
        text = nested(prelude, parent)
        if len(text) > LONGEST_SELECTOR:
            raise CssError(f"{sheet.source}: line {node.source_line}: a nested selector comes to "
                           f"more than {LONGEST_SELECTOR} characters")
        prelude = tinycss2.parse_component_value_list(text, skip_comments=True)
    content = tinycss2.parse_blocks_contents(
        node.content, skip_comments=True, skip_whitespace=True)
    _add(prelude, content, node.source_line, sheet, layer, scheme)
    inner = [entry for entry in content if entry.type in ("qualified-rule", "at-rule")]
    if inner:
        _walk(inner, sheet, layer, scheme, text_of(prelude), depth + 1)
    for entry in content:
        if entry.type == "error":
            sheet.skip(entry.source_line, f"not CSS: {entry.message}")


def _add(prelude: list[Any], content: list[Any], line: int, sheet: StyleSheet, layer: str,
         scheme: str) -> None:
    sheet.declarations += len(content)
    if sheet.declarations > MOST_DECLARATIONS:
        raise CssError(f"{sheet.source}: more than {MOST_DECLARATIONS} declarations")
    rank = sheet.layers.setdefault(layer, len(sheet.layers)) if layer else sheet.unlayered
    first: Rule | None = None
    for selector in selectors_of(prelude):
        rule = Rule(selector, content, line, len(sheet.rules), rank, scheme)
        if len(sheet.rules) >= MOST_RULES:
            raise CssError(f"{sheet.source}: more than {MOST_RULES} selectors")
        if first is not None:
            # Selectors of one rule share what it declares.
            rule.__dict__["declarations"] = first.declarations
        first = first or rule
        sheet.rules.append(rule)
        sheet.by_key.setdefault(selector.key, []).append(rule)
        for name in classes_in(selector.tokens):
            if state := state_of_class(name):
                sheet.state_classes.setdefault(state, {})[name] = None


def _at_rule(
    node: Any, sheet: StyleSheet, layer: str, scheme: str, parent: str, depth: int
) -> None:
    name, line = node.lower_at_keyword, node.source_line
    if name == "layer":
        names = [".".join(filter(None, (layer, text_of(part))))
                 for part in split_by(node.prelude, ",")]
        if node.content is None:
            for full in names:
                sheet.layers.setdefault(full, len(sheet.layers))
            return
        layer = names[0] if text_of(node.prelude) else f"{layer}.{len(sheet.layers)}"
    elif name == "media":
        asked = scheme_of(node.prelude)
        if asked and not scheme:
            scheme = asked
        elif (holds := media_holds(node.prelude)) is not True:
            if holds is None:
                sheet.skip(line, f"@media {text_of(node.prelude)[:60]}: treated as not met")
            return
    elif name == "supports":
        if not supported(node.prelude):
            return
    elif name.endswith("keyframes"):
        title = "".join(str(token.value) for token in components(node.prelude)
                        if token.type in ("ident", "string"))
        if name == "keyframes":
            sheet.keyframes[title] = node.content or []
        else:
            sheet.keyframes.setdefault(title, node.content or [])
        return
    elif name == "import":
        sheet.skip(line, f"@import {text_of(node.prelude)[:60]}: nothing is fetched; bring that "
                         "sheet in as well")
        return
    elif name in PASSED_OVER or name.startswith("-"):
        return
    else:
        sheet.skip(line, f"@{node.at_keyword} rules are not read")
        return
    if node.content is None:
        return
    if parent:
        content = tinycss2.parse_blocks_contents(
            node.content, skip_comments=True, skip_whitespace=True)
        prelude = tinycss2.parse_component_value_list(parent)
        _add(prelude, content, line, sheet, layer, scheme)
        inner = [entry for entry in content if entry.type in ("qualified-rule", "at-rule")]
        _walk(inner, sheet, layer, scheme, parent, depth + 1)
    else:
        rules = tinycss2.parse_rule_list(node.content, skip_comments=True, skip_whitespace=True)
        _walk(rules, sheet, layer, scheme, "", depth + 1)
