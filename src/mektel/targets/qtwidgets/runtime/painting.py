"""Fills, lines, icons and gloss."""

from __future__ import annotations

from math import pi, sin

from .brushes import brush_of
from .design import Part
from .outlines import Outline, grown, path_of
from .qt import QtCore, QtGui

# Of each command of a path.
POINTS = {"M": 1, "L": 1, "C": 3, "Z": 0}
# Lines that an arch is made of.
ARCH = 48
_Mode = QtGui.QPainter.CompositionMode
MODES = {"normal": _Mode.CompositionMode_SourceOver} | {
    mode: getattr(_Mode, f"CompositionMode_{mode.title().replace('-', '')}") for mode in (
        "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
        "hard-light", "soft-light", "difference", "exclusion")}


def paint_fill(
    painter: QtGui.QPainter, part: Part, outline: Outline, grow: float
) -> None:
    painter.fillPath(
        path_of(grown(outline, grow)), brush_of(part, grown(outline, part["expand"]).bounds))


def drawn_in(part: Part, above: list[Part]) -> float:
    """How far a fill reaches beyond its outline, its edge hidden by the layers above."""
    grow: float = part["expand"]
    for line in above:
        if line["kind"] not in ("fill", "line") or not lies_with(part, line):
            continue
        if is_opaque(line) and line["expand"] >= grow:
            return grow - 1  # wholly under another fill
        if line["kind"] != "line":
            continue
        outer = _outer_edge(line)
        if hides_edge(line) and outer - line["width"] <= grow <= outer:
            # Its edge lies under the line: no fringe beside it.
            return float(outer - line["width"] / 2)
    return grow


def hides_edge(line: Part) -> bool:
    """Whether a line covers the edge of what lies beneath it."""
    return (line["style"] == "solid" and QtGui.QColor(line["colour"]).alpha() == 255
            and line.get("opacity", 1) == 1)


def hides(part: Part, above: list[Part]) -> bool:
    """Whether a face above covers what of a shadow lies within the outline."""
    return not part.get("cut") and any(
        is_opaque(layer) and lies_with(part, layer) for layer in above)


def _outer_edge(part: Part) -> float:
    width: float = part["width"]
    side = {"inside": 0.0, "centre": width / 2, "outside": width}[part["place"]]
    return side + float(part["gap"])


def paint_line(painter: QtGui.QPainter, part: Part, outline: Outline) -> None:
    if part["width"] <= 0:
        return
    outer = grown(outline, _outer_edge(part))
    ring, inner = path_of(outer), path_of(grown(outer, -part["width"]))
    if outline.shape is None:
        ring.addPath(inner)
        ring.setFillRule(QtCore.Qt.FillRule.OddEvenFill)
    else:
        ring = ring.subtracted(inner)
    painter.fillPath(ring, brush_of(part, outer.bounds))


def paint_strokes(painter: QtGui.QPainter, part: Part, outline: Outline) -> None:
    """An icon: lines of one width with round ends, about its spot."""
    box = outline.box
    x, y = part["position"]
    share = part["size"] / 24
    spot = QtCore.QPointF(box.x() + x * box.width(), box.y() + y * box.height())
    path = QtGui.QPainterPath()
    values = iter(part["commands"].split())  # as SVG writes a path
    for kind in values:
        points = [spot + QtCore.QPointF(float(next(values)), float(next(values))) * share
                  for _ in range(POINTS[kind])]
        if kind == "M":
            path.moveTo(*points)
        elif kind == "L":
            path.lineTo(*points)
        elif kind == "C":
            path.cubicTo(*points)
        else:
            path.closeSubpath()
    half = part["size"] / 2
    box = QtCore.QRectF(spot.x() - half, spot.y() - half, 2 * half, 2 * half)
    pen = QtGui.QPen(brush_of(part, box), part["width"])
    pen.setCapStyle(QtCore.Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(QtCore.Qt.PenJoinStyle.RoundJoin)
    painter.strokePath(path, pen)


def paint_gloss(painter: QtGui.QPainter, part: Part, outline: Outline) -> None:
    """A band of light within the outline; its lower edge is half an ellipse, or arched."""
    inside = grown(outline, -part["gap"])
    box = inside.bounds
    if box.isEmpty():
        return
    high = max(0.01, part["height"] * box.height())
    half, sag = box.width() / 2, min(high, 2 * part["bulge"] * high)
    band = path_of(Outline(QtCore.QRectF(box.x(), box.y(), box.width(), high),
                           [0, 0, half, half], [0, 0, max(0, sag), max(0, sag)]))
    if sag < 0:
        cut = QtGui.QPainterPath()
        cut.addPolygon(QtGui.QPolygonF([QtCore.QPointF(
            box.x() + 2 * half * at / ARCH, box.y() + high + sag / 2 * sin(pi * at / ARCH))
            for at in range(ARCH + 1)]))
        cut.closeSubpath()
        band = band.subtracted(cut)
    light = QtGui.QLinearGradient(0, box.y(), 0, box.y() + high)
    light.setColorAt(0, QtGui.QColor(part["colour"]))
    faded = QtGui.QColor(part["colour"])
    faded.setAlphaF(faded.alphaF() * part["fade"])
    light.setColorAt(1, faded)
    painter.fillPath(band.intersected(path_of(inside)), QtGui.QBrush(light))


def _is_plain(part: Part) -> bool:
    """Whether a layer lies straight on its outline and covers what is beneath."""
    return (part.get("blend", "normal") == "normal" and not part.get("rotate", 0)
            and part.get("scale", (1, 1)) == (1, 1) and "shape" not in part)


def lies_with(part: Part, other: Part) -> bool:
    """Whether two layers lie plainly on one outline, in one place."""
    return (_is_plain(part) and _is_plain(other) and part.get("own_box") == other.get("own_box")
            and part.get("move", (0, 0)) == other.get("move", (0, 0)))


def is_opaque(part: Part) -> bool:
    if part["kind"] != "fill" or part.get("opacity", 1) < 1 or part["expand"] < 0 or (
            not _is_plain(part)):
        return False
    solid = part["style"] == "solid"
    colours = [part["colour"]] if solid else [colour for _, colour in part["stops"]]
    return all(QtGui.QColor(colour).alpha() == 255 for colour in colours)
