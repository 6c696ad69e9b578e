"""Outlines as signed distance fields."""

from mektel.core.shape.distance import signed_distance
from mektel.core.shape.field import coverage, lost_at_corner
from mektel.core.shape.forms import form_contours
from mektel.core.shape.free import (
    AnyOutline,
    Contour,
    FreeOutline,
    Joined,
    distance_field,
    free,
    from_points,
    polygons,
    thinned,
)
from mektel.core.shape.outline import Outline, outline_for
from mektel.core.shape.polygon import polygon_coverage

__all__ = [
    "AnyOutline", "Contour", "FreeOutline", "Joined", "Outline", "coverage", "distance_field",
    "form_contours", "free", "from_points", "lost_at_corner", "outline_for", "polygon_coverage",
    "polygons", "signed_distance", "thinned",
]
