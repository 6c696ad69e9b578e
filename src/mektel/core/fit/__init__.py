"""A flat picture of a button turned back into layers."""

from mektel.core.fit.reading import Part, Reading, ReadingError, on_ground
from mektel.core.fit.stages import read_picture

__all__ = ["Part", "Reading", "ReadingError", "on_ground", "read_picture"]
