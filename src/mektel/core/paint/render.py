"""A look at any scale, as pixels."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.look import (
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
from mektel.core.paint import (
    bevel,
    fill,
    group,
    inner_shadow,
    label,
    lens,
    line,
    picture,
    shadow,
    stroke,
)
from mektel.core.paint.alike import Alike, alike_columns
from mektel.core.paint.cost import check_cost
from mektel.core.paint.surface import RGBA, Surface
from mektel.core.stopping import check_wanted

PAINTERS: dict[type, Callable[[Any, Surface], None]] = {
    ShadowLook: shadow.paint,
    InnerShadowLook: inner_shadow.paint,
    FillLook: fill.paint,
    LineLook: line.paint,
    StrokeLook: stroke.paint,
    LabelLook: label.paint,
    BevelLook: bevel.paint,
    LensLook: lens.paint,
    PictureLook: picture.paint,
}


def draw(look: LayerLook, surface: Surface) -> None:
    """Lays one layer of a look on a surface."""
    if isinstance(look, GroupLook) and look.passes_through:
        for member in look.members:
            draw(member, surface)
    elif isinstance(look, GroupLook):
        group.paint(look, surface, draw)
    else:
        PAINTERS[type(look)](look, surface)


@dataclass(frozen=True, eq=False)
class Picture:
    """Pixels of a control.

    ``rgba`` is premultiplied, shape ``(height, width, 4)``, uint8. ``box`` is the control's own
    box in pixels: x, y, width, height. ``scale`` is pixels per px.
    """

    rgba: NDArray[np.uint8]
    box: tuple[float, float, float, float]
    scale: float

    @property
    def size(self) -> tuple[int, int]:
        return self.rgba.shape[1], self.rgba.shape[0]


def render(
    look: Look, scale: float = 1.0, margins: Margins | None = None,
    behind: NDArray[np.uint8] | None = None,
) -> Picture:
    """Draws a look with room round its box: what its pixels need, or the given ``margins``.

    ``behind`` is what it stands on, a premultiplied picture of the result's size: then the result
    holds it too, and a lens bends it. Without it, a lens sees only the control's own layers.
    """
    room = look.margins() if margins is None else margins
    return _render(look, look.layers, scale, room, behind)


def render_both(
    blank: Look, full: Look, scale: float, margins: Margins
) -> tuple[Picture, Picture]:
    """Two looks, the second being the first with more in front: what they share is drawn once."""
    same = blank.opacity == full.opacity == 1
    if not same or full.layers[: len(blank.layers)] != blank.layers:
        return render(blank, scale, margins), render(full, scale, margins)
    check_cost(full, scale, margins)
    box = (margins.left * scale, margins.top * scale, full.width * scale, full.height * scale)
    size = picture_size(full, scale, margins)
    surface, alike = _begun(blank.layers, size, scale, margins)
    if alike is not None:
        surface = surface.spread(alike, size[0])
    for layer in blank.layers[alike.layers if alike else 0 :]:
        draw(layer, surface)
    first = Picture(surface.to_bytes(), box, scale)
    for layer in full.layers[len(blank.layers) :]:
        draw(layer, surface)
    return first, Picture(surface.to_bytes(), box, scale)


def render_on(look: Look, scale: float, margins: Margins, behind: bytes) -> Picture:
    """:func:`render` on a backdrop given as premultiplied RGBA bytes of the picture's size."""
    width, height = picture_size(look, scale, margins)
    pixels = np.frombuffer(behind, np.uint8).reshape(height, width, 4)
    return _render(look, look.layers, scale, margins, pixels)


def render_layer(look: Look, layer_id: str, scale: float, margins: Margins) -> Picture:
    """One layer of a look alone, in the same bounds as the whole."""
    layers = tuple(layer for layer in look.layers
                   if layer.id == layer_id)
    return _render(look, layers, scale, margins)


def picture_size(look: Look, scale: float, margins: Margins) -> tuple[int, int]:
    """Width and height in pixels of a look's picture."""
    return (math.ceil((margins.left + look.width + margins.right) * scale - 1e-6),
            math.ceil((margins.top + look.height + margins.bottom) * scale - 1e-6))


def _render(
    look: Look, layers: tuple[LayerLook, ...], scale: float, room: Margins,
    behind: NDArray[np.uint8] | None = None,
) -> Picture:
    check_wanted()
    check_cost(look if layers is look.layers else replace(look, layers=layers), scale, room)
    size = picture_size(look, scale, room)
    box = (room.left * scale, room.top * scale, look.width * scale, look.height * scale)
    if behind is None:
        surface, alike = _begun(layers, size, scale, room)
        if alike is not None:
            if alike.layers == len(layers) and look.opacity >= 1:
                return Picture(surface.spread_bytes(alike, size[0]), box, scale)
            surface = surface.spread(alike, size[0])
            layers = layers[alike.layers :]
    else:
        surface = Surface(*size, scale, box[0], box[1])
        surface.begin_on(behind)
    for layer in layers:
        draw(layer, surface)
    if look.opacity < 1:
        surface.fade(look.opacity, behind)
    return Picture(surface.to_bytes(), box, scale)


def _begun(
    layers: tuple[LayerLook, ...], size: tuple[int, int], scale: float, room: Margins
) -> tuple[Surface, Alike | None]:
    """A surface with those layers from the back that can be drawn in part, and what is alike."""
    left, top = room.left * scale, room.top * scale
    alike = alike_columns(layers, scale, left, size)
    if alike is None:
        return Surface(*size, scale, left, top), None
    surface = Surface(alike.width, size[1], scale, left, top)
    for layer in alike.drawn(layers, (size[0] - alike.width) / scale):
        draw(layer, surface)
    return surface, alike


def on_backdrop(rgba: NDArray[np.uint8], colour: RGBA) -> NDArray[np.uint8]:
    """A premultiplied picture over an opaque or translucent colour, premultiplied, same shape."""
    red, green, blue, alpha = colour
    back = np.array([red * alpha, green * alpha, blue * alpha, alpha], np.float32) * 255
    keep = 1 - np.arange(256, dtype=np.float32)[:, None] / 255
    # What shows of the backdrop, for every alpha; four bytes are fetched at once.
    shows = (keep * back + 0.5).astype(np.uint8).view(np.uint32).ravel()
    out: NDArray[np.uint8] = shows[rgba[:, :, 3]].view(np.uint8).reshape(rgba.shape)
    out += rgba
    return out
