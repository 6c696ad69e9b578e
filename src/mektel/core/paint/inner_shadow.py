"""A shadow inside the outline."""

from __future__ import annotations

from mektel.core.look import InnerShadowLook
from mektel.core.paint.masks import inner
from mektel.core.paint.surface import Surface


def paint(look: InnerShadowLook, surface: Surface) -> None:
    box = look.outline.scaled(surface.scale).moved(surface.left, surface.top)
    hole = look.hole.scaled(surface.scale).moved(surface.left, surface.top)
    rows, columns = surface.region(box.x, box.y, box.x + box.width, box.y + box.height)
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    at = (-columns.start, -rows.start)
    mask = inner(box.moved(*at), hole.moved(*at), look.sigma * surface.scale, width, height)
    surface.lay(rows, columns, mask, look.colour, look.blend)
