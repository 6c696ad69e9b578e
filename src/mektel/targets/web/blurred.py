"""Shadows and glows that are no ``box-shadow``: a filled polygon, blurred, then clipped; a box.

A filter works before a clip of the same element (Filter Effects 1, 8): so the polygon is drawn by a
pseudo-element, the element blurs it, and cuts out of it what the shadow leaves free.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from mektel.core.look import InnerShadowLook, ShadowLook
from mektel.core.shape import AnyOutline
from mektel.targets.instrument import Groups
from mektel.targets.sheet import Part, PartState
from mektel.targets.web.css_values import Declarations, px
from mektel.targets.web.outlines import Four, is_round, polygon

if TYPE_CHECKING:
    from mektel.targets.web.instrument import WebInstrument

# A Gaussian reaches this many standard deviations far; and room for a blur that is driven.
SIGMAS, DRIVEN = 3, 64


def blurred_outline(web: WebInstrument, state: PartState, values: Declarations) -> Groups:
    """A shadow or glow, outside its outline or inside, with its ``values`` as properties."""
    look = state.drawn
    part = web.layer(state, values | {"filter": "blur(calc(var(--blur) / 2))"})
    (selector, declared), = part.items()
    if not isinstance(look, ShadowLook | InnerShadowLook):
        return part
    x, y = getattr(state.values, "offset", (0.0, 0.0))
    box = (*state.outline.offset, *state.sheet.size)
    goes = {"blur", "offset.0", "offset.1", "offset"} & state.drivers.keys() or any(
        answer.kind in ("lift", "follow") for answer in state.sheet.answers)
    driven = DRIVEN if goes else 0
    reach = math.ceil(SIGMAS * look.sigma + max(abs(x), abs(y))) + driven + 2
    if isinstance(look, ShadowLook):
        solid, far = polygon(look.outline.moved(-x, -y), within=box), _beyond(look.outline, box)
        cut = look.cut
        if cut is None and not state.is_hidden_below:  # in this state the face has left it
            cut = look.outline.moved(-x, -y).grown(-state.values.spread)
        if cut is not None:
            declared["clip-path"] = polygon(
                cut, within=box, around=max(reach + far, _beyond(cut, box)))
    else:
        # All round the hole is filled; the outline bounds what is seen of it.
        far = reach + max(_beyond(look.outline, box), _beyond(look.hole, box))
        solid = polygon(look.hole.moved(-x, -y), within=box, around=far)
        declared["clip-path"] = polygon(look.outline, within=box)
    part[f"{selector}::before"] = {
        "content": '""', "position": "absolute", "inset": "0", "translate": "var(--x) var(--y)",
        # Colour beyond the box that no page scrolls to.
        "border-image": f"linear-gradient(var(--colour) 0 0) fill 0 / 0 / {px(far)}",
        "clip-path": solid,
    }
    return part


def _beyond(outline: AnyOutline, box: Four) -> int:
    """How many px an outline reaches out of the control's box (x, y, width, height)."""
    x, y, width, height = box
    return math.ceil(max(0.0, x - outline.x, y - outline.y,
                         outline.x + outline.width - x - width,
                         outline.y + outline.height - y - height)) + 1


def slides(part: Part) -> bool:
    """Whether states move a crisp shadow that lies under a face, and change nothing else of its
    form.
    """
    fixed = {"spread", "outline", "move", "rotate", "scale"}
    return part.kind == "shadow" and "offset" in part.varied and not fixed & part.varied and all(
        state.is_hidden_below and not state.values.blur and state.values.outline is None
        and is_round(state.outline)
        and not any(state.values.move) and "blur" not in state.drivers
        for state in part.distinct)


def sliding_shadow(web: WebInstrument, state: PartState, blurred: Declarations) -> Groups:
    """Such a shadow as a box that moves: where the control moves the other way meanwhile, it
    stands, while in a ``box-shadow`` the two would not stay together by parts of pixels.
    """
    spread = state.values.spread
    groups = web.layer(state, {name: blurred[name] for name in ("--colour", "--x", "--y")} | {
        **web.place(state, spread), "inset": px(-spread), "background": "var(--colour)"})
    (declared,) = groups.values()
    declared["translate"] = "var(--x) var(--y)"
    return groups
