"""How far a layer may reach and how many corners it may have: beyond that it is left out."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from mektel.core.errors import MektelError
from mektel.core.look.look import GroupLook
from mektel.core.shape import AnyOutline, FreeOutline

# Px beyond the control's own origin; corners of all its polygons together.
LARGEST_REACH, MOST_CORNERS = 6000.0, 120_000


class TooLargeError(MektelError):
    """A layer that would reach too far, or has too many corners, to be drawn."""


@dataclass(frozen=True)
class Refused:
    """A layer that a look leaves out, and why."""

    layer: str
    why: str


def check_size(look: Any) -> None:
    """Raises :class:`TooLargeError` for a primitive or group that no picture can hold."""
    _check(look.extent(), _corners(look))


def check_outline(outline: AnyOutline) -> None:
    """Raises :class:`TooLargeError` for a control's outline that no picture can hold."""
    _check((outline.x, outline.y, outline.x + outline.width, outline.y + outline.height),
           _outline_corners(outline))


def _check(extent: tuple[float, ...], count: int) -> None:
    reach = max(map(abs, extent))
    if not math.isfinite(reach) or reach > LARGEST_REACH:
        length = f"{reach:.0f} px" if math.isfinite(reach) else "without end"
        raise TooLargeError(f"it would reach {length}; {LARGEST_REACH:.0f} px from the control is "
                            "the most. Make it smaller, or move it nearer")
    if count > MOST_CORNERS:
        raise TooLargeError(f"its outline has {count} corners; {MOST_CORNERS} is the most")


def _corners(look: Any) -> int:
    if isinstance(look, GroupLook):
        return sum(_corners(member) for member in look.members)
    outlines = [value for value in vars(look).values() if isinstance(value, FreeOutline)]
    return sum(_outline_corners(outline) for outline in outlines)


def _outline_corners(outline: AnyOutline) -> int:
    if not isinstance(outline, FreeOutline):
        return 4
    return (sum(len(ring) // 16 for ring in outline.rings)
            + sum(_outline_corners(join.other) for join in outline.joins))
