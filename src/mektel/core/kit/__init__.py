"""The document: frozen values for kit, palette, control, layer and state."""

from mektel.core.kit.assets import AssetError, Pixels, pixels_from_bytes, pixels_of
from mektel.core.kit.conditions import (
    REST,
    STATES,
    combined_states,
    condition_of,
    designed_states,
    in_order,
    parse_flags,
    shown_states,
    states_of,
)
from mektel.core.kit.document import CONTROL, FORMAT, Asset, Control, Kit, kit_from_data
from mektel.core.kit.forms import Area, Join, Outlined, OwnOutline
from mektel.core.kit.history import History
from mektel.core.kit.layers import (
    BODY,
    KINDS,
    Bevel,
    Body,
    Fill,
    Gloss,
    Glow,
    HeldLook,
    Icon,
    InnerGlow,
    InnerShadow,
    Label,
    Layer,
    Lens,
    Light,
    Line,
    Picture,
    Progress,
    Shadow,
    Symbol,
    measure_of,
    value_names,
)
from mektel.core.kit.palette import Figure, Swatch, TextStyle
from mektel.core.kit.parameters import ArgumentError, Parameter, Variation, arguments_for
from mektel.core.kit.values import Measure, Stop

__all__ = [
    "BODY", "CONTROL", "FORMAT", "KINDS", "REST", "STATES", "Area", "ArgumentError", "Asset",
    "AssetError", "Bevel", "Body", "Control", "Figure", "Fill", "Gloss", "Glow", "HeldLook",
    "History", "Icon", "InnerGlow", "InnerShadow", "Join", "Kit", "Label", "Layer", "Lens", "Light",
    "Line", "Measure", "Outlined", "OwnOutline", "Parameter", "Picture", "Pixels", "Progress",
    "Shadow", "Stop", "Swatch", "Symbol", "TextStyle", "Variation", "arguments_for",
    "combined_states", "condition_of", "designed_states", "in_order", "kit_from_data",
    "measure_of", "parse_flags", "pixels_from_bytes", "pixels_of", "shown_states", "states_of",
    "value_names",
]
