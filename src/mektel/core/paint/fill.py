"""The outline filled with one colour or a gradient."""

from __future__ import annotations

from mektel.core.look import FillLook
from mektel.core.paint.masks import covered
from mektel.core.paint.surface import Surface


def paint(look: FillLook, surface: Surface) -> None:
    box = look.outline.scaled(surface.scale).moved(surface.left, surface.top)
    rows, columns = surface.region_of(look.extent())
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    at = (-columns.start, -rows.start)
    mask = covered(box.moved(*at), width, height)
    if look.clip is not None:
        clip = look.clip.scaled(surface.scale).moved(surface.left, surface.top).moved(*at)
        mask = mask * covered(clip, width, height)
    surface.lay(rows, columns, mask, look.paint, look.blend)
