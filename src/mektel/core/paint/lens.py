"""Glass: what lies behind is bent, blurred and tinted, and its rim catches the light."""

from __future__ import annotations

import hashlib
import math

import numpy as np

from mektel.core.look import LensLook
from mektel.core.paint.masks import Floats, covered, distances, masks
from mektel.core.paint.surface import Surface
from mektel.core.shape import AnyOutline


def paint(look: LensLook, surface: Surface) -> None:
    """Bending follows a quarter-circle edge: strongest at the rim, none beyond ``reach``.

    Each colour channel is bent by its own amount (``fringe``): red less, blue more.
    """
    from scipy.ndimage import gaussian_filter, map_coordinates

    scale = surface.scale
    box = look.outline.scaled(scale).moved(surface.left, surface.top)
    rows, columns = surface.region(box.x, box.y, box.x + box.width, box.y + box.height)
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 1 or height <= 1:
        return
    local = box.moved(-columns.start, -rows.start)
    reach = max(look.reach, look.rim * 2) * scale + 2
    mask = covered(local, width, height)
    slope, across, down = masks.get(
        ("lens", local, width, height, look.reach * scale, reach),
        lambda: _slopes(local, width, height, look.reach * scale, reach))
    # What can be seen in it lies no farther out than it bends and blurs.
    far = math.ceil((look.bend + look.fringe + 3 * look.sigma) * scale) + 1
    top, left = max(0, rows.start - far), max(0, columns.start - far)
    behind = surface.planes[:, top : rows.stop + far, left : columns.stop + far].copy()

    def see() -> Floats:
        # Where nothing shines through, what lies behind is opaque however it is bent.
        opaque = float(behind[3].min()) >= 255
        if look.sigma > 0:
            for plane in behind[: 3 if opaque else 4]:
                gaussian_filter(
                    plane, look.sigma * scale, output=plane, mode="nearest", truncate=3)
        grid_y = np.arange(rows.start - top, rows.stop - top, dtype=np.float32)[:, None]
        grid_x = np.arange(columns.start - left, columns.stop - left, dtype=np.float32)[None, :]
        seen = np.full((4, height, width), 255, np.float32)
        # The edge of a lens shows what lies further in: the sight is bent inward.
        for channel, apart in ((0, -1.0), (1, 0.0), (2, 1.0), (3, 0.0))[: 3 if opaque else 4]:
            shift = slope * np.float32((look.bend + apart * look.fringe) * scale)
            spots = [grid_y - down * shift, grid_x - across * shift]
            map_coordinates(
                behind[channel], spots, output=seen[channel], order=1, mode="nearest")
        seen[:3] = np.minimum(seen[:3], seen[3])
        return seen

    # States differ more often in what lies on the glass than in what lies behind it.
    through = (hashlib.blake2b(behind.data, digest_size=16).digest(), rows.start - top,
               columns.start - left, look.bend * scale, look.fringe * scale, look.sigma * scale)
    seen = masks.get(("seen", local, width, height, look.reach * scale, reach, *through), see)
    region = surface.planes[:, rows, columns]
    region += (seen - region) * mask
    surface.lay(rows, columns, mask, look.colour, look.blend)
    if look.rim > 0:
        rim = masks.get(
            ("rim", local, width, height, look.rim * scale, look.light, reach),
            lambda: _rim(look, distances(local, width, height, reach), across, down, scale) * mask)
        surface.lay(rows, columns, rim, look.rim_colour)


def _slopes(
    local: AnyOutline, width: int, height: int, zone: float, reach: float
) -> Floats:
    """How steep the glass is, and which way it falls: three planes (slope, across, down)."""
    distance = distances(local, width, height, reach)
    down, across = np.gradient(distance)
    length = np.maximum(np.hypot(across, down), 1e-6)
    inward = np.clip(-distance / max(zone, 1e-6), 0, 1)
    slope = 1 - np.sqrt(np.maximum(0, 1 - (1 - inward) ** 2))
    return np.stack([slope, across / length, down / length]).astype(np.float32)


def _rim(
    look: LensLook, distance: Floats, across: Floats, down: Floats, scale: float
) -> Floats:
    """A thin band inside the edge, bright towards the light and, half as much, opposite it."""
    turn = math.radians(look.light)
    facing = across * math.sin(turn) - down * math.cos(turn)
    band = np.clip(1 - np.abs(-distance / (look.rim * scale) - 0.5) * 1.5, 0, 1)
    bright = np.maximum(facing, 0) ** 1.5 + 0.5 * np.maximum(-facing, 0) ** 1.5
    return (band * np.minimum(bright, 1)).astype(np.float32)
