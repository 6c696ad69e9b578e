"""Comparing pictures; measuring contrast."""

from mektel.core.proof.compare import Difference, difference, difference_picture
from mektel.core.proof.contrast import LabelContrast, label_contrast

__all__ = ["Difference", "LabelContrast", "difference", "difference_picture", "label_contrast"]
