"""A line along the outline: what lies between a larger and a smaller outline."""

from __future__ import annotations

import math

from mektel.core.look import LineLook
from mektel.core.paint.masks import ring
from mektel.core.paint.surface import Surface
from mektel.core.shape import AnyOutline, FreeOutline


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
    mask = ring(outer.moved(*at), inner.moved(*at), width, height)
    for band_rows, band_columns in bands(inner.moved(*at), width, height):
        surface.lay(
            slice(rows.start + band_rows.start, rows.start + band_rows.stop),
            slice(columns.start + band_columns.start, columns.start + band_columns.stop),
            mask[band_rows, band_columns], look.paint, look.blend,
        )


def bands(inner: AnyOutline, width: int, height: int) -> list[tuple[slice, slice]]:
    """Where a ring may cover anything: (rows, columns) that leave out what its inside holds.

    The inside holds a box as wide as the inner outline and as high as its corners leave straight.
    """
    if isinstance(inner, FreeOutline):
        return [(slice(0, height), slice(0, width))]
    def row(y: float) -> int:
        return max(0, min(height, math.ceil(y)))

    def column(x: float) -> int:
        return max(0, min(width, math.ceil(x)))

    # Within the picture, which may hold only part of the ring.
    top = row(inner.y + max(inner.ry[0], inner.ry[1]))
    bottom = row(math.floor(inner.y + inner.height - max(inner.ry[2], inner.ry[3])))
    left = column(inner.x + max(inner.rx[0], inner.rx[3]))
    right = column(math.floor(inner.x + inner.width - max(inner.rx[1], inner.rx[2])))
    whole = slice(0, width)
    if bottom - top > right - left:
        # Tall: what lies between the straight sides is left out.
        x0, x1 = column(inner.x), column(math.floor(inner.x + inner.width))
        if bottom <= top or x1 <= x0:
            return [(slice(0, height), whole)]
        middle = slice(top, bottom)
        return [
            (slice(0, top), whole), (slice(bottom, height), whole),
            (middle, slice(0, x0)), (middle, slice(x1, width)),
        ]
    y0, y1 = row(inner.y), row(math.floor(inner.y + inner.height))
    if right <= left or y1 <= y0:
        return [(slice(0, height), whole)]
    middle = slice(left, right)
    return [
        (slice(0, height), slice(0, left)), (slice(0, height), slice(right, width)),
        (slice(0, y0), middle), (slice(y1, height), middle),
    ]
