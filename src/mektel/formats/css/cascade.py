"""What holds for an element in a state: matching, cascade, inheritance (CSS Cascading 5)."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

import tinycss2

from mektel.core.kit.conditions import SILENT, STATES
from mektel.formats.css.element import Subject
from mektel.formats.css.lengths import ROOT_EM, Scale, four, length
from mektel.formats.css.sheet import Declaration, Rule, StyleSheet
from mektel.formats.css.tokens import CssError, Declared, components
from mektel.formats.css.variables import Budget, Variables

KEYWORDS = ("inherit", "initial", "unset", "revert", "revert-layer")
INHERITED = frozenset((
    "color", "font", "font-family", "font-size", "font-weight", "font-style", "letter-spacing",
    "line-height", "text-align", "text-transform", "text-shadow", "cursor", "white-space",
))
SIDES = ("top", "right", "bottom", "left")
FONT = ("font-family", "font-size", "font-weight", "font-style", "line-height")
BORDER_PARTS = tuple(f"border-{part}" for part in ("width", "color", "style"))
BY_SIDE = {side: tuple(f"border-{side}-{part}" for part in ("width", "color", "style"))
           for side in SIDES}
# A shorthand and what it sets: what stands before it counts no more.
SHORTHANDS: dict[str, tuple[str, ...]] = {
    "font": FONT,
    "padding": tuple(f"padding-{side}" for side in SIDES),
    "border": (*BORDER_PARTS, *(f"border-{side}" for side in SIDES), "border-image",
               *(name for side in SIDES for name in BY_SIDE[side])),
    "border-image": tuple(f"border-image-{part}" for part in (
        "source", "slice", "width", "outset", "repeat")),
    **{f"border-{part}": tuple(f"border-{side}-{part}" for side in SIDES)
       for part in ("width", "color", "style")},
    **{f"border-{side}": BY_SIDE[side] for side in SIDES},
    "border-radius": ("border-top-left-radius", "border-top-right-radius",
                      "border-bottom-right-radius", "border-bottom-left-radius"),
    "background": ("background-color", "background-image", "background-size",
                   "background-position", "background-repeat", "background-origin",
                   "background-clip", "background-attachment"),
    "outline": ("outline-width", "outline-color", "outline-style"),
    "animation": tuple(f"animation-{part}" for part in (
        "name", "duration", "timing-function", "delay", "iteration-count", "direction")),
    "transition": ("transition-property", "transition-duration", "transition-timing-function",
                   "transition-delay"),
}
# Sides by the direction of text, left to right.
ALONG = {"inline-start": "left", "inline-end": "right", "block-start": "top",
         "block-end": "bottom"}
LOGICAL: dict[str, tuple[str, ...]] = {
    **{f"{name}-{along}": (f"{name}-{side}",) for name in ("padding", "margin", "border")
       for along, side in ALONG.items()},
    **{f"border-{along}-{part}": (f"border-{side}-{part}",) for along, side in ALONG.items()
       for part in ("width", "color", "style")},
    **{f"inset-{along}": (side,) for along, side in ALONG.items()},
    **{f"{name}-{axis}": tuple(f"{name}-{side}" for side in sides)
       for name in ("padding", "margin", "border")
       for axis, sides in (("inline", ("left", "right")), ("block", ("top", "bottom")))},
    "inset-inline": ("left", "right"), "inset-block": ("top", "bottom"),
    "inline-size": ("width",), "block-size": ("height",), "min-inline-size": ("min-width",),
    "min-block-size": ("min-height",),
    "border-start-start-radius": ("border-top-left-radius",),
    "border-start-end-radius": ("border-top-right-radius",),
    "border-end-end-radius": ("border-bottom-right-radius",),
    "border-end-start-radius": ("border-bottom-left-radius",),
    "-webkit-box-shadow": ("box-shadow",), "-webkit-border-radius": ("border-radius",),
}
ALL = ("*", "*::before", "*::after", "::before", "::after")
# These take nothing from what surrounds them unless the sheet says so (HTML 15.5).
CONTROLS = ("button", "input", "select", "textarea")
FONT_SIZES = {"xx-small": 9.0, "x-small": 10.0, "small": 13.0, "medium": 16.0, "large": 18.0,
              "x-large": 24.0, "xx-large": 32.0}


Values = dict[str, Declared]


@dataclass
class Style:
    """What holds for one element: values in the order of precedence, properties of its own."""

    values: Values = field(default_factory=dict)
    variables: Variables = field(default_factory=lambda: Variables(Budget()))
    em: float = ROOT_EM
    root_em: float = ROOT_EM
    # Values that could not be worked out: line and reason.
    faults: list[tuple[int, str]] = field(default_factory=list)
    # The style of ``::before`` and ``::after``, where the sheet makes them.
    parts: dict[str, Style] = field(default_factory=dict)


def conditions_of(sheet: StyleSheet, subject: Subject) -> list[frozenset[str]]:
    """Sets of states for which the sheet has rules that hold for the element."""
    element = subject.element
    classes = {*element.get("class", "").split(),
               *(name for names in sheet.state_classes.values() for name in names)}
    wanted: dict[frozenset[str], None] = {}
    wrapped: dict[frozenset[str], Any] = {}
    for rule in sheet.rules_for(element.tag, classes, element.get("id")):
        states = rule.selector.states_anywhere
        if not states or states in wanted or rule.selector.compiled is None or any(
                flag in states and SILENT[flag] & states for flag in SILENT):
            continue
        if states not in wrapped:
            wrapped[states] = subject.in_state(states, sheet.state_classes)[-1]
        if rule.selector.compiled.test(wrapped[states]):
            wanted[states] = None
    return list(wanted)


def addresses(sheet: StyleSheet, subject: Subject) -> bool:
    """Whether a sheet has a rule for the element, not counting those for everything."""
    states = frozenset(STATES)
    element = subject.in_state(states, sheet.state_classes)[-1]
    plain = subject.in_state((), sheet.state_classes)[-1]
    # A tag that the selector does not name is only what such an element would most likely have.
    tag = element.local_name if subject.title[:1].isalpha() else ""
    rules = sheet.rules_for(tag, set(element.classes), element.id)
    return any(rule.selector.text not in ALL and rule.selector.compiled is not None and (
        rule.selector.compiled.test(element) or rule.selector.compiled.test(plain))
        for rule in rules) or "style" in subject.element.attrib


# Styles that were worked out: by what they inherit from, and what is declared.
Known = dict[tuple[int, tuple[int, ...], str], Style]


def style_of(
    sheet: StyleSheet, subject: Subject, flags: frozenset[str], scheme: str, start: Style,
    known: Known,
) -> Style:
    """The style of the element, all that it inherits worked out from the root down.

    ``start`` is what the root inherits. What is ``known`` is not worked out again.
    """
    style = start
    line = subject.in_state(flags, sheet.state_classes)
    for at, element in enumerate(line):
        matched = _matched(sheet, element, scheme)
        key = (id(style), tuple(map(id, matched[""])), element.local_name)
        if at == len(line) - 1:
            # Its parts are its own.
            style = _next(style, matched[""], element.local_name, at == 0)
        else:
            if key not in known:
                known[key] = _next(style, matched[""], element.local_name, at == 0)
            style = known[key]
        if at == len(line) - 1:
            for pseudo in ("before", "after"):
                if matched.get(pseudo):
                    style.parts[pseudo] = _next(style, matched[pseudo], pseudo, False)
    return style


def _matched(sheet: StyleSheet, element: Any, scheme: str) -> dict[str, list[Declaration]]:
    """Declarations by pseudo-element, the weakest first (CSS Cascading 5, 6.1)."""
    weighed: dict[str, list[tuple[tuple[Any, ...], int, Declaration]]] = {"": []}
    rules = sheet.rules_for(element.local_name, set(element.classes), element.id)
    for rule in rules:
        if (rule.scheme and rule.scheme != (scheme or "light")) or not _holds(rule, element):
            continue
        compiled = rule.selector.compiled
        listed = weighed.setdefault(compiled.pseudo_element or "", [])
        for at, declaration in enumerate(rule.declarations):
            rank = -rule.layer if declaration.important else rule.layer
            listed.append(((declaration.important, rank, compiled.specificity, rule.order), at,
                           declaration))
    own = element.etree_element.get("style")
    if own and len(own) < 20_000:
        for at, node in enumerate(tinycss2.parse_blocks_contents(own, skip_comments=True)):
            if node.type == "declaration":
                weighed[""].append((
                    (node.important, 1 << 31, (0, 0, 0), 0), at,
                    Declaration(node.lower_name, node.value, 1, node.important)))
    return {name: [entry[2] for entry in sorted(listed, key=lambda entry: entry[:2])]
            for name, listed in weighed.items()}


def _holds(rule: Rule, element: Any) -> bool:
    compiled = rule.selector.compiled
    return compiled is not None and bool(compiled.test(element))


def _next(parent: Style, declared: list[Declaration], tag: str, root: bool) -> Style:
    own = {entry.name: entry.tokens for entry in declared if entry.name.startswith("--")}
    lines = {entry.name: entry.line for entry in declared if entry.name.startswith("--")}
    style = Style(variables=Variables(parent.variables.budget, own, lines, parent.variables),
                  root_em=parent.root_em)
    if tag not in CONTROLS:
        style.values = {name: value for name, value in parent.values.items() if name in INHERITED}
    for entry in declared:
        if not entry.name.startswith("--"):
            try:
                tokens = style.variables.put_in(entry.tokens)
            except (CssError, RecursionError) as error:
                why = error if isinstance(error, CssError) else "functions nested too deeply"
                style.faults.append((entry.line, f"{entry.name}: {why}"))
                # Invalid at computed-value time: as if unset.
                _reset(style, parent, entry.name, entry.line)
                continue
            _set(style, parent, entry.name, Declared(tokens, entry.line))
    size = style.values.get("font-size")
    base = parent.em if tag not in CONTROLS else ROOT_EM
    style.em = base if size is None else _font_size(size, parent.em, style.root_em) or base
    if root:
        style.root_em = style.em
    if size is not None or (tag not in CONTROLS and parent.em != ROOT_EM):
        style.values.pop("font-size", None)
        token = tinycss2.ast.DimensionToken(1, 1, style.em, None, f"{style.em:.6g}", "px")
        style.values["font-size"] = Declared([token], size.line if size else 1)
    return style


def with_declared(style: Style, declared: list[Declaration]) -> Style:
    """A style with some more declarations laid over it, as keyframes do."""
    made = replace(style, values=dict(style.values), faults=[])
    for entry in declared:
        try:
            _set(made, Style(), entry.name,
                 Declared(style.variables.put_in(entry.tokens), entry.line))
        except (CssError, RecursionError):
            continue  # invalid at computed-value time: as if it did not stand there
    return made


def _set(style: Style, parent: Style, name: str, value: Declared) -> None:
    if name in LOGICAL:
        names, tokens = LOGICAL[name], components(value.tokens)
        for at, physical in enumerate(names):
            alone = len(names) == 1 or len(tokens) == 1 or name.startswith("border")
            part = tokens if alone else tokens[at:at + 1]
            _set(style, parent, physical, Declared(part or tokens, value.line))
        return
    if name in ("inset", "margin") and components(value.tokens):
        listed = components(value.tokens)[:4]
        for side, token in zip(SIDES, four(listed), strict=True):
            physical = side if name == "inset" else f"margin-{side}"
            _set(style, parent, physical, Declared([token], value.line))
        return
    word = value.text.lower()
    if name == "all" and word in KEYWORDS:
        style.values = {n: v for n, v in parent.values.items() if n in INHERITED} if (
            word in ("inherit", "unset")) else {}
        return
    for longhand in SHORTHANDS.get(name, ()):
        style.values.pop(longhand, None)
    style.values.pop(name, None)
    if word in KEYWORDS:
        if word == "inherit" or (word in ("unset", "revert") and name in INHERITED):
            for longhand in (name, *SHORTHANDS.get(name, ())):
                if longhand in parent.values:
                    style.values[longhand] = parent.values[longhand]
            return
        value = Declared([tinycss2.ast.IdentToken(value.line, 1, "initial")], value.line)
    style.values[name] = value


def _reset(style: Style, parent: Style, name: str, line: int) -> None:
    """As if unset: what was declared before it does not come back (CSS Variables 1, 3.1)."""
    if name in INHERITED and name in parent.values:
        _set(style, parent, name, parent.values[name])
    else:
        _set(style, parent, name, Declared([tinycss2.ast.IdentToken(line, 1, "initial")], line))


def _font_size(value: Declared, parent: float, root: float) -> float | None:
    token = (components(value.tokens) or [None])[0]
    if token is None:
        return None
    if token.type == "ident":
        factor = {"smaller": 1 / 1.2, "larger": 1.2}.get(token.lower_value)
        return parent * factor if factor else FONT_SIZES.get(token.lower_value)
    try:
        return min(2000.0, max(0.0, length(token, Scale(parent, root), parent)))
    except CssError:
        return None

