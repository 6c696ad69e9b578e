"""Kit + control + state + size + text -> a :class:`Look`: only numbers, in paint order."""

from mektel.core.look.look import (
    BevelLook,
    FillLook,
    GroupLook,
    InnerShadowLook,
    LabelLook,
    LayerLook,
    LensLook,
    LineLook,
    Look,
    Margins,
    PictureLook,
    ShadowLook,
    StrokeLook,
)
from mektel.core.look.paints import RGBA, Gradient
from mektel.core.look.propose import propose_states
from mektel.core.look.resolve import natural_size, parse_flags, resolve, shared_margins

__all__ = [
    "RGBA", "BevelLook", "FillLook", "Gradient", "GroupLook", "InnerShadowLook", "LabelLook",
    "LayerLook", "LensLook", "LineLook", "Look", "Margins", "PictureLook", "ShadowLook",
    "StrokeLook", "natural_size", "parse_flags", "propose_states", "resolve", "shared_margins",
]
