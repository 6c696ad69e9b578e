"""What CSS draws otherwise than designed, or only with a picture, and why: the words of plans."""

from __future__ import annotations

from typing import Any

from mektel.core.look import FillLook, LineLook
from mektel.core.look.primitives import is_turned, line_band
from mektel.targets.sheet import Part, PartState
from mektel.targets.web.outlines import is_round


def picture_reason(part: Part, state: PartState) -> str:
    """Why a layer has to be a picture as it is in a state; empty if it has not."""
    values = state.values
    free = not is_round(getattr(values, "outline", None) or state.outline)
    if part.kind == "fill" and values.origin and values.style != "solid":
        return "its gradient is repeated beyond its own box"
    if part.kind == "line" and values.dash > 0:
        return "browsers each space dashes their own way"
    if part.kind == "line" and values.style != "solid" and not free and (
            values.scale != (1.0, 1.0) or not float(values.width).is_integer()):
        return "browsers round the width of a line with a gradient to whole pixels"
    if part.kind == "gloss" and (free or values.bulge < 0):
        return "CSS has no band of this form"
    if part.kind in ("inner-shadow", "inner-glow") and free and values.scale != (1.0, 1.0):
        return "browsers blur it before they scale it"
    if part.kind == "light" and len(values.colour) == 9 and not values.colour.endswith("FF"):
        return "CSS has no glow under a ball that it shines through"
    if part.kind == "icon" and values.style != "solid":
        return "only an icon of one form and colour stays a drawing"
    return ""


def difference(part: Part) -> str:
    """What of a layer that is not a picture cannot look as designed; empty if all can."""
    states = part.distinct
    if part.kind == "label":
        if any(loses_gradient(state.values) for state in states):
            return "letters with a line round them take one colour"
        if any(_has_copies_beneath(state.values) for state in states):
            return ("the line round its letters is made of copies of them, which light, shade and "
                    "shadow follow")
    if part.kind == "look" and any(_lies_between_pixels(state) for state in states):
        return "browsers move what it embeds to whole pixels"
    odd = [state for state in states if part.kind in ("fill", "line") and not is_round(
        state.values.outline or state.outline)]
    if any(state.values.blend != "normal" and is_turned(state.values) for state in odd):
        return "its slanted edges are blended a little harder"
    if any(not float(side).is_integer() for state in odd for side in state.outline.offset):
        return "where the control moves by parts of a pixel, its edges move by quarters of one"
    return ""


def loses_gradient(part: Any) -> bool:
    """A line round letters would cover a gradient in them; then one colour stands in."""
    return bool(part.style != "solid" and part.edge > 0)


def has_shadow(part: Any) -> bool:
    colour = part.shadow_colour
    return not (len(colour) == 9 and colour.endswith("00"))


def _has_copies_beneath(part: Any) -> bool:
    """CSS has no outline of letters with round corners: copies of letters make it up, which add up
    where they are translucent, and what lies under it lies under each of them.
    """
    translucent = len(part.edge_colour) == 9 and not part.edge_colour.lower().endswith("ff")
    return bool(part.edge > 0 and (part.relief != "flat" or has_shadow(part) or translucent))


def _lies_between_pixels(state: PartState) -> bool:
    return any(abs(share * side - round(share * side)) > 0.01
               for share, side in zip(state.values.position, state.sheet.size, strict=True))


def moves_by_fractions(part: Part, name: str) -> bool:
    """Whether a part lies off whole px in some state: a browser would move it to the next ones,
    unless it is declared to move.
    """
    return any(not float(side).is_integer() for state in part.distinct
               for side in getattr(state.values, name))


def ends_within_pixels(state: PartState) -> bool:
    """Whether it is an ellipse of one colour whose box browsers would move to whole pixels."""
    own, look = state.values.outline, state.drawn
    if own is None or own.form != "ellipse" or state.values.style != "solid" or any(
            path == "width" or path.startswith("outline.") for path in state.drivers):
        return False
    if not isinstance(look, FillLook | LineLook):
        return False
    outline = look.outer if isinstance(look, LineLook) else look.outline
    dx, dy = state.outline.offset
    return any(abs(edge - round(edge)) > 0.01 for edge in (
        outline.x - dx, outline.y - dy, outline.width, outline.height))


def edges_are_whole(part: Part) -> bool:
    """Whether a layer's box is grown by whole px in every state."""
    grown = {"fill": lambda values: values.expand, "line": lambda values: line_band(values)[0]}
    grow = grown.get(part.kind)
    return grow is None or all(float(grow(state.values)).is_integer() for state in part.distinct)
