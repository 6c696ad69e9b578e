"""Kit + control + state + size + text -> a :class:`Look`: only numbers, in paint order."""

from mektel.core.kit.conditions import parse_flags
from mektel.core.look.holding import held_ids, holdable, holders, holds_looks, whose
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
from mektel.core.look.resolve import natural_size, resolve, shared_margins
from mektel.core.look.settle import Problem, Settled, followed, settle, settled

__all__ = [
    "RGBA", "BevelLook", "FillLook", "Gradient", "GroupLook", "InnerShadowLook", "LabelLook",
    "LayerLook", "LensLook", "LineLook", "Look", "Margins", "PictureLook", "Problem", "Settled",
    "ShadowLook", "StrokeLook", "followed", "held_ids", "holdable", "holders", "holds_looks",
    "natural_size",
    "parse_flags", "propose_states",
    "resolve", "settle", "settled", "shared_margins", "whose",
]
