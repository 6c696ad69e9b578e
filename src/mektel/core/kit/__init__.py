"""The document: frozen values for kit, palette, control, layer and state."""

from mektel.core.kit.document import (
    FORMAT,
    REST,
    SHOWN_STATES,
    STATES,
    Control,
    Kit,
    Swatch,
    kit_from_data,
)
from mektel.core.kit.history import History
from mektel.core.kit.layers import (
    BODY,
    KINDS,
    Body,
    Fill,
    InnerShadow,
    Label,
    Layer,
    Line,
    Shadow,
    measure_of,
    value_names,
)
from mektel.core.kit.values import Measure, Stop

__all__ = [
    "BODY", "FORMAT", "KINDS", "REST", "SHOWN_STATES", "STATES", "Body", "Control", "Fill",
    "History", "InnerShadow", "Kit", "Label", "Layer", "Line", "Measure", "Shadow", "Stop",
    "Swatch",
    "kit_from_data", "measure_of", "value_names",
]
