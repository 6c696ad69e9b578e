"""Several primitives as one: drawn apart, then turned, faded and blended together."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from mektel.core.look import GroupLook
from mektel.core.paint.surface import Surface

# Drawn finer before it is turned, so that turning does not soften it.
FINER = 2


def paint(
    look: GroupLook, surface: Surface, draw: Callable[[Any, Surface], None]
) -> None:
    scale = surface.scale
    x0, y0, x1, y1 = (value * scale for value in look.extent())
    rows, columns = surface.region(
        x0 + surface.left - 1, y0 + surface.top - 1, x1 + surface.left + 1, y1 + surface.top + 1
    )
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    if look.matrix is None:
        within = Surface(width, height, scale, surface.left - columns.start,
                         surface.top - rows.start, own=True)
        for member in look.members:
            draw(member, within)
        planes = within.planes
    else:
        planes = _turned(look, surface, rows, columns, draw)
    surface.lay_blended(rows, columns, planes * np.float32(look.opacity / 255), look.blend)


def _turned(
    look: GroupLook, surface: Surface, rows: slice, columns: slice,
    draw: Callable[[Any, Surface], None],
) -> Any:
    from scipy.ndimage import map_coordinates

    assert look.matrix is not None
    boxes = [member.extent() for member in look.members]
    x0, y0 = min(b[0] for b in boxes) - 1, min(b[1] for b in boxes) - 1
    x1, y1 = max(b[2] for b in boxes) + 1, max(b[3] for b in boxes) + 1
    a, b, c, d, e, f = look.matrix
    larger = max(1.0, math.hypot(a, b), math.hypot(c, d))
    fine = surface.scale * FINER * larger
    flat = Surface(math.ceil((x1 - x0) * fine), math.ceil((y1 - y0) * fine), fine,
                   -x0 * fine, -y0 * fine, own=True)
    for member in look.members:
        draw(member, flat)
    whole = a * d - b * c
    width, height = columns.stop - columns.start, rows.stop - rows.start
    out = np.zeros((4, height, width), np.float32)
    grid_y, grid_x = np.mgrid[rows.start : rows.stop, columns.start : columns.stop]
    for dx in (0.25, 0.75):
        for dy in (0.25, 0.75):
            px = (grid_x + dx - surface.left) / surface.scale - e
            py = (grid_y + dy - surface.top) / surface.scale - f
            lx, ly = (d * px - c * py) / whole, (a * py - b * px) / whole
            spots = [(ly - y0) * fine - 0.5, (lx - x0) * fine - 0.5]
            for channel in range(4):
                out[channel] += map_coordinates(flat.planes[channel], spots, order=1)
    return out / 4
