"""Text: its font, its lines, and what lies beneath its letters."""

from __future__ import annotations

import math
import re
from itertools import pairwise
from pathlib import Path

from PySide6.QtCore import QRectF, Qt, QTextBoundaryFinder
from PySide6.QtGui import (
    QColor,
    QFont,
    QFontDatabase,
    QFontMetricsF,
    QPainter,
    QPainterPath,
    QPainterPathStroker,
    QTransform,
)

from .brushes import brush_of
from .design import Part
from .outlines import area
from .shadows import paint_soft

EM = 256  # laid out this large, then scaled: no hinting, the same at every density
SMALLEST_FIT = 0.4
_families: dict[str, str] = {}


def font_of(part: Part, folder: Path) -> QFont:
    """The label's font from the folder beside its module; without it the family of that name."""
    name = part["font"]
    if name not in _families:
        number = QFontDatabase.addApplicationFont(str(folder / "fonts" / name))
        families = QFontDatabase.applicationFontFamilies(number) if number >= 0 else []
        _families[name] = families[0] if families else part["family"]
    font = QFont(_families[name])
    font.setPixelSize(EM)
    font.setWeight(QFont.Weight(part["weight"]))
    font.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    if part.get("spacing", 0):
        font.setLetterSpacing(QFont.SpacingType.AbsoluteSpacing,
                              part["spacing"] * EM / part["size"])
    return font


def metrics_of(part: Part, folder: Path) -> QFontMetricsF:
    return QFontMetricsF(font_of(part, folder))


def text_width(part: Part, text: str, folder: Path) -> float:
    """How wide a text is in a label's own size, in px."""
    advance = metrics_of(part, folder).horizontalAdvance(shown_text(part, text))
    return float(advance * part["size"] / EM)


def shown_text(part: Part, text: str) -> str:
    return text.upper() if part.get("case") == "capitals" else text


def paint_label(
    painter: QPainter, part: Part, box: QRectF, padding: float, text: str, folder: Path,
    ratio: float,
) -> None:
    shown = shown_text(part, part.get("text", text))
    room = padding
    if "box" in part:
        box, room = area(part["box"], box), 0
    space = box.width() - 2 * room
    flow = part.get("flow", "one-line")
    if flow == "fit":
        wide = text_width(part, part.get("text", text), folder)
        share = max(SMALLEST_FIT, min(1.0, space / wide)) if wide > 0 else 1.0
        part = {**part, "size": part["size"] * share}
    metrics, share = metrics_of(part, folder), part["size"] / EM
    lines = broken(shown, space / share, metrics) if flow == "wrap" else [shown]
    ascent, descent = metrics.ascent() * share, metrics.descent() * share
    pitch = ascent + descent
    if flow == "wrap":
        pitch = round(part.get("line_height", 1.2) * part["size"])
    top = box.y() + (box.height() - pitch * len(lines)) / 2
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    widest = 0.0
    for at, line in enumerate(lines):
        advance = metrics.horizontalAdvance(line) * share
        x = box.x() + room + _start(part, space - advance)
        # On a whole px: letters are sharp.
        y = math.floor(top + pitch * at + (pitch - ascent - descent) / 2 + ascent + 0.49)
        glyphs = QPainterPath()
        glyphs.addText(0, 0, font_of(part, folder), line)
        path.addPath(QTransform(share, 0, 0, share, x, y).map(glyphs))
        widest = max(widest, advance)
    left = box.x() + room + _start(part, space - widest)
    _paint_beneath(painter, part, path, ratio)
    painter.fillPath(path, brush_of(part, QRectF(left, top, widest, pitch * len(lines))))


def has_effects(part: Part) -> bool:
    """Whether anything lies beneath its letters."""
    return bool(part.get("edge", 0) > 0 or part.get("relief", "flat") != "flat"
                or QColor(part.get("shadow_colour", "#00000000")).alpha())


def _paint_beneath(painter: QPainter, part: Part, path: QPainterPath, ratio: float) -> None:
    """What lies under the letters: their shadow, the light and shade that raise them, a line."""
    edge = part.get("edge", 0)
    if edge > 0:
        stroker = QPainterPathStroker()
        stroker.setWidth(2 * edge)
        stroker.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        stroker.setCapStyle(Qt.PenCapStyle.RoundCap)
        stroke = stroker.createStroke(path)
        stroke.addPath(path)
        stroke.setFillRule(Qt.FillRule.WindingFill)
        path = stroke
    shadow = QColor(part.get("shadow_colour", "#00000000"))
    if shadow.alpha():
        dx, dy = part.get("shadow_offset", (0, 1))
        cast, blur = path.translated(dx, dy), part.get("shadow_blur", 2)
        if blur > 0:
            paint_soft(painter, cast, blur / 2, shadow, ratio)
        else:
            painter.fillPath(cast, shadow)
    relief = part.get("relief", "flat")
    if relief != "flat":
        way = 1 if relief == "raised" else -1
        painter.fillPath(path.translated(0, -way), QColor(255, 255, 255, 140))
        painter.fillPath(path.translated(0, way), QColor(0, 0, 0, 115))
    if edge > 0:
        painter.fillPath(path, QColor(part.get("edge_colour", "#22302F")))


def _start(part: Part, spare: float) -> float:
    if spare < 0:
        return spare / 2
    return spare * {"start": 0.0, "centre": 0.5, "end": 1.0}[part["align"]]


def broken(text: str, room: float, metrics: QFontMetricsF) -> list[str]:
    """Lines no longer than ``room`` where the text may be broken: each as long as will go."""
    text = re.sub(r"[ \t\n\r\f]+", " ", text).strip(" ")
    finder = QTextBoundaryFinder(QTextBoundaryFinder.BoundaryType.Line, text)
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
