"""The canvas that layers are laid on: premultiplied float planes."""

from __future__ import annotations

import math
import threading
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.look.paints import Gradient, Paint
from mektel.core.paint.alike import Alike
from mektel.core.paint.blend import PREMULTIPLIED
from mektel.core.paint.blend import blend as blended
from mektel.core.paint.gradient import planes_of

Floats = NDArray[np.float32]
RGBA = tuple[float, float, float, float]


# By thread and name.
_scratch: dict[tuple[int, str], NDArray[Any]] = {}
# Numbers in a work array that is used again.
LARGEST_KEPT = 4_000_000


def scratch(name: str, shape: tuple[int, ...], dtype: Any = np.float32) -> NDArray[Any]:
    """A work array of this thread's own, contents undefined, used again for every picture.

    Fresh arrays of this size would each be mapped and unmapped by the system, which costs more
    than what is done with them.
    """
    size = math.prod(shape)
    if size > LARGEST_KEPT:
        return np.empty(shape, dtype)  # rare, and too much to keep for the next
    key = (threading.get_ident(), name)
    kept = _scratch.get(key)
    if kept is None or kept.size < size:
        kept = _scratch[key] = np.empty(size, dtype)
    return kept[:size].reshape(shape)


def forget_scratch() -> None:
    """Lets go of the work arrays of all threads; who is at work keeps what they have in hand."""
    _scratch.clear()


class Surface:
    """Premultiplied sRGB planes of shape ``(4, height, width)``, float32, from 0 to 255.

    ``planes`` may be given with what is laid already; ``scale`` is device pixels per px; ``left``
    and ``top`` say where the control's box begins, in pixels. Layers hand in masks for a region of
    whole pixels and straight colours from 0 to 1.
    """

    def __init__(
        self, width: int, height: int, scale: float, left: float, top: float, own: bool = False,
        planes: Floats | None = None,
    ) -> None:
        self.width, self.height = width, height
        self.scale, self.left, self.top = scale, left, top
        # A surface within another needs planes of its own; the outermost uses the thread's.
        if planes is None:
            shape = (4, height, width)
            planes = np.empty(shape, np.float32) if own else scratch("planes", shape)
            planes.fill(0)
        self.planes: Floats = planes
        self._bare = True

    def begin_on(self, rgba: NDArray[np.uint8]) -> None:
        """Begins on a premultiplied picture of the same size instead of on nothing."""
        self.planes[:] = np.moveaxis(rgba, 2, 0)
        self._bare = False

    def region(self, x0: float, y0: float, x1: float, y1: float) -> tuple[slice, slice]:
        """The (rows, columns) of whole pixels that a box in pixels touches, within the canvas."""
        rows = slice(max(0, int(np.floor(y0))), max(0, min(self.height, int(np.ceil(y1)))))
        columns = slice(max(0, int(np.floor(x0))), max(0, min(self.width, int(np.ceil(x1)))))
        return rows, columns

    def region_of(
        self, extent: tuple[float, float, float, float], more: float = 0.0
    ) -> tuple[slice, slice]:
        """The (rows, columns) that an extent in px touches, and ``more`` pixels round it."""
        x0, y0, x1, y1 = (value * self.scale for value in extent)
        return self.region(x0 + self.left - more, y0 + self.top - more,
                           x1 + self.left + more, y1 + self.top + more)

    def fade(self, opacity: float, behind: NDArray[np.uint8] | None) -> None:
        """All that was laid, faded as one towards what the surface began on."""
        self.planes *= np.float32(opacity)
        if behind is not None:
            self.planes += np.moveaxis(behind, 2, 0) * np.float32(1 - opacity)

    def lay(
        self, rows: slice, columns: slice, mask: Floats, paint: Paint, mode: str = "normal"
    ) -> None:
        """A colour or gradient through a mask of the region's shape."""
        if mode in ("multiply", "screen") and not isinstance(paint, Gradient) and not self._bare:
            self._lay_colour_in(mode, rows, columns, mask, paint)
        elif mode != "normal":
            if isinstance(paint, Gradient):
                planes = self._gradient(rows, columns, paint)
            else:
                values = (*(c * paint[3] for c in paint[:3]), paint[3])
                planes = [np.full((1, 1), value, np.float32) for value in values]
            source = np.stack([np.broadcast_to(mask * plane, mask.shape) for plane in planes])
            self.lay_blended(rows, columns, source, mode)
        elif isinstance(paint, Gradient):
            self.lay_planes(rows, columns, mask, self._gradient(rows, columns, paint))
        else:
            self.lay_colour(rows, columns, mask, paint)

    def _gradient(self, rows: slice, columns: slice, paint: Gradient) -> list[Floats]:
        local = paint.scaled(self.scale).moved(self.left - columns.start, self.top - rows.start)
        return planes_of(local, columns.stop - columns.start, rows.stop - rows.start)

    def lay_blended(self, rows: slice, columns: slice, source: Floats, mode: str) -> None:
        """Premultiplied planes (4, h, w) from 0 to 1, blended and composited (W3C, 5 and 9)."""
        region = self.planes[:, rows, columns]
        if self._bare:
            # Nothing lies beneath.
            self._bare = False
            np.multiply(source, np.float32(255), out=region)
            return
        if mode == "normal":
            region *= 1 - source[3]
            region += source * np.float32(255)
            return
        back: Floats = np.multiply(region, np.float32(1 / 255))
        if mode in PREMULTIPLIED:
            np.multiply(PREMULTIPLIED[mode](back, source, back[3], source[3]), np.float32(255),
                        out=region)
            return
        keep = 1 - source[3]
        out = source + back * keep
        with np.errstate(invalid="ignore", divide="ignore"):
            front = np.where(source[3] > 0, source[:3] / np.maximum(source[3], 1e-9), 0)
            under = np.where(back[3] > 0, back[:3] / np.maximum(back[3], 1e-9), 0)
        mixed = blended(mode, np.clip(under, 0, 1), np.clip(front, 0, 1))
        both = source[3] * back[3]
        out[:3] = source[:3] * (1 - back[3]) + both * mixed + back[:3] * keep
        region[:] = out * 255

    def lay_colour(self, rows: slice, columns: slice, mask: Floats, colour: RGBA) -> None:
        """One straight-alpha colour through a mask, source-over."""
        alpha = colour[3]
        if alpha <= 0:
            return
        values = [np.float32(value * 255) for value in (*colour[:3], 1.0)]
        planes = self.planes[:, rows, columns]
        if self._bare:
            # Nothing lies beneath the first layer, so there is nothing to keep of it.
            self._bare = False
            for plane, value in zip(planes, values, strict=True):
                np.multiply(mask, value * np.float32(alpha), out=plane)
            return
        share = mask
        if alpha < 1:
            share = np.multiply(mask, np.float32(alpha), out=scratch("share", mask.shape))
        keep = np.subtract(1, share, out=scratch("keep", mask.shape))
        work = scratch("work", mask.shape)
        for plane, value in zip(planes, values, strict=True):
            plane *= keep
            if value > 0:
                np.multiply(share, value, out=work)
                plane += work

    def _lay_colour_in(
        self, mode: str, rows: slice, columns: slice, mask: Floats, colour: RGBA
    ) -> None:
        """One colour multiplied or screened: W3C's formulas for premultiplied colours, gathered."""
        share = np.multiply(mask, np.float32(colour[3]), out=scratch("share", mask.shape))
        work, room = scratch("work", mask.shape), scratch("keep", mask.shape)
        planes = self.planes[:, rows, columns]
        if mode == "multiply":
            # What of the colour falls where there is nothing beneath to multiply with.
            np.subtract(np.float32(255), planes[3], out=room)
            np.multiply(room, share, out=room)
        for plane, value in zip(planes, (*colour[:3], 1.0), strict=True):
            if mode == "multiply":
                # b (1 - s (1 - c)) + s c (1 - ba)
                np.multiply(share, np.float32(value - 1), out=work)
                work += 1
                plane *= work
                np.multiply(room, np.float32(value), out=work)
            else:
                # b (1 - s c) + s c
                np.multiply(share, np.float32(-value), out=work)
                work += 1
                plane *= work
                np.multiply(share, np.float32(value * 255), out=work)
            plane += work

    def lay_planes(self, rows: slice, columns: slice, mask: Floats, source: list[Floats]) -> None:
        """Premultiplied planes (each broadcastable to the region) through a mask, source-over."""
        self._bare = False
        keep = np.multiply(mask, source[3], out=scratch("keep", mask.shape))
        np.subtract(1, keep, out=keep)
        work = scratch("work", mask.shape)
        for plane, value in zip(self.planes[:, rows, columns], source, strict=True):
            plane *= keep
            np.multiply(mask, value * np.float32(255), out=work)
            plane += work

    def spread(self, alike: Alike, width: int) -> Surface:
        """The whole surface, ``width`` pixels wide, of what was drawn of it."""
        whole = Surface(width, self.height, self.scale, self.left, self.top, False,
                        scratch("whole planes", (4, self.height, width)))
        alike.spread(self.planes, whole.planes)
        whole._bare = self._bare
        return whole

    def to_bytes(self) -> NDArray[np.uint8]:
        """Premultiplied RGBA, shape ``(height, width, 4)``, uint8."""
        return self._packed().view(np.uint8).reshape(self.height, self.width, 4)

    def spread_bytes(self, alike: Alike, width: int) -> NDArray[np.uint8]:
        """:meth:`to_bytes` of the whole surface of what was drawn of it."""
        whole = np.empty((self.height, width), "<u4")
        alike.spread(self._packed(), whole)
        return whole.view(np.uint8).reshape(self.height, width, 4)

    def _packed(self) -> NDArray[np.uint32]:
        work = scratch("work", (self.height, self.width))
        whole = scratch("whole", (self.height, self.width), np.uint32)
        packed = np.empty((self.height, self.width), "<u4")
        # Channels are put together as numbers: storing every fourth byte is slower.
        for channel, shift in ((3, 24), (2, 16), (1, 8), (0, 0)):
            np.add(self.planes[channel], np.float32(0.5), out=work)
            np.copyto(whole.view(np.int32), work, casting="unsafe")
            if shift == 24:
                np.left_shift(whole, np.uint32(shift), out=packed)
                continue
            if shift:
                whole <<= np.uint32(shift)
            packed |= whole
        return packed
