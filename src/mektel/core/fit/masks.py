"""How much of each pixel a part covers, as our own painter has it."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from mektel.core.paint.blur import blurred_coverage
from mektel.core.shape import Outline, coverage

Mask = NDArray[np.float32]
CORNERS = ("corner_1", "corner_2", "corner_3", "corner_4")
# What of a geometry is no length.
SHARES = frozenset({"direction", "gloss_height", "gloss_bulge", "gloss_fade", *CORNERS})


@dataclass(frozen=True)
class Geometry:
    """Where everything is, in pixels of the picture. A width, reach or blur of 0 is none."""

    x: float
    y: float
    width: float
    height: float
    radius: float
    line: float = 0.0
    # The shadow: its offset, blur (2 σ) and spread.
    shadow_x: float = 0.0
    shadow_y: float = 0.0
    shadow_blur: float = 0.0
    shadow_spread: float = 0.0
    # A second shadow, such as a near one beside a far one.
    second_x: float = 0.0
    second_y: float = 0.0
    second_blur: float = 0.0
    second_spread: float = 0.0
    # The light or shade within the line: how far it is moved down, and its blur.
    light_y: float = 0.0
    light_blur: float = 0.0
    # The gloss: its share of the height, how far its lower edge hangs down in the middle and how
    # much of it is left there, both shares, and how far within the line it lies.
    gloss_height: float = 0.5
    gloss_bulge: float = 0.0
    gloss_fade: float = 1.0
    gloss_gap: float = 0.0
    # Which way the gradient of the face runs, in degrees as CSS has it.
    direction: float = 180.0
    # Where a radial one has its centre, from the middle of the box, and how far it reaches.
    centre_x: float = 0.0
    centre_y: float = 0.0
    reach_x: float = 0.0
    reach_y: float = 0.0
    # The radius of each corner, from the top left clockwise, as a share of ``radius``.
    corner_1: float = 1.0
    corner_2: float = 1.0
    corner_3: float = 1.0
    corner_4: float = 1.0

    def moved(self, **values: float) -> Geometry:
        return replace(self, **values)

    @cached_property
    def outer(self) -> Outline:
        return Outline(self.x, self.y, self.width, self.height, self.radii, self.radii)

    @property
    def radii(self) -> tuple[float, float, float, float]:
        """Of each corner, from the top left clockwise."""
        most = min(self.width, self.height) / 2
        first, second, third, fourth = (
            max(0.0, min(self.radius * share, most)) for share in (
                self.corner_1, self.corner_2, self.corner_3, self.corner_4))
        return first, second, third, fourth

    @cached_property
    def inner(self) -> Outline:
        return self.outer.grown(-self.line) if self.line > 0 else self.outer

    def scaled(self, by: float) -> Geometry:
        return Geometry(**{each.name: getattr(self, each.name) * (1 if each.name in SHARES else by)
                           for each in fields(self)})


@dataclass(frozen=True)
class Masks:
    """Coverage per pixel, each of shape (height, width), from 0 to 1. To be read only."""

    outer: Mask
    inner: Mask
    shadow: Mask
    light: Mask
    second: Mask


def masks_of(
    geometry: Geometry, size: tuple[int, int], shadow: bool, light: bool, second: bool = False
) -> Masks:
    """The masks on a picture of ``size`` (width, height) pixels."""
    outer = covered(geometry.outer, size)
    inner = covered(geometry.inner, size) if geometry.line > 0 else outer
    shadowed = lit = other = _nothing(size)
    if shadow:
        cast = geometry.outer.grown(geometry.shadow_spread).moved(
            geometry.shadow_x, geometry.shadow_y)
        shadowed = blurred(cast, max(0.0, geometry.shadow_blur / 2), size)
    if second:
        cast = geometry.outer.grown(geometry.second_spread).moved(
            geometry.second_x, geometry.second_y)
        other = blurred(cast, max(0.0, geometry.second_blur / 2), size)
    if light:
        lit = left_within(geometry.inner, geometry.light_y, max(0.0, geometry.light_blur / 2), size)
    return Masks(outer, inner, shadowed, lit, other)


# Kept, since most steps of a fit change only one of the masks.
@lru_cache(maxsize=32)
def covered(outline: Outline, size: tuple[int, int]) -> Mask:
    """The share of each pixel of a picture of ``size`` (width, height) within an outline."""
    return coverage(outline, *size)


@lru_cache(maxsize=32)
def blurred(outline: Outline, sigma: float, size: tuple[int, int]) -> Mask:
    """The same, blurred by a Gaussian of so many pixels."""
    return blurred_coverage(outline, sigma, *size)


@lru_cache(maxsize=16)
def left_within(outline: Outline, down: float, sigma: float, size: tuple[int, int]) -> Mask:
    """What an outline that is moved down leaves of itself."""
    return covered(outline, size) * (1 - blurred(outline.moved(0.0, down), sigma, size))


def glossed(geometry: Geometry, size: tuple[int, int]) -> Mask:
    """How much of its light a gloss leaves on each pixel; as our painter has it."""
    inside = geometry.inner.grown(-geometry.gloss_gap)
    high = max(1.0, geometry.gloss_height * inside.height)
    deep = min(high, 2 * geometry.gloss_bulge * high)
    half = inside.width / 2
    band = Outline(inside.x, inside.y, inside.width, high, (0.0, 0.0, half, half),
                   (0.0, 0.0, deep, deep))
    down = (np.arange(size[1], dtype=np.float32) + 0.5 - inside.y) / high
    left = 1 - (1 - geometry.gloss_fade) * np.clip(down, 0, 1)
    return covered(band, size) * covered(inside, size) * left[:, None].astype(np.float32)


@lru_cache(maxsize=4)
def _nothing(size: tuple[int, int]) -> Mask:
    return np.zeros(size[::-1], np.float32)
