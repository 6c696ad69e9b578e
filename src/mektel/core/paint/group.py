"""Several primitives as one: drawn apart, then turned, faded and blended together."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.look import FillLook, Gradient, GroupLook
from mektel.core.look.look import sees_behind
from mektel.core.paint.gradient import planes_at
from mektel.core.paint.masks import masks
from mektel.core.paint.surface import Floats, Surface
from mektel.core.remember import COARSER_FROM, is_kept, is_passing
from mektel.core.shape import polygon_coverage, polygons

# Drawn finer before it is turned, and as many samples averaged each way, so that turning neither
# softens nor frays it.
FINER = 3
# How much larger what passes may be drawn than its layers were.
STRETCH = 1.1
UNMOVED = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)


def finer_for(scale: float) -> int:
    """How many times as fine: where pixels are small already, twice does; so it does where a frame
    is shown once, and where it passes once.
    """
    if is_passing() and scale >= COARSER_FROM:
        return 1
    return FINER if scale <= (2 if is_kept() else 1) else 2


def paint(
    look: GroupLook, surface: Surface, draw: Callable[[Any, Surface], None]
) -> None:
    scale = surface.scale
    rows, columns = surface.region_of(look.extent(), 1)
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    passes = is_passing() and scale >= COARSER_FROM and not sees_behind(look.members)
    if look.matrix is None or (_is_even(look.matrix) and not passes):
        # Not turned, only larger or smaller and somewhere else: drawn as it is.
        size, _, _, _, x, y = look.matrix or UNMOVED
        within = Surface(width, height, scale * size, surface.left + x * scale - columns.start,
                         surface.top + y * scale - rows.start, own=True)
        for member in look.members:
            draw(member, within)
        planes = within.planes
    elif not passes and all(
            isinstance(member, FillLook) and member.clip is None for member in look.members):
        planes = _turned_fills(look, surface, rows, columns)
    else:
        planes = _turned(look, surface, rows, columns, draw)
    surface.lay_blended(rows, columns, planes * np.float32(look.opacity / 255), look.blend)


def _is_even(matrix: tuple[float, ...] | None) -> bool:
    """Whether a matrix changes sizes alike in both directions, and turns nothing."""
    a, b, c, d, _, _ = matrix or UNMOVED
    return b == c == 0 and a > 0 and abs(a - d) < 1e-9 * a


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
    from PIL import Image

    assert look.matrix is not None
    boxes = [member.extent() for member in look.members]
    x0, y0 = min(b[0] for b in boxes) - 1, min(b[1] for b in boxes) - 1
    x1, y1 = max(b[2] for b in boxes) + 1, max(b[3] for b in boxes) + 1
    a, b, c, d, e, f = look.matrix
    larger = max(1.0, math.hypot(a, b), math.hypot(c, d))
    passing = not is_kept()
    finer = finer_for(surface.scale)
    if finer == 1 and larger < STRETCH:
        larger = 1.0
    elif passing:
        larger = math.ceil(larger * 8 - 1e-6) / 8  # alike from frame to frame
    fine = surface.scale * finer * larger
    if passing:
        x0, y0 = math.floor(x0 * fine) / fine, math.floor(y0 * fine) / fine

    def surface_drawn() -> Surface:
        flat = Surface(math.ceil((x1 - x0) * fine), math.ceil((y1 - y0) * fine), fine,
                       -x0 * fine, -y0 * fine, own=True)
        for member in look.members:
            draw(member, flat)
        return flat

    def drawn() -> NDArray[np.uint8]:
        return surface_drawn().to_bytes()

    if passing and not sees_behind(look.members):
        # From frame to frame often nothing but the matrix changes.
        flat = masks.get(("flat", look.members, fine), drawn)
        height, width = flat.shape[:2]
        sources = [Image.frombuffer("RGBa", (width, height), flat, "raw", "RGBa", 0, 1)]
    else:
        sources = [Image.fromarray(plane) for plane in surface_drawn().planes]
    whole = a * d - b * c
    width, height = columns.stop - columns.start, rows.stop - rows.start
    # Where a place of the result, counted in samples, lies in what was drawn.
    step = 1 / (surface.scale * finer)
    left = (columns.start - surface.left) / surface.scale - e
    top = (rows.start - surface.top) / surface.scale - f
    places = (
        d * step / whole * fine, -c * step / whole * fine,
        ((d * left - c * top) / whole - x0) * fine,
        -b * step / whole * fine, a * step / whole * fine,
        ((a * top - b * left) / whole - y0) * fine)
    turned = [
        np.asarray(source.transform(
            (width * finer, height * finer), Image.Transform.AFFINE, places,
            Image.Resampling.BILINEAR).reduce(finer), np.float32)
        for source in sources]
    return np.stack(turned) if len(turned) > 1 else np.moveaxis(turned[0], 2, 0)
