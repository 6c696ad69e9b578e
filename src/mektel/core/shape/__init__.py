"""Outlines as signed distance fields."""

from mektel.core.shape.field import coverage, signed_distance
from mektel.core.shape.outline import Outline, outline_for

__all__ = ["Outline", "coverage", "outline_for", "signed_distance"]
