"""Fonts, measuring, shaping, and exact glyph coverage."""

from mektel.core.text.fonts import font_file, lacking, licence_file
from mektel.core.text.shaping import Line, shape_line

__all__ = ["Line", "font_file", "lacking", "licence_file", "shape_line"]
