"""PNG files from premultiplied pixels, and back."""

from __future__ import annotations

import io
import os
from collections.abc import Iterable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

Pixels = NDArray[np.uint8]


def straight(rgba: Pixels) -> Pixels:
    """Premultiplied to straight alpha, shape kept."""
    alpha = rgba[:, :, 3]
    out = rgba.copy()
    # Only where something is partly covered is there anything to undo.
    partly = (alpha > 0) & (alpha < 255)
    colour, under = rgba[partly][:, :3].astype(np.uint32), alpha[partly].astype(np.uint32)[:, None]
    out[partly, :3] = np.minimum((colour * 255 + under // 2) // under, 255)
    return out


def premultiplied(rgba: Pixels) -> Pixels:
    alpha = rgba[:, :, 3:].astype(np.uint16)
    colour = (rgba[:, :, :3] * alpha + 127) // 255
    return np.concatenate([colour, alpha], axis=2).astype(np.uint8)


def png_bytes(rgba: Pixels) -> bytes:
    """A PNG (straight alpha, as the format wants) of premultiplied RGBA (h, w, 4)."""
    return _written(straight(rgba))


def _written(pixels: Pixels) -> bytes:
    out = io.BytesIO()
    Image.fromarray(pixels, "RGBA").save(out, "PNG")
    return out.getvalue()


def png_bytes_of(pictures: Iterable[Pixels]) -> list[bytes]:
    """PNGs of straight RGBA, several at a time: the compression runs beside Python."""
    with ThreadPoolExecutor(max_workers=max(2, os.cpu_count() or 2)) as pool:
        return list(pool.map(_written, pictures))


def mask_png_bytes(mask: NDArray[Any]) -> bytes:
    """A grey PNG of a mask (h, w) from 0 to 1."""
    out = io.BytesIO()
    Image.fromarray((mask * 255 + 0.5).astype(np.uint8), "L").save(out, "PNG", optimize=True)
    return out.getvalue()


def pixels_from_png(content: bytes) -> Pixels:
    """Premultiplied RGBA (h, w, 4) of a PNG."""
    with Image.open(io.BytesIO(content)) as picture:
        return premultiplied(np.asarray(picture.convert("RGBA")))
