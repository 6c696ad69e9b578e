"""Gaussian blur of a shape, in whole numbers: QPainter has none."""

from __future__ import annotations

from functools import lru_cache
from math import ceil, exp, floor
from typing import NamedTuple

from .qt import QtCore, QtGui, bytes_of

# Sigmas that a blur reaches; samples in a sigma; the most samples that one is made of.
REACH, FINENESS, MOST_SAMPLES = 3.0, 3.0, 250_000
# What smooth drawing of fewer samples blurs by itself, in squared samples: their own area, and
# the way from one to the next.
DRAWING = 1 / 12 + 1 / 6
BITS, WEIGHT = 32, 4096  # a sample's room in a large number, and the sum of all weights


class Blurred(NamedTuple):
    """A blurred shape: its coverage (Alpha8), and where that lies."""

    mask: QtGui.QImage
    place: QtCore.QRectF


def blurred(path: QtGui.QPainterPath, sigma: float, ratio: float) -> Blurred:
    """A shape's coverage, blurred; ``sigma`` in px, ``ratio`` pixels per px."""
    bounds = path.boundingRect()
    room = REACH * sigma
    area = (bounds.width() + 2 * room) * (bounds.height() + 2 * room)
    finest = (area / MOST_SAMPLES) ** 0.5
    coarse = max(sigma / FINENESS, finest)
    # A blur of hardly a pixel is made of parts of pixels.
    parts = 1 if sigma * ratio >= 2 else 2 if sigma * ratio >= 1 else 4
    step = coarse if coarse > 1 / ratio else 1 / (ratio * parts)
    if step < finest:
        parts, step = 1, max(1 / ratio, finest)
    parts = parts if step < 1 / ratio else 1
    grid = step * parts
    left = floor((bounds.x() - room) / grid - 1) * grid
    top = floor((bounds.y() - room) / grid - 1) * grid
    width = (ceil((bounds.right() + room - left) / grid) + 1) * parts
    width = (width + 3) // 4 * 4  # as rows are laid out: no bytes between them
    height = (ceil((bounds.bottom() + room - top) / grid) + 1) * parts
    mask = QtGui.QImage(width, height, QtGui.QImage.Format.Format_Alpha8)
    mask.fill(0)
    painter = QtGui.QPainter(mask)
    painter.setRenderHint(QtGui.QPainter.RenderHint.Antialiasing)
    painter.scale(1 / step, 1 / step)
    painter.translate(-left, -top)
    painter.fillPath(path, QtCore.Qt.GlobalColor.black)
    painter.end()
    own = DRAWING if step > 1 / ratio * 1.001 else 0.0
    mask = _convolved(mask, max(0.05, (sigma / step) ** 2 - own))
    if parts > 1:
        mask = mask.scaled(
            width // parts, height // parts, QtCore.Qt.AspectRatioMode.IgnoreAspectRatio,
            QtCore.Qt.TransformationMode.SmoothTransformation)
    return Blurred(mask, QtCore.QRectF(left, top, width * step, height * step))


@lru_cache(maxsize=64)
def _weights(variance: float) -> list[int]:
    """A Gaussian's weights from its middle on, whole numbers; with both sides they sum up to
    ``WEIGHT``.
    """
    reach = ceil((REACH + 0.3) * variance**0.5)
    curve = [exp(-at * at / (2 * variance)) for at in range(reach + 1)]
    whole = curve[0] + 2 * sum(curve[1:])
    weights = [round(WEIGHT * value / whole) for value in curve]
    weights[0] += WEIGHT - weights[0] - 2 * sum(weights[1:])
    return weights


def _convolved(mask: QtGui.QImage, variance: float) -> QtGui.QImage:
    """All samples stand in one large number, ``BITS`` for each: a shift moves the picture, a
    product weighs it, and Python does either at once for the whole of it.
    """
    row, height = mask.bytesPerLine(), mask.height()
    count = row * height
    samples = bytearray(count * BITS // 8)
    samples[:: BITS // 8] = bytes_of(mask)
    picture = int.from_bytes(samples, "little")
    weights = _weights(round(variance, 4))
    reach = len(weights) - 1
    for step in (BITS, BITS * row):  # across, then down
        total = picture * weights[0] << step * reach
        for at, weight in enumerate(weights[1:], 1):
            total += ((picture << step * (reach + at)) + (picture << step * (reach - at))) * weight
        picture = total >> step * reach
    picture += int.from_bytes(b"\0\0\x80\0" * count, "little")  # a half, to round
    picture &= (1 << BITS * count) - 1
    made = picture.to_bytes(count * BITS // 8, "little")[3 :: BITS // 8]
    return QtGui.QImage(
        made, mask.width(), height, row, QtGui.QImage.Format.Format_Alpha8).copy()


def tinted(mask: QtGui.QImage, colour: QtGui.QColor) -> QtGui.QImage:
    """A coverage in a colour."""
    image = mask.convertToFormat(QtGui.QImage.Format.Format_ARGB32_Premultiplied)
    painter = QtGui.QPainter(image)
    painter.setCompositionMode(QtGui.QPainter.CompositionMode.CompositionMode_SourceIn)
    painter.fillRect(image.rect(), colour)
    painter.end()
    return image
