"""A control's stretch zones: from the pictures of all its states, or as set by hand."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mektel.core.kit import Control, Kit, Pixels, shown_states
from mektel.core.look import Margins, parse_flags, resolve, shared_margins
from mektel.core.paint import render
from mektel.core.remember import Remembered
from mektel.core.slices.stretch import stretch_zones

# So far may a gradient be from a straight line before stretching it shows.
TOLERANCE = 2
_insets_kept = Remembered(64)


@dataclass(frozen=True)
class Insets:
    """What keeps its form at each side of the box, px; ``smallest`` is the safe size (w, h).

    ``by_hand`` says that the control sets them itself.
    """

    left: float
    top: float
    right: float
    bottom: float
    smallest: tuple[float, float]
    by_hand: bool = False


def picture_insets(pixels: Pixels) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of a given picture that keep their form, in its pixels."""
    zones = stretch_zones([pixels.rgba()], TOLERANCE)
    left, top, right, bottom = zones.insets(pixels.width, pixels.height)
    return float(left), float(top), float(right), float(bottom)


def control_insets(kit: Kit, control: Control) -> Insets:
    """The insets of a control's box within which nothing may be stretched."""
    return _insets_kept.get((kit.palette, kit.assets, control), (), lambda: _insets(kit, control))


def _insets(kit: Kit, control: Control) -> Insets:
    if control.slices is not None:
        left, top, right, bottom = control.slices
        return Insets(left, top, right, bottom, (left + right + 1, top + bottom + 1), True)
    room = shared_margins(kit, control)
    pictures = [
        render(resolve(kit, control, parse_flags(state), text=""), 1.0, room).rgba
        for state in shown_states(control.behaviour)
    ]
    return insets_of(pictures, room)


def insets_of(pictures: list[NDArray[np.uint8]], room: Margins) -> Insets:
    """Insets of a box from pictures of it at one pixel per px, with ``room`` round it."""
    zones = stretch_zones(pictures, TOLERANCE)
    height, width = pictures[0].shape[:2]
    left, top, right, bottom = zones.insets(width, height)
    box = (max(0, left - room.left), max(0, top - room.top),
           max(0, right - room.right), max(0, bottom - room.bottom))
    small = (box[0] + box[2] + (1 if zones.columns else 0),
             box[1] + box[3] + (1 if zones.rows else 0))
    a, b, c, d = map(float, box)
    return Insets(a, b, c, d, (float(small[0]), float(small[1])))
