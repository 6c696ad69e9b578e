"""What areas are painted with: one colour, or a gradient whose geometry is all numbers."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise

RGBA = tuple[float, float, float, float]
ColourStops = tuple[tuple[float, RGBA], ...]
# Plain stops between two that are mixed in OKLab lie where without them a colour would be off by
# more than this; an interval is halved no more often than this.
OFF, HALVINGS = 0.5 / 255, 6


@dataclass(frozen=True)
class Gradient:
    """Straight sRGB stops along ``linear`` (x0, y0, x1, y1), ``radial`` (cx, cy, rx, ry) or
    ``conic`` (cx, cy, degrees from up, clockwise); lengths in px, ``spread`` beyond 0 and 1.
    ``tile`` (x, y, width, height) is repeated in all directions, as CSS repeats a background."""

    kind: str
    stops: ColourStops
    geometry: tuple[float, ...]
    spread: str = "pad"
    tile: tuple[float, float, float, float] | None = None

    def moved(self, dx: float, dy: float) -> Gradient:
        x, y, *rest = self.geometry
        if self.kind == "linear":
            rest = [rest[0] + dx, rest[1] + dy]
        tile = self.tile and (self.tile[0] + dx, self.tile[1] + dy, *self.tile[2:])
        return replace(self, geometry=(x + dx, y + dy, *rest), tile=tile)

    def scaled(self, scale: float) -> Gradient:
        x, y, *rest = self.geometry
        if self.kind != "conic":
            rest = [value * scale for value in rest]
        tile = self.tile
        if tile is not None:
            tile = (tile[0] * scale, tile[1] * scale, tile[2] * scale, tile[3] * scale)
        return replace(self, geometry=(x * scale, y * scale, *rest), tile=tile)


Paint = RGBA | Gradient


def is_opaque_paint(paint: Paint) -> bool:
    if isinstance(paint, Gradient):
        return all(colour[3] >= 1 for _, colour in paint.stops)
    return paint[3] >= 1


def css_line(angle: float, x: float, y: float, width: float, height: float) -> tuple[float, ...]:
    """Start and end of a gradient's line by angle (CSS Images 4): its ends lie where
    perpendiculars meet the box's corners."""
    turn = math.radians(angle)
    dx, dy = math.sin(turn), -math.cos(turn)
    half = (abs(width * dx) + abs(height * dy)) / 2
    cx, cy = x + width / 2, y + height / 2
    return cx - dx * half, cy - dy * half, cx + dx * half, cy + dy * half


def free_ends(angle: float, width: float, height: float) -> tuple[float, ...]:
    """The ends of a gradient's line by angle, as shares of its box."""
    x0, y0, x1, y1 = css_line(angle, 0.0, 0.0, width, height)
    return tuple(round(v, 4) for v in (x0 / width, y0 / height, x1 / width, y1 / height))


def in_oklab(
    stops: ColourStops, shares: tuple[tuple[float, ...], ...] | None = None
) -> ColourStops:
    """Stops that follow OKLab between the given ones (premultiplied, as CSS Color 4 has it), at
    ``shares`` of the way from each to the next; as many as it takes if these are not given.
    """
    mixed: list[tuple[float, RGBA]] = [stops[0]]
    for (at, first), (to, two), between in zip(
            stops, stops[1:], oklab_shares(stops) if shares is None else shares, strict=False):
        if to > at:
            mixed += [(at + (to - at) * share, _mixed(first, two, share)) for share in between]
        mixed.append((to, two))
    return tuple(mixed)


@lru_cache(maxsize=512)
def oklab_shares(stops: ColourStops) -> tuple[tuple[float, ...], ...]:
    """For each two stops the shares of the way between them at which plain ones are needed."""
    return tuple(tuple(_needed(first, two, 0.0, 1.0, HALVINGS))
                 for (_, first), (_, two) in pairwise(stops))


def _needed(first: RGBA, two: RGBA, start: float, end: float, halvings: int) -> list[float]:
    places = [start + (end - start) * part / 4 for part in range(5)]
    near, *between, far = (_premultiplied(_mixed(first, two, place)) for place in places)
    off = max(abs(a + (b - a) * at / 4 - true) for at, colour in enumerate(between, 1)
              for a, b, true in zip(near, far, colour, strict=True))
    if off <= OFF or not halvings:
        return []
    middle = places[2]
    return [*_needed(first, two, start, middle, halvings - 1), middle,
            *_needed(first, two, middle, end, halvings - 1)]


def _premultiplied(colour: RGBA) -> RGBA:
    red, green, blue, alpha = colour
    return red * alpha, green * alpha, blue * alpha, alpha


@lru_cache(maxsize=4096)
def _mixed(first: RGBA, two: RGBA, share: float) -> RGBA:
    """A colour on the way between two, in OKLab."""
    if share in (0.0, 1.0):
        return two if share else first
    alpha = first[3] + (two[3] - first[3]) * share
    lab = [(p * first[3] * (1 - share) + q * two[3] * share) / alpha if alpha else p
           for p, q in zip(to_oklab(first), to_oklab(two), strict=True)]
    red, green, blue = from_oklab(lab)
    return red, green, blue, alpha


def to_oklab(colour: RGBA) -> list[float]:
    """Straight sRGB to OKLab (Ottosson 2020; CSS Color 4, 9.2)."""
    r, g, b = (
        c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in colour[:3]
    )
    long = (0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b) ** (1 / 3)
    medium = (0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b) ** (1 / 3)
    short = (0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b) ** (1 / 3)
    return [
        0.2104542553 * long + 0.7936177850 * medium - 0.0040720468 * short,
        1.9779984951 * long - 2.4285922050 * medium + 0.4505937099 * short,
        0.0259040371 * long + 0.7827717662 * medium - 0.8086757660 * short,
    ]


def from_oklab(lab: list[float]) -> tuple[float, float, float]:
    """OKLab to straight sRGB, clipped to what it can show."""
    light, a, b = lab
    long = (light + 0.3963377774 * a + 0.2158037573 * b) ** 3
    medium = (light - 0.1055613458 * a - 0.0638541728 * b) ** 3
    short = (light - 0.0894841775 * a - 1.2914855480 * b) ** 3
    linear = (
        4.0767416621 * long - 3.3077115913 * medium + 0.2309699292 * short,
        -1.2684380046 * long + 2.6097574011 * medium - 0.3413193965 * short,
        -0.0041960863 * long - 0.7034186147 * medium + 1.7076147010 * short,
    )
    red, green, blue = (
        min(1.0, max(0.0, 12.92 * c if c <= 0.0031308 else 1.055 * c ** (1 / 2.4) - 0.055))
        for c in linear
    )
    return red, green, blue
