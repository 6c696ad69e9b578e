"""A look -> premultiplied RGBA pixels. One file per layer kind."""

from mektel.core.paint.cost import CostError
from mektel.core.paint.render import (
    Picture,
    on_backdrop,
    picture_size,
    render,
    render_both,
    render_layer,
    render_on,
)

__all__ = [
    "CostError", "Picture", "on_backdrop", "picture_size", "render", "render_both", "render_layer",
    "render_on",
]
