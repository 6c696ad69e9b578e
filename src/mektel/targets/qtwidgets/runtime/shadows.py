"""Gaussian shadows, outside an outline and in it, and blurred letters."""

from __future__ import annotations

from itertools import accumulate
from math import erf, pi, sqrt
from operator import mul

from PySide6.QtCore import QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPainterPath, QTransform

from .design import Design, Part
from .outlines import Outline, grown, moved, path_of

# Sigmas that a blur reaches, and half of that: a blur is two of them.
REACH = 1.5
MOST_IMAGES, MOST_CORNERS = 32, 64
Images = dict[tuple[object, ...], QImage]


def paint_shadow(
    painter: QPainter, part: Part, outline: Outline, hidden: bool, design: Design,
    images: Images, ratio: float,
) -> None:
    """A shadow; ``hidden`` where a face covers what of it lies within the outline."""
    shadow = moved(grown(outline, part["spread"]), *part["offset"])
    if part["blur"] == 0:
        path = path_of(shadow)
        painter.fillPath(path if hidden else path.subtracted(path_of(outline)),
                         QColor(part["colour"]))
        return
    reach = REACH * part["blur"]
    room = shadow.box.adjusted(-reach, -reach, reach, reach).toAlignedRect()
    cut = None if hidden else outline
    key = (shadow.key, part["blur"], part["colour"], ratio, cut and cut.key)
    if key not in images:
        if len(images) > MOST_IMAGES:
            images.clear()
        images[key] = _shadow_image(
            shadow, part["blur"], part["colour"], room, ratio, cut, design)
    painter.drawImage(QRectF(room), images[key])


def paint_inner_shadow(
    painter: QPainter, part: Part, outline: Outline, design: Design, images: Images, ratio: float
) -> None:
    hole = moved(grown(outline, -part["spread"]), *part["offset"])
    if part["blur"] == 0:
        path = path_of(outline)
        path.addPath(path_of(outline).intersected(path_of(hole)))
        path.setFillRule(Qt.FillRule.OddEvenFill)
        painter.fillPath(path, QColor(part["colour"]))
        return
    room = outline.box.toAlignedRect()
    key = ("inner", outline.key, hole.key, part["blur"], part["colour"], ratio)
    if key not in images:
        if len(images) > MOST_IMAGES:
            images.clear()
        light = _shadow_image(hole, part["blur"], "#FFFFFF", room, ratio, None, design)
        image = QImage(light.size(), QImage.Format.Format_ARGB32_Premultiplied)
        image.setDevicePixelRatio(ratio)
        image.fill(Qt.GlobalColor.transparent)
        inside = QPainter(image)
        inside.setRenderHint(QPainter.RenderHint.Antialiasing)
        inside.fillPath(path_of(outline).translated(QPointF(-room.topLeft())),
                        QColor(part["colour"]))
        inside.setCompositionMode(QPainter.CompositionMode.CompositionMode_DestinationOut)
        inside.drawImage(QPointF(0, 0), light)
        inside.end()
        images[key] = image
    painter.drawImage(QRectF(room), images[key])


def _shadow_image(
    shadow: Outline, blur: float, colour: str, room: QRect, ratio: float, cut: Outline | None,
    design: Design,
) -> QImage:
    """A Gaussian shadow of a rounded box at any size: tinted, transparent elsewhere.

    Blurring is linear, and a box's blur is one profile across times one down. So: the profile
    across, multiplied by that down, less what each rounded corner takes away.
    """
    box, rx, ry = shadow
    width, height = round(room.width() * ratio), round(room.height() * ratio)
    mask = QImage(width, height, QImage.Format.Format_RGB32)
    painter = QPainter(mask)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    across = _profile(box.x() - room.x(), box.width(), blur / 2, width, ratio)
    down = _profile(box.y() - room.y(), box.height(), blur / 2, height, ratio)
    whole = QRect(0, 0, width, height)
    painter.drawImage(whole, QImage(across, width, 1, width, QImage.Format.Format_Grayscale8))
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Multiply)
    painter.drawImage(whole, QImage(down, 1, height, 1, QImage.Format.Format_Grayscale8))
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Difference)
    for at in range(4):
        if rx[at] <= 0 or ry[at] <= 0:
            continue
        right, bottom = at in (1, 2), at in (2, 3)
        reach, corner = _corner(rx[at], ry[at], blur, design)
        if right or bottom:
            corner = corner.mirrored(right, bottom)
        x = box.right() - rx[at] - reach if right else box.x() - reach
        y = box.bottom() - ry[at] - reach if bottom else box.y() - reach
        place = QRectF(x - room.x(), y - room.y(), rx[at] + 2 * reach, ry[at] + 2 * reach)
        painter.drawImage(QRectF(place.topLeft() * ratio, place.size() * ratio), corner)
    painter.end()
    image = QImage(width, height, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.white)
    image.setAlphaChannel(mask.convertToFormat(QImage.Format.Format_Grayscale8))
    image.setDevicePixelRatio(ratio)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceIn)
    painter.fillRect(QRectF(0, 0, room.width(), room.height()), QColor(colour))
    if cut is not None:
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_DestinationOut)
        painter.fillPath(path_of(cut).translated(QPointF(-room.topLeft())), Qt.GlobalColor.black)
    painter.end()
    return image


def _profile(start: float, length: float, sigma: float, count: int, ratio: float) -> bytes:
    """A blurred edge, up and down again, in 255ths at the middle of each pixel."""
    width = sigma * sqrt(2)
    middles = ((at + 0.5) / ratio - start for at in range(count))
    return bytes(
        round(127.5 * (erf(at / width) - erf((at - length) / width))) for at in middles)


_corners: dict[tuple[float, ...], tuple[int, QImage]] = {}


def _corner(rx: float, ry: float, blur: float, design: Design) -> tuple[int, QImage]:
    """Reach of the blur and picture of what a rounded corner takes away: shipped, or made here."""
    key = (round(rx, 2), round(ry, 2), round(blur, 2))
    if key not in _corners:
        if len(_corners) > MOST_CORNERS:
            _corners.clear()
        _corners[key] = _shipped_corner(key, design) or _made_corner(rx, ry, blur)
    return _corners[key]


def _shipped_corner(key: tuple[float, ...], design: Design) -> tuple[int, QImage] | None:
    for known, corner in design.corners.items():
        if max(abs(a - b) for a, b in zip(known, key, strict=True)) < 0.01:
            image = QImage(str(design.folder / "pictures" / corner.file))
            if not image.isNull():
                return corner.reach, image.convertToFormat(QImage.Format.Format_RGB32)
    return None


def _made_corner(rx: float, ry: float, blur: float) -> tuple[int, QImage]:
    """A corner of another size than designed: what its arc cuts off a sharp one, blurred.

    In thin rows of what is cut off, each a box, whose Gaussian is one profile across times one
    down.
    """
    reach, density = int(REACH * blur + 0.99), 1 if blur >= 8 else 2
    width, height = (int((r + 2 * reach) * density + 0.5) for r in (rx, ry))
    count = max(1, int(ry * density + 0.5))

    def spans(start: float, end: float, pixels: int) -> list[float]:
        share = blur / sqrt(2)
        at = [(pixel + 0.5) / density - reach for pixel in range(pixels)]
        return [0.5 * (erf((x - start) / share) - erf((x - end) / share)) for x in at]

    rows = []
    for row in range(count):
        away = 1 - (row + 0.5) / count
        rows.append(spans(0, rx * (1 - sqrt(1 - away * away)), width))
    columns = list(zip(*rows, strict=True))
    high = [spans(ry * row / count, ry * (row + 1) / count, height) for row in range(count)]
    content = b"".join(
        bytes(min(255, round(255 * sum(map(mul, weights, column)))) for column in columns)
        for weights in zip(*high, strict=True))
    image = QImage(content, width, height, width, QImage.Format.Format_Grayscale8)
    return reach, image.convertToFormat(QImage.Format.Format_RGB32)


def paint_soft(
    painter: QPainter, path: QPainterPath, sigma: float, colour: QColor, ratio: float
) -> None:
    """A blurred shape of one colour."""
    reach = 3 * sigma + 2
    room = path.boundingRect().adjusted(-reach, -reach, reach, reach).toAlignedRect()
    mask = QImage(room.size() * ratio, QImage.Format.Format_Alpha8)
    mask.fill(0)
    inside = QPainter(mask)
    inside.setRenderHint(QPainter.RenderHint.Antialiasing)
    inside.scale(ratio, ratio)
    inside.translate(-QPointF(room.topLeft()))
    inside.fillPath(path, Qt.GlobalColor.black)
    inside.end()
    for turn in (90, -90):  # along rows, then along columns
        mask = _rows_blurred(mask, sigma * ratio).transformed(QTransform().rotate(turn))
    image = QImage(mask.size(), QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.transparent)
    inside = QPainter(image)
    inside.drawImage(0, 0, mask.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied))
    inside.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceIn)
    inside.fillRect(image.rect(), colour)
    inside.end()
    painter.drawImage(QRectF(room), image)


def _rows_blurred(mask: QImage, sigma: float) -> QImage:
    """Three running averages, which come to a Gaussian (Filter Effects 1, feGaussianBlur)."""
    size = max(1, int(sigma * 3 * sqrt(2 * pi) / 4 + 0.5))
    boxes = [(size, size // 2)] * 3
    if size % 2 == 0:
        boxes = [(size, size // 2), (size, size // 2 - 1), (size + 1, size // 2)]
    out = QImage(mask.size(), QImage.Format.Format_Alpha8)
    width, source = mask.width(), bytes(mask.constBits())
    target = memoryview(out.bits())
    for row in range(mask.height()):
        start = row * mask.bytesPerLine()
        values: list[float] = list(source[start : start + width])
        if any(values):
            for length, before in boxes:
                sums = list(accumulate([0] * before + values + [0] * length, initial=0.0))
                values = [(sums[at + length] - sums[at]) / length for at in range(width)]
        start = row * out.bytesPerLine()
        target[start : start + width] = bytes(round(value) for value in values)
    return out
