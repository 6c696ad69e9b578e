"""Pictures that stand in a sheet itself (``data:`` URLs): drawings become layers. Nothing is
fetched.
"""

from __future__ import annotations

import base64
import binascii
from typing import Any
from urllib.parse import unquote_to_bytes

from mektel.formats.css.tokens import CssError
from mektel.formats.svg.drawing import DrawingError
from mektel.formats.svg.within import Natural, layers_within, natural_size

LARGEST_URL = 200_000
SQUARE = (0.0,) * 4


def url_in(token: Any) -> str | None:
    """The address that a token gives, or None where it is no URL."""
    if token.type == "url":
        return str(token.value)
    if token.type == "function" and token.lower_name == "url":
        return next((str(part.value) for part in token.arguments if part.type == "string"), "")
    return None


def drawing_in(url: str) -> bytes:
    """The SVG of a ``data:`` URL (RFC 2397). Raises :class:`CssError` for anything else."""
    head, comma, body = url.partition(",")
    if not head.lower().startswith("data:") or not comma:
        raise CssError("a picture from elsewhere: nothing is fetched; import it by itself")
    if "svg+xml" not in head.lower():
        raise CssError("a picture of pixels in the sheet: save it as a file and import that")
    if len(body) > LARGEST_URL:
        raise CssError(f"a picture of more than {LARGEST_URL // 1000} kB in the sheet")
    content = unquote_to_bytes(body)
    if ";base64" not in head.lower():
        return content
    try:
        return base64.b64decode(content, validate=False)
    except (binascii.Error, ValueError):
        raise CssError("a picture whose base64 breaks off") from None


def size_of(content: bytes) -> Natural:
    try:
        return natural_size(content, "the picture")
    except (DrawingError, ValueError) as error:
        raise CssError(str(error)) from None


def layers_of(
    content: bytes, size: tuple[float, float]
) -> tuple[list[dict[str, Any]], list[str]]:
    """The layers of a drawing in a box of ``size`` px, with their outlines in it."""
    try:
        layers, skipped = layers_within(content, size, "the picture")
    except DrawingError as error:
        raise CssError(str(error)) from None
    whole = {"form": "box", "corners": SQUARE, "x": (0.0, 0.0), "y": (0.0, 0.0),
             "width": (1.0, 0.0), "height": (1.0, 0.0)}
    return [layer | {"outline": layer.get("outline") or whole} for layer in layers], skipped


def drawn_size(
    asked: tuple[float | None, float | None] | str, natural: Natural, box: tuple[float, float]
) -> tuple[float, float]:
    """How large it is in px: two lengths, None for ``auto``, or ``contain`` or ``cover`` (CSS
    Backgrounds 3, 3.9; CSS Images 3, 5.3).
    """
    width, height, ratio = natural
    if isinstance(asked, tuple) and asked != (None, None):
        across, down = asked
        if down is None:
            assert across is not None
            return across, across / ratio if ratio else height or box[1]
        if across is None:
            return down * ratio if ratio else width or box[0], down
        return across, down
    if asked not in ("contain", "cover") and width and height:
        return width, height
    if not ratio:
        return width or box[0], height or box[1]
    fits = min(box[0], box[1] * ratio), max(box[0], box[1] * ratio)
    across = fits[asked == "cover"]
    return across, across / ratio
