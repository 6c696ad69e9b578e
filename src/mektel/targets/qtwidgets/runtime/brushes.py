"""Colours and gradients as brushes."""

from __future__ import annotations

from math import cos, radians, sin

from .design import Part
from .qt import QtCore, QtGui

Stops = list[tuple[float, str]]


def brush_of(part: Part, box: QtCore.QRectF) -> QtGui.QBrush:
    """What a layer is painted with, fitted to a box."""
    if part["style"] == "solid":
        return QtGui.QBrush(QtGui.QColor(part["colour"]))
    if part["style"] == "radial":
        return _radial(part, box)
    if part["style"] == "conic":
        centre = QtCore.QPointF(box.x() + part["centre"][0] * box.width(),
                                box.y() + part["centre"][1] * box.height())
        gradient = QtGui.QConicalGradient(centre, 90 - part["direction"])
        stops = [(1 - at, colour) for at, colour in reversed(_one_turn(part))]
        gradient.setStops([(at, QtGui.QColor(colour)) for at, colour in _apart(stops)])
        return QtGui.QBrush(gradient)
    return _linear(part, box)


def _goes_on(part: Part) -> bool:
    """Whether its stops are repeated, one way or the other, beyond the first and the last."""
    return bool(part.get("spread", "pad") != "pad")


def _radial(part: Part, box: QtCore.QRectF) -> QtGui.QBrush:
    stops = part["stops"]
    last = stops[-1][0] if _goes_on(part) else max(1.0, stops[-1][0])
    placed = QtGui.QTransform.fromTranslate(
        box.x() + part["centre"][0] * box.width(), box.y() + part["centre"][1] * box.height()
    ).scale(part["reach"][0] * box.width(), part["reach"][1] * box.height())
    return _gradient_brush(QtGui.QRadialGradient(0, 0, last), part, 0.0, last, placed)


def _linear(part: Part, box: QtCore.QRectF) -> QtGui.QBrush:
    if "ends" in part:
        x0, y0, x1, y1 = part["ends"]
        start = QtCore.QPointF(box.x() + x0 * box.width(), box.y() + y0 * box.height())
        along = QtCore.QPointF(box.x() + x1 * box.width(), box.y() + y1 * box.height()) - start
    else:
        dx, dy = sin(radians(part["direction"])), -cos(radians(part["direction"]))
        length = abs(box.width() * dx) + abs(box.height() * dy)
        start = box.center() - QtCore.QPointF(dx, dy) * length / 2
        along = QtCore.QPointF(dx, dy) * length
    stops = part["stops"]
    first, last = stops[0][0], stops[-1][0]
    if not _goes_on(part):
        first, last = min(0.0, first), max(1.0, last)
    gradient = QtGui.QLinearGradient(start + along * first, start + along * last)
    return _gradient_brush(gradient, part, first, last, None)


def _gradient_brush(
    gradient: QtGui.QGradient, part: Part, first: float, last: float,
    placed: QtGui.QTransform | None,
) -> QtGui.QBrush:
    stops = [((at - first) / max(last - first, 1e-6), colour) for at, colour in part["stops"]]
    gradient.setStops([(at, QtGui.QColor(colour)) for at, colour in _apart(stops)])
    spread = {"repeat": QtGui.QGradient.Spread.RepeatSpread,
              "mirror": QtGui.QGradient.Spread.ReflectSpread}.get(part.get("spread", "pad"))
    if spread is not None:
        gradient.setSpread(spread)
    brush = QtGui.QBrush(gradient)
    if placed is not None:
        brush.setTransform(placed)
    return brush


def _apart(stops: Stops) -> Stops:
    """Qt keeps one stop per position; a hair apart, two make a crisp edge.

    The earlier gives way, but at the start: Qt looks colours up in a table, and an edge that lies
    past the border of two entries shows an entry later.
    """
    places = [at for at, _ in stops]
    for at in range(len(places) - 2, -1, -1):
        places[at] = min(places[at], max(0.0, places[at + 1] - 1e-6))
    for at in range(1, len(places)):
        places[at] = max(places[at], min(1.0, places[at - 1] + 1e-6))
    return [(at, colour) for at, (_, colour) in zip(places, stops, strict=True)]


def _one_turn(part: Part) -> Stops:
    """The stops of a full turn; repeated ones written out."""
    stops: Stops = part["stops"]
    if not _goes_on(part):
        return stops
    first, last = stops[0][0], stops[-1][0]
    length = max(last - first, 1e-3)
    every: Stops = []
    turns = range(int(-first / length) - 1, int((1 - first) / length) + 1)
    for turn in turns:
        # One that only touches the turn at its end would bring its other colour there.
        if first + turn * length > 1 - 1e-9 or last + turn * length < 1e-9:
            continue
        flip = part["spread"] == "mirror" and turn % 2
        run = [(last - (at - first), c) for at, c in reversed(stops)] if flip else stops
        every += [(at + turn * length, colour) for at, colour in run]
    inside = [(at, colour) for at, colour in every if 0 <= at <= 1]
    return [(0.0, _colour_at(every, 0.0)), *inside, (1.0, _colour_at(every, 1.0))]


def _colour_at(stops: Stops, place: float) -> str:
    """The colour at a place between stops, those on either side mixed."""
    before = max((stop for stop in stops if stop[0] <= place), default=stops[0])
    after = min((stop for stop in stops if stop[0] >= place), default=stops[-1])
    share = (place - before[0]) / max(after[0] - before[0], 1e-9)
    first, second = QtGui.QColor(before[1]), QtGui.QColor(after[1])
    mixed = QtGui.QColor.fromRgbF(*(
        min(1.0, max(0.0, channel + (other - channel) * share)) for channel, other in zip(
            (first.redF(), first.greenF(), first.blueF(), first.alphaF()),
            (second.redF(), second.greenF(), second.blueF(), second.alphaF()), strict=True)))
    return mixed.name(QtGui.QColor.NameFormat.HexArgb)
