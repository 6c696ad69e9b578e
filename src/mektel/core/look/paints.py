"""What areas are painted with: one colour, or a gradient whose geometry is all numbers."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import pairwise

RGBA = tuple[float, float, float, float]
ColourStops = tuple[tuple[float, RGBA], ...]
# Between two stops mixed in OKLab, so many plain ones: below one step of 255 apart from it.
STEPS = 12


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


@lru_cache(maxsize=512)
def in_oklab(stops: ColourStops) -> ColourStops:
    """Stops that follow OKLab between the given ones (premultiplied, as CSS Color 4 has it)."""
    mixed: list[tuple[float, RGBA]] = [stops[0]]
    for (at, first), (to, two) in pairwise(stops):
        if to > at:
            a, b = to_oklab(first), to_oklab(two)
            for step in range(1, STEPS):
                share = step / STEPS
                alpha = first[3] + (two[3] - first[3]) * share
                lab = [
                    (p * first[3] * (1 - share) + q * two[3] * share) / alpha if alpha else p
                    for p, q in zip(a, b, strict=True)
                ]
                mixed.append((at + (to - at) * share, (*from_oklab(lab), alpha)))
        mixed.append((to, two))
    return tuple(mixed)


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
