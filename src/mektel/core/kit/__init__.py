"""The document: frozen values for kit, palette, control, layer and state."""

from mektel.core.kit.assets import AssetError, Pixels, pixels_from_bytes, pixels_of
from mektel.core.kit.document import (
    FORMAT,
    REST,
    SHOWN_STATES,
    STATES,
    Asset,
    Control,
    Kit,
    Swatch,
    kit_from_data,
)
from mektel.core.kit.forms import Join, Outlined, OwnOutline
from mektel.core.kit.history import History
from mektel.core.kit.layers import (
    BODY,
    KINDS,
    Bevel,
    Body,
    Fill,
    Gloss,
    Glow,
    Icon,
    InnerGlow,
    InnerShadow,
    Label,
    Layer,
    Lens,
    Light,
    Line,
    Picture,
    Shadow,
    Symbol,
    measure_of,
    value_names,
)
from mektel.core.kit.values import Measure, Stop

__all__ = [
    "BODY", "FORMAT", "KINDS", "REST", "SHOWN_STATES", "STATES", "Asset", "AssetError", "Bevel",
    "Body", "Control", "Fill", "Gloss", "Glow", "History", "Icon", "InnerGlow", "InnerShadow",
    "Join", "Kit", "Label", "Layer", "Lens", "Light", "Line", "Measure", "Outlined", "OwnOutline",
    "Picture", "Pixels", "Shadow", "Stop", "Swatch", "Symbol", "kit_from_data", "measure_of",
    "pixels_from_bytes", "pixels_of", "value_names",
]
