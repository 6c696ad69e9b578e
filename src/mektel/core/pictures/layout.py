"""Pictures of different size brought to equal bounds, so that no state makes a control jump."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from mektel.core.kit.conditions import REST
from mektel.core.pictures.alignment import offset_between

Pixels = NDArray[np.uint8]
# What is shared by less than this is laid middle on middle without being sure.
SURE = 0.2
# Pictures of one state at two densities differ by less than this, from 0 to 255.
AGREE = 12.0


@dataclass(frozen=True)
class StatePicture:
    """A state's picture: premultiplied pixels (height, width, 4) at a density.

    ``nudge`` is what the user moved it by, in its own pixels; ``placed`` says that its bounds are
    already those of the others.
    """

    condition: str
    pixels: Pixels = field(repr=False, compare=False)
    density: float = 1.0
    nudge: tuple[float, float] = (0.0, 0.0)
    placed: bool = False
    name: str = ""


@dataclass(frozen=True)
class Laid:
    """One state on the canvas that all share; ``rest_of`` is the part of a pixel left over."""

    condition: str
    pixels: Pixels = field(repr=False, compare=False)
    rest_of: tuple[float, float]
    sure: bool
    name: str = ""


@dataclass(frozen=True)
class Canvas:
    """All states in equal bounds, at one density; ``differing`` are those whose densities do."""

    states: tuple[Laid, ...]
    density: float
    differing: tuple[str, ...] = ()

    @property
    def size(self) -> tuple[int, int]:
        """Width and height in pixels."""
        height, width = self.states[0].pixels.shape[:2]
        return width, height


def densest(pictures: Sequence[StatePicture]) -> tuple[list[StatePicture], list[str]]:
    """Of each state its densest picture, all at one density; and states whose pictures differ."""
    by_state: dict[str, list[StatePicture]] = {}
    for picture in pictures:
        by_state.setdefault(picture.condition, []).append(picture)
    differing, kept = [], []
    density = max((max(p.density for p in same) for same in by_state.values()), default=1.0)
    for condition, same in by_state.items():
        best = max(same, key=lambda picture: picture.density)
        for other in same:
            if other is not best and not _agree(best, other):
                differing.append(condition)
        kept.append(best if best.density == density else replace(
            best, density=density, pixels=resized(best.pixels, density / best.density),
            nudge=(best.nudge[0] * density / best.density,
                   best.nudge[1] * density / best.density)))
    return kept, list(dict.fromkeys(differing))


def _agree(first: StatePicture, second: StatePicture) -> bool:
    share = second.density / first.density
    height, width = second.pixels.shape[:2]
    if abs(first.pixels.shape[1] * share - width) > 1.5 or abs(
            first.pixels.shape[0] * share - height) > 1.5:
        return False
    smaller = np.asarray(Image.fromarray(first.pixels).resize(
        (width, height), Image.Resampling.BOX), float)
    return float(np.abs(smaller - second.pixels).mean()) <= AGREE


def resized(pixels: Pixels, by: float) -> Pixels:
    height, width = (max(1, round(side * by)) for side in pixels.shape[:2])
    return np.array(Image.fromarray(pixels).resize((width, height), Image.Resampling.LANCZOS))


def equal_bounds(pictures: Sequence[StatePicture]) -> Canvas:
    """Lays every state's picture on that of rest by their common pixels.

    Pictures of one size are taken to be in place already. Raises ValueError where there is none.
    """
    kept, differing = densest(pictures)
    if not kept:
        raise ValueError("there is no picture")
    first = next((picture for picture in kept if picture.condition == REST), kept[0])
    spots: list[tuple[StatePicture, float, float, bool]] = []
    for picture in kept:
        x = y = 0.0
        sure = True
        in_place = picture is first or picture.placed or (
            picture.pixels.shape == first.pixels.shape)
        if not in_place:
            offset = offset_between(first.pixels, picture.pixels)
            x, y, sure = offset.x, offset.y, offset.shared >= SURE
        spots.append((picture, x + picture.nudge[0], y + picture.nudge[1], sure))
    left = min(math.floor(x + 0.5) for _, x, _, _ in spots)
    top = min(math.floor(y + 0.5) for _, _, y, _ in spots)
    right = max(math.floor(x + 0.5) + p.pixels.shape[1] for p, x, _, _ in spots)
    bottom = max(math.floor(y + 0.5) + p.pixels.shape[0] for p, _, y, _ in spots)
    states = []
    for picture, x, y, sure in spots:
        whole_x, whole_y = math.floor(x + 0.5), math.floor(y + 0.5)
        canvas = np.zeros((bottom - top, right - left, 4), np.uint8)
        height, width = picture.pixels.shape[:2]
        canvas[whole_y - top : whole_y - top + height,
               whole_x - left : whole_x - left + width] = picture.pixels
        states.append(Laid(picture.condition, canvas, (
            round(x - whole_x, 3) + 0.0, round(y - whole_y, 3) + 0.0), sure, picture.name))
    return Canvas(tuple(states), first.density, tuple(differing))
