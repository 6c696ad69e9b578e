"""Symbols of our own, and the shipped outline icons."""

from mektel.core.drawings.icons import find_icons, icon_lines, icon_names, icon_paths
from mektel.core.drawings.symbols import SYMBOLS, symbol_contours

__all__ = [
    "SYMBOLS", "find_icons", "icon_lines", "icon_names", "icon_paths", "symbol_contours",
]
