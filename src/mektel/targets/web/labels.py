"""Labels in CSS: text the browser sets, and what lies under its letters."""

from __future__ import annotations

import math
from typing import Any

from mektel.core.kit import Control, ControlOutline, Kit, Label
from mektel.core.look.words import RAISED, fitted_size, label_size, own_text, shown_text
from mektel.core.text import shape_line
from mektel.targets.web.fonts import font_alias, whole_metrics
from mektel.targets.web.literals import css_string
from mektel.targets.web.paint import background
from mektel.targets.web.values import Declarations, hex_colour, number, px, span


def loses_gradient(part: Any) -> bool:
    """A line round letters would cover a gradient in them; then one colour stands in."""
    return bool(part.style != "solid" and part.edge > 0)


def label_css(kit: Kit, control: Control, part: Any, body: ControlOutline, _flags: Any, _hidden: bool
           ) -> Declarations:
    """A label in the control's padded box, or about a spot of a box of its own."""
    place_ = {"start": "start", "centre": "center", "end": "end"}[part.align]
    exact = _off_middle(part, control)
    paint, declared = _text_paint(kit, part, control)
    wrapped, bound = part.flow == "wrap", part.flow != "one-line"
    size = part.size
    if part.text is not None and part.flow == "fit":
        size = fitted_size(part, shown_text(part, part.text), _room(part, control))
    declared |= {
        "position": "relative", "grid-area": "1 / 1", "align-self": "center",
        "justify-self": "stretch" if bound else place_,
        "padding": f"{px(body.padding[1])} {px(body.padding[0])}",
        "translate": f"{px(part.move[0])} {px(part.move[1] + exact)}",
        **paint,
        "font": f'{part.weight} {px(size)} "{font_alias(part, control)}", sans-serif',
        "line-height": px(round(part.line_height * part.size)) if wrapped else "normal",
        "letter-spacing": px(part.spacing) if part.spacing else "normal",
        "text-rendering": "geometricPrecision",
        "white-space": "normal" if wrapped else "pre", "user-select": "none",
        **({"--size": px(size)} if part.flow == "fit" else {}),
    }
    if not bound:
        declared["unicode-bidi"] = "plaintext"  # it runs as its first letter with a direction
    if bound:
        # Laid into the control's width, which it does not widen.
        declared |= {"width": "0", "min-width": "100%", "text-align": place_}
    if part.box is not None:
        declared |= _within(part, control, exact)
    if part.case == "capitals":
        declared["text-transform"] = "uppercase"
    declared |= _beneath(kit, part)
    return declared


def own_text_css(control: Control, part: Label, selector: str) -> dict[str, Declarations]:
    """Where a state has another text than rest, it stands in the place of the element's own."""
    if part.text == control.part(part.id).text:
        return {}
    text = control.text if part.text is None else part.text
    # It lies over the text at rest, which keeps its room: states never change the element's size.
    across, down = px(control.outline.padding[0]), "50%"
    lies = {"left": across, "right": across} if part.flow != "one-line" else {
        "start": {"left": across}, "end": {"right": across}, "centre": {"left": "50%"}}[part.align]
    back = "-50%" if lies == {"left": "50%"} else "0px"
    if part.style != "solid" and not loses_gradient(part):
        lies["background"] = "inherit"  # its letters, too, are cut out of the gradient
    return {f"{selector} > *": {"visibility": "hidden"},
            f"{selector}::after": {"content": css_string(text), "position": "absolute",
                                   "top": down, **lies, "translate": f"{back} -50%"}}


def _off_middle(part: Label, control: Control) -> float:
    """How far a line lies off where the browser's whole metrics put it, in px."""
    line = shape_line("", part.family, part.weight, part.size)
    ascent, descent = whole_metrics(part, control)
    return (line.ascent - line.descent) / 2 - (ascent - descent) / 2


def _within(part: Label, control: Control, exact: float) -> Declarations:
    """A box of its own: where it is set, and how far the text's own box lies back from there."""
    area = part.box
    assert area is not None
    share = _share(part, control)
    back = {0.0: "0px", 0.5: "-50%", 1.0: "-100%"}[share]
    bound = part.flow != "one-line"
    if bound:
        share, back = 0.0, "0px"
    left = span(area.x[0] + share * area.width[0], area.x[1] + share * area.width[1])
    top = span(area.y[0] + area.height[0] / 2, area.y[1] + area.height[1] / 2)
    across = px(part.move[0]) if back == "0px" else f"calc({back} + {px(part.move[0])})"
    found = {"position": "absolute", "grid-area": "auto", "align-self": "auto",
             "justify-self": "auto", "inset": "auto", "left": left, "top": top, "padding": "0",
             "translate": f"{across} calc(-50% + {px(part.move[1] + exact)})"}
    if bound:
        found |= {"width": span(*area.width), "min-width": "0"}
    return found


def _room(part: Label, control: Control) -> float:
    """The width in px that a label may fill at the designed size."""
    if part.box is None:
        return control.size[0] - 2 * control.outline.padding[0]
    return part.box.width[0] * control.size[0] + part.box.width[1]


def _share(part: Label, control: Control) -> float:
    """Where in its room a text stands; one too long for it is centred on it."""
    if label_size(part, own_text(part, control.text))[0] > _room(part, control):
        return 0.5
    return {"start": 0.0, "centre": 0.5, "end": 1.0}[part.align]


def text_pivot(part: Label, control: Control) -> str:
    """The pivot of a turned label, counted from the browser's box of its text."""
    (x, y), (width, height) = part.pivot, control.size
    if part.box is not None:
        left, top = text_corner(part, control)
        return f"{px(x * width - left)} {px(y * height - top)}"
    off = px((y - 0.5) * height - _off_middle(part, control))
    along = {"start": px(x * width), "end": f"calc(100% - {px((1 - x) * width)})"}.get(
        part.align if part.flow == "one-line" else "", f"calc(50% + {px((x - 0.5) * width)})")
    return f"{along} calc(50% + {off})"


def text_corner(part: Label, control: Control) -> tuple[float, float]:
    """The top left of the browser's box of a text in a box of its own, in px."""
    area, (width, height) = part.box, control.size
    assert area is not None
    across, _ = label_size(part, own_text(part, control.text))
    spare = _room(part, control) - across
    left = area.x[0] * width + area.x[1] + spare * _share(part, control)
    middle = area.y[0] * height + area.y[1] + (area.height[0] * height + area.height[1]) / 2
    return left, middle - sum(whole_metrics(part, control)) / 2 + _off_middle(part, control)


def _beneath(kit: Kit, part: Any) -> Declarations:
    """What lies under the letters.

    A line round them is made of shadows all round, which gives it round corners. Under a line or
    a gradient, light, shade and shadow are filters: text shadows would show through.
    """
    edge = hex_colour(kit, part.edge_colour)
    around = []
    if part.edge > 0:
        count = max(16, 4 * math.ceil(part.edge * 3))
        around = [
            f"{px(part.edge * math.cos(turn))} {px(part.edge * math.sin(turn))} {edge}"
            for turn in (2 * math.pi * at / count for at in range(count))
        ]
    found = []
    if part.relief != "flat":
        way = 1 if part.relief == "raised" else -1
        for dx, dy, (r, g, b, a) in reversed(RAISED):
            tone = f"rgb({round(r * 255)} {round(g * 255)} {round(b * 255)} / {number(a)})"
            found.append((dx, dy * way, 0.0, tone))
    shade = hex_colour(kit, part.shadow_colour)
    if has_shadow(part):
        found.append((*part.shadow_offset, part.shadow_blur, shade))
    if part.style == "solid" and not around:
        texts = [f"{px(x)} {px(y)} {px(blur)} {tone}" for x, y, blur, tone in found]
        return {"text-shadow": ", ".join(texts)} if texts else {}
    declared = {"text-shadow": ", ".join(around)} if around else {}
    if found:
        declared["filter"] = " ".join(
            f"drop-shadow({px(x)} {px(y)} {px(blur / 2)} {tone})" for x, y, blur, tone in found)
    return declared


def has_shadow(part: Any) -> bool:
    colour = part.shadow_colour
    return not (colour.startswith("#") and len(colour) == 9 and colour.endswith("00"))


def _text_paint(kit: Kit, part: Label, control: Control) -> tuple[Declarations, Declarations]:
    if part.style == "solid" or loses_gradient(part):
        colour = part.colour if part.style == "solid" else part.stops[len(part.stops) // 2].colour
        return {"color": "var(--colour)"}, {"--colour": hex_colour(kit, colour)}
    line = shape_line(own_text(part, control.text), part.family, part.weight, part.size)
    paint, declared = background(kit, part, line.advance, line.height)
    return {"color": "transparent", "background": f"{paint} content-box text"}, declared
