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
# Up to how many pixels come together in whole ones at every density.
MOST_PARTS = 12
# How far from a whole pixel a picture of a lower density may lie.
IN_PLACE = 0.05


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
    """One state on the canvas that all share; ``rest_of`` is the part of a pixel left over.

    ``coarser`` are its pictures for lower densities, the denser ones first.
    """

    condition: str
    pixels: Pixels = field(repr=False, compare=False)
    rest_of: tuple[float, float]
    sure: bool
    name: str = ""
    coarser: tuple[Pixels, ...] = field(default=(), repr=False, compare=False)


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


@dataclass(frozen=True)
class Densities:
    """Of each state its densest picture, all at one density; ``coarser`` are the others, by
    state, the denser ones first; ``differing`` are states whose others show something else.
    """

    densest: tuple[StatePicture, ...]
    coarser: dict[str, tuple[StatePicture, ...]]
    differing: tuple[str, ...]


def by_density(pictures: Sequence[StatePicture]) -> Densities:
    by_state: dict[str, list[StatePicture]] = {}
    for picture in pictures:
        by_state.setdefault(picture.condition, []).append(picture)
    differing, kept, coarser = [], [], {}
    density = max((max(p.density for p in same) for same in by_state.values()), default=1.0)
    for condition, same in by_state.items():
        best = max(same, key=lambda picture: picture.density)
        # Of two that say the same, the later one counts.
        others = {other.density: other for other in same if other.density < best.density}
        alike = {own: other for own, other in others.items() if _agree(best, other)}
        if len(alike) < len(others):
            differing.append(condition)
        if best.density < density:
            alike[best.density] = best
            share = density / best.density
            best = replace(best, density=density, pixels=resized(best.pixels, share),
                           nudge=(best.nudge[0] * share, best.nudge[1] * share))
        kept.append(best)
        coarser[condition] = tuple(alike[own] for own in sorted(alike, reverse=True))
    return Densities(tuple(kept), coarser, tuple(differing))


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

    Pictures of one size are taken to be in place already; those of lower densities are laid where
    the densest one of their state is. Raises ValueError where there is none.
    """
    found = by_density(pictures)
    kept = found.densest
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
    # A canvas of whole pixels at every density.
    shares = [other.density / first.density for same in found.coarser.values() for other in same]
    whole = next((count for count in range(1, MOST_PARTS + 1) if all(
        abs(share * count - round(share * count)) < 1e-6 for share in shares)), 0)
    if whole:
        left, top = left - left % whole, top - top % whole
        right, bottom = right + (left - right) % whole, bottom + (top - bottom) % whole
    states = []
    for picture, x, y, sure in spots:
        whole_x, whole_y = math.floor(x + 0.5), math.floor(y + 0.5)
        canvas = np.zeros((bottom - top, right - left, 4), np.uint8)
        height, width = picture.pixels.shape[:2]
        canvas[whole_y - top : whole_y - top + height,
               whole_x - left : whole_x - left + width] = picture.pixels
        states.append(Laid(picture.condition, canvas, (
            round(x - whole_x, 3) + 0.0, round(y - whole_y, 3) + 0.0), sure, picture.name,
            _laid_coarser(found.coarser[picture.condition], picture.density, canvas.shape,
                          (x - left, y - top)) if whole else ()))
    return Canvas(tuple(states), first.density, found.differing)


def _laid_coarser(
    pictures: Sequence[StatePicture], density: float, shape: tuple[int, ...],
    at: tuple[float, float],
) -> tuple[Pixels, ...]:
    """Pictures of lower densities on canvases of theirs; those that would lie between two pixels
    are left out.
    """
    laid = []
    for picture in pictures:
        share = picture.density / density
        (x, y), (height, width) = (value * share for value in at), picture.pixels.shape[:2]
        high, wide = (round(side * share) for side in shape[:2])
        left, top = round(x), round(y)
        if abs(x - left) > IN_PLACE or abs(y - top) > IN_PLACE:
            continue
        canvas = np.zeros((high, wide, 4), np.uint8)
        height, width = min(height, high - top), min(width, wide - left)
        canvas[top : top + height, left : left + width] = picture.pixels[:height, :width]
        laid.append(canvas)
    return tuple(laid)
