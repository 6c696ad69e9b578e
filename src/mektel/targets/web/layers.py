"""Each layer kind as CSS: natively where it can, else as a picture in nine slices."""

from __future__ import annotations

import base64
from typing import Any

from mektel.core.drawings import icon_paths
from mektel.core.kit import OUTLINE, Control, ControlOutline, Kit
from mektel.core.look import FillLook, LineLook, parse_flags
from mektel.core.look.holding import MARK
from mektel.core.look.parts import line_band, tucked_growth
from mektel.targets.baked import bake, bare_look
from mektel.targets.placing import in_box
from mektel.targets.web.labels import label_css, own_text_css, text_pivot
from mektel.targets.web.outlines import clip, is_round, place, polygon, radius
from mektel.targets.web.paint import background
from mektel.targets.web.values import Declarations, hex_colour, number, percent, px, span

BLURRED = ("shadow", "glow", "inner-shadow", "inner-glow")


def states_of(control: Control) -> list[frozenset[str]]:
    return [frozenset(), *(parse_flags(state) for state in control.states)]


def baked_reason(control: Control, layer_id: str) -> str:
    """Why CSS cannot draw a layer; empty if it can, in every state."""
    icons = set()
    for flags in states_of(control):
        part, body = control.part_in(layer_id, flags), control.part_in(OUTLINE, flags)
        own = getattr(part, "outline", None)
        free = not is_round(body if own is None else own)
        if part.kind == "bevel":
            return "CSS has no light on edges"
        if part.kind == "progress":
            return "its bar is a picture; fill it by state"
        if part.kind == "light":
            return "its lamp is a picture; switch it by state"
        if part.kind == "picture":
            return "it is a picture"
        if part.kind in BLURRED and free:
            return "CSS cannot blur this outline alone; its picture takes any colour"
        if part.kind == "fill" and part.origin and part.style != "solid":
            return "its gradient is repeated beyond its own box"
        if part.kind == "line" and part.dash > 0:
            return "browsers each space dashes their own way"
        if part.kind == "gloss" and (free or part.bulge < 0):
            return "CSS has no band of this form"
        if part.kind == "icon":
            icons.add(part.icon)
            if part.style != "solid" or len(icons) > 1:
                return "only an icon of one form and colour stays a drawing"
    return ""


def layer_css(
    kit: Kit, control: Control, layer_id: str, flags: frozenset[str], hidden: bool
) -> dict[str, Declarations]:
    """Selectors within the shadow root and what they declare for a layer in one state."""
    part = in_box(kit, control, control.part_in(layer_id, flags), flags)
    body = control.part_in(OUTLINE, flags)
    selector = f'[part="{layer_id}"]'
    more: dict[str, Declarations] = {}
    # A picture lies where it does at rest; what states move it by is left to them.
    still = control.part_in(layer_id, ()).move
    if baked_reason(control, layer_id):
        declared = _baked(kit, control, layer_id, flags, still)
    elif part.kind == "look":
        declared = {}
    elif part.kind == "lens":
        declared = _lens(kit, control, part, body, flags)
    elif part.kind == "gloss":
        declared, more[f"{selector}::before"] = _gloss(kit, control, part, body)
    else:
        declared = MAKERS[part.kind](kit, control, part, body, flags, hidden)
    if part.kind == "label":
        more |= own_text_css(control, part, selector)
    # What a hidden look holds is hidden with it.
    shown = "inherit" if MARK in layer_id else "visible"
    declared["visibility"] = shown if part.visible else "hidden"
    declared["opacity"] = number(part.opacity)
    declared["mix-blend-mode"] = part.blend
    if baked_reason(control, layer_id):
        declared["translate"] = f"{px(part.move[0] - still[0])} {px(part.move[1] - still[1])}"
    elif part.kind != "label":
        declared["translate"] = f"{px(part.move[0])} {px(part.move[1])}"
    if not baked_reason(control, layer_id):
        declared |= _turn(control, part, declared)
    return {selector: declared, **more}


def _turn(control: Control, part: Any, declared: Declarations) -> Declarations:
    turned = {"rotate": f"{number(part.rotate)}deg",
              "scale": f"{number(part.scale[0])} {number(part.scale[1])}"}
    if turned == {"rotate": "0deg", "scale": "1 1"}:
        return turned
    if part.kind == "label":
        return turned | {"transform-origin": text_pivot(part, control)}
    if part.kind == "look":
        return turned | {"transform-origin": f"{percent(part.pivot[0])} {percent(part.pivot[1])}"}
    # The pivot is a spot of the control; the origin counts from the layer's own box.
    width, height = control.size
    def origin(share: float, side: float, edge: str) -> str:
        start = declared.get(edge, "")
        if not start and "inset" in declared and declared["inset"] != "auto":
            start = declared["inset"]
        before = _in_px(start, side)
        return px(share * side - before)

    return turned | {"transform-origin": f"{origin(part.pivot[0], width, 'left')} "
                                         f"{origin(part.pivot[1], height, 'top')}"}


def _in_px(text: str, side: float) -> float:
    """A length as :func:`span` writes it, in px at the designed size."""
    total, sign = 0.0, 1.0
    for word in text.replace("calc(", "").rstrip(")").split():
        if word in "+-":
            sign = -1.0 if word == "-" else 1.0
        elif word.endswith("%"):
            total += sign * float(word[:-1]) / 100 * side
        elif word.endswith("px"):
            total += sign * float(word[:-2])
    return total


def _shadow_values(kit: Kit, part: Any) -> Declarations:
    """What a shadow, or a glow, is made of; a glow has no offset."""
    x, y = getattr(part, "offset", (0.0, 0.0))
    return {
        "--colour": hex_colour(kit, part.colour), "--x": px(x), "--y": px(y),
        "--blur": px(part.blur), "--spread": px(part.spread),
    }


def _shadow(kit: Kit, control: Control, part: Any, body: ControlOutline, _flags: Any, hidden: bool
            ) -> Declarations:
    form = part.outline or body
    tucked = hidden and (form.form != "box" or all(
        r == 0 or r >= part.spread + 2 for r in (*form.radii, *(form.radii_y or ()))
    ))
    return _shadow_values(kit, part) | {
        # Where a face hides its inner edge, that edge lies 1px under the face.
        "--tuck": "1px" if tucked else "0px",
        **place(part.outline, body, control.size, -1 if tucked else 0),
        **({"inset": "var(--tuck)"} if part.outline is None else {}),
        "box-shadow":
            "var(--x) var(--y) var(--blur) calc(var(--spread) + var(--tuck)) var(--colour)",
    }


def _inner_shadow(kit: Kit, control: Control, part: Any, body: ControlOutline, _flags: Any, _hidden: bool
                  ) -> Declarations:
    return _shadow_values(kit, part) | {
        **place(part.outline, body, control.size, 0),
        "box-shadow": "inset var(--x) var(--y) var(--blur) var(--spread) var(--colour)",
    }


def _fill(kit: Kit, control: Control, part: Any, body: ControlOutline, flags: frozenset[str], _hidden: bool
          ) -> Declarations:
    own = part.outline
    if not is_round(body if own is None else own):
        look = bare_look(kit, control, part.id, flags)
        assert isinstance(look, FillLook)
        paint, declared = background(kit, part, look.outline.width, look.outline.height)
        return declared | {"background": paint, **clip(look.outline, control.size, body.offset)}
    width, height = _size_of(own, control)
    paint, declared = background(kit, part, width + 2 * part.grow, height + 2 * part.grow)
    declared |= place(own, body, control.size, part.grow)
    above = control.layers[[one.id for one in control.layers].index(part.id) + 1 :]
    shown = [one for one in (control.part_in(other.id, flags) for other in above) if one.visible]
    grow = tucked_growth(kit, part, shown)
    if grow < part.grow:
        # Its edge lies under the line on it; unlike a box, a clip may end within a pixel.
        corners = radius(own or body, (width, height), grow)
        declared["clip-path"] = f"inset({px(part.grow - grow)} round {corners})"
    return declared | {"background": paint}


def _size_of(own: Any, control: Control) -> tuple[float, float]:
    width, height = control.size
    if own is None:
        return width, height
    return own.width[0] * width + own.width[1], own.height[0] * height + own.height[1]


def has_whole_widths(control: Control, layer_id: str) -> bool:
    """Whether a line is whole px wide in every state."""
    return all(
        float(control.part_in(layer_id, flags).width).is_integer() for flags in states_of(control)
    )


def _line(kit: Kit, control: Control, part: Any, body: ControlOutline, flags: frozenset[str], _hidden: bool
          ) -> Declarations:
    own = part.outline
    if not is_round(body if own is None else own):
        look = bare_look(kit, control, part.id, flags)
        assert isinstance(look, LineLook)
        paint, declared = background(kit, part, look.outer.width, look.outer.height)
        return declared | {
            "background": paint, **clip(look.outer, control.size, body.offset, look.inner)}
    edge, _ = line_band(part)
    width, height = _size_of(own, control)
    paint, declared = background(kit, part, width + 2 * edge, height + 2 * edge)
    declared |= {"--width": px(part.width), **place(own, body, control.size, edge)}
    if part.style != "solid":
        return declared | {
            "border": "var(--width) solid transparent", "background": f"{paint} border-box",
            "mask": "linear-gradient(#000 0 0) border-box, linear-gradient(#000 0 0) padding-box",
            "mask-composite": "exclude",
        }
    # Browsers round a border to whole pixels; an inset shadow keeps its width.
    if has_whole_widths(control, part.id):
        return declared | {"border": "var(--width) solid var(--colour)"}
    return declared | {"box-shadow": "inset 0 0 0 var(--width) var(--colour)"}


def _gloss(kit: Kit, control: Control, part: Any, body: ControlOutline) -> tuple[Declarations, Declarations]:
    """The outline, drawn in by the gap, holds a band whose lower corners are half an ellipse."""
    inside = place(part.outline, body, control.size, -part.gap)
    _, height = _size_of(part.outline, control)
    high = part.height * max(0.0, height - 2 * part.gap)
    curve = min(high, 2 * part.bulge * high)
    colour = hex_colour(kit, part.colour)
    alpha = int(colour[7:9], 16) if len(colour) == 9 else 255
    faded = f"{colour[:7]}{round(alpha * part.fade):02x}"
    return {"overflow": "hidden", **inside}, {
        "content": '""', "position": "absolute", "inset": "0 0 auto",
        "height": percent(part.height),
        "border-radius": f"0 0 50% 50% / 0 0 {px(curve)} {px(curve)}",
        "background": f"linear-gradient({colour}, {faded})",
    }


def _lens(kit: Kit, control: Control, part: Any, body: ControlOutline, flags: frozenset[str]) -> Declarations:
    declared = _baked(kit, control, part.id, flags, (0.0, 0.0))
    own = part.outline
    if is_round(body if own is None else own):
        declared |= place(own, body, control.size, 0)
    if part.blur > 0:
        declared["backdrop-filter"] = f"blur({px(part.blur / 2)})"
        look = bare_look(kit, control, part.id, flags)
        picture = bake(kit, control, [part.id], flags, still=True)
        if look is not None and picture is not None and not is_round(body if own is None else own):
            # What lies behind is blurred within the outline alone, not in its whole box.
            outline = look.outline.moved(-body.offset[0], -body.offset[1])
            declared["clip-path"] = polygon(outline, within=picture.place)
    return declared


def _baked(kit: Kit, control: Control, layer_id: str, flags: frozenset[str],
           move: tuple[float, float]) -> Declarations:
    part = control.part_in(layer_id, flags)
    tinted = part.kind in BLURRED  # one colour through a mask: it can be changed from outside
    shown = part.model_copy(update={
        "visible": True, "opacity": 1.0, "move": move, **({"colour": "#FFFFFF"} if tinted else {})})
    parts = tuple(shown if one.id == layer_id else one for one in control.layers)
    states = {state: {part: values for part, values in changes.items() if part != layer_id}
              for state, changes in control.states.items()}
    whole = control.model_copy(update={"layers": parts, "states": states})
    picture = bake(kit, whole, [layer_id], flags, still=True)
    if picture is None:
        return {"visibility": "hidden"}
    x, y, width, height = picture.place
    left, top, right, bottom = picture.slices
    sources = ", ".join(
        f'url("data:image/png;base64,{base64.b64encode(png).decode()}") {density}x'
        for density, png in enumerate(picture.pngs, 1)
    )
    across, down = control.size
    slices = (f"var(--picture) {top} {right} {bottom} {left} fill / "
              f"{top}px {right}px {bottom}px {left}px")
    sx, sy, sw, sh = picture.follows
    if (sx, sy, sw, sh) == (0, 0, 1, 1):
        lies = {"inset": f"{px(y)} {px(across - x - width)} {px(down - y - height)} {px(x)}"}
    else:
        lies = {"inset": "auto", "left": span(sx, x - sx * across), "top": span(sy, y - sy * down),
                "width": span(sw, width - sw * across), "height": span(sh, height - sh * down)}
    declared = lies | {
        "--picture": f"image-set({sources})",
    }
    if tinted:
        return declared | {
            "--colour": hex_colour(kit, part.colour), "background": "var(--colour)",
            "-webkit-mask-box-image": slices, "mask-border": slices,
        }
    return declared | {"border": "1px solid transparent", "border-image": slices}


def _icon(kit: Kit, control: Control, part: Any, _body: ControlOutline, _flags: Any, _hidden: bool
          ) -> Declarations:
    half = part.size / 2
    return {
        "--colour": hex_colour(kit, part.colour), "inset": "auto",
        "left": span(part.at[0], -half), "top": span(part.at[1], -half),
        "width": px(part.size), "height": px(part.size), "fill": "none",
        "stroke": "var(--colour)", "stroke-width": number(part.thickness),
        "stroke-linecap": "round", "stroke-linejoin": "round",
    }


def icon_svg(control: Control, layer: Any) -> str:
    """The drawing that an icon's element holds."""
    if layer.kind != "icon" or baked_reason(control, layer.id):
        return ""
    lines = "".join(f'<path d="{path}"/>' for path in icon_paths(layer.icon))
    return f'<svg viewBox="0 0 24 24" width="100%" height="100%" overflow="visible">{lines}</svg>'


def _symbol(kit: Kit, control: Control, part: Any, body: ControlOutline, flags: frozenset[str],
            _hidden: bool) -> Declarations:
    look = bare_look(kit, control, part.id, flags)
    assert isinstance(look, FillLook)
    outline = look.outline
    width, height = control.size
    paint, declared = background(kit, part, outline.width, outline.height)
    return declared | {
        "inset": "auto", "background": paint,
        "left": span(part.at[0], outline.x - body.offset[0] - part.at[0] * width),
        "top": span(part.at[1], outline.y - body.offset[1] - part.at[1] * height),
        "width": px(outline.width), "height": px(outline.height), "clip-path": polygon(outline),
    }


MAKERS: dict[str, Any] = {
    "shadow": _shadow, "glow": _shadow, "inner-shadow": _inner_shadow, "inner-glow": _inner_shadow,
    "fill": _fill, "line": _line, "icon": _icon, "symbol": _symbol, "label": label_css,
}
