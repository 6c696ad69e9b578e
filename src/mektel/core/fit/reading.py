"""What is read in a picture, and the pictures that are read."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.errors import MektelError
from mektel.core.fit.masks import Geometry
from mektel.core.fit.model import Floats, Parts

# What a picture with alpha is laid on, of 255: both shadows and lights show on it.
GROUND = 200.0
# More pixels than these are brought together, so that a fit takes seconds.
MOST_PIXELS = 30_000


class ReadingError(MektelError):
    """A picture in which no button can be made out; says why."""


@dataclass(frozen=True)
class Part:
    """A layer that was found; ``sure`` is from 0 to 1: how much worse it is without it."""

    name: str
    sure: float


@dataclass(frozen=True)
class Ring:
    """A line outside of the outline, ``gap`` away from it; lengths in pixels, a colour (3,)."""

    gap: float
    width: float
    colour: Floats


@dataclass(frozen=True)
class Reading:
    """What a picture comes to: lengths in pixels of the picture, colours (3,) from 0 to 1.

    ``residual`` is the mean difference from the picture, of 255, and ``label`` the box (x, y,
    width, height) of what stands on the face, with its colour and how many pixels it covers.
    """

    geometry: Geometry
    parts: Parts
    colours: dict[str, Floats]
    residual: float
    layers: tuple[Part, ...]
    label: tuple[float, float, float, float] | None = None
    label_colour: Floats | None = None
    label_ink: float = 0.0
    ring: Ring | None = None

    def within(
        self, size: tuple[int, int], corner: tuple[int, int], seen: tuple[int, int]
    ) -> Reading:
        """The same of a picture of ``size`` of which (width, height) ``seen`` were read, from
        ``corner`` on, all in pixels.
        """
        (width, height), (x, y), (wide, high) = size, corner, seen
        tones = dict(self.colours)
        across, down = tones["backdrop x"] / wide, tones["backdrop y"] / high
        tones |= {
            "backdrop x": across * width, "backdrop y": down * height,
            "backdrop": tones["backdrop"] + across * (width / 2 - x - wide / 2)
                        + down * (height / 2 - y - high / 2)}
        box = self.label and (self.label[0] + x, self.label[1] + y, *self.label[2:])
        geometry = self.geometry.moved(x=self.geometry.x + x, y=self.geometry.y + y)
        return replace(self, geometry=geometry, colours=tones, label=box)


def on_ground(premultiplied: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """A premultiplied picture (height, width, 4) on light grey, as (height, width, 3)."""
    alpha = premultiplied[:, :, 3:].astype(np.float64) / 255
    laid = premultiplied[:, :, :3] + (1 - alpha) * GROUND
    return np.round(laid).astype(np.uint8)


def step_for(width: int, height: int) -> int:
    """How many pixels, each way, are one for a fit, so that it takes seconds at most."""
    return max(1, int(np.ceil(np.sqrt(height * width / MOST_PIXELS))))


def averaged(pixels: NDArray[Any], step: int) -> NDArray[Any]:
    """The mean of every ``step`` × ``step`` pixels."""
    if step == 1:
        return pixels
    height, width = (side // step * step for side in pixels.shape[:2])
    blocks = pixels[:height, :width].reshape(
        height // step, step, width // step, step, *pixels.shape[2:])
    return np.asarray(blocks.mean(axis=(1, 3)))
