"""Text: its font, its lines, and what lies beneath its letters."""

from __future__ import annotations

import math
import re
from collections.abc import Hashable
from itertools import pairwise
from typing import NamedTuple

from .blur import REACH
from .brushes import brush_of
from .design import Design, Part, asset
from .frames import Cache, Same
from .masks import paint_mask
from .outlines import area, lengths
from .qt import QtCore, QtGui
from .shadows import BLACK, paint_soft

EM = 256  # laid out this large, then scaled: no hinting, the same at every density
SMALLEST_FIT = 0.4
_families: dict[str, str] = {}
# Letters and the box that their colours are fitted to; the values that these follow from.
Layout = tuple[QtGui.QPainterPath, QtCore.QRectF]
SET_BY = ("text", "font", "weight", "size", "spacing", "case", "flow", "line_height", "align")
_layouts: Cache[Layout] = Cache(128, lambda _layout: 1)


class Text(NamedTuple):
    """What a control says: without the sign of its mnemonic, and where the letter of that is."""

    shown: str
    mnemonic: int = -1
    # Whether it ends in dots where its room is too small.
    dotted: bool = False


def text_of(text: str, mnemonics: bool) -> Text:
    """A text as buttons have it: an ampersand marks the letter after it, two stand for one."""
    if not mnemonics or "&" not in text:
        return Text(text)
    before = re.match("((?:&&|[^&])*)&[^&]", text)
    return Text(re.sub("&(.?)", r"\1", text, flags=re.DOTALL),
                -1 if before is None else len(before[1].replace("&&", "&")))


def font_of(part: Part, design: Design) -> QtGui.QFont:
    """The label's font from its file."""
    name = part["font"]
    if name not in _families:
        data = asset(design.files, f"fonts/{name}")
        number = QtGui.QFontDatabase.addApplicationFontFromData(QtCore.QByteArray(data))
        families = QtGui.QFontDatabase.applicationFontFamilies(number) if number >= 0 else []
        _families[name] = families[0] if families else ""
    font = QtGui.QFont(_families[name])
    font.setPixelSize(EM)
    font.setWeight(QtGui.QFont.Weight(part["weight"]))
    font.setHintingPreference(QtGui.QFont.HintingPreference.PreferNoHinting)
    if part.get("spacing", 0):
        font.setLetterSpacing(QtGui.QFont.SpacingType.AbsoluteSpacing,
                              part["spacing"] * EM / part["size"])
    return font


def metrics_of(part: Part, design: Design) -> QtGui.QFontMetricsF:
    return QtGui.QFontMetricsF(font_of(part, design))


def text_width(part: Part, text: str, design: Design) -> float:
    """How wide a text is in a label's own size, in px."""
    metrics = metrics_of(part, design)
    lines = shown_text(part, text).split("\n")
    return float(max(map(metrics.horizontalAdvance, lines)) * part["size"] / EM)


def shown_text(part: Part, text: str) -> str:
    return text.upper() if part.get("case") == "capitals" else text


def paint_label(
    painter: QtGui.QPainter, part: Part, box: QtCore.QRectF, padding: float, text: Text,
    design: Design, ratio: float,
) -> None:
    own_area = tuple(part["box"].values()) if "box" in part else None
    key = (Same(design), text, lengths(box), padding, own_area, *(
        part.get(name) for name in SET_BY))
    path, bounds = _layouts.get(key, lambda: _laid_out(part, box, padding, text, design))
    _paint_beneath(painter, part, path, ratio, key)
    painter.fillPath(path, brush_of(part, bounds))


def _laid_out(
    part: Part, box: QtCore.QRectF, padding: float, text: Text, design: Design,
) -> Layout:
    own = part.get("text")
    shown, room = shown_text(part, text.shown if own is None else own), padding
    if "box" in part:
        box, room = area(part["box"], box), 0
    space = box.width() - 2 * room
    flow = part.get("flow", "one-line")
    if flow == "fit":
        wide = text_width(part, shown, design)
        share = max(SMALLEST_FIT, min(1.0, space / wide)) if wide > 0 else 1.0
        part = {**part, "size": part["size"] * share}
    font, share = font_of(part, design), part["size"] / EM
    metrics = QtGui.QFontMetricsF(font)
    lines = broken(shown, space / share, metrics) if flow == "wrap" else shown.split("\n")
    if text.dotted and own is None and flow == "one-line":
        lines = [metrics.elidedText(line, QtCore.Qt.TextElideMode.ElideRight, space / share)
                 for line in lines]
    ascent, descent = metrics.ascent() * share, metrics.descent() * share
    pitch = ascent + descent
    if flow == "wrap":
        pitch = round(part.get("line_height", 1.2) * part["size"])
    top = box.y() + (box.height() - pitch * len(lines)) / 2
    path = QtGui.QPainterPath()
    path.setFillRule(QtCore.Qt.FillRule.WindingFill)
    widest = 0.0
    for at, line in enumerate(lines):
        advance = metrics.horizontalAdvance(line) * share
        x = box.x() + room + _start(part, space - advance)
        # On a whole px: letters are sharp.
        y = math.floor(top + pitch * at + (pitch - ascent - descent) / 2 + ascent + 0.49)
        glyphs = QtGui.QPainterPath()
        glyphs.addText(0, 0, font, line)
        if at == 0 and own is None and 0 <= text.mnemonic < len(line):
            glyphs.addRect(_underline(metrics, line, text.mnemonic))
        path.addPath(QtGui.QTransform(share, 0, 0, share, x, y).map(glyphs))
        widest = max(widest, advance)
    left = box.x() + room + _start(part, space - widest)
    return path, QtCore.QRectF(left, top, widest, pitch * len(lines))


def _underline(metrics: QtGui.QFontMetricsF, line: str, at: int) -> QtCore.QRectF:
    """The line under the letter of a mnemonic."""
    start, end = (metrics.horizontalAdvance(line[:count]) for count in (at, at + 1))
    return QtCore.QRectF(start, metrics.underlinePos(), end - start, metrics.lineWidth())


def has_effects(part: Part) -> bool:
    """Whether anything lies beneath its letters."""
    return bool(part.get("edge", 0) > 0 or part.get("relief", "flat") != "flat"
                or QtGui.QColor(part.get("shadow_colour", "#00000000")).alpha())


def _paint_beneath(
    painter: QtGui.QPainter, part: Part, path: QtGui.QPainterPath, ratio: float, key: Hashable
) -> None:
    """What lies under the letters: their shadow, the light and shade that raise them, a line."""
    edge = part.get("edge", 0)
    if edge > 0:
        stroker = QtGui.QPainterPathStroker()
        stroker.setWidth(2 * edge)
        stroker.setJoinStyle(QtCore.Qt.PenJoinStyle.RoundJoin)
        stroker.setCapStyle(QtCore.Qt.PenCapStyle.RoundCap)
        stroke = stroker.createStroke(path)
        stroke.addPath(path)
        stroke.setFillRule(QtCore.Qt.FillRule.WindingFill)
        path = stroke
    shadow = QtGui.QColor(part.get("shadow_colour", "#00000000"))
    if shadow.alpha():
        dx, dy = part.get("shadow_offset", (0, 1))
        cast, blur = path.translated(dx, dy), part.get("shadow_blur", 2)
        if blur > 0:
            reach = 1 + REACH * blur / 2
            paint_mask(
                painter, cast.boundingRect().adjusted(-reach, -reach, reach, reach), ratio, shadow,
                (key, edge, dx, dy, blur),
                lambda inside: paint_soft(inside, cast, blur / 2, BLACK, ratio))
        else:
            painter.fillPath(cast, shadow)
    relief = part.get("relief", "flat")
    if relief != "flat":
        way = 1 if relief == "raised" else -1
        painter.fillPath(path.translated(0, -way), QtGui.QColor(255, 255, 255, 140))
        painter.fillPath(path.translated(0, way), QtGui.QColor(0, 0, 0, 115))
    if edge > 0:
        painter.fillPath(path, QtGui.QColor(part.get("edge_colour", "#22302F")))


def _start(part: Part, spare: float) -> float:
    if spare < 0:
        return spare / 2
    return spare * {"start": 0.0, "centre": 0.5, "end": 1.0}[part["align"]]


def broken(text: str, room: float, metrics: QtGui.QFontMetricsF) -> list[str]:
    """Lines no longer than ``room`` where the text may be broken: each as long as will go."""
    text = re.sub(r"[ \t\n\r\f]+", " ", text).strip(" ")
    finder = QtCore.QTextBoundaryFinder(QtCore.QTextBoundaryFinder.BoundaryType.Line, text)
    places = [0]
    while (place := finder.toNextBoundary()) > 0:
        places.append(place)
    lines: list[str] = []
    for start, end in pairwise(places):
        unit = text[start:end]
        longer = f"{lines[-1]}{unit}" if lines else unit
        if lines and metrics.horizontalAdvance(longer.rstrip(" ")) <= room:
            lines[-1] = longer
        else:
            lines.append(unit)
    return [line.rstrip(" ") for line in lines] or [""]
