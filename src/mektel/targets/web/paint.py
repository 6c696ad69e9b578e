"""Gradients in CSS."""

from __future__ import annotations

import math

from mektel.core.kit import Stop
from mektel.core.kit.layers import Painted
from mektel.targets.web.css_values import number, percent


def background(
    part: Painted, width: float, height: float, at: tuple[str, str]
) -> tuple[str, list[tuple[str, str]], float | None]:
    """A gradient as a CSS ``<image>`` for a box of this size (px): it refers to ``--stops`` and,
    where it has a direction of its own, to ``--angle``. Then its stops (colour, place), and the
    angle in degrees. ``at`` is its centre in CSS.
    """
    stops = list(part.stops)
    kind = f"{part.style}-gradient"
    if part.spread != "pad":
        kind = f"repeating-{kind}"
        if part.spread == "mirror":
            last = stops[-1].position
            stops += [Stop(position=min(3.0, 2 * last - stop.position), colour=stop.colour)
                      for stop in reversed(stops)]
    angle = None
    if part.style == "radial":
        form = f"{percent(part.reach[0])} {percent(part.reach[1])} at {at[0]} {at[1]}"
    elif part.style == "conic":
        # Right above the centre Chromium takes another turn's colour: no pixel may lie there.
        form = f"from {number(part.direction)}deg at calc({at[0]} + 0.01px) {at[1]}"
    elif part.ends is not None:
        turned, stops = between_ends(part.ends, stops, width, height)
        form = f"{number(turned)}deg"
    else:
        form, angle = "var(--angle)", part.direction
    if part.mixing == "oklab":
        form += " in oklab"
    return (f"{kind}({form}, var(--stops))",
            [(stop.colour.lower(), percent(stop.position)) for stop in stops], angle)


def between_ends(
    ends: tuple[float, float, float, float], stops: list[Stop], width: float, height: float
) -> tuple[float, list[Stop]]:
    """CSS knows only angles, its line running from corner to corner: the stops are moved on it."""
    x0, y0, x1, y1 = ends[0] * width, ends[1] * height, ends[2] * width, ends[3] * height
    dx, dy = x1 - x0, y1 - y0
    length = max(math.hypot(dx, dy), 1e-6)
    ux, uy = dx / length, dy / length
    whole = abs(width * ux) + abs(height * uy)
    start = ((x0 - width / 2) * ux + (y0 - height / 2) * uy) / whole + 0.5
    moved = [
        Stop.model_construct(position=start + stop.position * length / whole, colour=stop.colour)
        for stop in stops
    ]
    return math.degrees(math.atan2(ux, -uy)) % 360, moved
