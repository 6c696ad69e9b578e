"""Pictures that a kit carries: their headers are checked when read, pixels decoded when drawn."""

from __future__ import annotations

import base64
import binascii
import hashlib
import io
import re
import threading
from dataclasses import dataclass, field
from typing import Annotated

import cachetools
import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator, Field

from mektel.core.errors import MektelError
from mektel.core.remember import within_bytes

LARGEST_ASSET = 4096 * 4096
MOST_DECODED_BYTES = 256 * 2**20


class AssetError(MektelError):
    """A picture that cannot be taken; says why."""


@dataclass(frozen=True)
class Pixels:
    """A picture, equal by content, decoded when its pixels are asked for."""

    key: str
    width: int
    height: int
    content: bytes = field(compare=False, repr=False)

    def rgba(self) -> NDArray[np.uint8]:
        """Premultiplied RGBA, uint8, shape (height, width, 4), read-only.

        Raises :class:`AssetError` for content that breaks off or is not as its header says.
        """
        with _lock:
            return _decoded(self)


# Every thread that draws asks; decoding is C code that runs beside Python.
_lock = threading.RLock()


@cachetools.cached(cachetools.LRUCache(
    MOST_DECODED_BYTES, getsizeof=lambda rgba: rgba.nbytes), key=lambda pixels: pixels.key)
def _decoded(pixels: Pixels) -> NDArray[np.uint8]:
    from PIL import Image

    try:
        with Image.open(io.BytesIO(pixels.content), formats=["PNG"]) as picture:
            straight = np.array(picture.convert("RGBA"))
    except Exception as error:
        raise AssetError(f"not a PNG picture that can be read: {_reason(error)}") from None
    alpha = straight[:, :, 3:].astype(np.uint16)
    for channel in range(3):
        plane = straight[:, :, channel]
        np.copyto(plane, (plane * alpha[:, :, 0] + 127) // 255, casting="unsafe")
    straight.setflags(write=False)
    return straight


@within_bytes(MOST_DECODED_BYTES, lambda pixels: len(pixels.content))
def pixels_of(png: str) -> Pixels:
    """The picture in base64 PNG. Raises :class:`AssetError`."""
    try:
        content = base64.b64decode(png, validate=True)
    except (binascii.Error, ValueError):
        raise AssetError("a picture's content is not base64") from None
    return pixels_from_bytes(content)


def pixels_from_bytes(content: bytes) -> Pixels:
    """A picture file's size and content; its pixels are decoded when asked for.

    Raises :class:`AssetError` for what is no PNG or too large.
    """
    from PIL import Image

    try:
        with Image.open(io.BytesIO(content), formats=["PNG"]) as picture:
            width, height = picture.size
    except Exception as error:
        raise AssetError(f"not a PNG picture that can be read: {_reason(error)}") from None
    if width * height > LARGEST_ASSET:
        raise AssetError(f"a picture of {width} × {height} pixels is larger than 4096 × 4096")
    return Pixels(hashlib.sha256(content).hexdigest()[:24], width, height, content)


def _reason(error: Exception) -> str:
    """What the library says, without the addresses of its objects."""
    reason = re.sub(r"<[^>]*>", "its content", str(error))
    return reason[:120] or type(error).__name__


def _checked(png: str) -> str:
    try:
        pixels_of(png)
    except AssetError as error:
        raise ValueError(str(error)) from None
    return png


PngData = Annotated[str, Field(max_length=32 * 1024 * 1024), AfterValidator(_checked)]
