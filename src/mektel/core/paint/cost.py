"""What drawing a look takes, estimated before it is begun; what is too dear is refused in words.

Seconds are those of one busy desktop core, measured per million pixels of what a primitive covers;
they are within a factor of three of what is then taken.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from mektel.core.errors import MektelError
from mektel.core.look import (
    BevelLook,
    FillLook,
    Gradient,
    GroupLook,
    InnerShadowLook,
    LensLook,
    Look,
    Margins,
    PictureLook,
    ShadowLook,
)
from mektel.core.paint.blend import PREMULTIPLIED
from mektel.core.paint.group import finer_for
from mektel.core.shape import FreeOutline

MOST_SECONDS, MOST_BYTES = 5.0, 1536 * 2**20
# Seconds and bytes per million pixels; of what is turned, per sample of each.
CANVAS = (0.06, 60e6)
MASK = (0.05, 12e6)
GRADIENT = {"linear": (0.06, 24e6), "radial": (0.12, 32e6), "conic": (0.2, 40e6)}
BLUR, BEVEL, LENS = (0.25, 24e6), (0.5, 60e6), (1.2, 120e6)
PICTURE, BLEND, SLOW_BLEND = (0.4, 80e6), (0.3, 60e6), (1.2, 130e6)
GROUP, TURNED = (0.1, 48e6), (0.5, 130e6)
# Seconds per million pairs of a pixel and an edge near it, and per million distances asked for.
EDGES, DISTANCES = 0.004, 1.4


class CostError(MektelError):
    """A picture that would take too long, or too much memory, to draw; says which layer."""


@dataclass(frozen=True)
class Cost:
    """Seconds that drawing takes, and the most bytes it holds at once beside the canvas."""

    seconds: float = 0.0
    bytes: float = 0.0

    def __add__(self, other: Cost) -> Cost:
        return Cost(self.seconds + other.seconds, max(self.bytes, other.bytes))


def check_cost(look: Look, scale: float, margins: Margins) -> None:
    """Raises :class:`CostError` for a picture that is too dear to draw at ``scale`` (pixels per px)
    with ``margins`` (px) round the box.
    """
    width = (margins.left + look.width + margins.right) * scale
    height = (margins.top + look.height + margins.bottom) * scale
    if width * height < 60_000 and len(look.layers) < 20 and not any(
            isinstance(layer, GroupLook | PictureLook) for layer in look.layers):
        return  # the usual button: not worth working out
    whole, costs = _costs(look, scale, margins)
    total = sum((cost for _, cost in costs), whole)
    if total.seconds <= MOST_SECONDS and total.bytes + whole.bytes <= MOST_BYTES:
        return
    dearest = max(costs, key=lambda cost: cost[1].seconds + cost[1].bytes / MOST_BYTES,
                  default=("", whole))[0]
    size = f"{math.ceil(width)} × {math.ceil(height)} pixels"
    raise CostError(
        f"A picture of {size} takes too long or too much memory to draw"
        + (f"; the layer “{dearest}” is the heaviest. " if dearest else ". ")
        + "Make it smaller, scale it less, or draw at fewer pixels per px.")


def estimated_seconds(look: Look, scale: float, margins: Margins) -> float:
    """About how long drawing a look takes."""
    whole, costs = _costs(look, scale, margins)
    return whole.seconds + sum(cost.seconds for _, cost in costs)


def _costs(look: Look, scale: float, margins: Margins) -> tuple[Cost, list[tuple[str, Cost]]]:
    """Of the canvas, and of each layer by its id."""
    box = (-margins.left, -margins.top, look.width + margins.right, look.height + margins.bottom)
    area = (box[2] - box[0]) * (box[3] - box[1]) * scale * scale
    return _times(CANVAS, area), [
        (layer.id, _cost(layer, scale, box)) for layer in look.layers]


def _times(each: tuple[float, float], pixels: float) -> Cost:
    return Cost(each[0] * pixels / 1e6, each[1] * pixels / 1e6)


def _cost(look: Any, scale: float, box: tuple[float, ...]) -> Cost:
    """Of one primitive or group, within ``box`` (px)."""
    x0, y0, x1, y1 = look.extent()
    area = (max(0.0, min(x1, box[2]) - max(x0, box[0]))
            * max(0.0, min(y1, box[3]) - max(y0, box[1])) * scale * scale)
    cost = Cost()
    if isinstance(look, GroupLook):
        cost += _group(look, scale, box, area)
    else:
        cost += _times(MASK, area) + _outlines(look, scale, area)
        paint = getattr(look, "paint", None)
        if isinstance(paint, Gradient):
            cost += _times(GRADIENT[paint.kind], area)
        for kind, each in ((BevelLook, BEVEL), (LensLook, LENS), (PictureLook, PICTURE)):
            if isinstance(look, kind):
                cost += _times(each, area)
    if look.blend != "normal":
        cost += _times(BLEND if look.blend in PREMULTIPLIED else SLOW_BLEND, area)
    return cost


def _outlines(look: Any, scale: float, area: float) -> Cost:
    """Odd outlines ask for distances near their edges, and their blurs are of whole pictures."""
    cost = Cost()
    for outline in vars(look).values():
        if not isinstance(outline, FreeOutline):
            continue
        corners = sum(len(ring) // 16 for ring in outline.rings)
        cost += Cost(EDGES * corners * math.sqrt(area) / 1e6)
        if outline.grow or outline.joins or isinstance(look, BevelLook | LensLook):
            along = min(area, 40 * math.sqrt(area) + area / 16)
            share = area / 4 if isinstance(look, BevelLook | LensLook) else along
            cost += Cost(DISTANCES * share * (1 + len(outline.joins)) / 1e6, 80.0 * share)
    sigma = getattr(look, "sigma", 0.0) * scale
    if sigma > 0:
        free = any(isinstance(value, FreeOutline) for value in vars(look).values())
        if free or not isinstance(look, ShadowLook | InnerShadowLook):
            side = math.sqrt(area) + 6 * sigma
            cost += _times(BLUR, side * side)
        else:
            # Corner bits are products of small matrices: reach and radii decide.
            radius = max(look.outline.rx + look.outline.ry) * scale  # type: ignore[union-attr]
            reach = radius + 6 * sigma
            cost += Cost(radius * radius * reach * 1.2e-9 * 4, 24 * (radius + reach) ** 2)
    return cost


def _group(look: GroupLook, scale: float, box: tuple[float, ...], area: float) -> Cost:
    if look.matrix is None:
        return sum((_cost(member, scale, box) for member in look.members), _times(GROUP, area))
    if all(isinstance(member, FillLook) and member.clip is None for member in look.members):
        return sum((_times(MASK, area) + _times(GRADIENT["conic"], area)
                    for _ in look.members), _times(GROUP, area))
    a, b, c, d, _, _ = look.matrix
    finer = finer_for(scale)
    fine = scale * finer * max(1.0, math.hypot(a, b), math.hypot(c, d))
    boxes = [member.extent() for member in look.members]
    inner = (min(b[0] for b in boxes) - 1, min(b[1] for b in boxes) - 1,
             max(b[2] for b in boxes) + 1, max(b[3] for b in boxes) + 1)
    pixels = (inner[2] - inner[0]) * (inner[3] - inner[1]) * fine * fine
    return sum((_cost(member, fine, inner) for member in look.members),
               _times((TURNED[0] * finer**2, TURNED[1]), area) + _times(CANVAS, pixels))
