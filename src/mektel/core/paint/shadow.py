"""A shadow outside the outline."""

from __future__ import annotations

from mektel.core.look import ShadowLook
from mektel.core.paint.masks import blurred, covered
from mektel.core.paint.surface import Surface


def paint(look: ShadowLook, surface: Surface) -> None:
    if look.colour[3] <= 0:
        return
    scale = surface.scale
    outline = look.outline.scaled(scale).moved(surface.left, surface.top)
    rows, columns = surface.region_of(look.extent())
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    at = (-columns.start, -rows.start)
    mask = blurred(outline.moved(*at), look.sigma * scale, width, height)
    if look.cut is not None:
        cut = look.cut.scaled(scale).moved(surface.left, surface.top).moved(*at)
        mask = mask * (1 - covered(cut, width, height))
    surface.lay(rows, columns, mask, look.colour, look.blend)
