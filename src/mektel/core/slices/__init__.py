"""Stretch zones, and packing pictures into one sheet."""

from mektel.core.slices.atlas import pack
from mektel.core.slices.stretch import StretchZones, stretch_zones

__all__ = ["StretchZones", "pack", "stretch_zones"]
