"""A control's stretch zones: from the pictures of all its states, or as set by hand."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mektel.core.kit import Control, Kit, Pixels, shown_states
from mektel.core.look import Margins, parse_flags, resolve, shared_margins
from mektel.core.paint import render
from mektel.core.remember import Remembered
from mektel.core.slices.held import Span, stretchable
from mektel.core.slices.stretch import StretchZones, stretch_zones

# So far may a gradient be from a straight line before stretching it shows; and fewer px than these
# are the flattest part of something round, which would get straight sides.
TOLERANCE, FEWEST = 2, 4
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
        width, height = control.size
        left, top = min(left, width), min(top, height)
        right, bottom = min(right, width - left), min(bottom, height - top)
        return Insets(left, top, right, bottom, (
            min(left + right + 1, width), min(top + bottom + 1, height)), True)
    room = shared_margins(kit, control)
    pictures = [
        render(resolve(kit, control, parse_flags(state), text=""), 1.0, room).rgba
        for state in shown_states(control.behaviour)
    ]
    return insets_of(pictures, room, control.size, stretchable(kit, control))


def insets_of(
    pictures: list[NDArray[np.uint8]], room: Margins, size: tuple[float, float],
    spans: tuple[Span, Span],
) -> Insets:
    """Insets of a box of ``size`` px from pictures of it at one pixel per px, ``room`` round it,
    stretched within ``spans``.
    """
    zones = box_zones(pictures, room, size, 1, spans, TOLERANCE)
    columns, rows = (zone if zone and zone[1] >= FEWEST else None
                     for zone in (zones.columns, zones.rows))
    left, right = _sides(columns, size[0])
    top, bottom = _sides(rows, size[1])
    return Insets(left, top, right, bottom, (
        left + right + (1 if columns else 0), top + bottom + (1 if rows else 0)))


def box_zones(
    pictures: list[NDArray[np.uint8]], room: Margins, size: tuple[float, float], density: int,
    spans: tuple[Span, Span], tolerance: int = 0,
) -> StretchZones:
    """Stretch zones within ``spans`` (px) of a box, in pixels from its top left; the room round it
    takes part.
    """
    starts, ends = [], []
    for side, length, span in zip((room.left, room.top), size, spans, strict=True):
        corner = round(side * density)
        starts.append(corner + math.ceil(max(0.0, span.start) * density - 1e-6)
                      if span.start < length else corner)
        ends.append(corner + math.floor(min(length, span.end) * density + 1e-6)
                    if span.end > 0 else corner)
    zones = stretch_zones(pictures, tolerance, (*starts, *ends))  # type: ignore[arg-type]
    corner_x, corner_y = round(room.left * density), round(room.top * density)
    return StretchZones(_shifted(zones.columns, starts[0] - corner_x),
                        _shifted(zones.rows, starts[1] - corner_y))


def _shifted(zone: tuple[int, int] | None, by: int) -> tuple[int, int] | None:
    return zone and (zone[0] + by, zone[1])


def _sides(zone: tuple[int, int] | None, length: float) -> tuple[float, float]:
    """What lies before and behind a zone; all of it before where there is none."""
    if zone is None:
        return float(length), 0.0
    start, count = zone
    return float(start), max(0.0, float(length) - start - count)
