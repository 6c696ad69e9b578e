"""Kit + control + state + size + text -> a :class:`Look`: only numbers, in paint order."""

from mektel.core.look.look import (
    FillLook,
    InnerShadowLook,
    LabelLook,
    LayerLook,
    LineLook,
    Look,
    Margins,
    ShadowLook,
)
from mektel.core.look.propose import propose_states
from mektel.core.look.resolve import natural_size, parse_flags, resolve, shared_margins

__all__ = [
    "FillLook", "InnerShadowLook", "LabelLook", "LayerLook", "LineLook", "Look", "Margins",
    "ShadowLook",
    "natural_size", "parse_flags", "propose_states", "resolve", "shared_margins",
]
