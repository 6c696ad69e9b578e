"""A control as CSS: each value a custom property of its layer, each state only what it changes."""

from __future__ import annotations

from mektel.core.kit import BODY, STATES, Body, Control, Kit
from mektel.core.look import ShadowLook, resolve
from mektel.targets.web.layers import layer_css
from mektel.targets.web.outlines import clip, is_round, radius
from mektel.targets.web.values import Declarations, number, px

SELECTORS = {
    "focus": "button:focus-visible",
    "hover": "button:hover",
    "pressed": "button:active",
    "disabled": "button:disabled",
}
# What holds anyway need not be said at rest.
DEFAULTS = {
    "visibility": "visible", "opacity": "1", "translate": "0px 0px", "mix-blend-mode": "normal",
    "rotate": "0deg", "scale": "1 1",
}


def control_css(kit: Kit, control: Control) -> str:
    """The style sheet of the element's shadow root."""
    rest = _parts(kit, control, frozenset())
    rules = _frame(kit, control)
    for selector, declared in rest.items():
        needed = {n: v for n, v in declared.items() if DEFAULTS.get(n) != v}
        if needed:
            rules.append((selector, needed))
    for state in STATES:
        if not control.changes(state):
            continue
        # A disabled control has no other state; the rest differ from rest alone and the
        # cascade joins them in order.
        changed = _parts(kit, control, frozenset({state}))
        for selector, declared in changed.items():
            differing = {n: v for n, v in declared.items() if rest[selector].get(n) != v}
            if differing:
                rules.append((f"{SELECTORS[state]} {selector}", differing))
    return "".join(_rule(selector, declared) for selector, declared in rules)


def _rule(selector: str, declared: Declarations) -> str:
    lines = "".join(f"      {name}: {value};\n" for name, value in declared.items())
    return f"    {selector} {{\n{lines}    }}\n"


def _frame(kit: Kit, control: Control) -> list[tuple[str, Declarations]]:
    body, (width, height) = control.body, control.size
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
    body: Body = control.part_in(BODY, flags)
    look = resolve(kit, control, flags)
    # Shadows that an opaque face hides, whose own edge must not show as a seam beside its.
    hidden = {one.id for one in look.layers if isinstance(one, ShadowLook) and one.cut is None}
    found: dict[str, Declarations] = {
        ".layers": {
            "translate": f"{px(body.offset[0])} {px(body.offset[1])}",
            "opacity": number(body.opacity),
        }
    }
    for layer in control.layers:
        found |= layer_css(kit, control, layer.id, flags, layer.id in hidden)
    return found
