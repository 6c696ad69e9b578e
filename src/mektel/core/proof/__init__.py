"""Comparing pictures; measuring contrast; finding what is wrong in a kit."""

from mektel.core.proof.compare import (
    Difference,
    LocalDifference,
    difference,
    difference_picture,
    largest_difference,
    local_difference,
    mean_difference,
    opaque_part,
)
from mektel.core.proof.contrast import LabelContrast, label_contrast, state_contrasts
from mektel.core.proof.contrast_mends import (
    ReadableColour,
    readable_colours,
    with_label_colour,
)
from mektel.core.proof.findings import codes, findings, findings_of

__all__ = [
    "Difference",
    "LabelContrast",
    "LocalDifference",
    "ReadableColour",
    "codes",
    "difference",
    "difference_picture",
    "findings",
    "findings_of",
    "label_contrast",
    "largest_difference",
    "local_difference",
    "mean_difference",
    "opaque_part",
    "readable_colours",
    "state_contrasts",
    "with_label_colour",
]
