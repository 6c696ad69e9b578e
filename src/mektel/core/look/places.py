"""What lies at a place of a look."""

from __future__ import annotations

from typing import Any

from mektel.core.look.look import GroupLook, LabelLook, Look

# px around a text that still count as it.
REACH = 4.0


def label_at(look: Look, x: float, y: float) -> str:
    """The layer of the front text at a place in px of the control, or nothing.

    What is embedded counts as the layer that embeds it.
    """
    return next((layer.id for layer in reversed(look.layers) if _has_text(layer, x, y)), "")


def _has_text(layer: Any, x: float, y: float) -> bool:
    if isinstance(layer, GroupLook):
        if layer.matrix is not None:
            a, b, c, d, e, f = layer.matrix
            area = a * d - b * c
            if abs(area) < 1e-9:
                return False
            x, y = (d * (x - e) - c * (y - f)) / area, (a * (y - f) - b * (x - e)) / area
        return any(_has_text(member, x, y) for member in layer.members)
    if not isinstance(layer, LabelLook):
        return False
    left, top, right, bottom = layer.extent()
    return left - REACH <= x <= right + REACH and top - REACH <= y <= bottom + REACH
