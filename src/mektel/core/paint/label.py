"""The label's glyphs, as exact area coverage of their outlines."""

from __future__ import annotations

from mektel.core.look import LabelLook
from mektel.core.paint.masks import glyphs
from mektel.core.paint.surface import Surface


def paint(look: LabelLook, surface: Surface) -> None:
    line = look.line()
    if not line.contours:
        return
    scale = surface.scale
    x, y = look.x * scale + surface.left, look.baseline * scale + surface.top
    rows, columns = surface.region_of(look.extent())
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    key = (look.text, look.family, look.weight, look.size, look.spacing)
    mask = glyphs(key, line, scale, x - columns.start, y - rows.start, width, height,
                  look.swell * scale, look.sigma * scale)
    surface.lay(rows, columns, mask, look.paint, look.blend)
