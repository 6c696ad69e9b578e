"""Values as vectors of numbers, so that all of them move alike; and what cannot become one.

Colours are premultiplied sRGB or OKLab, as CSS Color 4 (12.3) mixes them; the stops of a gradient
go one by one; forms of outlines by their numbers, unlike ones by the distance to each.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Any

from mektel.core.kit import Stop
from mektel.core.kit.control import is_colour
from mektel.core.kit.layers import value_names
from mektel.core.look.outlines import Blended
from mektel.core.look.paints import from_oklab, to_oklab
from mektel.core.motion.course import Vector

PAINT = ("style", "stops", "direction", "ends", "centre", "reach", "spread", "mixing")
# Gradients have no more stops than this between two of them, either.
MOST_STOPS = 64
NESTED = 2
Hex = Callable[[str], str]


@dataclass(frozen=True)
class Way:
    """Where a value starts and where it goes, as numbers, and how these become a value again.

    ``space`` tells apart ways whose numbers mean other things.
    """

    start: Vector
    goal: Vector
    back: Callable[[Vector], Any]
    space: Hashable = None


def way_between(name: str, start: Any, goal: Any, hexed: Hex, mixing: str) -> Way | None:
    """A value's way, or None where there is nothing between the two. ``hexed`` looks a colour
    up as #RRGGBB or #RRGGBBAA.
    """
    if is_colour(name):
        return Way(colour_vector(hexed(start), mixing), colour_vector(hexed(goal), mixing),
                   lambda vector: hex_of(vector, mixing), mixing)
    if name == "stops":
        return _stops_way(start, goal, hexed, mixing)
    if _is_number(start) and _is_number(goal):
        return Way((float(start),), (float(goal),), lambda vector: vector[0])
    if _are_numbers(start) and _are_numbers(goal) and len(start) == len(goal):
        return Way(tuple(map(float, start)), tuple(map(float, goal)), lambda vector: vector)
    if name == "outline" and start is not None and goal is not None:
        return outline_way(start, goal)
    return None


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _are_numbers(value: Any) -> bool:
    return isinstance(value, tuple) and bool(value) and all(map(_is_number, value))


def colour_vector(colour: str, mixing: str) -> Vector:
    """A hex colour premultiplied, with its alpha: sRGB or OKLab."""
    digits = colour.lstrip("#")
    red, green, blue = (int(digits[at : at + 2], 16) / 255 for at in (0, 2, 4))
    alpha = int(digits[6:8], 16) / 255 if len(digits) == 8 else 1.0
    axes = to_oklab((red, green, blue, alpha)) if mixing == "oklab" else [red, green, blue]
    return (*(axis * alpha for axis in axes), alpha)


def hex_of(vector: Vector, mixing: str) -> str:
    """The hex colour of premultiplied axes and alpha; what overshoots is clipped."""
    alpha = min(1.0, max(0.0, vector[3]))
    if alpha < 1e-6:
        return "#00000000"
    axes = [axis / vector[3] for axis in vector[:3]]
    rgb = from_oklab(axes) if mixing == "oklab" else axes
    digits = [round(min(1.0, max(0.0, part)) * 255) for part in (*rgb, alpha)]
    return "#" + "".join(f"{digit:02X}" for digit in digits)


def _stops_way(start: Any, goal: Any, hexed: Hex, mixing: str) -> Way | None:
    """Stop by stop; gradients of unlike counts get stops wherever either has one."""
    first = [(stop.position, colour_vector(hexed(stop.colour), "srgb")) for stop in start]
    last = [(stop.position, colour_vector(hexed(stop.colour), "srgb")) for stop in goal]
    if len(first) != len(last):
        places = sorted({at for at, _ in first} | {at for at, _ in last})
        if len(places) > MOST_STOPS:
            return None
        first = [(at, _colour_at(first, at)) for at in places]
        last = [(at, _colour_at(last, at)) for at in places]

    def flat(stops: list[tuple[float, Vector]]) -> Vector:
        return tuple(number for at, colour in stops for number in (at, *colour))

    def back(vector: Vector) -> tuple[Stop, ...]:
        return tuple(
            Stop.model_construct(position=vector[at],
                                 colour=hex_of(vector[at + 1 : at + 5], "srgb"))
            for at in range(0, len(vector), 5))

    return Way(flat(first), flat(last), back)


def _colour_at(stops: list[tuple[float, Vector]], position: float) -> Vector:
    before = [stop for stop in stops if stop[0] <= position]
    after = [stop for stop in stops if stop[0] >= position]
    if not before or not after:
        return (after or before)[0 if after else -1][1]
    (x0, first), (x1, last) = before[-1], after[0]
    share = 0.0 if x1 <= x0 else (position - x0) / (x1 - x0)
    return tuple(a + (b - a) * share for a, b in zip(first, last, strict=True))


def outline_way(start: Any, goal: Any) -> Way:
    """Outlines of one form by their numbers, unlike ones by the distance fields of both."""
    plain = not isinstance(start, Blended) and not isinstance(goal, Blended)
    if plain and _same_form(start, goal):
        names = [name for name in value_names(type(goal)) if _moves(name, start, goal)]
        first = tuple(float(n) for name in names for n in _each(getattr(start, name)))
        last = tuple(float(n) for name in names for n in _each(getattr(goal, name)))

        def back(vector: Vector) -> Any:
            return with_numbers(goal, names, vector)

        return Way(first, last, back, (goal.form, *names))
    if isinstance(start, Blended):
        if start.first == goal or (start.depth >= NESTED and start.share < 0.5):
            return Way((start.share,), (0.0,), start.at, (start.first, start.second))
        if start.second == goal or start.depth >= NESTED:
            return Way((start.share,), (1.0,), start.at, (start.first, start.second))
    between = Blended(start, goal, 0.0)
    return Way((0.0,), (1.0,), between.at, (start, goal))


def _same_form(start: Any, goal: Any) -> bool:
    alike = type(start) is type(goal) and start.form == goal.form and start.joins == goal.joins
    return alike and start.path == goal.path


def _moves(name: str, start: Any, goal: Any) -> bool:
    first, last = getattr(start, name), getattr(goal, name)
    return first != last and all(_is_number(v) or _are_numbers(v) for v in (first, last))


def _each(value: Any) -> tuple[float, ...]:
    return value if isinstance(value, tuple) else (value,)


def with_numbers(part: Any, names: list[str], vector: Vector) -> Any:
    """``part`` with values replaced by a vector's numbers, name by name."""
    values: dict[str, Any] = {}
    at = 0
    for name in names:
        now = getattr(part, name)
        count = len(now) if isinstance(now, tuple) else 1
        values[name] = tuple(vector[at : at + count]) if isinstance(now, tuple) else vector[at]
        at += count
    return part.model_copy(update=values)


def harmonised(now: Any, goal: Any) -> tuple[Any, Any]:
    """Two paints where one is plain: the plain one as the other's gradient of one colour."""
    if not hasattr(goal, "stops") or now.style == goal.style:
        return now, goal
    if now.style == "solid":
        return _as_gradient(now, goal), goal
    if goal.style == "solid":
        return now, _as_gradient(goal, now)
    return now, goal


def _as_gradient(plain: Any, gradient: Any) -> Any:
    stops = tuple(Stop.model_construct(position=stop.position, colour=plain.colour)
                  for stop in gradient.stops)
    return plain.model_copy(
        update={name: getattr(gradient, name) for name in PAINT} | {"stops": stops})


def cover(values: Any, hexed: Hex) -> float:
    """How much of what lies beneath a layer hides, 0 to 1, as far as that is known."""
    if getattr(values, "kind", "") != "fill":
        return 0.0
    colours = ([values.colour] if values.style == "solid"
               else [stop.colour for stop in values.stops])
    return float(values.opacity * min(colour_vector(hexed(c), "srgb")[3] for c in colours))
