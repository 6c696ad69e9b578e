"""Places within a control's box, for targets that know of no other.

A layer's places are shares of the box that its outline fills. Where that is a rounded box it is the
control's own; of a star or a joined outline it is smaller or larger.
"""

from __future__ import annotations

from typing import Any

from mektel.core.kit import Area
from mektel.core.shape import AnyOutline, FreeOutline

Pair = tuple[float, float]


def in_box(part: Any, outline: AnyOutline, offset: Pair, size: Pair) -> Any:
    """A layer with its places as shares of the control's box of ``size`` px.

    ``outline`` is the control's at that size, moved by ``offset``.
    """
    fields = type(part).model_fields
    own, box = getattr(part, "outline", None), getattr(part, "box", None)
    spot = getattr(part, "position", None) if "position" in fields else None
    if own is None and box is None and spot is None:
        return part
    if not isinstance(outline, FreeOutline) or outline.width <= 0 or outline.height <= 0:
        return part
    across = ((outline.x - offset[0]) / size[0], outline.width / size[0])
    down = ((outline.y - offset[1]) / size[1], outline.height / size[1])
    changes: dict[str, Any] = {}
    if own is not None:
        changes["outline"] = _placed(own, across, down)
    if box is not None:
        changes["box"] = _placed(box, across, down)
    if spot is not None:
        changes["position"] = (across[0] + spot[0] * across[1], down[0] + spot[1] * down[1])
    return part.model_copy(update=changes)


def _placed(area: Area, across: Pair, down: Pair) -> Any:
    """An area of a box that begins at a share and takes a share of another, as an area of that."""
    return area.model_copy(update={
        "x": (across[0] + area.x[0] * across[1], area.x[1]),
        "y": (down[0] + area.y[0] * down[1], area.y[1]),
        "width": (area.width[0] * across[1], area.width[1]),
        "height": (area.height[0] * down[1], area.height[1]),
    })
