"""What QPainter cannot draw, as pictures in nine slices."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QRect, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter

from .design import Design, Part

DENSEST = 3
_decoded: dict[Path, QImage] = {}


def paint_picture(
    painter: QPainter, design: Design, number: int, part: Part, box: QRectF, ratio: float
) -> None:
    """One of the design's pictures, stretched as the box is."""
    picture = design.pictures[number]
    density = min(DENSEST, max(1, round(ratio + 0.4)))
    image = _image(design.folder / "pictures" / f"{picture.file}@{density}x.png")
    if part.get("colour") is not None:
        image = _tinted(image, part["colour"])
    if part.get("file"):
        image = _in_place(part["file"], image)
    x, y, width, height = picture.place
    left, top, right, bottom = picture.slices
    share_x, share_y, share_wide, share_high = picture.follows
    grown_x, grown_y = box.width() - design.size[0], box.height() - design.size[1]
    at_x, at_y = box.x() + x + share_x * grown_x, box.y() + y + share_y * grown_y
    across = (0, left, width - right, width)
    down = (0, top, height - bottom, height)
    wide, high = max(0, width + share_wide * grown_x), max(0, height + share_high * grown_y)
    if (wide, high) == (width, height):
        painter.drawImage(QRectF(at_x, at_y, width, height), image)
        return
    to_x, to_y = (0, left, wide - right, wide), (0, top, high - bottom, high)
    for column in range(3):
        for row in range(3):
            source = QRectF(across[column] * density, down[row] * density,
                            (across[column + 1] - across[column]) * density,
                            (down[row + 1] - down[row]) * density)
            target = QRectF(at_x + to_x[column], at_y + to_y[row],
                            to_x[column + 1] - to_x[column], to_y[row + 1] - to_y[row])
            if not source.isEmpty() and target.width() > 0 and target.height() > 0:
                painter.drawImage(target, image, source)


def _image(path: Path) -> QImage:
    if path not in _decoded:
        _decoded[path] = QImage(str(path)).convertToFormat(
            QImage.Format.Format_ARGB32_Premultiplied)
    return _decoded[path]


def _tinted(mask: QImage, colour: str) -> QImage:
    """A white picture in another colour."""
    image = QImage(mask)
    painter = QPainter(image)
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceIn)
    painter.fillRect(image.rect(), QColor(colour))
    painter.end()
    return image


def _in_place(file: str, form: QImage) -> QImage:
    """Another picture, filling the place of the designed one and keeping its form."""
    image = QImage(file).scaled(form.size(), Qt.AspectRatioMode.KeepAspectRatioByExpanding,
                                Qt.TransformationMode.SmoothTransformation)
    made = QImage(form.size(), QImage.Format.Format_ARGB32_Premultiplied)
    made.fill(Qt.GlobalColor.transparent)
    painter = QPainter(made)
    painter.drawImage((form.width() - image.width()) // 2,
                      (form.height() - image.height()) // 2, image)
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_DestinationIn)
    painter.drawImage(QRect(0, 0, form.width(), form.height()), form)
    painter.end()
    return made
