"""A style sheet as declarations per state, custom properties put in; what is left is listed."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Any

import tinycss2

from mektel.core.errors import MektelError
from mektel.core.finding import Finding, Place
from mektel.core.kit import condition_of

LARGEST_TEXT = 512 * 1024
MOST_DECLARATIONS = 4000
DEEPEST_VARIABLES, MOST_EXPANDED = 16, 200_000
STATES = {
    "hover": "hover", "active": "pressed", "focus": "focus", "focus-visible": "focus",
    "disabled": "disabled", "checked": "checked", "busy": "busy",
}
# They place an element on a page or are the same for every button: nothing of its look.
NO_LOOK = {
    "align-items", "align-self", "appearance", "-webkit-appearance", "box-sizing", "cursor",
    "display", "flex", "gap", "justify-content", "margin", "margin-top", "margin-bottom",
    "margin-left", "margin-right", "position", "text-decoration", "touch-action", "user-select",
    "-webkit-user-select", "-webkit-tap-highlight-color", "vertical-align", "will-change",
    "z-index", "-webkit-font-smoothing", "overflow", "white-space",
}


class CssError(MektelError):
    """Text that is no CSS for a button; says where and what to do."""


@dataclass
class Declared:
    """A property's value as tokens, and its line."""

    tokens: list[Any]
    line: int

    @property
    def text(self) -> str:
        return tinycss2.serialize(self.tokens).strip()


@dataclass
class Sheet:
    name: str = ""
    # Worked out from the text where the sheet gives no size.
    size: tuple[float, float] | None = None
    # "rest" and states, each property by name, in the order of the sheet.
    states: dict[str, dict[str, Declared]] = field(default_factory=lambda: {"rest": {}})
    variables: dict[str, Declared] = field(default_factory=dict)
    _left: dict[Finding, None] = field(default_factory=dict)
    # How many tokens custom properties have been replaced by, in the whole sheet.
    expanded: int = 0

    @property
    def leftovers(self) -> list[Finding]:
        return list(self._left)

    @property
    def first_line(self) -> int:
        """Where the first declaration stands: for what several of them give together."""
        return min((declared.line for state in self.states.values() for declared in state.values()),
                   default=1)

    def leave(self, line: int, what: str) -> None:
        self._left.setdefault(Finding("not-taken-over", Place(line=line), what))

    def merged(self, state: str) -> dict[str, Declared]:
        """What holds in a state: rest's, with the state's own laid over it."""
        return {**self.states["rest"], **self.states.get(state, {})}


def parse(text: str, source: str) -> Sheet:
    """Rules or bare declarations. Raises :class:`CssError` where there is nothing to use."""
    if len(text) > LARGEST_TEXT:
        raise CssError(f"{source}: longer than {LARGEST_TEXT // 1024} kB, so it is not read.")
    sheet = Sheet()
    if "{" in text:
        _parse_rules(text, sheet)
    else:
        _take(tinycss2.parse_blocks_contents(text, skip_comments=True, skip_whitespace=True),
              "rest", sheet)
    if not any(sheet.states.values()):
        first = f" ({sheet.leftovers[0]})" if sheet.leftovers else ""
        raise CssError(
            f"{source}: no declaration that describes a button{first}. Write, say, "
            "background: teal; border-radius: 8px, or a rule .button {{ … }}.".replace("{{", "{")
            .replace("}}", "}"))
    for state in sheet.states.values():
        for name, declared in list(state.items()):
            try:
                declared.tokens = _with_variables(declared.tokens, sheet, 0)
            except (CssError, RecursionError) as error:
                why = error if isinstance(error, CssError) else "functions nested too deeply"
                sheet.leave(declared.line, f"{name}: {why}")
                del state[name]
    return sheet


def _parse_rules(text: str, sheet: Sheet) -> None:
    base = ""
    rules = tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True)
    for rule in rules:
        if rule.type == "error":
            sheet.leave(rule.source_line, f"not CSS: {rule.message}")
        elif rule.type == "at-rule":
            sheet.leave(rule.source_line, f"@{rule.at_keyword} rules are not read")
        elif rule.type == "qualified-rule":
            content = tinycss2.parse_blocks_contents(
                rule.content, skip_comments=True, skip_whitespace=True)
            for selector in _text_of(rule.prelude).split(","):
                plain, state = _split(selector.strip())
                if plain in (":root", "html", "body", "*"):
                    _take_variables(content, sheet)
                    continue
                if state is None:
                    sheet.leave(rule.source_line, f"the selector {selector.strip()}")
                    continue
                base = base or plain
                if plain != base:
                    sheet.leave(rule.source_line, f"{plain}: only {base} is taken from one sheet")
                    continue
                _take(content, state, sheet)
    sheet.name = re.sub(r"[^A-Za-z0-9 ]+", " ", base).strip().capitalize()


def _text_of(tokens: list[Any]) -> str:
    try:
        return str(tinycss2.serialize(tokens))
    except RecursionError:
        raise CssError("a selector nested too deeply") from None


def _split(selector: str) -> tuple[str, str | None]:
    """A selector without its state, and the state; None for what no control has."""
    if selector == ":root":
        return selector, "rest"
    if "::" in selector or " " in selector or ">" in selector:
        return selector, None
    plain = selector.replace("[disabled]", ":disabled")
    plain = re.sub(r"\[aria-(?:checked|pressed)=[\"']?true[\"']?\]", ":checked", plain)
    plain = re.sub(r"\[aria-busy=[\"']?true[\"']?\]", ":busy", plain)
    plain = re.sub(r":not\(:disabled\)", "", plain)
    plain, *pseudo = plain.split(":")
    conditions = [STATES.get(name) for name in pseudo]
    if None in conditions:
        return plain, None
    return plain, condition_of(state for state in conditions if state)


def _take_variables(content: list[Any], sheet: Sheet) -> None:
    for node in content:
        if node.type == "declaration" and node.name.startswith("--"):
            sheet.variables[node.name] = Declared(node.value, node.source_line)
        elif node.type == "declaration":
            sheet.leave(node.source_line, f"{node.name} of the whole page")


def _take(content: list[Any], state: str, sheet: Sheet) -> None:
    declarations = sheet.states.setdefault(state, {})
    for node in content:
        if node.type == "error":
            sheet.leave(node.source_line, f"not CSS: {node.message}")
        elif node.type != "declaration":
            sheet.leave(node.source_line, "a rule within a rule")
        elif node.name.startswith("--"):
            sheet.variables.setdefault(node.name, Declared(node.value, node.source_line))
        elif node.lower_name not in NO_LOOK:
            if len(declarations) >= MOST_DECLARATIONS:
                raise CssError(f"more than {MOST_DECLARATIONS} declarations")
            declarations.pop(node.lower_name, None)  # a later one counts where it stands
            declarations[node.lower_name] = Declared(node.value, node.source_line)


def _with_variables(tokens: list[Any], sheet: Sheet, depth: int) -> list[Any]:
    if depth > DEEPEST_VARIABLES:
        raise CssError("custom properties that refer to each other without end")
    replaced: list[Any] = []
    for token in tokens:
        sheet.expanded += 1
        if sheet.expanded > MOST_EXPANDED:
            raise CssError(f"custom properties that come to more than {MOST_EXPANDED} words")
        if token.type == "function" and token.lower_name == "var":
            parts = split_by(token.arguments, ",")
            name = tinycss2.serialize(parts[0]).strip()
            if name in sheet.variables:
                replaced += _with_variables(sheet.variables[name].tokens, sheet, depth + 1)
            elif len(parts) > 1:
                rest = [t for part in parts[1:] for t in part]
                replaced += _with_variables(rest, sheet, depth + 1)
            else:
                raise CssError(f"{name} is not given a value")
        elif token.type == "function":
            inner = _with_variables(token.arguments, sheet, depth)
            replaced.append(tinycss2.ast.FunctionBlock(
                token.source_line, token.source_column, token.name, inner))
        else:
            replaced.append(token)
    return replaced


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
