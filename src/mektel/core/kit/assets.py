"""Pictures that a kit carries: checked when read, decoded once."""

from __future__ import annotations

import base64
import binascii
import hashlib
import io
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator, Field

from mektel.core.errors import MektelError

LARGEST_ASSET = 4096 * 4096


class AssetError(MektelError):
    """A picture that cannot be taken; says why."""


@dataclass(frozen=True)
class Pixels:
    """A decoded picture, equal by content: premultiplied RGBA, uint8, shape (height, width, 4)."""

    key: str
    width: int
    height: int

    def rgba(self) -> NDArray[np.uint8]:
        return _decoded[self.key]


_decoded: dict[str, NDArray[np.uint8]] = {}


@lru_cache(maxsize=256)
def pixels_of(png: str) -> Pixels:
    """The picture in base64 PNG (or any still format Pillow reads). Raises :class:`AssetError`."""
    try:
        content = base64.b64decode(png, validate=True)
    except (binascii.Error, ValueError):
        raise AssetError("a picture's content is not base64") from None
    return pixels_from_bytes(content)


def pixels_from_bytes(content: bytes) -> Pixels:
    """Decodes a picture file's content. Raises :class:`AssetError`."""
    from PIL import Image

    key = hashlib.sha256(content).hexdigest()[:24]
    if key not in _decoded:
        try:
            picture = Image.open(io.BytesIO(content), formats=["PNG"])
            width, height = picture.size
            if width * height > LARGEST_ASSET:
                raise AssetError(
                    f"a picture of {width} × {height} pixels is larger than 4096 × 4096"
                )
            straight = np.asarray(picture.convert("RGBA"), np.float32)
        except AssetError:
            raise
        except Exception as error:
            raise AssetError(f"not a PNG picture that can be read: {error}") from None
        straight = straight.copy()
        straight[:, :, :3] *= straight[:, :, 3:] / 255
        _decoded[key] = (straight + 0.5).astype(np.uint8)
    height, width = _decoded[key].shape[:2]
    return Pixels(key, width, height)


def _checked(png: str) -> str:
    try:
        pixels_of(png)
    except AssetError as error:
        raise ValueError(str(error)) from None
    return png


PngData = Annotated[str, Field(max_length=32 * 1024 * 1024), AfterValidator(_checked)]
