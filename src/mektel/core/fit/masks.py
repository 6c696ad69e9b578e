"""How much of each pixel a part covers, drawn by our own painter."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from mektel.core.look import FillLook, InnerShadowLook, Look, Margins, ShadowLook
from mektel.core.paint import render
from mektel.core.shape import Outline

Mask = NDArray[np.float64]
WHITE = (1.0, 1.0, 1.0, 1.0)


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
    # The light or shade within the line: how far it is moved down, and its blur.
    light_y: float = 0.0
    light_blur: float = 0.0
    # Which way the gradient of the face runs, in degrees as CSS has it.
    direction: float = 180.0

    def moved(self, **values: float) -> Geometry:
        return replace(self, **values)

    @property
    def outer(self) -> Outline:
        radius = max(0.0, min(self.radius, self.width / 2, self.height / 2))
        return Outline(self.x, self.y, self.width, self.height, (radius,) * 4, (radius,) * 4)

    @property
    def inner(self) -> Outline:
        return self.outer.grown(-self.line) if self.line > 0 else self.outer

    def scaled(self, by: float) -> Geometry:
        return Geometry(**{name: value if name == "direction" else value * by
                           for name, value in vars(self).items()})


@dataclass(frozen=True)
class Masks:
    """Coverage per pixel, each of shape (height, width), from 0 to 1."""

    outer: Mask
    inner: Mask
    shadow: Mask
    light: Mask


def masks_of(geometry: Geometry, size: tuple[int, int], shadow: bool, light: bool) -> Masks:
    """The masks on a picture of ``size`` (width, height) pixels."""
    outer = _drawn(FillLook("outer", geometry.outer, WHITE), size)
    inner = _drawn(FillLook("inner", geometry.inner, WHITE), size) if geometry.line > 0 else outer
    nothing = np.zeros_like(outer)
    blurred = lit = nothing
    if shadow:
        cast = geometry.outer.grown(geometry.shadow_spread).moved(
            geometry.shadow_x, geometry.shadow_y)
        blurred = _drawn(ShadowLook(
            "shadow", cast, max(0.0, geometry.shadow_blur / 2), WHITE, None), size)
    if light:
        inside = geometry.inner
        lit = _drawn(InnerShadowLook(
            "light", inside, inside.moved(0.0, geometry.light_y),
            max(0.0, geometry.light_blur / 2), WHITE), size)
    return Masks(outer, inner, blurred, lit)


@lru_cache(maxsize=48)
def _drawn(layer: FillLook | ShadowLook | InnerShadowLook, size: tuple[int, int]) -> Mask:
    """To be read only: most steps of a fit change one of the masks."""
    width, height = size
    look = Look(float(width), float(height), Outline(
        0.0, 0.0, float(width), float(height), (0.0,) * 4, (0.0,) * 4), (layer,))
    alpha: Mask = render(look, 1.0, Margins()).rgba[:height, :width, 3] / 255.0
    return alpha
