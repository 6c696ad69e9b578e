"""Layers as pictures, for what a target cannot draw: cropped, deduplicated, in nine slices."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.look import Look
from mektel.core.paint import render
from mektel.core.remember import within_bytes
from mektel.core.slices import stretch_zones
from mektel.formats.png import png_bytes

DENSITIES = (1, 2, 3)


@dataclass(frozen=True)
class BakedPicture:
    """A PNG per density of 1, 2 and 3 pixels per px, and where it lies at the designed size.

    ``place`` is x, y, width, height in whole px from the box's top left; ``slices`` (left, top,
    right, bottom, px) keep their form when the control is larger. ``follows`` says by what share
    of the control's growth its x, y, width and height grow.
    """

    place: tuple[int, int, int, int]
    slices: tuple[int, int, int, int]
    pngs: tuple[bytes, ...]
    follows: tuple[float, float, float, float] = (0.0, 0.0, 1.0, 1.0)


def follows(part: Any) -> tuple[float, float, float, float]:
    """How a layer's box goes with its control's: by its spot, or as its own outline says."""
    at, own = getattr(part, "position", None), getattr(part, "outline", None)
    if at is not None:
        return (*at, 0.0, 0.0)
    if own is not None:
        return own.x[0], own.y[0], own.width[0], own.height[0]
    return 0.0, 0.0, 1.0, 1.0


@within_bytes(64 * 2**20, lambda picture: 0 if picture is None else sum(
    len(png) for png in picture.pngs))
def baked(look: Look) -> BakedPicture | None:
    """A look on nothing, cropped to what it covers; None where that is nothing."""
    pictures = [render(look, density, look.margins()).rgba for density in DENSITIES]
    room = look.margins()
    filled = np.argwhere(pictures[0].any(axis=2) | _any_finer(pictures[1], pictures[0].shape))
    if not len(filled):
        return None
    (y0, x0), (y1, x1) = filled.min(axis=0), filled.max(axis=0) + 1
    cropped = [
        np.ascontiguousarray(p[y0 * d : y1 * d, x0 * d : x1 * d])
        for p, d in zip(pictures, DENSITIES, strict=True)
    ]
    width, height = int(x1 - x0), int(y1 - y0)
    return BakedPicture(
        (int(x0) - room.left, int(y0) - room.top, width, height),
        slices_of(cropped[0]), tuple(png_bytes(picture) for picture in cropped),
    )


def _any_finer(picture: NDArray[np.uint8], shape: tuple[int, ...]) -> np.ndarray:
    height, width = shape[:2]
    cells = picture[: height * 2, : width * 2].reshape(height, 2, width, 2, 4)
    return np.asarray(cells.any(axis=(1, 3, 4)))


def slices_of(picture: NDArray[np.uint8]) -> tuple[int, int, int, int]:
    """What must keep its form at each side; an axis that cannot stretch is halved."""
    height, width = picture.shape[:2]
    zones = stretch_zones([picture], tolerance=2)
    left, run = zones.columns or (width // 2, 1)
    top, down = zones.rows or (height // 2, 1)
    return left, top, max(0, width - left - run), max(0, height - top - down)
