"""Pictures that a drawing carries in itself."""

from __future__ import annotations

import base64
import binascii
import io
import urllib.parse

from mektel.core.kit.assets import LARGEST_ASSET
from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.pieces import Piece
from mektel.formats.svg.shapes import NotAShapeError, matrix_of, number, to_number

READ = ("PNG", "JPEG", "WEBP", "GIF")


def piece_of_image(drawing: Drawing, node: Node) -> list[Piece]:
    """An ``<image>`` as a picture. Raises :class:`NotAShapeError`."""
    from PIL import Image

    text = node.get("href").strip()
    if not text.startswith("data:"):
        raise NotAShapeError("its picture is in another file; embed it in the drawing")
    head, _, body = text.partition(",")
    try:
        content = (base64.b64decode("".join(body.split())) if head.endswith(";base64")
                   else urllib.parse.unquote_to_bytes(body))
        with Image.open(io.BytesIO(content), formats=READ) as picture:
            if picture.width * picture.height > LARGEST_ASSET:
                raise NotAShapeError("its picture is larger than 4096 × 4096 pixels")
            straight = picture.convert("RGBA")
    except NotAShapeError:
        raise
    except (binascii.Error, ValueError, OSError, SyntaxError, Image.DecompressionBombError):
        raise NotAShapeError("its picture cannot be read; PNG, JPEG, WebP and GIF can be") from None
    matrix = matrix_of(node)
    if abs(matrix.b) > 1e-6 or abs(matrix.c) > 1e-6 or min(matrix.a, matrix.d) <= 0:
        raise NotAShapeError("its picture is turned, slanted or mirrored")
    x, y = number(node, "x"), number(node, "y")
    wide, high = straight.size
    width = to_number(node.get("width"), wide)
    height = to_number(node.get("height"), high)
    if width <= 0 or height <= 0:
        return []
    ratio = (node.get("preserveAspectRatio") or "xMidYMid").split()
    if ratio[0] != "none":
        shares = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
        sx, sy = (shares.get(part, 0.5) for part in (ratio[0][1:4], ratio[0][5:8]))
        if "slice" in ratio:
            kept = max(width / wide, height / high)
            cut_x, cut_y = wide - width / kept, high - height / kept
            left, top = round(cut_x * sx), round(cut_y * sy)
            straight = straight.crop((left, top, left + max(1, round(width / kept)),
                                      top + max(1, round(height / kept))))
        else:
            kept = min(width / wide, height / high)
            x, y = x + (width - wide * kept) * sx, y + (height - high * kept) * sy
            width, height = wide * kept, high * kept
    out = io.BytesIO()
    straight.save(out, "PNG")
    corner = matrix.point_in_matrix_space((x, y))
    end = matrix.point_in_matrix_space((x + width, y + height))
    return [Piece("picture", node, png=out.getvalue(),
                  box=(float(corner.x), float(corner.y), float(end.x), float(end.y)))]
