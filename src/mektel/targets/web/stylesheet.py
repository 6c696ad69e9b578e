"""A control as a style sheet: its drawing as rules, each set of states only what it changes."""

from __future__ import annotations

import re
from collections import Counter

from mektel.core.kit import OUTLINE, STATES
from mektel.core.kit.control import CONTROL
from mektel.core.remember import Remembered
from mektel.targets.instrument import Drawing, States, draw
from mektel.targets.sheet import Sheet
from mektel.targets.web import answering
from mektel.targets.web.css_values import Declarations
from mektel.targets.web.instrument import LAYERS, WebInstrument, selector_of
from mektel.targets.web.labels import stands_alone
from mektel.targets.web.mirroring import mirrored_rules
from mektel.targets.web.motion import transition_rules
from mektel.targets.web.outlines import clip, is_round

PSEUDO = {
    "checked": '[aria-checked="true"]',
    "focus": ":focus-visible",
    "hover": ":hover",
    # Where the pointer has slid off, nothing is pressed; a key presses what has the focus.
    "pressed": ":active:where(:hover, :focus-visible)",
    "busy": '[aria-busy="true"]',
    "disabled": ":disabled",
}
# The points of an outline, in a polygon.
RING = re.compile(r"(?:-?[\d.]+% -?[\d.]+%, ){11,}-?[\d.]+% -?[\d.]+%")
# Types of parameters that a style sheet can write.
STYLED = ("colour", "number", "length", "duration", "yes-no", "choice")
# What holds anyway need not be said at rest.
DEFAULTS = {
    "visibility": "visible", "opacity": "1", "translate": "0px 0px", "mix-blend-mode": "normal",
    "rotate": "0deg", "scale": "1 1",
}
_style_sheets = Remembered(64)
# All that moves.
STILL = f"{LAYERS}, .layer, .layer::before, .layer::after"
# Shorthands and what they set.
FAMILIES = ({"inset", "left", "top", "width", "height"}, {"border", "border-image"},
            {"mask", "mask-composite", "mask-border", "-webkit-mask-box-image"},
            {"background", "background-origin"})
# What holds where a state does not have what is declared at rest, if not what CSS begins with.
FRAME = {"inset": "0", "position": "absolute", "padding": "0", "visibility": "visible"}


def style_sheet(sheet: Sheet) -> tuple[str, WebInstrument]:
    """The style sheet of the element's shadow root, and the instrument that it was drawn with."""
    # Every form of an element's file has it.
    return _style_sheets.get((sheet,), (), lambda: _style_sheet(sheet))


def _style_sheet(sheet: Sheet) -> tuple[str, WebInstrument]:
    web = WebInstrument(sheet)
    drawing = draw(sheet, web)
    rules = _frame(sheet, web)
    for selector, declared in drawing.rest.items():
        needed = {n: v for n, v in declared.items() if DEFAULTS.get(n) != v}
        if needed:
            rules.append((selector, needed))
    for states, groups in drawing.changes.items():
        whole = drawing.total(states)
        for selector, changed in groups.items():
            rules.append((f"{button_in(states, sheet.behaviour)} {selector}",
                          _rule_of(changed, whole.get(selector, {}))))
    for selector, states, declared in transition_rules(sheet, drawing, LAYERS):
        # Without weight of their own: what comes later counts.
        held = f":where({button_in(states, sheet.behaviour)}) " if states else ""
        rules.append((", ".join(held + one for one in selector.split(", ")), declared))
    selectors = {part.name: selector_of(part) for part in sheet.layers}
    swings, frames = answering.swing_rules(
        sheet, {**selectors, OUTLINE: LAYERS, CONTROL: LAYERS}, web.reason_still)
    rules += [(selector, declared) for selector, _, declared in swings]
    rules += _pictures_in_place(drawing, web)
    rules += mirrored_rules(rules, [
        selector_of(part) for part in sheet.layers if part.kind == "symbol"])
    rules = _with_shared_rings(rules)
    css = "".join(_written(selector, declared) for selector, declared in rules if declared)
    return css + frames + _first_style(sheet) + _preferences(sheet), web


def _with_shared_rings(rules: list[tuple[str, Declarations]]) -> list[tuple[str, Declarations]]:
    """Rules in which points that several polygons have in common stand once."""
    counted = Counter(ring for _, declared in rules for value in declared.values()
                      for ring in RING.findall(value))
    shared = {ring: f"--ring-{at}" for at, ring in enumerate(
        (ring for ring, count in counted.items() if count > 1), 1)}
    if not shared:
        return rules

    def short(value: str) -> str:
        return RING.sub(lambda ring: f"var({shared[ring[0]]})" if ring[0] in shared else ring[0],
                        value)

    return [("button", {name: ring for ring, name in shared.items()}),
            *((selector, {name: short(value) for name, value in declared.items()})
              for selector, declared in rules)]


def styled_parameters(sheet: Sheet) -> list[str]:
    """Parameters that a style sheet of the page can set: what it can write, and what is shown."""
    used = {name for driver in sheet.driven for name in driver.names}
    return [parameter.name for parameter in sheet.parameters
            if parameter.name in used and parameter.type in STYLED]


def _first_style(sheet: Sheet) -> str:
    """Parameters begin as unset, so that what a page sets at once is a change, too."""
    unset = {f"--{name.replace('_', '-')}": "initial" for name in styled_parameters(sheet)}
    return f"@starting-style {{\n{_written('.watch', unset)}}}\n" if unset else ""


def _preferences(sheet: Sheet) -> str:
    """What the platform asks for: colours of its own keep the design, within a line of theirs, and
    less motion changes states at once (Media Queries 5).
    """
    css = "@media (forced-colors: active) {\n" + _written(
        "button", {"forced-color-adjust": "none", "outline": "2px solid ButtonText"}) + _written(
        "button:focus-visible", {"outline": "4px solid Highlight"}) + "}\n"
    if sheet.swings:
        css += "@media (prefers-reduced-motion: reduce) {\n" + _written(
            STILL, {"animation": "none !important"}) + "}\n"
    if sheet.moves:
        # What script sets is there at once; only states take time.
        still = ", ".join(f".still {one}" for one in STILL.split(", "))
        css += _written(still, {"transition": "none !important"})
        calm = {answering.MOVES: "0"} if answering.gives_way(sheet) else {}
        css += "@media (prefers-reduced-motion: reduce) {\n" + (
            _written("button", calm) if calm else "") + _written(
            STILL, {"transition": "none !important"}) + "}\n"
    return css


def _rule_of(changed: dict[str, str | None], total: dict[str, str | None]) -> Declarations:
    """What a rule declares: first what is taken back, for a shorthand may then set it again."""
    absent = [n for n, value in changed.items() if value is None and not n.startswith("--")]
    gone = {n: "initial" for n in absent if n not in FRAME}
    gone |= {n: FRAME[n] for n in absent if n in FRAME}
    # What is taken back may be part of what is declared alike: that is said again.
    again = {n for family in FAMILIES if family & gone.keys() for n in family}
    return gone | {n: value for n, value in total.items()
                   if value is not None and (changed.get(n) is not None or n in again)}


def button_in(states: States, behaviour: str) -> str:
    """The button while these states hold; a busy one shows no press."""
    selector = "button" + "".join(PSEUDO[state] for state in STATES if state in states)
    return selector + ':where(:not([aria-busy="true"]))' if (
        behaviour == "busy" and "pressed" in states) else selector


def _written(selector: str, declared: Declarations) -> str:
    lines = "".join(f"  {name}: {value};\n" for name, value in declared.items())
    return f"{selector} {{\n{lines}}}\n"


def _frame(sheet: Sheet, web: WebInstrument) -> list[tuple[str, Declarations]]:
    """The element's own boxes, whatever is in them."""
    outline, (width, height) = sheet.outline.rest.values, sheet.size
    shaped = not is_round(outline)
    wide, high = web.control_length(0), web.control_length(1)
    corners = "0" if shaped else web.corners(sheet.outline.rest, None, sheet.size, 0)
    rules = [
        # Only the button's own outline answers the pointer, not the element's whole box.
        # The element has the designed size at least, unless a page says otherwise; its boxes
        # stretch with it, whatever the page's mode.
        (":host", {
            "display": "inline-flex", "pointer-events": "none",
            # Its letters stand on the line of the text beside it.
            "vertical-align": "baseline" if sheet.text_part else "middle",
            **({} if 0 in sheet.size_drivers else {"min-width": wide}),
            # What has no text to make room for keeps its form, if the page says nothing else.
            **({} if sheet.text_part else {"justify-self": "start", "align-self": "start"}),
        }),
        (":host([hidden])", {"display": "none"}),
        ("button", {
            "display": "flex", "box-sizing": "border-box", "flex": "1",
            "min-width": wide if 0 in sheet.size_drivers else "0", "min-height": high,
            "margin": "0", "border": "0", "padding": "0", "background": "none",
            "border-radius": corners,
            "font": "inherit", "outline": "none", "cursor": "pointer",
            "pointer-events": "none" if shaped else "auto",
            # Two quick touches are two presses, not a zoom that every press waits for.
            "touch-action": "manipulation",
            "-webkit-tap-highlight-color": "transparent",
        }),
        ("button:disabled", {"cursor": "default", "pointer-events": "none"}),
        (LAYERS, {
            "position": "relative", "display": "flex" if stands_alone(sheet) else "grid",
            "flex": "1", "box-sizing": "border-box",
            "min-width": wide if 0 in sheet.size_drivers else "0", "min-height": high,
            "pointer-events": "none",
            # Layers blend among themselves, not with the page.
            **({"isolation": "isolate"} if _blends(sheet) else {}),
            **({"aspect-ratio": f"{width:g} / {height:g}", "height": "auto", "max-height": "100%",
                "margin": "auto"} if outline.fit == "keep" else {}),
        }),
        (".layer", {"position": "absolute", "inset": "0", "box-sizing": "border-box"}),
        *([(f"{answering.MARKS}, {answering.BEYOND}", {"position": "absolute", "inset": "0"})]
          if answering.draws_marks(sheet) else []),
        # Not on a line of text, which would move it by what lies below a baseline.
        *([(".layer > svg", {"display": "block"})]
          if any(part.kind == "icon" for part in sheet.layers) else []),
    ]
    if styled := styled_parameters(sheet):
        # A transition of any length begins where a custom property changes, and says so.
        names = ", ".join(f"--{name.replace('_', '-')}" for name in styled)
        rules.append((".watch", {
            "position": "absolute", "visibility": "hidden", "transition-property": names,
            "transition-duration": "1ms", "transition-timing-function": "step-start",
            "transition-behavior": "allow-discrete"}))
    if shaped:
        # What answers the pointer where the outline is not a rounded box.
        rules.append((".hit", {
            **clip(sheet.shape(frozenset()), sheet.size, outline.offset),
            "position": "absolute", "pointer-events": "auto",
        }))
        rules.append(("button:disabled .hit", {"pointer-events": "none"}))
    return rules


def _blends(sheet: Sheet) -> bool:
    return any(state.values.blend != "normal" for part in sheet.layers for state in part.distinct)


def _pictures_in_place(drawing: Drawing, web: WebInstrument) -> list[tuple[str, Declarations]]:
    """Another picture fills the place of the designed one and keeps its form."""
    rules = []
    for entry in web.properties.values():
        selector = selector_of(web.sheet.part(entry.part)) if entry.kind == "file" else ""
        slices = drawing.rest.get(selector, {}).get("border-image")
        if slices:
            rules.append((f"{selector}[data-file]", {
                "border-image": "none", "background": f"var({entry.name}) center / cover",
                "background-origin": "border-box",
                "-webkit-mask-box-image": slices, "mask-border": slices}))
    return rules
