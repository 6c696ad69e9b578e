"""The paths of what moves, over the picture of it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QLineF, QPointF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from mektel.app.theme import theme
from mektel.core.motion.trails import Trail

# Light under dark: a path is seen on any ground.
CASING = QColor(255, 255, 255, 210)
# Dots nearer to each other than this (px) would run together.
APART = 3.5


def paint_trails(painter: QPainter, trails: Sequence[Trail]) -> None:
    """Lines with a dot for each moment; a ring where a path begins."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink = QColor(theme().second)
    for trail in trails:
        spots = [QPointF(x, y) for x, y in trail.spots]
        path = QPolygonF(spots)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for colour, width in ((CASING, 3.0), (ink, 1.0)):
            painter.setPen(QPen(colour, width))
            painter.drawPolyline(path)
        dots = spots[:1]
        for spot in spots[1:]:
            if QLineF(dots[-1], spot).length() >= APART:
                dots.append(spot)
        painter.setPen(Qt.PenStyle.NoPen)
        for colour, more in ((CASING, 1.0), (ink, 0.0)):
            painter.setBrush(colour)
            for spot in dots[1:]:
                painter.drawEllipse(spot, 1.4 + more, 1.4 + more)
        painter.setBrush(CASING)
        painter.setPen(QPen(ink, 1.5))
        painter.drawEllipse(spots[0], 3.0, 3.0)
