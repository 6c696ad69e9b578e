"""Lines of one width with round ends: an icon."""

from __future__ import annotations

import numpy as np

from mektel.core.look import StrokeLook
from mektel.core.paint.masks import stroked
from mektel.core.paint.surface import Surface


def paint(look: StrokeLook, surface: Surface) -> None:
    scale = surface.scale
    rows, columns = surface.region_of(look.extent())
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    shift = (surface.left - columns.start, surface.top - rows.start)
    lines = [np.array(line) * scale + shift for line in look.lines]
    key = (look.lines, scale, shift)
    mask = stroked(key, lines, look.width * scale, width, height)
    surface.lay(rows, columns, mask, look.paint, look.blend)
