"""A look -> premultiplied RGBA pixels. One file per layer kind."""

from mektel.core.paint.render import Picture, on_backdrop, render, render_layer

__all__ = ["Picture", "on_backdrop", "render", "render_layer"]
