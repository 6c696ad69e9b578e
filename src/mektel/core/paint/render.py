"""A look at any scale, as pixels."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.look import (
    FillLook,
    InnerShadowLook,
    LabelLook,
    LayerLook,
    LineLook,
    Look,
    Margins,
    ShadowLook,
)
from mektel.core.paint import fill, inner_shadow, label, line, shadow
from mektel.core.paint.surface import RGBA, Surface

PAINTERS: dict[type, Callable[[Any, Surface], None]] = {
    ShadowLook: shadow.paint,
    InnerShadowLook: inner_shadow.paint,
    FillLook: fill.paint,
    LineLook: line.paint,
    LabelLook: label.paint,
}


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


def render(look: Look, scale: float = 1.0, margins: Margins | None = None) -> Picture:
    """Draws a look with room round its box: what its pixels need, or the given ``margins``."""
    room = look.margins() if margins is None else margins
    return _render(look, look.layers, scale, room)


def render_layer(look: Look, layer_id: str, scale: float, margins: Margins) -> Picture:
    """One layer of a look alone, in the same bounds as the whole."""
    layers = tuple(layer for layer in look.layers if layer.id == layer_id)
    return _render(look, layers, scale, margins)


def _render(
    look: Look, layers: tuple[LayerLook, ...], scale: float, room: Margins
) -> Picture:
    width = math.ceil((room.left + look.width + room.right) * scale - 1e-6)
    height = math.ceil((room.top + look.height + room.bottom) * scale - 1e-6)
    surface = Surface(width, height, scale, room.left * scale, room.top * scale)
    for layer in layers:
        PAINTERS[type(layer)](layer, surface)
    box = (room.left * scale, room.top * scale, look.width * scale, look.height * scale)
    return Picture(surface.to_bytes(), box, scale)


def on_backdrop(rgba: NDArray[np.uint8], colour: RGBA) -> NDArray[np.uint8]:
    """A premultiplied picture over an opaque or translucent colour, premultiplied, same shape."""
    red, green, blue, alpha = colour
    back = np.array([red * alpha, green * alpha, blue * alpha, alpha], np.float32) * 255
    keep = 1 - rgba[:, :, 3:].astype(np.float32) / 255
    out: NDArray[np.uint8] = (rgba + keep * back + 0.5).astype(np.uint8)
    return out
