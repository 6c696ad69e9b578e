"""A look -> premultiplied RGBA pixels. One file per layer kind."""

from mektel.core.paint.cost import CostError, estimated_seconds
from mektel.core.paint.render import (
    Picture,
    on_backdrop,
    picture_size,
    render,
    render_both,
    render_layer,
    render_on,
)
from mektel.core.paint.surface import forget_scratch

__all__ = [
    "CostError", "Picture", "estimated_seconds", "forget_scratch", "on_backdrop", "picture_size",
    "render", "render_both", "render_layer", "render_on",
]
