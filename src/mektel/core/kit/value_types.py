"""The kinds of value a kit is made of, each with its check and its limits."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    GetCoreSchemaHandler,
)
from pydantic_core import core_schema

HEX = re.compile(r"#(?:[0-9a-fA-F]{6}|[0-9a-fA-F]{8})")
NAME = re.compile(r"[a-z][a-z0-9]*(?:-[a-z0-9]+)*")
# Sizes above this are a slip of the hand, and would cost gigabytes at 3×.
LARGEST = 2000.0


class Frozen(BaseModel):
    """A value: cannot be changed, refuses fields it does not know."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


@dataclass(frozen=True)
class Measure:
    """How a number is meant: its unit, limits, step and the number of decimals that matter.

    As an annotation of ``float`` it also holds the number to its limits.
    """

    unit: str
    low: float
    high: float
    step: float = 1.0
    decimals: int = 1

    def __get_pydantic_core_schema__(
        self, source: Any, handler: GetCoreSchemaHandler
    ) -> core_schema.CoreSchema:
        return core_schema.float_schema(ge=self.low, le=self.high, allow_inf_nan=False)


def _checked_colour(value: str) -> str:
    if HEX.fullmatch(value):
        return value.upper()
    if NAME.fullmatch(value):
        return value
    raise ValueError(f"“{value}” is neither #RRGGBB, #RRGGBBAA nor the name of a palette colour")


def _checked_name(value: str) -> str:
    if not NAME.fullmatch(value):
        raise ValueError(f"“{value}” must be lower-case letters, digits and single hyphens")
    return value


def _checked_title(value: str) -> str:
    if not value.strip():
        raise ValueError("must not be empty")
    if any(ord(letter) < 32 for letter in value):
        raise ValueError("must not hold line breaks or control characters")
    return value


def _checked_text(value: str) -> str:
    # Neither XML nor a toolkit that takes C strings can hold it.
    if "\0" in value:
        raise ValueError("must not hold the character NUL")
    return value


def _as_tuple(value: Any) -> Any:
    return tuple(value) if isinstance(value, list) else value


Colour = Annotated[str, AfterValidator(_checked_colour)]
Identifier = Annotated[str, Field(max_length=64), AfterValidator(_checked_name)]
Title = Annotated[str, Field(max_length=80), AfterValidator(_checked_title)]
Text = Annotated[str, Field(max_length=200), AfterValidator(_checked_text)]


Length = Annotated[float, Measure("px", 0, LARGEST)]
Thin = Annotated[float, Measure("px", 0, 200, 0.5)]
Shift = Annotated[float, Measure("px", -LARGEST, LARGEST)]
Degrees = Annotated[float, Measure("°", -360, 360)]
Share = Annotated[float, Measure("%", 0, 1, 0.01, 2)]
Position = Annotated[float, Measure("%", -2, 3, 0.01, 3)]
Extent = Annotated[float, Measure("px", 4, LARGEST)]
FontSize = Annotated[float, Measure("px", 4, 400)]
Blur = Annotated[float, Measure("px", 0, 400)]
Spacing = Annotated[float, Measure("px", -20, 100, 0.1)]
Count = Annotated[float, Measure("", 1, 24, 1, 0)]
Points = Annotated[float, Measure("", 3, 24, 1, 0)]
Power = Annotated[float, Measure("", 1, 12, 0.1)]
Factor = Annotated[float, Measure("×", 0.05, 20, 0.05, 2)]
Amount = Annotated[float, Measure("%", 0, 2, 0.01, 2)]
Leaning = Annotated[float, Measure("%", -1, 1, 0.01, 2)]

Pair = Annotated[tuple[Shift, Shift], BeforeValidator(_as_tuple)]
Spot = Annotated[tuple[Position, Position], BeforeValidator(_as_tuple)]
# A radial gradient may be far larger than what it is seen in.
Far = Annotated[float, Measure("%", 0, 10_000, 0.01, 2)]
Reach = Annotated[tuple[Far, Far], BeforeValidator(_as_tuple)]
Factors = Annotated[tuple[Factor, Factor], BeforeValidator(_as_tuple)]
# x0, y0, x1, y1 of a gradient's line, as shares of the box it fills.
Ends = Annotated[tuple[Position, Position, Position, Position], BeforeValidator(_as_tuple)]
# A length that follows a size: share · size + px.
Span = Annotated[tuple[float, Shift], BeforeValidator(_as_tuple)]
Padding = Annotated[tuple[Length, Length], BeforeValidator(_as_tuple)]
Size = Annotated[tuple[Extent, Extent], BeforeValidator(_as_tuple)]
Corners = Annotated[tuple[Length, Length, Length, Length], BeforeValidator(_as_tuple)]
Weight = Literal[400, 500, 600, 700, 800]
# The modes of W3C Compositing and Blending 1, by their names there.
Blend = Literal[
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
    "hard-light", "soft-light", "difference", "exclusion", "hue", "saturation", "color",
    "luminosity",
]


class Stop(Frozen):
    """One colour at one position (0 to 1) along a gradient's line."""

    position: Position
    colour: Colour


def _sorted_stops(stops: tuple[Stop, ...]) -> tuple[Stop, ...]:
    return tuple(sorted(stops, key=lambda stop: stop.position))


Stops = Annotated[
    tuple[Stop, ...], Field(min_length=2, max_length=64), AfterValidator(_sorted_stops)
]
