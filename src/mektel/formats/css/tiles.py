"""Linear gradients in tiles that repeat: where tiles meet without a seam, one gradient that repeats
looks the same, such as diagonal stripes of a square tile (CSS Backgrounds 3, 3.4).
"""

from __future__ import annotations

import math
from typing import Any

from mektel.core.colour import mixed
from mektel.core.kit import Stop
from mektel.formats.css.tokens import CssError

# Which axes repeat, across and down, by the word for it.
AXES = {"repeat": (True, True), "round": (True, True), "repeat-x": (True, False),
        "repeat-y": (False, True)}
# Parts of the gradient's line that are tried as its period; places at which it is compared, and by
# how much of 255 it may differ there.
MOST_PERIODS, PLACES, ALIKE = 32, 97, 2.0
# Next to nothing, as a share of the line, and in px.
NEAR, HAIR = 1e-4, 1e-3
Line = tuple[float, float, float, float]


def repeated(
    values: dict[str, Any], tile: tuple[float, float], axes: tuple[bool, bool]
) -> tuple[dict[str, Any], Line]:
    """A gradient's values for a tile of so many px, as those of one that repeats along ``axes``,
    and its line (x0, y0, x1, y1) in px from the tile's corner. Raises :class:`CssError` where the
    tiles show.
    """
    if values["style"] != "linear":
        raise CssError("tiles that repeat")
    turn = math.radians(values["direction"])
    along = math.sin(turn), -math.cos(turn)
    by_side = [abs(side * share) for side, share in zip(tile, along, strict=True)]
    length = sum(by_side)
    steps = [by / length for by, repeats in zip(by_side, axes, strict=True)
             if repeats and by > NEAR * length]
    whole = {name: value for name, value in values.items() if name != "direction"}
    share = 1.0
    if steps and values.get("spread") == "repeat":
        stops = values["stops"]
        own = stops[-1].position - stops[0].position
        if own <= NEAR or not _fit(steps, own):
            raise CssError("tiles that repeat")
    elif steps:
        share = _period(values["stops"], steps)
        whole |= {"spread": "repeat", "stops": _first_of(values["stops"], share)}
    # A hair before its place: what lies on the edge of a colour belongs to the next, as in a tile.
    x, y = (side / 2 - part * (length / 2 + HAIR) for side, part in zip(tile, along, strict=True))
    return whole, (x, y, x + along[0] * length * share, y + along[1] * length * share)


def _fit(steps: list[float], period: float) -> bool:
    """Whether each step from tile to tile is so many whole periods."""
    return all(abs(step / period - round(step / period)) < 100 * NEAR for step in steps)


def _period(stops: tuple[Stop, ...], steps: list[float]) -> float:
    """The longest part of the line after which the colours come again."""
    for count in range(1, MOST_PERIODS + 1):
        if _fit(steps, 1 / count) and _comes_again(stops, 1 / count):
            return 1 / count
    raise CssError("tiles that repeat")


def _comes_again(stops: tuple[Stop, ...], period: float) -> bool:
    for at in range(PLACES):
        place = (at + 0.381) / PLACES * (1 - period)
        if place >= 1 - period:
            continue
        here, there = (_numbers(_colour_at(stops, spot)) for spot in (place, place + period))
        if any(abs(one - other) > ALIKE for one, other in zip(here, there, strict=True)):
            return False
    return True


def _first_of(stops: tuple[Stop, ...], period: float) -> tuple[Stop, ...]:
    """The stops of the first period."""
    within = [stop for stop in stops if NEAR < stop.position < period - NEAR]
    return (Stop(position=0, colour=_colour_at(stops, NEAR)),
            *(Stop(position=stop.position / period, colour=stop.colour) for stop in within),
            Stop(position=1, colour=_colour_at(stops, period - NEAR)))


def _colour_at(stops: tuple[Stop, ...], place: float) -> str:
    before = [stop for stop in stops if stop.position <= place]
    after = [stop for stop in stops if stop.position > place]
    if not before or not after:
        return (before[-1] if before else after[0]).colour
    first, last = before[-1], after[0]
    share = (place - first.position) / (last.position - first.position)
    if share < 100 * NEAR or first.colour == last.colour:
        return first.colour
    return last.colour if share > 1 - 100 * NEAR else mixed(
        first.colour, last.colour, 1 - share, share, "srgb")


def _numbers(colour: str) -> tuple[float, ...]:
    """Premultiplied, from 0 to 255."""
    *tones, alpha = bytes.fromhex((colour[1:] + "FF")[:8])
    return (*(tone * alpha / 255 for tone in tones), float(alpha))
