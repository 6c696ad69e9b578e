"""Columns that are alike are drawn once.

As far as colours, upright gradients, lines and shadows go, a control with straight top and bottom
edges is the same in every column between its corners, and its right half is most often its left
half mirrored. What repeats is copied: a third of a usual button's pixels are left to draw.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from numpy.typing import NDArray

from mektel.core.look import FillLook, Gradient, InnerShadowLook, LayerLook, LineLook, ShadowLook
from mektel.core.look.paints import Paint
from mektel.core.shape import Outline

# Sigmas from an edge at which a blur has less than a tenth of a level to go.
SIGMAS = 3.6
OUTLINES = ("outline", "hole", "cut", "clip", "outer", "inner")
# Saving fewer pixels than this is not worth the trouble.
LEAST = 8000
NEAR = 1e-6


@dataclass(frozen=True)
class Alike:
    """Of ``layers`` from the back only ``width`` columns need to be drawn.

    Column ``at`` is then repeated; where ``mirrored`` it is the last that is drawn, and the rest
    is the mirrored beginning.
    """

    layers: int
    width: int
    at: int
    mirrored: bool

    def drawn(self, layers: Sequence[LayerLook], left_out: float) -> Sequence[LayerLook]:
        """What to draw: layers with ``left_out`` px of what is alike taken out of their middle."""
        layers = layers[: self.layers]
        if self.mirrored:
            return layers  # all that lies beyond the picture's edge is cut off
        return [replace(layer, **{name: replace(outline, width=outline.width - left_out)
                                  for name, outline in _outlines(layer).items()})
                for layer in layers]

    def spread(self, drawn: NDArray[Any], whole: NDArray[Any]) -> None:
        """Fills ``whole`` with the columns (last axis) of ``drawn``."""
        beyond = whole.shape[-1] - (self.width if self.mirrored else self.width - self.at - 1)
        whole[..., : self.at] = drawn[..., : self.at]
        whole[..., self.at : beyond] = drawn[..., self.at : self.at + 1]
        whole[..., beyond:] = drawn[..., ::-1] if self.mirrored else drawn[..., self.at + 1 :]


def alike_columns(
    layers: Sequence[LayerLook], scale: float, left: float, size: tuple[int, int]
) -> Alike | None:
    """What of a picture repeats; none where that saves little.

    ``left`` is where the control's box begins, in pixels; ``scale`` is pixels per px and ``size``
    that of the picture in pixels.
    """
    first, last, count = -math.inf, math.inf, 0
    width, mirrored = size[0], True
    for layer in layers:
        if not _has_alike(layer):
            break
        reach = SIGMAS * layer.sigma if isinstance(layer, ShadowLook | InnerShadowLook) else 0.0
        for name, outline in _outlines(layer).items():
            soft = 0.0 if name == "cut" else reach
            x, right = outline.x, outline.x + outline.width
            first = max(first, x + max(outline.rx[0], outline.rx[3]) + soft)
            last = min(last, right - max(outline.rx[1], outline.rx[2]) - soft)
            mirrored = mirrored and _is_mirrored(outline) and (
                abs((x + right) * scale + 2 * left - width) < NEAR)
        count += 1
    start, end = max(0.0, first * scale + left), min(float(width), last * scale + left)
    # A pixel at either end may be touched by what lies beside it.
    begin, more = math.ceil(start) + 1, math.floor(end) - math.ceil(start) - 3
    if mirrored:
        part = min(begin + 1, -(-width // 2)) if more > 0 else -(-width // 2)
    else:
        part = width - more
    if count == 0 or (width - part) * size[1] < LEAST:
        return None
    return Alike(count, part, part - 1 if mirrored else begin, mirrored)


def _outlines(layer: LayerLook) -> dict[str, Any]:
    return {name: getattr(layer, name) for name in OUTLINES
            if getattr(layer, name, None) is not None}


def _has_alike(layer: LayerLook) -> bool:
    if not isinstance(layer, ShadowLook | InnerShadowLook | FillLook | LineLook):
        return False
    if isinstance(layer, FillLook | LineLook) and not _is_upright(layer.paint):
        return False
    return all(isinstance(outline, Outline) for outline in _outlines(layer).values())


def _is_upright(paint: Paint) -> bool:
    """Whether a paint is the same in every column."""
    if not isinstance(paint, Gradient):
        return True
    return paint.kind == "linear" and abs(paint.geometry[0] - paint.geometry[2]) < NEAR


def _is_mirrored(outline: Outline) -> bool:
    return all(abs(radii[0] - radii[1]) + abs(radii[3] - radii[2]) < NEAR
               for radii in (outline.rx, outline.ry))
