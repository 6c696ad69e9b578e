"""What a control comes down to once nothing is left to look up.

Lengths in px, colours as straight (not premultiplied) sRGB from 0 to 1. Equal looks give equal
pixels, so a look is the key under which its pixels are kept. The document's many layer kinds
come down to these few.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from mektel.core.kit.assets import Pixels
from mektel.core.look.paints import RGBA, Gradient, Paint
from mektel.core.shape import AnyOutline
from mektel.core.text import Line as TextLine
from mektel.core.text import shape_line

# Beyond three sigma a Gaussian leaves less than half of one step of 255.
SIGMAS = 3.0
Box = tuple[float, float, float, float]
Polyline = tuple[tuple[float, float], ...]


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
    outline: AnyOutline
    sigma: float
    colour: RGBA
    # The outline out of which the shadow is cut, or None when an opaque face hides it anyway.
    cut: AnyOutline | None
    blend: str = "normal"

    def extent(self) -> Box:
        return _box(self.outline, self.sigma * SIGMAS)


@dataclass(frozen=True)
class InnerShadowLook:
    id: str
    # What the shadow lies in, and the blurred hole in it that lets light through.
    outline: AnyOutline
    hole: AnyOutline
    sigma: float
    colour: RGBA
    blend: str = "normal"

    def extent(self) -> Box:
        return _box(self.outline)


@dataclass(frozen=True)
class FillLook:
    id: str
    outline: AnyOutline
    paint: Paint
    # A second outline that bounds it, or None.
    clip: AnyOutline | None = None
    blend: str = "normal"

    def extent(self) -> Box:
        box = _box(self.outline)
        if self.clip is None:
            return box
        x0, y0, x1, y1 = (bound(ends) for bound, ends in zip(
            (max, max, min, min), zip(box, _box(self.clip), strict=True), strict=True))
        return x0, y0, max(x0, x1), max(y0, y1)


@dataclass(frozen=True)
class LineLook:
    id: str
    outer: AnyOutline
    inner: AnyOutline
    paint: Paint
    blend: str = "normal"

    def extent(self) -> Box:
        return _box(self.outer)


@dataclass(frozen=True)
class StrokeLook:
    """Lines of one width with round ends and joins: an icon."""

    id: str
    lines: tuple[Polyline, ...]
    width: float
    paint: Paint
    blend: str = "normal"

    def extent(self) -> Box:
        spots = [spot for line in self.lines for spot in line]
        half = self.width / 2
        return (min(x for x, _ in spots) - half, min(y for _, y in spots) - half,
                max(x for x, _ in spots) + half, max(y for _, y in spots) + half)


@dataclass(frozen=True)
class LabelLook:
    """One line of text; ``swell`` grows its glyphs by so many px, ``sigma`` blurs them."""

    id: str
    text: str
    family: str
    weight: int
    size: float
    spacing: float
    paint: Paint
    # Where the pen starts on the baseline.
    x: float
    baseline: float
    swell: float = 0.0
    sigma: float = 0.0
    blend: str = "normal"

    def line(self) -> TextLine:
        return shape_line(self.text, self.family, self.weight, self.size, self.spacing)

    def extent(self) -> Box:
        left, top, right, bottom = self.line().bounds
        more = self.swell + self.sigma * SIGMAS
        return (self.x + left - more, self.baseline + top - more,
                self.x + right + more, self.baseline + bottom + more)


@dataclass(frozen=True)
class BevelLook:
    """Light and shade along an edge; ``light`` in degrees from up, clockwise."""

    id: str
    outline: AnyOutline
    light: float
    depth: float
    softness: float
    light_colour: RGBA
    shade_colour: RGBA
    blend: str = "normal"

    def extent(self) -> Box:
        return _box(self.outline)


@dataclass(frozen=True)
class LensLook:
    id: str
    outline: AnyOutline
    bend: float
    reach: float
    sigma: float
    colour: RGBA
    rim: float
    rim_colour: RGBA
    light: float
    fringe: float
    blend: str = "normal"

    def extent(self) -> Box:
        return _box(self.outline)


@dataclass(frozen=True)
class PictureLook:
    """A picture in a box; ``insets`` are in its own pixels, ``density`` of these make a px.

    ``coarser`` are its forms for lower densities, each of fewer pixels than the one before.
    """

    id: str
    pixels: Pixels
    box: Box
    fit: str
    insets: Box
    density: float
    tint: float
    colour: RGBA
    saturation: float
    brightness: float
    edge: float
    edge_colour: RGBA
    opacity: float
    blend: str = "normal"
    coarser: tuple[Pixels, ...] = ()

    def extent(self) -> Box:
        x0, y0, x1, y1 = self.box
        return (x0 - self.edge, y0 - self.edge, x1 + self.edge, y1 + self.edge)


@dataclass(frozen=True)
class GroupLook:
    """Several primitives laid down as one: faded, blended, turned and scaled together.

    ``matrix`` maps layer coordinates to the control's: x' = a·x + c·y + e, y' = b·x + d·y + f.
    """

    id: str
    members: tuple[Any, ...]
    opacity: float = 1.0
    matrix: tuple[float, ...] | None = None
    blend: str = "normal"

    @property
    def passes_through(self) -> bool:
        """Whether its members can be drawn one by one, as if they were in no group."""
        return (self.opacity == 1 and self.matrix is None and self.blend == "normal"
                and all(member.blend == "normal" for member in self.members))

    def extent(self) -> Box:
        boxes = [member.extent() for member in self.members]
        x0, y0 = min(b[0] for b in boxes), min(b[1] for b in boxes)
        x1, y1 = max(b[2] for b in boxes), max(b[3] for b in boxes)
        if self.matrix is None:
            return x0, y0, x1, y1
        spots = [mapped(self.matrix, x, y) for x in (x0, x1) for y in (y0, y1)]
        return (min(x for x, _ in spots), min(y for _, y in spots),
                max(x for x, _ in spots), max(y for _, y in spots))


Primitive = (
    ShadowLook | InnerShadowLook | FillLook | LineLook | StrokeLook | LabelLook | BevelLook
    | LensLook | PictureLook
)
LayerLook = Primitive | GroupLook


def mapped(matrix: tuple[float, ...], x: float, y: float) -> tuple[float, float]:
    a, b, c, d, e, f = matrix
    return a * x + c * y + e, b * x + d * y + f


def moved(look: Any, dx: float, dy: float) -> Any:
    """A primitive or group somewhere else."""
    if not dx and not dy:
        return look
    if isinstance(look, GroupLook):
        matrix = look.matrix
        if matrix is not None:
            a, b, c, d, e, f = matrix
            matrix = (a, b, c, d, e + dx - a * dx - c * dy, f + dy - b * dx - d * dy)
        return replace(look, matrix=matrix,
                       members=tuple(moved(member, dx, dy) for member in look.members))
    changes: dict[str, Any] = {}
    for name, value in vars(look).items():
        if isinstance(value, Gradient) or (name in ("outline", "cut", "hole", "outer", "inner",
                                                   "clip") and value is not None):
            changes[name] = value.moved(dx, dy)
    if isinstance(look, StrokeLook):
        changes["lines"] = tuple(
            tuple((x + dx, y + dy) for x, y in line) for line in look.lines)
    elif isinstance(look, LabelLook):
        changes |= {"x": look.x + dx, "baseline": look.baseline + dy}
    elif isinstance(look, PictureLook):
        x0, y0, x1, y1 = look.box
        changes["box"] = (x0 + dx, y0 + dy, x1 + dx, y1 + dy)
    return replace(look, **changes)


@dataclass(frozen=True, eq=False)
class Look:
    """A control resolved for one state, size and text. The box's top left is the origin."""

    width: float
    height: float
    outline: AnyOutline
    layers: tuple[LayerLook, ...]
    opacity: float = 1.0
    # What is left out because it cannot be drawn; the pixels do not depend on it.
    refused: tuple[Any, ...] = ()

    def __hash__(self) -> int:
        return self._hash

    def __eq__(self, other: object) -> bool:
        # Long outlines are compared value by value only where they are most likely the same.
        if self is other or not isinstance(other, Look):
            return self is other
        return self._hash == other._hash and self._values == other._values

    @cached_property
    def _hash(self) -> int:
        # Asked for at every look into a store of pictures, and never another.
        return hash(self._values)

    @property
    def _values(self) -> tuple[Any, ...]:
        return self.width, self.height, self.outline, self.layers, self.opacity

    def margins(self) -> Margins:
        """The room its pixels need outside the box."""
        left = top = right = bottom = 0.0
        for layer in self.layers:
            x0, y0, x1, y1 = layer.extent()
            left, top = max(left, -x0), max(top, -y0)
            right, bottom = max(right, x1 - self.width), max(bottom, y1 - self.height)
        return Margins(*(math.ceil(side - 1e-6) for side in (left, top, right, bottom)))

    def primitives(self) -> list[Primitive]:
        """Everything that is drawn, groups taken apart."""
        return _primitives(self.layers)

    @property
    def sees_behind(self) -> bool:
        """Whether its pixels depend on what it stands on."""
        return sees_behind(self.layers)


def sees_behind(looks: tuple[Any, ...]) -> bool:
    """Whether the pixels of some looks depend on what they stand on."""
    return any(isinstance(primitive, LensLook) for primitive in _primitives(looks))


def _primitives(looks: tuple[Any, ...]) -> list[Primitive]:
    flat: list[Primitive] = []
    for look in looks:
        flat += _primitives(look.members) if isinstance(look, GroupLook) else [look]
    return flat


def _box(outline: AnyOutline, more: float = 0.0) -> Box:
    if outline.width <= 0 or outline.height <= 0:
        return (0.0, 0.0, 0.0, 0.0)
    return (
        outline.x - more,
        outline.y - more,
        outline.x + outline.width + more,
        outline.y + outline.height + more,
    )
