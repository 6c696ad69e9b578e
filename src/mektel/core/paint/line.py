"""A line along the outline: what lies between a larger and a smaller outline."""

from __future__ import annotations

import numpy as np

from mektel.core.look import LineLook
from mektel.core.paint.surface import Surface
from mektel.core.shape import coverage


def paint(look: LineLook, surface: Surface) -> None:
    outer = look.outer.scaled(surface.scale).moved(surface.left, surface.top)
    inner = look.inner.scaled(surface.scale).moved(surface.left, surface.top)
    rows, columns = surface.region(
        outer.x, outer.y, outer.x + outer.width, outer.y + outer.height
    )
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    at = (-columns.start, -rows.start)
    ring = coverage(outer.moved(*at), width, height)
    if inner.width > 0 and inner.height > 0:
        ring = np.maximum(ring - coverage(inner.moved(*at), width, height), 0)
    surface.lay_colour(rows, columns, ring, look.colour)
