"""Blurred corners: what a blurred box loses where its corner is round, as a picture.

QPainter cannot blur. A blurred box with sharp corners is worked out while the control runs; each
corner takes away from that what its arc cuts off.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from mektel.core.look.look import SIGMAS
from mektel.core.look.outlines import box_of
from mektel.core.paint.blur import blurred_coverage
from mektel.core.shape import outline_for
from mektel.formats.png import mask_png_bytes
from mektel.targets.instrument import BLURRED
from mektel.targets.qtwidgets.instrument import has_paths, number
from mektel.targets.sheet import Sheet

# A blur this smooth needs no more pixels; a finer one gets them.
SMOOTH_SIGMA = 4.0


@dataclass(frozen=True)
class Corner:
    """What a blurred box loses at a rounded corner: reach in px, and a PNG."""

    reach: int
    png: bytes


def corners_of(sheet: Sheet) -> dict[tuple[Any, ...], Corner]:
    """Every corner that a blurred shadow has in any state, by its radii and blur."""
    corners = {}
    for part in sheet.layers:
        if part.kind not in BLURRED or has_paths(part):
            continue
        for state in part.distinct:
            values, (width, height) = state.values, sheet.size
            if not values.blur:
                continue
            form = values.outline or state.outline
            if values.outline is not None:
                _, _, width, height = box_of(values.outline, width, height)
            box = outline_for(form.form, form.radii, width, height, form.radii_y)
            outward = part.kind in ("shadow", "glow")
            shape = box.grown(values.spread if outward else -values.spread)
            for rx, ry in zip(shape.rx, shape.ry, strict=True):
                if rx > 0 and ry > 0:
                    key = (number(rx), number(ry), number(values.blur))
                    corners[key] = bake_corner(rx, ry, values.blur)
    return corners


@lru_cache(maxsize=256)
def bake_corner(rx: float, ry: float, blur: float) -> Corner:
    """The top left corner: the blur of what its arc cuts off a sharp box."""
    sigma = blur / 2
    density = max(2, min(3, math.ceil(SMOOTH_SIGMA / sigma)))
    reach = math.ceil(sigma * SIGMAS)
    far = 2 * (max(rx, ry) + 2 * reach)  # the other corners are out of the blur's reach
    sharp = outline_for("box", (0, 0, 0, 0), far, far)
    round_ = replace(sharp, rx=(rx, 0, 0, 0), ry=(ry, 0, 0, 0))
    columns, rows = round((rx + 2 * reach) * density), round((ry + 2 * reach) * density)
    masks = [
        blurred_coverage(edge.moved(reach, reach).scaled(density), sigma * density, columns, rows)
        for edge in (sharp, round_)
    ]
    return Corner(reach, mask_png_bytes(masks[0] - masks[1]))
