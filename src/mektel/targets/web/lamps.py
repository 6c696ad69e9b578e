"""Status lights in CSS: a glow, a shaded ball and the ring round it, of one element and two more.

Boxes lie on whole px, where browsers would put them anyway; the lamp lies in them as designed.
"""

from __future__ import annotations

from typing import Any

from mektel.core.look import FillLook, Gradient, GroupLook, LineLook, ShadowLook
from mektel.core.look.paints import RGBA
from mektel.targets.instrument import Groups
from mektel.targets.sheet import PartState
from mektel.targets.web.css_values import number, px, span
from mektel.targets.web.motion import registered

# A soft edge as wide as that of a circle, px; and room for it round the lamp.
SOFT, ROOM = 0.35, 3


def lamp(state: PartState, selector: str) -> tuple[dict[str, str], Groups]:
    """What the element holds, and what lies over it."""
    looks = state.drawn_all
    ball = next((look for look in looks if isinstance(look, FillLook)), None)
    ring = next((look for look in looks if isinstance(look, LineLook)), None)
    glow = next((look for look in looks if isinstance(look, ShadowLook)), None)
    if ball is None or ring is None or not isinstance(ball.paint, Gradient):
        return {}, {}
    (dx, dy), (width, height) = state.outline.offset, state.sheet.size
    at, size = state.values.position, state.values.size
    x, y = ball.outline.x - dx, ball.outline.y - dy
    left, top, wide = round(x), round(y), max(1, round(size))
    colour = state.values.colour.lower()
    element = {
        "inset": "auto", "left": span(at[0], left - at[0] * width),
        "top": span(at[1], top - at[1] * height), "width": px(wide), "height": px(wide),
        "border-radius": "50%",
        "box-shadow": "none" if glow is None else f"0 0 {px(2 * glow.sigma)} 1px {colour}",
    }
    # The middle of the lamp and of its shade, from the top left of the boxes over the element.
    centre = f"{px(x + size / 2 - left + ROOM)} {px(y + size / 2 - top + ROOM)}"
    shade_x, shade_y, reach, _ = ball.paint.geometry
    shade = f"{px(shade_x - dx - left + ROOM)} {px(shade_y - dy - top + ROOM)}"
    every = [(_css(tone), f"{number(place * 100)}%") for place, tone in ball.paint.stops]
    stops, declared = registered(every) if state.sheet.moves else (
        ", ".join(map(" ".join, every)), {})
    edge = f"#000 {px(size / 2 - SOFT)}, #0000 {px(size / 2 + SOFT)}"
    tone, inner, outer = _css(_solid(ring.paint)), size / 2 - 0.5, size / 2 + 0.5
    over = {"content": '""', "position": "absolute", "inset": px(-ROOM)}
    return element, {
        f"{selector}::before": over | declared | {
            "background": f"radial-gradient(circle {px(reach)} at {shade}, {stops})",
            "mask": f"radial-gradient(circle at {centre}, {edge})"},
        f"{selector}::after": over | {
            "background": f"radial-gradient(circle at {centre}, #0000 {px(inner - SOFT)}, "
                          f"{tone} {px(inner + SOFT)}, {tone} {px(outer - SOFT)}, "
                          f"#0000 {px(outer + SOFT)})"}}


def _solid(paint: Any) -> RGBA:
    assert not isinstance(paint, Gradient | GroupLook)
    return (paint[0], paint[1], paint[2], paint[3])


def _css(colour: RGBA) -> str:
    return "#" + "".join(f"{round(255 * value):02x}" for value in colour)
