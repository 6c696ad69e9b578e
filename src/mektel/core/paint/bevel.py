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
    bright, dark = masks.get(
        ("bevel", local, width, height, depth, look.softness, look.light),
        lambda: _lit(look, local, width, height, depth))
    surface.lay(rows, columns, bright, look.light_colour, look.blend)
    surface.lay(rows, columns, dark, look.shade_colour, look.blend)


def _lit(
    look: BevelLook, local: AnyOutline, width: int, height: int, depth: float
) -> Floats:
    """How much light and how much shade falls on each pixel of the edge: two planes."""
    distance = distances(local, width, height, depth + 2)
    down, across = np.gradient(distance)
    length = np.maximum(np.hypot(across, down), 1e-6)
    turn = math.radians(look.light)
    facing = (across * math.sin(turn) - down * math.cos(turn)) / length
    inward = np.clip(-distance / depth, 0, 1)
    fading = 1 - inward
    flat = np.clip((1 - inward) * depth, 0, 1)  # a chamfer, its inner edge one pixel soft
    strength = (1 - look.softness) * flat + look.softness * fading
    strength = covered(local, width, height) * strength
    lit = [strength * np.maximum(facing, 0), strength * np.maximum(-facing, 0)]
    return np.stack(lit).astype(np.float32)
