"""Shaping one line of text with HarfBuzz: which glyphs, where, and their outlines."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
import uharfbuzz
from numpy.typing import NDArray

from mektel.core.text.direction import visual_runs
from mektel.core.text.fonts import loaded_font

Points = NDArray[np.float64]
# A quadratic curve of a label glyph in this many chords stays within 0.02 px at 64 px.
CHORDS = 8


@dataclass(frozen=True)
class Line:
    """A shaped line. Lengths in px; outlines have the pen's start on the baseline as origin.

    ``contours`` are closed polygons of shape ``(n, 2)``, y downward, unhinted.
    """

    contours: tuple[Points, ...]
    advance: float
    ascent: float
    descent: float
    missing: tuple[str, ...]
    # What the glyphs cover: left, top, right, bottom; all 0 without glyphs.
    bounds: tuple[float, float, float, float]

    @property
    def height(self) -> float:
        return self.ascent + self.descent


class _FlatteningPen:
    """Takes a glyph's segments and keeps them as polygons."""

    def __init__(self) -> None:
        self.contours: list[Points] = []
        self._points: list[tuple[float, float]] = []

    def moveTo(self, point: tuple[float, float]) -> None:
        self._points = [point]

    def lineTo(self, point: tuple[float, float]) -> None:
        self._points.append(point)

    def qCurveTo(self, control: tuple[float, float], end: tuple[float, float]) -> None:
        (x0, y0), (x1, y1), (x2, y2) = self._points[-1], control, end
        for step in range(1, CHORDS + 1):
            t = step / CHORDS
            a, b, c = (1 - t) ** 2, 2 * t * (1 - t), t * t
            self._points.append((a * x0 + b * x1 + c * x2, a * y0 + b * y1 + c * y2))

    def curveTo(self, control1: Any, control2: Any, end: tuple[float, float]) -> None:
        (x0, y0), (x1, y1), (x2, y2), (x3, y3) = self._points[-1], control1, control2, end
        for step in range(1, CHORDS + 1):
            t = step / CHORDS
            a, b, c, d = (1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t**3
            self._points.append(
                (a * x0 + b * x1 + c * x2 + d * x3, a * y0 + b * y1 + c * y2 + d * y3)
            )

    def closePath(self) -> None:
        if len(self._points) > 2:
            self.contours.append(np.array(self._points))
        self._points = []


@lru_cache(maxsize=2048)
def _glyph(family: str, weight: int, glyph: int) -> tuple[Points, ...]:
    pen = _FlatteningPen()
    loaded_font(family, weight).draw_glyph_with_pen(glyph, pen)
    return tuple(pen.contours)


@lru_cache(maxsize=512)
def shape_line(
    text: str, family: str, weight: int, size: float, spacing: float = 0.0
) -> Line:
    """Shapes ``text`` on one line at ``size`` px per em, with the font's own kerning.

    Ligatures are formed; parts that run from right to left stand and run so. ``spacing`` px follow
    every letter, and then ligatures are not formed, as CSS Text has it. Letters that the font
    does not have are drawn as its missing-glyph box and listed.
    """
    font = loaded_font(family, weight)
    scale = size / font.face.upem
    contours: list[Points] = []
    pen = 0.0
    missing: list[str] = []
    for run in visual_runs(text):
        buffer = uharfbuzz.Buffer()
        # The letters beside a run are given, too: they decide on forms at its ends.
        buffer.add_str(text, run.start, run.end - run.start)
        buffer.guess_segment_properties()
        buffer.direction = "rtl" if run.from_the_right else "ltr"
        uharfbuzz.shape(font, buffer, {"liga": False, "clig": False} if spacing else {})
        for info, position in zip(
            buffer.glyph_infos, buffer.glyph_positions or [], strict=True
        ):
            if info.codepoint == 0:
                missing.append(text[info.cluster])
            at = np.array([pen + position.x_offset, position.y_offset])
            for contour in _glyph(family, weight, info.codepoint):
                contours.append((contour + at) * (scale, -scale))
            pen += position.x_advance + spacing / scale
    extents = font.get_font_extents("ltr")
    return Line(
        tuple(contours),
        pen * scale,
        extents.ascender * scale,
        -extents.descender * scale,
        tuple(dict.fromkeys(missing)),
        _bounds(contours),
    )


def _bounds(contours: list[Points]) -> tuple[float, float, float, float]:
    if not contours:
        return (0.0, 0.0, 0.0, 0.0)
    points = np.concatenate(contours)
    (left, top), (right, bottom) = points.min(axis=0), points.max(axis=0)
    return float(left), float(top), float(right), float(bottom)
