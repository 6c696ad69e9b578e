"""Stretch zones, and packing pictures into one sheet."""

from mektel.core.slices.atlas import pack
from mektel.core.slices.control import Insets, control_insets, insets_of, picture_insets
from mektel.core.slices.stretch import StretchZones, stretch_zones

__all__ = [
    "Insets", "StretchZones", "control_insets", "insets_of", "pack", "picture_insets",
    "stretch_zones",
]
