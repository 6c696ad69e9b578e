"""Status lights."""

from __future__ import annotations

from .blur import Blurred, blurred, kept_tint
from .design import Part
from .frames import Cache
from .outlines import lengths
from .qt import QtCore, QtGui

# How bright a lamp is that is not lit; the light of its heart, lit and not; its rim and its ring.
UNLIT, HEART, UNLIT_HEART, RIM = 0.6, 0.7, 0.25, 0.45
RING = QtGui.QColor(0, 0, 0, 89)
_glows: Cache[Blurred] = Cache(8 << 20, lambda blur: blur.mask.sizeInBytes())


def paint_lamp(
    painter: QtGui.QPainter, part: Part, box: QtCore.QRectF, ratio: float
) -> None:
    """A small ball of a colour about its spot, with a glow round it when it is lit."""
    x, y = part["position"]
    half = part["size"] / 2
    spot = QtCore.QPointF(box.x() + x * box.width(), box.y() + y * box.height())
    colour = QtGui.QColor(part["colour"])
    if part["lit"] and part["glow"] > 0:
        disc = _disc(spot, half + 1)
        glow = round(part["glow"] * 8) / 8  # one that swings comes by the same ones again
        key = lengths(disc.boundingRect()), glow, ratio
        mask, place = _glows.get(key, lambda: blurred(disc, glow / 2, ratio))
        painter.drawImage(place, kept_tint(mask, colour))
    shade = QtGui.QRadialGradient(
        spot - QtCore.QPointF(0.24, 0.32) * half, 1.24 * half)
    own = 1.0 if part["lit"] else UNLIT
    shade.setStops([
        (0.0, _towards(colour, own, 1.0, HEART if part["lit"] else UNLIT_HEART)),
        (0.45, _towards(colour, own, 1.0, 0.0)), (1.0, _towards(colour, own, 0.0, RIM))])
    painter.fillPath(_disc(spot, half), QtGui.QBrush(shade))
    ring = _disc(spot, half + 0.5)
    ring.addPath(_disc(spot, half - 0.5))
    ring.setFillRule(QtCore.Qt.FillRule.OddEvenFill)
    painter.fillPath(ring, RING)


def _disc(spot: QtCore.QPointF, radius: float) -> QtGui.QPainterPath:
    path = QtGui.QPainterPath()
    path.addEllipse(spot, radius, radius)
    return path


def _towards(colour: QtGui.QColor, own: float, other: float, share: float) -> QtGui.QColor:
    """A colour of some brightness, mixed with black (0) or white (1)."""
    mixed = (value * own + (other - value * own) * share for value in (
        colour.redF(), colour.greenF(), colour.blueF()))
    red, green, blue = mixed
    return QtGui.QColor.fromRgbF(red, green, blue, colour.alphaF())
