"""Glass: what lies behind is bent, blurred and tinted, and its rim catches the light."""

from __future__ import annotations

import hashlib
import math
import zlib

import numpy as np

from mektel.core.look import LensLook
from mektel.core.paint.blur import enlarged, reduced, rest_of
from mektel.core.paint.masks import Floats, covered, distances, masks
from mektel.core.paint.surface import Surface
from mektel.core.remember import is_passing
from mektel.core.shape import AnyOutline

# While it moves, what a lens sees reaches a multiple of so many pixels beyond it.
STEPS = 32
# The blur, in pixels, that hides how coarsely that is done.
COARSE = 2.5


def paint(look: LensLook, surface: Surface) -> None:
    """Bending follows a quarter-circle edge: strongest at the rim, none beyond ``reach``.

    Each colour channel is bent by its own amount (``fringe``): red less, blue more.
    """
    scale = surface.scale
    box = look.outline.scaled(scale).moved(surface.left, surface.top)
    rows, columns = surface.region(box.x, box.y, box.x + box.width, box.y + box.height)
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 1 or height <= 1:
        return
    local = box.moved(-columns.start, -rows.start)
    reach = max(look.reach, look.rim * 2) * scale + 2
    mask = covered(local, width, height)
    form = (local, width, height, look.reach * scale, reach)
    falls = masks.get(("lens", *form), lambda: _slopes(*form))
    # What can be seen in it lies no farther out than it bends and blurs.
    far = math.ceil((look.bend + look.fringe + 3 * look.sigma) * scale) + 1
    if is_passing():
        far = -(-far // STEPS) * STEPS  # the same while it bends a little more or less
    top, left = max(0, rows.start - far), max(0, columns.start - far)
    behind = surface.planes[:, top : rows.stop + far, left : columns.stop + far].copy()

    # Where nothing shines through, what lies behind is opaque however it is bent.
    channels = 3 if float(behind[3].min()) >= 255 else 4
    # Of what passes a shorter sum will do, which takes a quarter of the time.
    digest = (zlib.crc32(behind.data) if is_passing()
              else hashlib.blake2b(behind.data, digest_size=16).digest())
    sigma = look.sigma * scale

    # Blurred glass that passes is seen in cells of two by two pixels.
    step = 2 if is_passing() and sigma >= COARSE and min(behind.shape[1:]) > 2 else 1

    def blurred() -> Floats:
        from scipy.ndimage import gaussian_filter

        return np.stack([
            gaussian_filter(plane if step == 1 else reduced(plane, step, "edge"),
                            sigma if step == 1 else rest_of(sigma, step), mode="nearest",
                            truncate=3)
            for plane in behind[:channels]])

    def see() -> Floats:
        soft = masks.get(("behind", digest, sigma, step), blurred) if sigma > 0 else behind
        slope, across, down = falls if step == 1 else masks.get(
            ("lens", *form, step), lambda: np.stack([reduced(fall, step) for fall in falls]))
        high, wide = slope.shape
        grid_y = np.arange(high, dtype=np.float32)[:, None] + np.float32((rows.start - top) / step)
        grid_x = np.arange(wide, dtype=np.float32) + np.float32((columns.start - left) / step)
        seen = np.full((4, high, wide), 255, np.float32)
        # The edge of a lens shows what lies further in: the sight is bent inward.
        sights = {apart: _Sight(soft.shape[1:], grid_y - down * shift, grid_x - across * shift)
                  for apart in {-look.fringe, 0.0, look.fringe}
                  for shift in [slope * np.float32((look.bend + apart) * scale / step)]}
        for channel, apart in ((0, -look.fringe), (1, 0.0), (2, look.fringe), (3, 0.0))[:channels]:
            sights[apart].look(soft[channel], out=seen[channel])
        seen[:3] = np.minimum(seen[:3], seen[3])
        if step == 1:
            return seen
        return np.stack([enlarged(enlarged(plane, step).T, step).T[:height, :width]
                         for plane in seen])

    # States differ more often in what lies on the glass than in what lies behind it.
    through = (digest, rows.start - top, columns.start - left, look.bend * scale,
               look.fringe * scale, sigma)
    seen = masks.get(("seen", *form, step, *through), see)
    region = surface.planes[:, rows, columns]
    region += (seen - region) * mask
    surface.lay(rows, columns, mask, look.colour, look.blend)
    if look.rim > 0:
        rim = masks.get(
            ("rim", local, width, height, look.rim * scale, look.light, reach),
            lambda: mask * _rim(
                look, distances(local, width, height, reach), falls[1], falls[2], scale))
        surface.lay(rows, columns, rim, look.rim_colour)


class _Sight:
    """Places ``(y, x)`` in a plane of a shape, in pixels: what is seen at each lies between four
    pixels, and beyond the plane its edge goes on.
    """

    def __init__(self, shape: tuple[int, ...], y: Floats, x: Floats) -> None:
        height, self._width = shape
        y, x = (np.clip(place, 0, length - 1.001) for place, length in ((y, height), (x, shape[1])))
        # Rounding may lift a place in a large plane onto its last pixel.
        first_y, first_x = (np.minimum(place.astype(np.intp), length - 2)
                            for place, length in ((y, height), (x, self._width)))
        self._at = first_y * self._width + first_x
        self._down, self._across = y - first_y, x - first_x

    def look(self, plane: Floats, out: Floats) -> None:
        flat, wide = plane.ravel(), self._width
        above, aside, below, beyond = (
            flat[start:].take(self._at) for start in (0, 1, wide, wide + 1))
        for start, end, share in ((above, aside, self._across), (below, beyond, self._across),
                                  (above, below, self._down)):
            np.subtract(end, start, out=end)
            end *= share
            start += end
        out[:] = above


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
