"""Gaussian blur of a shape, in whole numbers: QPainter has none."""

from __future__ import annotations

from functools import lru_cache
from math import ceil, exp, floor
from typing import NamedTuple

from .frames import Cache
from .qt import QtCore, QtGui, bytes_of

# Sigmas that a blur reaches; samples in a sigma; the most samples that one is made of.
REACH, FINENESS, MOST_SAMPLES = 3.0, 2.5, 120_000
# What smooth drawing of fewer samples blurs by itself, in squared samples: their own area, and
# the way from one to the next.
DRAWING = 1 / 12 + 1 / 6
_tints: Cache[QtGui.QImage] = Cache(8 << 20, QtGui.QImage.sizeInBytes)
BITS, WHOLE = 24, 1 << 16  # a sample's room in a large number, and the sum of all weights


class Blurred(NamedTuple):
    """A blurred shape: its coverage (Alpha8), and where that lies."""

    mask: QtGui.QImage
    place: QtCore.QRectF


def blurred(
    path: QtGui.QPainterPath, sigma: float, ratio: float, symmetric: bool = False
) -> Blurred:
    """A shape's coverage, blurred; ``sigma`` in px, ``ratio`` pixels per px. One that is symmetric
    about both its axes costs less.
    """
    bounds = path.boundingRect()
    room, middle = REACH * sigma, bounds.center()
    area = (bounds.width() + 2 * room) * (bounds.height() + 2 * room)
    finest = (area / (4 * MOST_SAMPLES if symmetric else MOST_SAMPLES)) ** 0.5
    coarse = max(sigma / FINENESS, finest)
    # A blur of hardly a pixel is made of parts of pixels.
    parts = 1 if sigma * ratio >= 2 else 2 if sigma * ratio >= 1 else 4
    step = coarse if coarse > 1 / ratio else 1 / (ratio * parts)
    if step < finest:
        parts, step = 1, max(1 / ratio, finest)
    parts = parts if step < 1 / ratio else 1
    grid = step * parts
    left, top = bounds.x() - room - grid, bounds.y() - room - grid
    if symmetric and step > 1 / ratio:
        left, top = (centre - ceil((centre - start) / step) * step for centre, start in (
            (middle.x(), left), (middle.y(), top)))
    else:
        left, top = floor(left / grid) * grid, floor(top / grid) * grid
    width = (ceil((bounds.right() + room - left) / grid) + 1) * parts
    height = (ceil((bounds.bottom() + room - top) / grid) + 1) * parts
    own = DRAWING if step > 1 / ratio * 1.001 else 0.0
    weights, reach = _weights(round(max(0.05, (sigma / step) ** 2 - own), 4))
    halves = (middle.x() - left) / step, (middle.y() - top) / step
    wide, high = (round(half) for half in halves)
    if symmetric and all(abs(half - round(half)) < 1e-6 and 2 * round(half) % parts == 0
                         and half > 2 * reach for half in halves):
        # Its first quarter, and as much beyond that as a blur reaches.
        mask = _covered(path, left, top, step, wide + 2 * reach, high + 2 * reach, reach)
        mask = _mirrored(_convolved(mask, weights, reach), wide, high)
        width, height = 2 * wide, 2 * high
    else:
        width = (width + 3) // 4 * 4  # as rows are laid out: no bytes between them
        mask = _convolved(_covered(path, left, top, step, width, height, 0), weights, reach)
    if parts > 1:
        mask = mask.scaled(
            width // parts, height // parts, QtCore.Qt.AspectRatioMode.IgnoreAspectRatio,
            QtCore.Qt.TransformationMode.SmoothTransformation)
    return Blurred(mask, QtCore.QRectF(left, top, width * step, height * step))


def _covered(
    path: QtGui.QPainterPath, left: float, top: float, step: float, width: int, height: int,
    free: int,
) -> QtGui.QImage:
    """The coverage of samples, the last columns and rows left free."""
    mask = QtGui.QImage((width + 3) // 4 * 4, height, QtGui.QImage.Format.Format_Alpha8)
    mask.fill(0)
    painter = QtGui.QPainter(mask)
    painter.setRenderHint(QtGui.QPainter.RenderHint.Antialiasing)
    painter.setClipRect(0, 0, width - free, height - free)
    painter.scale(1 / step, 1 / step)
    painter.translate(-left, -top)
    painter.fillPath(path, QtCore.Qt.GlobalColor.black)
    painter.end()
    return mask


def _mirrored(mask: QtGui.QImage, wide: int, high: int) -> QtGui.QImage:
    """A whole of its first quarter."""
    row, samples = mask.bytesPerLine(), bytes_of(mask)
    starts = [samples[at * row : at * row + wide] for at in range(high)]
    rows = [start + start[::-1] for start in starts]
    return QtGui.QImage(b"".join(rows + rows[::-1]), 2 * wide, 2 * high, 2 * wide,
                        QtGui.QImage.Format.Format_Alpha8).copy()


@lru_cache(maxsize=64)
def _weights(variance: float) -> tuple[int, int]:
    """A Gaussian's weights, which sum up to ``WHOLE``, as one number; and how far they reach."""
    reach = ceil((REACH + 0.3) * variance**0.5)
    curve = [exp(-at * at / (2 * variance)) for at in range(-reach, reach + 1)]
    weights = [round(WHOLE * value / sum(curve)) for value in curve]
    weights[reach] += WHOLE - sum(weights)
    return sum(weight << BITS * at for at, weight in enumerate(weights)), reach


def _convolved(mask: QtGui.QImage, weights: int, reach: int) -> QtGui.QImage:
    width, height = mask.width(), mask.height()
    across = _rows_convolved(bytes_of(mask), weights, reach)
    columns = b"".join(across[at::width] for at in range(width))
    down = _rows_convolved(columns, weights, reach)
    made = b"".join(down[at::height] for at in range(height))
    return QtGui.QImage(made, width, height, width, QtGui.QImage.Format.Format_Alpha8).copy()


def _rows_convolved(samples: bytes, weights: int, reach: int) -> bytes:
    """All samples stand in one large number, ``BITS`` for each, and so do all weights: the product
    of the two numbers is the convolution. Between rows there is room for none to reach the next.
    """
    count, size = len(samples), BITS // 8
    spread = bytearray(count * size)
    spread[::size] = samples
    product = int.from_bytes(spread, "little") * weights
    product += int.from_bytes(b"\0\x80\0" * (count + reach), "little")  # a half, to round
    made = product.to_bytes((count + 2 * reach + 1) * size, "little")
    return made[reach * size + size - 1 : (reach + count) * size : size]


def tinted(mask: QtGui.QImage, colour: QtGui.QColor) -> QtGui.QImage:
    """A coverage in a colour."""
    image = mask.convertToFormat(QtGui.QImage.Format.Format_ARGB32_Premultiplied)
    if colour == QtCore.Qt.GlobalColor.black:
        return image
    painter = QtGui.QPainter(image)
    painter.setCompositionMode(QtGui.QPainter.CompositionMode.CompositionMode_SourceIn)
    painter.fillRect(image.rect(), colour)
    painter.end()
    return image


def kept_tint(mask: QtGui.QImage, colour: QtGui.QColor) -> QtGui.QImage:
    """The same, kept for a coverage that is: what only fades keeps its colour from frame to frame.
    """
    return _tints.get((mask.cacheKey(), colour.rgba()), lambda: tinted(mask, colour))
