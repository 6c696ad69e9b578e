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
    left, top, right, bottom = (value * scale for value in line.bounds)
    rows, columns = surface.region(x + left, y + top, x + right, y + bottom)
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    key = (look.text, look.family, look.weight, look.size)
    mask = glyphs(key, line, scale, x - columns.start, y - rows.start, width, height)
    surface.lay_colour(rows, columns, mask, look.colour)
