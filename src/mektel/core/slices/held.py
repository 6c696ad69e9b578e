"""Where a picture of a control may be stretched, so that what stands in it stays as it is."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from mektel.core.kit import Control, Kit
from mektel.core.look import Look, settle
from mektel.core.look.content_layout import runs_from_the_right
from mektel.core.look.pose import distinct_sets, pose_of
from mektel.core.look.resolve import look_of

# A control is tried so much larger, px; what moves by less or more than these shares of that is
# taken to stay, or to move along.
MORE, STAYS, MOVES = 64.0, 0.25, 0.75
STANDING = ("icon", "symbol", "light", "look", "progress")


@dataclass(frozen=True)
class Span:
    """From where to where a side may be stretched, px; nowhere if there is nothing between."""

    start: float = -math.inf
    end: float = math.inf

    def after(self, place: float) -> Span:
        return replace(self, start=max(self.start, place))

    def before(self, place: float) -> Span:
        return replace(self, end=min(self.end, place))


NOWHERE = Span(math.inf, -math.inf)


def stretchable(kit: Kit, control: Control) -> tuple[Span, Span]:
    """Spans of the width and the height of the box that what stands in it leaves free in every
    state: icons, thumbs, and all that has a box of its own.

    In a row with a text an icon keeps its distance to the text, which may get longer: then the
    control is stretched where the text is. What stands in the middle of anything else has to stay
    there, and so nothing can be stretched.
    """
    settled = settle(kit, control)
    width, height = settled.control.size
    across, down = Span(), Span()
    row = _row_of(settled.control)
    kinds = {layer.id: layer for layer in settled.control.layers}
    for flags in dict.fromkeys(distinct_sets(settled).values()):
        own = look_of(pose_of(kit, settled, flags))
        large = look_of(pose_of(kit, settled, flags, (width + MORE, height + MORE)))
        boxes, larger = _boxes(own), _boxes(large)
        for name, box in boxes.items():
            layer = kinds.get(name)
            if layer is None or name not in larger or layer.kind == "label":
                continue
            if layer.kind not in STANDING and getattr(layer, "outline", None) is None:
                continue
            if name not in row:
                across = _kept(across, (box[0], box[2]), (larger[name][0], larger[name][2]))
            down = _kept(down, (box[1], box[3]), (larger[name][1], larger[name][3]))
        across = _beside_text(across, row, boxes)
    return across, down


def _kept(span: Span, edges: tuple[float, float], larger: tuple[float, float]) -> Span:
    for edge, moved in zip(edges, larger, strict=True):
        share = (moved - edge) / MORE
        if share <= STAYS:
            span = span.after(edge)
        elif share >= MOVES:
            span = span.before(edge)
        else:
            return NOWHERE
    if larger[1] - larger[0] < edges[1] - edges[0] + MORE * STAYS:
        # It keeps its size: no zone may lie within it.
        stays = (larger[0] - edges[0]) / MORE <= STAYS
        span = span.after(edges[1]) if stays else span.before(edges[0])
    return span


def _row_of(control: Control) -> dict[str, int]:
    """What stands in a row with the text: -1 before it, 1 after it, 0 the text itself."""
    content = control.content
    if content is None or content.flow != "row":
        return {}
    kinds = {layer.id: layer for layer in control.layers}
    items = [name for name in content.items if name in kinds]
    if runs_from_the_right(control.text):
        items.reverse()
    at = next((at for at, name in enumerate(items) if kinds[name].kind == "label"), None)
    if at is None:
        return {}
    return {name: (number > at) - (number < at) for number, name in enumerate(items)}


def _beside_text(
    span: Span, row: dict[str, int], boxes: dict[str, tuple[float, float, float, float]]
) -> Span:
    text = next((boxes[name] for name, side in row.items() if side == 0 and name in boxes), None)
    if text is None:
        return span
    sides = {side for name, side in row.items() if name in boxes}
    if -1 in sides:
        span = span.after(text[0])
    if 1 in sides:
        span = span.before(text[2])
    return span


def _boxes(look: Look) -> dict[str, tuple[float, float, float, float]]:
    return {layer.id: layer.extent() for layer in look.layers}
