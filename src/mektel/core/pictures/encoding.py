"""Pictures in files: PNG, WebP and JPEG in, PNG out."""

from __future__ import annotations

import io

import numpy as np
from numpy.typing import NDArray

from mektel.core.kit.assets import LARGEST_ASSET, AssetError

Pixels = NDArray[np.uint8]
READ = ("PNG", "WEBP", "JPEG")


def pixels_from_file(content: bytes) -> Pixels:
    """Premultiplied RGBA, (height, width, 4), of a PNG, WebP or JPEG file.

    A picture that says how it is turned (Exif) is turned. Raises :class:`AssetError`.
    """
    from PIL import Image, ImageOps

    try:
        with Image.open(io.BytesIO(content), formats=READ) as picture:
            if picture.width * picture.height > LARGEST_ASSET:
                raise AssetError(f"a picture of {picture.width} × {picture.height} pixels is "
                                 "larger than 4096 × 4096")
            straight = np.array(ImageOps.exif_transpose(picture).convert("RGBA"))
    except AssetError:
        raise
    except Exception:
        raise AssetError("not a picture that can be read; PNG, WebP and JPEG can be") from None
    alpha = straight[:, :, 3:].astype(np.uint16)
    straight[:, :, :3] = (straight[:, :, :3] * alpha + 127) // 255
    return straight


def straight_of(pixels: Pixels) -> Pixels:
    """Straight alpha from premultiplied."""
    alpha = np.maximum(pixels[:, :, 3:].astype(np.uint16), 1)
    colour = np.minimum((pixels[:, :, :3].astype(np.uint16) * 255 + alpha // 2) // alpha, 255)
    return np.concatenate([colour.astype(np.uint8), pixels[:, :, 3:]], axis=2)


def png_of(pixels: Pixels) -> bytes:
    """A PNG of premultiplied pixels."""
    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(straight_of(pixels)).save(out, "PNG")
    return out.getvalue()
