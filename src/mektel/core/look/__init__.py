"""Kit + control + states + size + text -> a :class:`Pose`: every part with all its values; and a
pose -> a :class:`Look`: only numbers, in paint order.
"""

from mektel.core.kit.conditions import parse_flags
from mektel.core.look.embedding import embeddable, embeds_looks, hosts_of
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
from mektel.core.look.places import label_at
from mektel.core.look.pose import Pose, PosedLayer, pose, problems_of
from mektel.core.look.propose import propose_states
from mektel.core.look.resolve import look_of, natural_size, resolve, shared_margins
from mektel.core.look.settle import Problem, Settled, followed, settle, settled

__all__ = [
    "RGBA",
    "BevelLook",
    "FillLook",
    "Gradient",
    "GroupLook",
    "InnerShadowLook",
    "LabelLook",
    "LayerLook",
    "LensLook",
    "LineLook",
    "Look",
    "Margins",
    "PictureLook",
    "Pose",
    "PosedLayer",
    "Problem",
    "Settled",
    "ShadowLook",
    "StrokeLook",
    "embeddable",
    "embeds_looks",
    "followed",
    "hosts_of",
    "label_at",
    "look_of",
    "natural_size",
    "parse_flags",
    "pose",
    "problems_of",
    "propose_states",
    "resolve",
    "settle",
    "settled",
    "shared_margins",
]
