"""The canvas that layers are laid on: premultiplied float planes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
RGBA = tuple[float, float, float, float]


class Surface:
    """Premultiplied sRGB planes of shape ``(4, height, width)``, float32, from 0 to 1.

    ``scale`` is device pixels per px; ``left`` and ``top`` say where the control's box begins, in
    pixels. Layers hand in outlines in px and get them back in pixels by ``to_pixels``.
    """

    def __init__(self, width: int, height: int, scale: float, left: float, top: float) -> None:
        self.width, self.height = width, height
        self.scale, self.left, self.top = scale, left, top
        self.planes: Floats = np.zeros((4, height, width), np.float32)

    def region(self, x0: float, y0: float, x1: float, y1: float) -> tuple[slice, slice]:
        """The (rows, columns) of whole pixels that a box in pixels touches, within the canvas."""
        rows = slice(max(0, int(np.floor(y0))), max(0, min(self.height, int(np.ceil(y1)))))
        columns = slice(max(0, int(np.floor(x0))), max(0, min(self.width, int(np.ceil(x1)))))
        return rows, columns

    def lay_colour(self, rows: slice, columns: slice, mask: Floats, colour: RGBA) -> None:
        """One straight-alpha colour through a mask, source-over."""
        red, green, blue, alpha = colour
        if alpha <= 0:
            return
        share = mask * np.float32(alpha) if alpha < 1 else mask
        keep = 1 - share
        for plane, value in zip(self.planes[:, rows, columns], (red, green, blue, 1), strict=True):
            plane *= keep
            if value > 0:
                plane += share * np.float32(value) if value < 1 else share

    def lay_planes(self, rows: slice, columns: slice, mask: Floats, source: list[Floats]) -> None:
        """Premultiplied planes (each broadcastable to the region) through a mask, source-over."""
        keep = 1 - mask * source[3]
        for plane, value in zip(self.planes[:, rows, columns], source, strict=True):
            plane *= keep
            plane += mask * value

    def to_bytes(self) -> NDArray[np.uint8]:
        """Premultiplied RGBA, shape ``(height, width, 4)``, uint8."""
        out = np.empty((self.height, self.width, 4), np.uint8)
        work = np.empty((self.height, self.width), np.float32)
        for channel in range(4):
            np.multiply(self.planes[channel], np.float32(255), out=work)
            work += np.float32(0.5)
            out[:, :, channel] = work
        return out
