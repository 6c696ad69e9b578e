"""Pictures that a drawing carries in itself."""

from __future__ import annotations

import base64
import binascii
import io
import urllib.parse
from collections.abc import Iterable
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from svgelements import Matrix

from mektel.core.kit.assets import LARGEST_ASSET
from mektel.formats.svg import baking
from mektel.formats.svg.drawing import Drawing, Node
from mektel.formats.svg.pieces import Piece
from mektel.formats.svg.sampling import PLACES, asides
from mektel.formats.svg.shapes import NotAShapeError, matrix_of, number, scale_of, to_number

if TYPE_CHECKING:
    from PIL.Image import Image

Floats = NDArray[np.float64]
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
    matrix = matrix_of(node)
    if abs(matrix.b) > 1e-6 or abs(matrix.c) > 1e-6:
        return [_turned(node, straight, matrix, (x, y, width, height))]
    if matrix.a < 0:
        straight = straight.transpose(Image.Transpose.FLIP_LEFT_RIGHT)
    if matrix.d < 0:
        straight = straight.transpose(Image.Transpose.FLIP_TOP_BOTTOM)
    out = io.BytesIO()
    straight.save(out, "PNG")
    (x0, y0), (x1, y1) = _placed(matrix, ((x, y), (x + width, y + height)))
    return [Piece("picture", node, png=out.getvalue(),
                  box=(min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1)))]


def _placed(matrix: Matrix, spots: Iterable[tuple[float, float]]) -> list[tuple[float, float]]:
    placed = (matrix.point_in_matrix_space(spot) for spot in spots)
    return [(float(spot.x), float(spot.y)) for spot in placed]


def _turned(
    node: Node, straight: Image, matrix: Matrix, place: tuple[float, float, float, float]
) -> Piece:
    """A picture in ``place`` (x, y, width, height) that its matrix turns or slants, as one that
    stands upright.
    """
    x, y, width, height = place
    table = np.array([[matrix.a, matrix.c], [matrix.b, matrix.d]], float)
    if abs(np.linalg.det(table)) < 1e-9:
        raise NotAShapeError("its picture has no width or height")
    inverse = np.linalg.inv(table)
    spots = _placed(matrix, ((x, y), (x + width, y), (x, y + height), (x + width, y + height)))
    across, down = zip(*spots, strict=True)
    box = baking.whole_box((min(across), min(down), max(across), max(down)))
    if max(box[2] - box[0], box[3] - box[1]) > baking.LARGEST:
        raise NotAShapeError(f"it is larger than {baking.LARGEST:.0f} px")

    def picture_at(density: float) -> Floats:
        # As many of its pixels as are shown, so that single ones do not flicker.
        finest = density * PLACES * scale_of(node)
        across, down = (max(1, int(side / max(1.0, length * finest)))
                        for side, length in zip(straight.size, (width, height), strict=True))
        own = np.asarray(straight.reduce((across, down))).astype(np.float64) / 255
        own[:, :, :3] *= own[:, :, 3:]
        high, wide = own.shape[:2]
        places = baking.places_of(box, density)
        total = np.zeros((*places.shape[:2], 4))
        for aside in asides(density):
            inner = (places + aside - (float(matrix.e), float(matrix.f))) @ inverse.T
            u, v = (inner[..., 0] - x) / width * wide, (inner[..., 1] - y) / height * high
            inside = (u >= 0) & (u < wide) & (v >= 0) & (v < high)
            for channel in range(4):
                total[..., channel] += inside * ndimage.map_coordinates(
                    own[:, :, channel], (v - 0.5, u - 0.5), order=1, mode="nearest")
        return total / PLACES**2

    return baking.as_piece(node, box, picture_at)
