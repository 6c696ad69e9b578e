"""Several primitives as one: drawn apart, then turned, faded and blended together."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from mektel.core.look import FillLook, Gradient, GroupLook
from mektel.core.paint.gradient import planes_at
from mektel.core.paint.surface import Floats, Surface
from mektel.core.shape import polygon_coverage, polygons

# Drawn finer before it is turned, and as many samples averaged each way, so that turning neither
# softens nor frays it.
FINER = 3


def finer_for(scale: float) -> int:
    """How many times as fine: where pixels are small already, twice does."""
    return FINER if scale <= 2 else 2


def paint(
    look: GroupLook, surface: Surface, draw: Callable[[Any, Surface], None]
) -> None:
    scale = surface.scale
    rows, columns = surface.region_of(look.extent(), 1)
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    if look.matrix is None:
        within = Surface(width, height, scale, surface.left - columns.start,
                         surface.top - rows.start, own=True)
        for member in look.members:
            draw(member, within)
        planes = within.planes
    elif all(isinstance(member, FillLook) and member.clip is None for member in look.members):
        planes = _turned_fills(look, surface, rows, columns)
    else:
        planes = _turned(look, surface, rows, columns, draw)
    surface.lay_blended(rows, columns, planes * np.float32(look.opacity / 255), look.blend)


def _turned_fills(look: GroupLook, surface: Surface, rows: slice, columns: slice) -> Floats:
    """Filled outlines are turned themselves, so that their edges stay exact areas."""
    assert look.matrix is not None
    a, b, c, d, e, f = look.matrix
    width, height = columns.stop - columns.start, rows.stop - rows.start
    within = Surface(width, height, surface.scale, 0, 0, own=True)
    px = (np.arange(columns.start, columns.stop) + 0.5 - surface.left)[None, :] / surface.scale - e
    py = (np.arange(rows.start, rows.stop) + 0.5 - surface.top)[:, None] / surface.scale - f
    whole = a * d - b * c
    shift = (surface.left - columns.start, surface.top - rows.start)
    for member in look.members:
        contours = []
        for contour in polygons(member.outline):
            x, y = np.array(contour).T
            spots = np.stack([a * x + c * y + e, b * x + d * y + f], axis=1)
            contours.append(spots * surface.scale + shift)
        mask = polygon_coverage(contours, width, height)
        if isinstance(member.paint, Gradient):
            planes = planes_at(member.paint, (d * px - c * py) / whole, (a * py - b * px) / whole)
            within.lay_planes(slice(0, height), slice(0, width), mask, planes)
        else:
            within.lay_colour(slice(0, height), slice(0, width), mask, member.paint)
    return within.planes


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
    finer = finer_for(surface.scale)
    fine = surface.scale * finer * larger
    flat = Surface(math.ceil((x1 - x0) * fine), math.ceil((y1 - y0) * fine), fine,
                   -x0 * fine, -y0 * fine, own=True)
    for member in look.members:
        draw(member, flat)
    whole = a * d - b * c
    width, height = columns.stop - columns.start, rows.stop - rows.start
    out = np.zeros((4, height, width), np.float32)
    grid_y, grid_x = np.mgrid[rows.start : rows.stop, columns.start : columns.stop]
    within = [(at + 0.5) / finer for at in range(finer)]
    for dx in within:
        for dy in within:
            px = (grid_x + dx - surface.left) / surface.scale - e
            py = (grid_y + dy - surface.top) / surface.scale - f
            lx, ly = (d * px - c * py) / whole, (a * py - b * px) / whole
            spots = [(ly - y0) * fine - 0.5, (lx - x0) * fine - 0.5]
            for channel in range(4):
                out[channel] += map_coordinates(flat.planes[channel], spots, order=1)
    return out / finer**2
