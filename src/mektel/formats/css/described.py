"""What a sheet describes of one control: values for each state, colours that have a name."""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import combinations
from typing import Any

from mektel.core.finding import Finding, Place
from mektel.core.kit import condition_of
from mektel.core.kit.conditions import rank
from mektel.formats.css.cascade import Known, Style, Values, conditions_of, style_of
from mektel.formats.css.element import Subject
from mektel.formats.css.lengths import ROOT_EM, colour
from mektel.formats.css.sheet import StyleSheet
from mektel.formats.css.tokens import CssError, Declared, components
from mektel.formats.css.variables import Budget, Variables

MOST_CONDITIONS = 24
# Nothing is lost of these where they are none.
NONE_OF = ("text-decoration", "animation", "clip-path", "mask", "filter", "border-image")
# They place an element on a page or are the same for every button: nothing of its look.
NO_LOOK = {
    "align-items", "align-self", "align-content", "all", "appearance", "bottom", "box-sizing",
    "clear", "content", "cursor", "direction", "display", "fill", "flex", "float", "gap", "order",
    "inset", "isolation", "justify-content", "justify-self", "left", "list-style",
    "max-height", "max-width", "orphans", "overflow", "place-items", "place-content",
    "pointer-events", "position", "resize", "right", "speak", "tab-size", "top", "touch-action",
    "unicode-bidi", "user-select", "vertical-align", "visibility", "white-space", "widows",
    "will-change", "writing-mode", "z-index", "zoom", "accent-color", "caret-color",
    "color-scheme", "object-fit", "quotes", "contain", "hyphens", "transform-style", "columns",
    "backface-visibility", "perspective", "text-rendering", "text-overflow", "text-indent",
    "forced-color-adjust", "print-color-adjust", "color-adjust", "user-drag", "row-gap",
    "column-gap", "counter-reset", "counter-increment", "border-collapse", "border-spacing",
    "min-inline-size", "aspect-ratio", "tap-highlight-color", "text-size-adjust", "font-smoothing",
    "background-attachment", "transition-property", "font-variant", "font-stretch",
    "font-kerning", "font-synthesis",
    "font-optical-sizing", "font-feature-settings", "font-variation-settings", "interpolate-size",
    "flow", "behavior", "stroke", "animation-fill-mode", "animation-play-state",
    "animation-composition",
}
NO_LOOK_PREFIXES = (
    "-webkit-", "-moz-", "-ms-", "-o-", "margin", "flex-", "grid", "overflow-", "scroll",
    "list-style-", "text-underline-", "word-", "line-break", "break-",
    "page-break-", "inset-", "object-", "ruby", "column-", "contain", "counter-", "overscroll",
    "text-wrap", "white-space-", "text-emphasis", "*", "_", "max-",
)


@dataclass
class Described:
    """Values for each state, all that holds in it; what is left out is listed with its line."""

    name: str = ""
    # Worked out from the text where the sheet gives no size.
    size: tuple[float, float] | None = None
    states: dict[str, Values] = field(default_factory=dict)
    parts: dict[str, dict[str, Style]] = field(default_factory=dict)
    styles: dict[str, Style] = field(default_factory=dict)
    keyframes: dict[str, list[Any]] = field(default_factory=dict)
    # Custom properties that are colours and that the control uses: in light and, else, in dark.
    colours: dict[str, tuple[int, str, str]] = field(default_factory=dict)
    root_em: float = ROOT_EM
    # Whether it never holds text, as a check box: then its parts stand in its box by themselves.
    empty: bool = False
    # Whether the sheet's sizes are those of the box within border and padding.
    content_box: bool = False
    _left: dict[Finding, None] = field(default_factory=dict)

    @property
    def leftovers(self) -> list[Finding]:
        return list(self._left)

    @property
    def first_line(self) -> int:
        """Where the first declaration stands: for what several of them give together."""
        return min((declared.line for state in self.states.values() for declared in state.values()),
                   default=1)

    def leave(self, line: int, what: str) -> None:
        self._left.setdefault(Finding("not-taken-over", Place(line=max(1, line)), what))


def describe(sheet: StyleSheet, subject: Subject, name: str = "") -> Described:
    """What ``sheet`` says of the element, in every state that it has rules for."""
    described, budget = Described(name=name, keyframes=sheet.keyframes), Budget()
    described.empty = subject.element.tag == "input"
    start, known = Style(variables=Variables(budget)), Known()
    asked = sorted(conditions_of(sheet, subject), key=lambda flags: rank(condition_of(flags)))
    conditions = {"rest": frozenset[str](), **{condition_of(flags): flags for flags in asked}}
    # Where two hold at once the cascade decides; what comes of it is looked at as well.
    for one, other in combinations(asked, 2):
        both = one | other
        if not both & {"disabled", "busy"} and len(both) < 4:
            conditions.setdefault(condition_of(both), both)
    styles = described.styles
    for condition, flags in list(conditions.items())[:MOST_CONDITIONS]:
        style = styles[condition] = style_of(sheet, subject, flags, "", start, known)
        described.states[condition] = of_look(style.values)
        described.parts[condition] = style.parts
        for line, what in style.faults:
            described.leave(line, what)
    rest = styles["rest"]
    described.root_em = rest.root_em
    sizing = rest.values.get("box-sizing")
    described.content_box = sizing is not None and sizing.text == "content-box"
    dark = style_of(sheet, subject, frozenset(), "dark", start, known) if any(
        rule.scheme for rule in sheet.rules) else rest
    for variable in sorted(budget.used, key=rest.variables.line_of):
        tone, in_dark = (_colour(style.variables, variable) for style in (rest, dark))
        if tone:
            described.colours[variable] = (
                rest.variables.line_of(variable), tone, in_dark if in_dark != tone else "")
    for finding in sheet.skipped:
        described._left.setdefault(finding)
    return described


def of_look(values: Values) -> dict[str, Declared]:
    return {name: value for name, value in values.items()
            if name not in NO_LOOK and not name.startswith(NO_LOOK_PREFIXES)
            and not (name.startswith(NONE_OF) and _is_plain(value))}


def _is_plain(value: Declared) -> bool:
    """Whether a value adds nothing to a look, such as no underline or no animation."""
    return value.text.lower().split(" ")[0] in ("none", "initial", "auto", "normal", "0s", "solid")


def _colour(variables: Variables, name: str) -> str:
    """A custom property as a colour, or nothing where it is none."""
    try:
        parts = components(variables.value(name) or [])
    except CssError:
        return ""
    return (colour(parts[0]) or "") if len(parts) == 1 else ""
