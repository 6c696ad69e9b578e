"""A control as CSS: each value a custom property of its layer, each state only what it changes."""

from __future__ import annotations

from typing import Any

from mektel.core.kit import BODY, STATES, Body, Control, Fill, InnerShadow, Kit, Label, Line, Shadow
from mektel.core.look import ShadowLook, resolve
from mektel.core.look.parts import line_band, tucked_growth
from mektel.core.shape import outline_for
from mektel.core.text import font_file, shape_line

SELECTORS = {
    "focus": "button:focus-visible",
    "hover": "button:hover",
    "pressed": "button:active",
    "disabled": "button:disabled",
}
# What holds anyway need not be said at rest.
DEFAULTS = {"visibility": "visible", "opacity": "1", "translate": "0px 0px"}
Declarations = dict[str, str]


def control_css(kit: Kit, control: Control) -> str:
    """The style sheet of the element's shadow root."""
    rest = _parts(kit, control, frozenset())
    rules = _frame(control)
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


def _frame(control: Control) -> list[tuple[str, Declarations]]:
    body, (width, height) = control.body, control.size
    return [
        # Only the button's own outline answers the pointer, not the element's whole box.
        (":host", {
            "display": "inline-block", "vertical-align": "middle", "pointer-events": "none",
        }),
        (":host([hidden])", {"display": "none"}),
        ("button", {
            "display": "block", "box-sizing": "border-box", "width": "100%",
            "min-width": px(width), "min-height": px(height), "height": "100%",
            "margin": "0", "border": "0", "padding": "0", "background": "none",
            "border-radius": _radius(body, control, 0),
            "font": "inherit", "outline": "none", "cursor": "pointer", "pointer-events": "auto",
            "-webkit-tap-highlight-color": "transparent",
        }),
        ("button:disabled", {"cursor": "default", "pointer-events": "none"}),
        (".layers", {
            "position": "relative", "display": "grid", "box-sizing": "border-box",
            "min-width": px(width), "min-height": px(height), "height": "100%",
            "pointer-events": "none",
        }),
        (".layer", {"position": "absolute", "inset": "0"}),
    ]


def _parts(kit: Kit, control: Control, flags: frozenset[str]) -> dict[str, Declarations]:
    body: Body = control.part_in(BODY, flags)
    look = resolve(kit, control, flags)
    # Shadows that an opaque face hides, whose own edge must not show as a seam beside its.
    hidden = {one.id for one in look.layers if isinstance(one, ShadowLook) and one.cut is None}
    found: dict[str, Declarations] = {
        ".layers": {"translate": f"{px(body.offset[0])} {px(body.offset[1])}"}
    }
    parts = [control.part_in(layer.id, flags) for layer in control.layers]
    for at, layer in enumerate(control.layers):
        part = parts[at]
        shown = [other for other in parts[at + 1 :] if other.visible]
        declared: Declarations = {}
        if isinstance(part, Shadow):
            declared = _shadow(kit, part, body, control, layer.id in hidden)
        elif isinstance(part, InnerShadow):
            declared = _inner_shadow(kit, part, body, control)
        elif isinstance(part, Fill):
            declared = _fill(kit, part, body, control, tucked_growth(kit, part, shown))
        elif isinstance(part, Line):
            declared = _line(kit, part, body, control, has_whole_widths(control, layer.id))
        elif isinstance(part, Label):
            declared = _label(kit, part, body, control)
        declared["visibility"] = "visible" if part.visible else "hidden"
        declared["opacity"] = number(part.opacity)
        found[f'[part="{layer.id}"]'] = declared
    return found


def _shadow(
    kit: Kit, part: Shadow, body: Body, control: Control, hidden: bool
) -> Declarations:
    tucked = hidden and (body.form != "box" or all(
        radius == 0 or radius >= part.spread + 2 for radius in body.radii
    ))
    return {
        "--colour": hex_colour(kit, part.colour),
        "--x": px(part.offset[0]), "--y": px(part.offset[1]),
        "--blur": px(part.blur), "--spread": px(part.spread),
        # Where a face hides its inner edge, that edge lies 1px under the face.
        "--tuck": "1px" if tucked else "0px",
        "inset": "var(--tuck)",
        "border-radius": _radius(body, control, -1 if tucked else 0),
        "box-shadow":
            "var(--x) var(--y) var(--blur) calc(var(--spread) + var(--tuck)) var(--colour)",
    }


def _inner_shadow(
    kit: Kit, part: InnerShadow, body: Body, control: Control
) -> Declarations:
    return {
        "--colour": hex_colour(kit, part.colour),
        "--x": px(part.offset[0]), "--y": px(part.offset[1]),
        "--blur": px(part.blur), "--spread": px(part.spread),
        "border-radius": _radius(body, control, 0),
        "box-shadow": "inset var(--x) var(--y) var(--blur) var(--spread) var(--colour)",
    }


def _fill(
    kit: Kit, part: Fill, body: Body, control: Control, grow: float
) -> Declarations:
    declared = {"border-radius": _radius(body, control, part.grow)}
    if part.grow:
        declared["inset"] = px(-part.grow)
    if grow < part.grow:
        # Its edge lies under the line on it; unlike a box, a clip may end within a pixel.
        corners = _radius(body, control, grow)
        declared["clip-path"] = f"inset({px(part.grow - grow)} round {corners})"
    if part.style == "solid":
        return declared | {
            "--colour": hex_colour(kit, part.colour), "background": "var(--colour)"
        }
    stops = ", ".join(
        f"{hex_colour(kit, stop.colour)} {number(stop.position * 100)}%" for stop in part.stops
    )
    return declared | {
        "--angle": f"{number(part.angle)}deg", "--stops": stops,
        "background": "linear-gradient(var(--angle), var(--stops))",
    }


def has_whole_widths(control: Control, layer_id: str) -> bool:
    """Whether a line is whole px wide in every state."""
    return all(
        float(control.part_in(layer_id, {state}).width).is_integer()
        for state in ("rest", *control.states)
    )


def _line(
    kit: Kit, part: Line, body: Body, control: Control, whole_widths: bool
) -> Declarations:
    edge, _ = line_band(part)
    return {
        "--colour": hex_colour(kit, part.colour), "--width": px(part.width),
        "inset": px(-edge), "border-radius": _radius(body, control, edge),
        # Browsers round a border to whole pixels; an inset shadow keeps its width.
        **({"box-sizing": "border-box", "border": "var(--width) solid var(--colour)"}
           if whole_widths else {"box-shadow": "inset 0 0 0 var(--width) var(--colour)"}),
    }


def _label(kit: Kit, part: Label, body: Body, control: Control) -> Declarations:
    place = {"start": "start", "centre": "center", "end": "end"}[part.align]
    line = shape_line("", part.family, part.weight, part.size)
    ascent, descent = whole_metrics(part, control)
    exact = (line.ascent - line.descent) / 2 - (ascent - descent) / 2
    return {
        "--colour": hex_colour(kit, part.colour),
        "position": "relative", "grid-area": "1 / 1", "align-self": "center",
        "justify-self": place, "box-sizing": "border-box",
        "padding": f"{px(body.padding[1])} {px(body.padding[0])}",
        "translate": f"{px(part.shift[0])} {px(part.shift[1] + exact)}",
        "color": "var(--colour)",
        "font": f'{part.weight} {px(part.size)} "{font_alias(part.family, control)}", sans-serif',
        "line-height": "normal", "letter-spacing": "normal",
        "text-rendering": "geometricPrecision", "white-space": "pre", "user-select": "none",
    }


def font_alias(family: str, control: Control) -> str:
    """A name of the element's own, so that the page's use of the family is left alone."""
    return f"{family} ({control.id})"


def whole_metrics(label: Label, control: Control) -> tuple[int, int]:
    """Ascent and descent in whole px that put the baseline nearest to where it belongs.

    Browsers round both, each in its own way; whole ones they take as they are. Their sum is
    even or odd as the control's height is, so that the centred line begins on a whole px.
    """
    line = shape_line("", label.family, label.weight, label.size)
    odd = round(control.size[1]) % 2
    apart = 2 * round((line.ascent - line.descent - odd) / 2) + odd
    ascent = round((line.height + apart) / 2)
    return ascent, max(0, ascent - apart)


def _radius(body: Body, control: Control, grow: float) -> str:
    """``border-radius`` of the body's outline, grown as our own outlines grow."""
    if body.form == "capsule":
        return "9999px"
    if body.form == "ellipse":
        return "50%"
    width, height = control.size
    outline = outline_for("box", body.radii, width, height).grown(grow)
    radii = [px(radius) for radius in outline.rx]
    return radii[0] if len(set(radii)) == 1 else " ".join(radii)


def hex_colour(kit: Kit, colour: str) -> str:
    return kit.colour(colour).lower()


def number(value: float) -> str:
    return f"{round(value, 4):g}" if abs(value) < 1e5 else str(round(value))


def px(value: float) -> str:
    return f"{number(value)}px" if value else "0px"


def font_faces(control: Control) -> list[dict[str, Any]]:
    """A font face for every family and weight of a label in any state."""
    found: dict[tuple[str, int], dict[str, Any]] = {}
    for layer in control.layers:
        for state in ("rest", *control.states):
            part = control.part_in(layer.id, {state})
            if not isinstance(part, Label) or (part.family, part.weight) in found:
                continue
            ascent, descent = whole_metrics(part, control)
            found[(part.family, part.weight)] = {
                "family": font_alias(part.family, control), "weight": part.weight,
                "file": f"fonts/{font_file(part.family, part.weight).name}",
                # A hair less than whole, so that no rounding error lifts it above.
                "ascent": f"{(ascent - 0.01) / part.size * 100:.3f}%",
                "descent": f"{max(0.0, descent - 0.01) / part.size * 100:.3f}%",
            }
    return list(found.values())
