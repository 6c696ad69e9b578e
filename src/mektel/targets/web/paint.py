"""Colours and gradients in CSS."""

from __future__ import annotations

import math

from mektel.core.kit import Kit, Stop
from mektel.core.kit.layers import Painted
from mektel.targets.web.values import Declarations, hex_colour, number, percent


def background(kit: Kit, part: Painted, width: float, height: float) -> tuple[str, Declarations]:
    """A CSS ``<image>`` or colour for a box of this size (px), and the properties it refers to."""
    if part.style == "solid":
        return "var(--colour)", {"--colour": hex_colour(kit, part.colour)}
    stops = list(part.stops)
    kind = f"{part.style}-gradient"
    if part.spread != "pad":
        kind = f"repeating-{kind}"
        if part.spread == "mirror":
            last = stops[-1].position
            stops += [Stop(position=min(3.0, 2 * last - one.position), colour=one.colour)
                      for one in reversed(stops)]
    how = ""
    if part.style == "radial":
        how = f"{percent(part.reach[0])} {percent(part.reach[1])} at {_at(part)}"
    elif part.style == "conic":
        how = f"from {number(part.angle)}deg at {_at(part)}"
    elif part.ends is not None:
        angle, stops = between_ends(part.ends, stops, width, height)
        how = f"{number(angle)}deg"
    else:
        how = "var(--angle)"
    if part.mixing == "oklab":
        how += " in oklab"
    places = ", ".join(
        f"{hex_colour(kit, stop.colour)} {percent(stop.position)}" for stop in stops)
    declared = {"--stops": places}
    if how.startswith("var(--angle)"):
        declared["--angle"] = f"{number(part.angle)}deg"
    return f"{kind}({how}, var(--stops))", declared


def _at(part: Painted) -> str:
    return f"{percent(part.centre[0])} {percent(part.centre[1])}"


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
