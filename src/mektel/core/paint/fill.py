"""The outline filled with one colour or a linear gradient."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from mektel.core.look import FillLook
from mektel.core.paint.masks import covered
from mektel.core.paint.surface import RGBA, Surface
from mektel.core.shape import Outline

Floats = NDArray[np.float32]


def paint(look: FillLook, surface: Surface) -> None:
    box = look.outline.scaled(surface.scale).moved(surface.left, surface.top)
    rows, columns = surface.region(box.x, box.y, box.x + box.width, box.y + box.height)
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    at = (-columns.start, -rows.start)
    local = box.moved(*at)
    mask = covered(local, width, height)
    if len(look.stops) == 1:
        surface.lay_colour(rows, columns, mask, look.stops[0][1])
    else:
        span = look.box.scaled(surface.scale).moved(surface.left, surface.top).moved(*at)
        planes = linear_gradient(look.stops, look.angle, span, width, height)
        surface.lay_planes(rows, columns, mask, planes)


def linear_gradient(
    stops: tuple[tuple[float, RGBA], ...], angle: float, box: Outline, width: int, height: int
) -> list[Floats]:
    """Four premultiplied planes of a gradient over ``box``, broadcastable to (height, width).

    As in CSS Images 4: 0° points up, 90° to the right; the gradient's line runs through the
    box's centre and its ends lie where perpendiculars meet the corners; colours are
    interpolated premultiplied. A gradient along an axis stays one row or column.
    """
    turn = math.radians(angle)
    dx, dy = math.sin(turn), -math.cos(turn)
    length = abs(box.width * dx) + abs(box.height * dy)
    x = (np.arange(width) + 0.5 - box.x - box.width / 2)[None, :]
    y = (np.arange(height) + 0.5 - box.y - box.height / 2)[:, None]
    if abs(dx) < 1e-12:
        share = y * (dy / length) + 0.5
    elif abs(dy) < 1e-12:
        share = x * (dx / length) + 0.5
    else:
        share = x * (dx / length) + y * (dy / length) + 0.5
    positions = [position for position, _ in stops]
    planes = []
    for channel in range(4):
        values = [c[channel] * c[3] if channel < 3 else c[3] for _, c in stops]
        planes.append(np.interp(share, positions, values).astype(np.float32))
    return planes
