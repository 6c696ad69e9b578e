"""A control as the CSS of one element: what a box of CSS can say, and what it cannot.

Follows CSS Backgrounds and Borders 3, Images 3 and UI 4; what is not said is listed, never dropped
silently.
"""

from __future__ import annotations

from collections.abc import Iterable

from mektel.core.finding import Finding, Place
from mektel.core.kit import (
    OUTLINE,
    REST,
    Control,
    Fill,
    InnerShadow,
    Kit,
    Label,
    Line,
    Shadow,
    parse_flags,
    shown_states,
)
from mektel.core.kit.control import ControlOutline
from mektel.core.look import settled

# What of a state CSS has a pseudo-class for.
PSEUDO = {"hover": ":hover", "pressed": ":active", "focus": ":focus-visible",
          "disabled": ":disabled"}
# What a state has where it does not have what is declared at rest.
WITHOUT = {"box-shadow": "none", "text-shadow": "none", "outline": "none", "transform": "none",
           "color": "transparent", "opacity": "1", "border-radius": "0"}
Declarations = dict[str, str]


def control_as_css(kit: Kit, control: Control) -> tuple[str, list[Finding]]:
    """Rules for rest and each state that differs, and what one element cannot show."""
    plain = settled(kit, control)
    skipped: dict[str, Finding] = {}
    selector = f".{control.id}"
    rest = _declarations(kit, plain, frozenset(), skipped)
    rules = [_rule(selector, rest)]
    for state in shown_states(control.behaviour):
        flags = parse_flags(state)
        if state == REST:
            continue
        if not flags <= PSEUDO.keys():
            skipped[state] = _finding(control, "", f"{state}: one element has no such state in CSS")
            continue
        declared = _declarations(kit, plain, flags, skipped)
        changed = {name: value for name, value in declared.items() if rest.get(name) != value}
        changed |= {name: WITHOUT[name] for name in rest.keys() - declared.keys()
                    if name in WITHOUT}
        if changed:
            rules.append(_rule(selector + "".join(PSEUDO[flag] for flag in sorted(flags)), changed))
    return "\n".join(rules), list(skipped.values())


def _finding(control: Control, part: str, text: str) -> Finding:
    return Finding("not-in-css", Place(control=control.id, part=part), text)


def _rule(selector: str, declared: Declarations) -> str:
    lines = "".join(f"  {name}: {value};\n" for name, value in declared.items())
    return f"{selector} {{\n{lines}}}\n"


def _declarations(
    kit: Kit, control: Control, flags: frozenset[str], skipped: dict[str, Finding]
) -> Declarations:
    outline = control.part_in(OUTLINE, flags)
    declared: Declarations = {
        "box-sizing": "border-box", "width": _px(control.size[0]), "height": _px(control.size[1]),
        "padding": " ".join(_px(side) for side in outline.padding[::-1]), "border": "0",
    }
    if outline.offset != (0, 0):
        declared["transform"] = f"translate({', '.join(map(_px, outline.offset))})"
    radius = _radius(outline, control.size)
    if radius is None:
        skipped[OUTLINE] = _finding(control, OUTLINE, "an element has no outline of this form")
    elif radius != "0px":
        declared["border-radius"] = radius
    backgrounds: list[str] = []
    shadows: list[str] = []
    # CSS draws what is listed first on top.
    for layer in reversed([control.part_in(layer.id, flags) for layer in control.layers]):
        if not layer.visible or layer.opacity == 0:
            continue
        why = _unsaid(layer)
        if not why:
            why = _say(kit, layer, declared, backgrounds, shadows)
        if why:
            skipped.setdefault(layer.id, _finding(control, layer.id, f"{layer.name}: {why}"))
    declared["background"] = ", ".join(_as_images(backgrounds)) or "none"
    if shadows:
        declared["box-shadow"] = ", ".join(shadows)
    if outline.opacity != 1:
        declared["opacity"] = f"{outline.opacity:g}"
    return declared


def _unsaid(layer: object) -> str:
    """Why a layer has no place in the box of one element, whatever its kind."""
    if getattr(layer, "blend", "normal") != "normal":
        return "layers of one element are not blended with each other"
    if (getattr(layer, "rotate", 0) or getattr(layer, "scale", (1, 1)) != (1, 1)
            or getattr(layer, "move", (0, 0)) != (0, 0)):
        return "layers of one element cannot be moved or turned"
    if getattr(layer, "outline", None) is not None or getattr(layer, "box", None) is not None:
        return "it has an outline or a box of its own"
    return ""


def _say(
    kit: Kit, layer: object, declared: Declarations, backgrounds: list[str], shadows: list[str]
) -> str:
    """Adds what a layer is in CSS; why not, where it cannot."""
    if isinstance(layer, Fill):
        if layer.expand:
            return "a background is as large as its element"
        paint = _paint(kit, layer)
        if not paint:
            return f"a {layer.style} gradient with such places is not written yet"
        backgrounds.append(paint)
    elif isinstance(layer, Shadow | InnerShadow):
        x, y = layer.offset
        spread = f" {_px(layer.spread)}" if layer.spread else ""
        inset = "inset " if isinstance(layer, InnerShadow) else ""
        if inset and backgrounds:
            return "it lies beneath a fill"
        shadows.append(f"{inset}{_px(x)} {_px(y)} {_px(layer.blur)}{spread} "
                       f"{_colour(kit, layer.colour, layer.opacity)}")
    elif isinstance(layer, Line):
        if layer.style != "solid" or layer.dash or layer.place == "centre":
            return "as a line it is dashed, centred or a gradient"
        colour = _colour(kit, layer.colour, layer.opacity)
        if layer.place == "outside" and layer.gap > 0:
            if "outline" in declared:
                return "an element has one outline"
            declared["outline"] = f"{_px(layer.width)} solid {colour}"
            declared["outline-offset"] = _px(layer.gap)
        elif layer.gap:
            return "a border has no gap"
        else:
            inset = "inset " if layer.place == "inside" else ""
            if inset and backgrounds:
                return "it lies beneath a fill"
            shadows.append(f"{inset}0 0 0 {_px(layer.width)} {colour}")
    elif isinstance(layer, Label):
        if layer.style != "solid" or layer.edge or layer.relief != "flat":
            return "its text has a gradient, an edge or relief"
        declared["color"] = _colour(kit, layer.colour, layer.opacity)
        declared["font"] = (f"{layer.weight} {_px(layer.size)}/{layer.line_height:g} "
                            f"\"{layer.family}\", sans-serif")
        if layer.spacing:
            declared["letter-spacing"] = _px(layer.spacing)
        if layer.case == "capitals":
            declared["text-transform"] = "uppercase"
        if layer.align != "centre":
            declared["text-align"] = layer.align
        shade = _colour(kit, layer.shadow_colour, layer.opacity)
        if not (len(shade) == 9 and shade.endswith("00")):
            x, y = layer.shadow_offset
            declared["text-shadow"] = f"{_px(x)} {_px(y)} {_px(layer.shadow_blur)} {shade}"
    else:
        return "one element has nothing like it"
    return ""


def _as_images(backgrounds: list[str]) -> Iterable[str]:
    """Only the last of several backgrounds may be a plain colour."""
    last = len(backgrounds) - 1
    for at, paint in enumerate(backgrounds):
        yield paint if at == last or "gradient(" in paint else f"linear-gradient({paint} 0 0)"


def _paint(kit: Kit, fill: Fill) -> str:
    """A background, empty for a gradient that is not written."""
    if fill.style == "solid":
        return _colour(kit, fill.colour, fill.opacity)
    if fill.spread == "mirror" or fill.ends is not None:
        return ""
    stops = ", ".join(f"{_colour(kit, stop.colour, fill.opacity)} {_share(stop.position)}"
                      for stop in fill.stops)
    way = " in oklab" if fill.mixing == "oklab" else ""
    again = "repeating-" if fill.spread == "repeat" else ""
    x, y = (_share(place) for place in fill.centre)
    if fill.style == "linear":
        return f"{again}linear-gradient({fill.direction:g}deg{way}, {stops})"
    if fill.style == "radial":
        wide, high = (_share(side) for side in fill.reach)
        return f"{again}radial-gradient({wide} {high} at {x} {y}{way}, {stops})"
    return f"{again}conic-gradient(from {fill.direction:g}deg at {x} {y}{way}, {stops})"


def _radius(outline: ControlOutline, size: tuple[float, float]) -> str | None:
    if outline.joins:
        return None
    if outline.form == "box":
        radii = [_px(radius) for radius in outline.corners]
        vertical = outline.vertical_radii
        whole = radii[0] if len(set(radii)) == 1 else " ".join(radii)
        return f"{whole} / {' '.join(map(_px, vertical))}" if vertical else whole
    if outline.form == "capsule":
        return _px(min(size) / 2)
    return "50%" if outline.form == "ellipse" else None


def _px(value: float) -> str:
    return f"{value:.4g}px"


def _share(value: float) -> str:
    return f"{100 * value:.5g}%"


def _colour(kit: Kit, value: str, opacity: float = 1.0) -> str:
    colour = kit.colour(value).lower()
    if opacity == 1:
        return colour
    alpha = int(colour[7:9], 16) if len(colour) == 9 else 255
    return f"{colour[:7]}{round(alpha * opacity):02x}"
