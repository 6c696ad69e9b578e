"""Light and shade along an outline's edge, from its distance field."""

from __future__ import annotations

import math

import numpy as np

from mektel.core.look import BevelLook
from mektel.core.paint.masks import Floats, covered, distances, masks
from mektel.core.paint.surface import Surface
from mektel.core.shape import AnyOutline


def paint(look: BevelLook, surface: Surface) -> None:
    """The edge slopes over ``depth`` px; how far its normal faces the light says how bright.

    ``softness`` 0 is a flat chamfer, 1 one that fades out inward.
    """
    box = look.outline.scaled(surface.scale).moved(surface.left, surface.top)
    rows, columns = surface.region(box.x, box.y, box.x + box.width, box.y + box.height)
    width, height = columns.stop - columns.start, rows.stop - rows.start
    depth = look.depth * surface.scale
    if width <= 1 or height <= 1 or depth <= 0:
        return
    local = box.moved(-columns.start, -rows.start)
    for bright, colour in ((True, look.light_colour), (False, look.shade_colour)):
        key = ("bevel", local, width, height, depth, look.softness, look.light, bright)
        mask = masks.get(key, lambda bright=bright: _facing(  # type: ignore[misc]
            look, local, width, height, depth, bright))
        surface.lay(rows, columns, mask, colour, look.blend)


def _facing(
    look: BevelLook, local: AnyOutline, width: int, height: int, depth: float, bright: bool
) -> Floats:
    """How much light, or shade, falls on each pixel of the edge."""
    distance = distances(local, width, height, depth + 2)
    down, across = np.gradient(distance)
    length = np.maximum(np.hypot(across, down), 1e-6)
    turn = math.radians(look.light)
    facing = (across * math.sin(turn) - down * math.cos(turn)) / length
    inward = np.clip(-distance / depth, 0, 1)
    fading = 1 - inward
    flat = np.clip((1 - inward) * depth, 0, 1)  # a chamfer, its inner edge one pixel soft
    strength = (1 - look.softness) * flat + look.softness * fading
    share = np.maximum(facing if bright else -facing, 0)
    return np.asarray(covered(local, width, height) * strength * share, np.float32)
