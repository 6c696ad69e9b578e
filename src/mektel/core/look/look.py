"""What a control comes down to once nothing is left to look up.

Lengths in px, colours as straight (not premultiplied) sRGB from 0 to 1. Equal looks give equal
pixels, so a look is the key under which its pixels are kept.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from mektel.core.shape import Outline
from mektel.core.text import Line as TextLine
from mektel.core.text import shape_line

RGBA = tuple[float, float, float, float]
# Beyond three sigma a Gaussian leaves less than half of one step of 255.
SIGMAS = 3.0


@dataclass(frozen=True)
class Margins:
    """Room round the control's box that its pixels need, in whole px."""

    left: int = 0
    top: int = 0
    right: int = 0
    bottom: int = 0

    def union(self, other: Margins) -> Margins:
        return Margins(
            max(self.left, other.left),
            max(self.top, other.top),
            max(self.right, other.right),
            max(self.bottom, other.bottom),
        )


@dataclass(frozen=True)
class ShadowLook:
    id: str
    outline: Outline
    sigma: float
    colour: RGBA
    # The outline out of which the shadow is cut, or None when an opaque face hides it anyway.
    cut: Outline | None

    def extent(self) -> tuple[float, float, float, float]:
        return _box(self.outline, self.sigma * SIGMAS)


@dataclass(frozen=True)
class InnerShadowLook:
    id: str
    # What the shadow lies in, and the blurred hole in it that lets light through.
    outline: Outline
    hole: Outline
    sigma: float
    colour: RGBA

    def extent(self) -> tuple[float, float, float, float]:
        return _box(self.outline)


@dataclass(frozen=True)
class FillLook:
    id: str
    outline: Outline
    # What the gradient spans; not the outline, whose edge may be drawn back under a line.
    box: Outline
    # One stop for a solid colour; else sorted (position, colour) along the gradient's line.
    stops: tuple[tuple[float, RGBA], ...]
    angle: float

    def extent(self) -> tuple[float, float, float, float]:
        return _box(self.outline)


@dataclass(frozen=True)
class LineLook:
    id: str
    outer: Outline
    inner: Outline
    colour: RGBA

    def extent(self) -> tuple[float, float, float, float]:
        return _box(self.outer)


@dataclass(frozen=True)
class LabelLook:
    id: str
    text: str
    family: str
    weight: int
    size: float
    colour: RGBA
    # Where the pen starts on the baseline.
    x: float
    baseline: float

    def line(self) -> TextLine:
        return shape_line(self.text, self.family, self.weight, self.size)

    def extent(self) -> tuple[float, float, float, float]:
        left, top, right, bottom = self.line().bounds
        return (self.x + left, self.baseline + top, self.x + right, self.baseline + bottom)


LayerLook = ShadowLook | InnerShadowLook | FillLook | LineLook | LabelLook


@dataclass(frozen=True)
class Look:
    """A control resolved for one state, size and text. The box's top left is the origin."""

    width: float
    height: float
    outline: Outline
    layers: tuple[LayerLook, ...]

    def margins(self) -> Margins:
        """The room its pixels need outside the box."""
        left = top = right = bottom = 0.0
        for layer in self.layers:
            x0, y0, x1, y1 = layer.extent()
            left, top = max(left, -x0), max(top, -y0)
            right, bottom = max(right, x1 - self.width), max(bottom, y1 - self.height)
        return Margins(*(math.ceil(side - 1e-6) for side in (left, top, right, bottom)))


def _box(outline: Outline, more: float = 0.0) -> tuple[float, float, float, float]:
    if outline.width <= 0 or outline.height <= 0:
        return (0.0, 0.0, 0.0, 0.0)
    return (
        outline.x - more,
        outline.y - more,
        outline.x + outline.width + more,
        outline.y + outline.height + more,
    )
