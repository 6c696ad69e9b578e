"""Any outline as a painter's path."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtCore import QPointF
from PySide6.QtGui import QPainterPath

from mektel.core.shape import AnyOutline, Contour


def outline_path(
    outline: AnyOutline, rings: Iterable[Contour], scale: float, middle: QPointF
) -> QPainterPath:
    """The edge of an outline at a scale, the middle of its bounds at a point."""
    x0 = middle.x() - (outline.x + outline.width / 2) * scale
    y0 = middle.y() - (outline.y + outline.height / 2) * scale
    path = QPainterPath()
    for ring in rings:
        for at, (x, y) in enumerate(ring):
            spot = QPointF(x0 + x * scale, y0 + y * scale)
            (path.lineTo if at else path.moveTo)(spot)
        path.closeSubpath()
    return path
