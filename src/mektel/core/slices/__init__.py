"""Stretch zones, and packing pictures into sheets."""

from mektel.core.slices.atlas import Place, SheetSizeError, pack
from mektel.core.slices.control import (
    Insets,
    box_zones,
    control_insets,
    insets_of,
    picture_insets,
)
from mektel.core.slices.held import Span, stretchable
from mektel.core.slices.stretch import StretchZones, stretch_zones

__all__ = [
    "Insets", "Place", "SheetSizeError", "Span", "StretchZones", "box_zones", "control_insets",
    "insets_of", "pack", "picture_insets", "stretch_zones", "stretchable",
]
