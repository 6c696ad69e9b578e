"""What QPainter cannot draw, as pictures in nine slices."""

from __future__ import annotations

from .design import Design, Part, asset
from .frames import Cache
from .qt import QtCore, QtGui

DENSEST = 3
_decoded: Cache[QtGui.QImage] = Cache(32 << 20, QtGui.QImage.sizeInBytes)


def paint_picture(
    painter: QtGui.QPainter, design: Design, part: Part, box: QtCore.QRectF, ratio: float,
    from_right: bool,
) -> None:
    """One of the design's pictures, stretched as the box is."""
    picture = design.pictures[part["picture"]]
    density = min(DENSEST, max(1, round(ratio + 0.4)))
    image = _image(design, f"pictures/{picture.file}@{density}x.png")
    if part.get("file"):
        image = _in_place(part["file"], image)
    x, y, width, height = picture.place
    left, top, right, bottom = picture.slices
    share_x, share_y, share_wide, share_high = picture.follows
    if from_right:
        x, share_x = round(design.size[0]) - x - width, 1 - share_x - share_wide
    grown_x, grown_y = box.width() - design.size[0], box.height() - design.size[1]
    at_x, at_y = box.x() + x + share_x * grown_x, box.y() + y + share_y * grown_y
    across = (0, left, width - right, width)
    down = (0, top, height - bottom, height)
    wide, high = max(0, width + share_wide * grown_x), max(0, height + share_high * grown_y)
    if (wide, high) == (width, height):
        painter.drawImage(QtCore.QRectF(at_x, at_y, width, height), image)
        return
    to_x, to_y = _places(left, right, wide), _places(top, bottom, high)
    for column in range(3):
        for row in range(3):
            source = QtCore.QRectF(across[column] * density, down[row] * density,
                            (across[column + 1] - across[column]) * density,
                            (down[row + 1] - down[row]) * density)
            target = QtCore.QRectF(at_x + to_x[column], at_y + to_y[row],
                            to_x[column + 1] - to_x[column], to_y[row + 1] - to_y[row])
            if not source.isEmpty() and target.width() > 0 and target.height() > 0:
                painter.drawImage(target, image, source)


def _places(first: float, last: float, length: float) -> tuple[float, float, float, float]:
    """Where slices begin and end; in less room than they need, the ends share it."""
    share = min(1.0, length / max(first + last, 1e-9))
    return 0, first * share, length - last * share, length


def _image(design: Design, name: str) -> QtGui.QImage:
    return _decoded.get(
        (id(design), name), lambda: QtGui.QImage.fromData(asset(design.files, name))
        .convertToFormat(QtGui.QImage.Format.Format_ARGB32_Premultiplied))


def _in_place(file: str, form: QtGui.QImage) -> QtGui.QImage:
    """Another picture, filling the place of the designed one and keeping its form."""
    image = QtGui.QImage(file).scaled(
        form.size(), QtCore.Qt.AspectRatioMode.KeepAspectRatioByExpanding,
        QtCore.Qt.TransformationMode.SmoothTransformation)
    made = QtGui.QImage(form.size(), QtGui.QImage.Format.Format_ARGB32_Premultiplied)
    made.fill(QtCore.Qt.GlobalColor.transparent)
    painter = QtGui.QPainter(made)
    painter.drawImage((form.width() - image.width()) // 2,
                      (form.height() - image.height()) // 2, image)
    painter.setCompositionMode(QtGui.QPainter.CompositionMode.CompositionMode_DestinationIn)
    painter.drawImage(QtCore.QRect(0, 0, form.width(), form.height()), form)
    painter.end()
    return made
