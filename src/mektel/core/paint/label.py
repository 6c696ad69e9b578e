"""The label's glyphs, as exact area coverage of their outlines."""

from __future__ import annotations

import numpy as np

from mektel.core.look import LabelLook
from mektel.core.paint.surface import Surface
from mektel.core.text import polygon_coverage


def paint(look: LabelLook, surface: Surface) -> None:
    line = look.line()
    if not line.contours:
        return
    scale = surface.scale
    origin = np.array(
        [look.x * scale + surface.left, look.baseline * scale + surface.top]
    )
    contours = [contour * scale + origin for contour in line.contours]
    low = np.min([contour.min(axis=0) for contour in contours], axis=0)
    high = np.max([contour.max(axis=0) for contour in contours], axis=0)
    rows, columns = surface.region(low[0], low[1], high[0], high[1])
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    corner = np.array([columns.start, rows.start])
    mask = polygon_coverage([contour - corner for contour in contours], width, height)
    surface.lay_colour(rows, columns, mask, look.colour)
