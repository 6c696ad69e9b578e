"""PNG files from premultiplied pixels, and back."""

from __future__ import annotations

import io
import struct
import zlib
from functools import cache

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from mektel.core.remember import within_bytes

Pixels = NDArray[np.uint8]
# zlib's own middle way: a fifth more time than 4, a tenth smaller. The highest takes twice as long
# and is 3 % smaller.
LEVEL, HIGHEST = 6, 9
# Rows whose filter is chosen together, the zlib level that tells which is smaller, and how far zlib
# looks back.
BAND, GUESS, WINDOW = 16, 2, 32768


def straight(rgba: Pixels) -> Pixels:
    """Premultiplied to straight alpha, shape kept."""
    out = np.ascontiguousarray(rgba).copy()
    flat = out.view(np.uint32).ravel()
    alpha = out[:, :, 3].ravel()
    # Only where something is partly covered is there anything to undo.
    partly = np.flatnonzero((alpha > 0) & (alpha < 255))
    pixels = flat[partly].view(np.uint8).reshape(-1, 4)
    row = pixels[:, 3].astype(np.intp) << 8
    for channel in range(3):
        pixels[:, channel] = _undone().take(row + pixels[:, channel])
    flat[partly] = pixels.view(np.uint32).ravel()
    return out


@cache
def _undone() -> Pixels:
    """Every colour over every alpha, rounded: row alpha, column colour."""
    under = np.maximum(np.arange(256, dtype=np.uint32), 1)[:, None]
    colour = np.arange(256, dtype=np.uint32)
    return np.minimum((colour * 255 + under // 2) // under, 255).astype(np.uint8).ravel()


def premultiplied(rgba: Pixels) -> Pixels:
    return np.array(Image.fromarray(rgba).convert("RGBa"))


def png_bytes(rgba: Pixels) -> bytes:
    """A PNG (straight alpha, as the format wants) of premultiplied RGBA (h, w, 4)."""
    return png_of_straight(straight(rgba))


def png_of_straight(pixels: Pixels) -> bytes:
    """A PNG of straight RGBA (h, w, 4); the compression runs beside Python's other threads.

    By PNG (W3C Recommendation, third edition), every row unfiltered: a control's pictures repeat
    rows and colours, and so come out smaller than with a filter for each row, in half the time.
    """
    return _png(pixels.shape, _unfiltered(pixels), LEVEL)


def small_png_of_straight(pixels: Pixels) -> bytes:
    """:func:`png_of_straight` that takes three times as long and is some 6 % smaller: bands of rows
    that are less as differences from the rows above are written as these.
    """
    rows = _unfiltered(pixels)
    as_changes = rows.copy()
    as_changes[:, 0] = 2  # the filter “Up”
    as_changes[1:, 1:] -= rows[:-1, 1:]
    before = b""
    for top in range(0, len(rows), BAND):
        plain, changes = (each[top : top + BAND].tobytes() for each in (rows, as_changes))
        if _packed_length(changes, before) < _packed_length(plain, before):
            plain = changes
            # Rows below are filtered already, so that these may be written over.
            rows[top : top + BAND] = as_changes[top : top + BAND]
        before = plain[-WINDOW:]
    return _png(pixels.shape, rows, HIGHEST)


def _packed_length(raw: bytes, before: bytes) -> int:
    packer = zlib.compressobj(GUESS, zlib.DEFLATED, -15, 9, zlib.Z_DEFAULT_STRATEGY, before)
    return len(packer.compress(raw) + packer.flush())


def _unfiltered(pixels: Pixels) -> Pixels:
    height, width = pixels.shape[:2]
    rows = np.zeros((height, 1 + 4 * width), np.uint8)  # the filter's number before each row
    rows[:, 1:] = pixels.reshape(height, 4 * width)
    return rows


def _png(shape: tuple[int, ...], rows: Pixels, level: int) -> bytes:
    header = struct.pack(">IIBBBBB", shape[1], shape[0], 8, 6, 0, 0, 0)  # eight bits of RGBA
    chunks = ((b"IHDR", header), (b"IDAT", zlib.compress(rows.data, level)), (b"IEND", b""))
    return b"\x89PNG\r\n\x1a\n" + b"".join(
        struct.pack(">I", len(content)) + kind + content
        + struct.pack(">I", zlib.crc32(kind + content)) for kind, content in chunks)


def webp_of_straight(pixels: Pixels) -> bytes:
    """A WebP of straight RGBA (h, w, 4), without loss where anything is seen."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "WEBP", lossless=True, method=4, quality=70)
    return out.getvalue()


@within_bytes(16 * 2**20, len)
def webp_of_png(content: bytes) -> bytes:
    """The pixels of a PNG as a WebP without loss, about half as large."""
    with Image.open(io.BytesIO(content)) as picture:
        return webp_of_straight(np.asarray(picture.convert("RGBA")))


def smallest_png(content: bytes) -> bytes:
    """A PNG of the same pixels with filters and a zlib level that make it small, or as it was."""
    with Image.open(io.BytesIO(content)) as picture:
        out = io.BytesIO()
        picture.save(out, "PNG", optimize=True)
    return min(out.getvalue(), content, key=len)


def pixels_from_png(content: bytes) -> Pixels:
    """Premultiplied RGBA (h, w, 4) of a PNG."""
    with Image.open(io.BytesIO(content)) as picture:
        return premultiplied(np.asarray(picture.convert("RGBA")))
