"""A control as CSS: each value a custom property of its layer, each state only what it changes."""

from __future__ import annotations

from collections.abc import Sequence

from mektel.core.kit import (
    CONTROL,
    OUTLINE,
    REST,
    STATES,
    Control,
    ControlOutline,
    Kit,
    Label,
    in_order,
)
from mektel.core.look import ShadowLook, resolve
from mektel.core.look.layout import following_text
from mektel.targets.web.driving import FILE, Property, declared_with, with_radius
from mektel.targets.web.layers import layer_css
from mektel.targets.web.outlines import clip, is_round, radius
from mektel.targets.web.values import Declarations, number, px

PSEUDO = {
    "checked": '[aria-checked="true"]',
    "focus": ":focus-visible",
    "hover": ":hover",
    # Where the pointer has slid off, nothing is pressed; a key presses what has the focus.
    "pressed": ":active:where(:hover, :focus-visible)",
    "busy": '[aria-busy="true"]',
    "disabled": ":disabled",
}
# What holds anyway need not be said at rest.
DEFAULTS = {
    "visibility": "visible", "opacity": "1", "translate": "0px 0px", "mix-blend-mode": "normal",
    "rotate": "0deg", "scale": "1 1",
}
# Shorthands and what they set.
FAMILIES = ({"inset", "left", "top"}, {"border", "border-image"},
            {"mask", "mask-composite", "mask-border", "-webkit-mask-box-image"},
            {"background", "background-origin"})
# What holds where a state does not have what is declared at rest, if not what CSS begins with.
FRAME = {"inset": "0", "position": "absolute", "padding": "0", "visibility": "visible"}


def control_css(kit: Kit, control: Control, driven: Sequence[Property] = ()) -> str:
    """The style sheet of the element's shadow root; what is ``driven`` refers to its property."""
    rest = _parts(kit, control, frozenset())
    rules = [(selector, _sized(selector, declared, control, driven))
             for selector, declared in _frame(kit, control)]
    at_rest = [one for one in driven if one.condition == REST]
    for selector, declared in rest.items():
        told = _told(selector, at_rest)
        needed = {n: v for n, v in declared.items()
                  if DEFAULTS.get(n) != v or n in {one.told.split(".")[0] for one in told}}
        needed = _driven(selector, needed, control, at_rest)
        if needed:
            rules.append((selector, needed))
    conditions = {*control.states, *(one.condition for one in driven if one.condition != REST)}
    for condition, flags in in_order(tuple(conditions)):
        # One state differs from rest alone, several from what each of them changes: the cascade
        # joins them by specificity and order.
        alone, below = control.only(condition), rest
        if len(flags) > 1:
            others = {one: parts for one, parts in control.states.items() if one != condition}
            alone = control
            below = _parts(kit, control.model_copy(update={"states": others}), flags)
        changed = _parts(kit, alone, flags)
        # Selectors that only some states have, such as a text of their own.
        changed |= {selector: {} for selector in below if selector not in changed}
        for selector, declared in changed.items():
            mine = [one for one in driven if one.condition == condition]
            names = {one.told.split(".")[0] for one in _told(selector, mine)}
            before = below.get(selector, {})
            # Taken back first: a shorthand may then set it again.
            gone = {n: "initial" for n in before
                    if n not in declared and n not in FRAME and not n.startswith("--")}
            gone |= {n: value for n, value in FRAME.items() if n in before and n not in declared}
            # What is taken back may be part of what is declared alike: that is said again.
            again = {n for family in FAMILIES if family & gone.keys() for n in family}
            differing = gone | {n: v for n, v in declared.items()
                                if before.get(n) != v or n in names or n in again}
            differing = _driven(selector, differing, control, mine)
            if differing:
                rules.append((f"{selector_of(flags, control.behaviour)} {selector}", differing))
    for one in driven:
        if one.told == FILE and "border-image" in rest[f'[part="{one.part}"]']:
            slices = rest[f'[part="{one.part}"]']["border-image"]
            # Another picture fills the place of the designed one and keeps its form.
            rules.append((f'[part="{one.part}"][data-file]', {
                "border-image": "none", "background": f"var({one.name}) center / cover",
                "background-origin": "border-box",
                "-webkit-mask-box-image": slices, "mask-border": slices}))
    return "".join(_rule(selector, declared) for selector, declared in rules)


def _told(selector: str, driven: Sequence[Property]) -> list[Property]:
    """The properties that a rule for this selector refers to."""
    own = ".layers" if selector == ".layers" else selector
    return [one for one in driven
            if own == f'[part="{one.part}"]'
            or (one.part == OUTLINE and own == ".layers" and not one.told.startswith("padding"))
            or (one.part == OUTLINE and one.told.startswith("padding") and own != ".layers")]


def _driven(
    selector: str, declared: Declarations, control: Control, driven: Sequence[Property]
) -> Declarations:
    told = [one for one in _told(selector, driven)
            if not one.told.startswith("padding") or "padding" in declared]
    found = declared_with(declared, [one for one in told if one.told != "radius"])
    for one in driven:
        if one.told == "radius":
            found = with_radius(found, one, control.outline.radii[0])
    return found


def _sized(
    selector: str, declared: Declarations, control: Control, driven: Sequence[Property]
) -> Declarations:
    """The frame's own size and corners, where they are driven."""
    found = dict(declared)
    for one in driven:
        if one.part == CONTROL and one.told in found and selector in ("button", ".layers"):
            found[one.told] = f"var({one.name}, {found[one.told]})"
        elif one.told == "radius" and one.condition == REST:
            found = with_radius(found, one, control.outline.radii[0])
    return found


def selector_of(flags: frozenset[str], kind: str) -> str:
    """The button while these states hold; a busy one shows no press."""
    found = "button" + "".join(PSEUDO[state] for state in STATES if state in flags)
    return found + ':where(:not([aria-busy="true"]))' if (
        kind == "busy" and "pressed" in flags) else found


def _rule(selector: str, declared: Declarations) -> str:
    lines = "".join(f"      {name}: {value};\n" for name, value in declared.items())
    return f"    {selector} {{\n{lines}    }}\n"


def _frame(kit: Kit, control: Control) -> list[tuple[str, Declarations]]:
    body, (width, height) = control.outline, control.size
    shaped = not is_round(body)
    rules = [
        # Only the button's own outline answers the pointer, not the element's whole box.
        (":host", {
            "display": "inline-block", "vertical-align": "middle", "pointer-events": "none",
        }),
        (":host([hidden])", {"display": "none"}),
        ("button", {
            "display": "block", "box-sizing": "border-box", "width": "100%",
            "min-width": px(width), "min-height": px(height), "height": "100%",
            "margin": "0", "border": "0", "padding": "0", "background": "none",
            "border-radius": "0" if shaped else radius(body, control.size, 0),
            "font": "inherit", "outline": "none", "cursor": "pointer",
            "pointer-events": "none" if shaped else "auto",
            "-webkit-tap-highlight-color": "transparent",
        }),
        ("button:disabled", {"cursor": "default", "pointer-events": "none"}),
        (".layers", {
            "position": "relative", "display": "grid", "box-sizing": "border-box",
            "min-width": px(width), "min-height": px(height), "height": "100%",
            "pointer-events": "none",
            # Layers blend among themselves, not with the page.
            **({"isolation": "isolate"} if blends(control) else {}),
            **({"aspect-ratio": f"{width:g} / {height:g}", "height": "auto", "max-height": "100%",
                "margin": "auto"} if body.fit == "keep" else {}),
        }),
        *([(".layers, .layer", {"transition": f"all {number(control.transition.seconds)}s "
                                              f"{control.transition.easing}"})]
          if control.transition else []),
        (".layer", {"position": "absolute", "inset": "0", "box-sizing": "border-box"}),
    ]
    if shaped:
        # What answers the pointer where the outline is no rounded box.
        rules.append((".hit", {
            **clip(resolve(kit, control).outline, control.size, body.offset),
            "position": "absolute", "pointer-events": "auto",
        }))
        rules.append(("button:disabled .hit", {"pointer-events": "none"}))
    return rules


def blends(control: Control) -> bool:
    return any(
        control.part_in(layer.id, {state}).blend != "normal"
        for layer in control.layers for state in ("rest", *control.states)
    )


def _parts(kit: Kit, control: Control, flags: frozenset[str]) -> dict[str, Declarations]:
    body: ControlOutline = control.part_in(OUTLINE, flags)
    look = resolve(kit, control, flags)
    # Shadows that an opaque face hides, whose own edge must not show as a seam beside its.
    hidden = {one.id for one in look.primitives() if isinstance(one, ShadowLook)
              and one.cut is None}
    found: dict[str, Declarations] = {
        ".layers": {
            "translate": f"{px(body.offset[0])} {px(body.offset[1])}",
            "opacity": number(body.opacity),
        }
    }
    following, _, beside = following_text(control, control.text)
    for layer in control.layers:
        found |= layer_css(kit, control, layer.id, flags, layer.id in hidden)
        selector = f'[part="{layer.id}"]'
        if layer.id in following:
            share = following[layer.id]
            x, _, y = found[selector].get("translate", "0px 0px").partition(" ")
            found[selector]["translate"] = (
                f"calc({x} + var(--grown, 0px) * {number(share)}) {y or '0px'}")
        elif beside and isinstance(layer, Label) and layer.text is None and control.content:
            # Room for what stands beside the text, so that the element is wide enough for both.
            down, across = found[selector]["padding"].split(" ")
            left = {"start": 0.0, "centre": beside / 2, "end": beside}[control.content.place]
            sides = [px(float(across[:-2]) + more) for more in (beside - left, left)]
            found[selector]["padding"] = f"{down} {sides[0]} {down} {sides[1]}"
            if control.content.place != "centre":
                found[selector]["margin"] = "0"
    return found
