"""What `sprites.json` says: the models it is written from, and its JSON Schema.

Lengths are in px from the top left of the control's box, pictures and sheets in pixels; a density
is the number of pixels in a px.
"""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

FORMAT = 2
SCHEMA = "sprites.schema.json"
Pair = tuple[float, float]
Four = tuple[float, float, float, float]


class Described(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Region(Described):
    """Where a picture lies on a sheet: `at` is x, y, width and height there. Its transparent border
    is cut off; `offset` says how many pixels of that lay at its left and top.
    """

    sheet: str
    at: tuple[int, int, int, int]
    offset: tuple[int, int]


class Repeat(Described):
    """Columns and rows of the box, as start and length in pixels, that can be repeated or left out
    without any change; null where an axis has none.
    """

    columns: tuple[int, int] | None
    rows: tuple[int, int] | None


class Density(Described):
    """The pictures at one density. `size` is that of every whole picture, box and margins."""

    size: tuple[int, int]
    pictures: dict[str, Region]
    repeat: Repeat
    files: Annotated[dict[str, str], Field(
        default={}, description="Pictures of their own by look, text included; on request.")]


class Pass(Described):
    """A copy of the glyphs that is drawn beneath the text: its shadow, its line, its relief.

    `grow` is how far its edge lies outside the glyphs, `blur` the standard deviation of a
    Gaussian, both px.
    """

    offset: Pair
    colour: str
    grow: float = 0.0
    blur: float = 0.0


class Stops(Described):
    """A linear gradient between two points, as (position, colour)."""

    start: Pair
    end: Pair
    stops: tuple[tuple[float, str], ...]


class Text(Described):
    """A label, and how a text of your own is set in its place.

    One line stands on the baseline of `pen`; `align` says where in `room` (left, top, right,
    bottom) it begins. With `flow` `wrap` lines are broken at the width of `room`, `line_height` px
    apart, about the middle of the `lines` as designed; with `fit` it gets smaller where it is
    wider than that.
    """

    layer: str
    text: str
    follows: Annotated[bool, Field(description="Whether it is the control's own text.")]
    picture: Annotated[str | None, Field(
        description="The picture of the text as designed, laid over the face; null where that is "
                    "only in `whole`.")]
    font: str
    family: str
    weight: int
    size: float
    spacing: float
    capitals: bool
    flow: Literal["one-line", "wrap", "fit"]
    line_height: float
    lines: int = 1
    align: Literal["start", "centre", "end"]
    pen: Pair
    room: Four
    colour: str
    gradient: Stops | None = None
    beneath: tuple[Pass, ...] = ()
    opacity: float = 1.0
    matrix: Annotated[tuple[float, ...] | None, Field(
        description="Turns and scales it, as in SVG: a b c d e f.")] = None


class Content(Described):
    """What else the face shows: an icon, a symbol, a lamp …, with its box (x, y, width, height)."""

    layer: str
    kind: str
    box: Four


class Look(Described):
    """A control as one set of states shows it: its face, then its texts over that, and all of it
    faded by `opacity`. `whole` is there where something lies over a text: it is the face with its
    texts in one picture.
    """

    face: str
    whole: str | None = None
    opacity: float = 1.0
    texts: Annotated[tuple[str, ...], Field(description="Names in `texts` of the control.")] = ()
    contents: tuple[Content, ...] = ()


class Film(Described):
    """A gesture: names of whole pictures, texts included, and the milliseconds of each."""

    frames: tuple[str, ...]
    durations: tuple[int, ...]
    loops: bool = False


class ControlSprites(Described):
    """One control."""

    name: str
    text: str
    behaviour: str
    states: Annotated[tuple[str, ...], Field(
        description="The states it can be in, in the order in which `shown` joins them by +.")]
    shown: Annotated[dict[str, str], Field(
        description="The look of every set of states that can hold at once.")]
    size: Annotated[Pair, Field(description="Width and height of the box.")]
    margins: Annotated[Four, Field(
        description="Room round the box in every whole picture: left, top, right, bottom.")]
    insets: Annotated[Four, Field(
        description="What of the box keeps its form at left, top, right and bottom: the lines of "
                    "a nine-slice. The margins belong to the fixed parts.")]
    smallest: Annotated[Pair, Field(description="The smallest size at which these hold.")]
    hit: Annotated[tuple[tuple[Pair, ...], ...], Field(
        description="Polygons that answer the pointer, by the even-odd rule.")]
    looks: dict[str, Look]
    texts: dict[str, Text] = {}
    films: Annotated[dict[str, Film], Field(
        description="By gesture, where they were asked for; `rest` goes on while nobody touches "
                    "it.")] = {}
    densities: dict[str, Density]


class Sprites(Described):
    """The controls of a kit as pictures on sheets."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)

    schema_file: Annotated[str, Field(alias="$schema")] = SCHEMA
    format: Literal[2] = 2
    kit: str
    sheets: Annotated[dict[str, tuple[int, int]], Field(description="Width and height by file.")]
    controls: dict[str, ControlSprites]


def to_json(sprites: Sprites) -> str:
    """`sprites.json`, one line for what is one thing: a region, a point, a text."""
    data = {"$schema": SCHEMA, "format": FORMAT,
            **sprites.model_dump(mode="json", by_alias=True, exclude_defaults=True)}
    return _written(_short(data), 0) + "\n"


def schema_json() -> str:
    """The JSON Schema (2020-12) of `sprites.json`."""
    schema = {"$schema": "https://json-schema.org/draft/2020-12/schema",
              **Sprites.model_json_schema(by_alias=True)}
    return json.dumps(schema, indent=1, ensure_ascii=False) + "\n"


def _short(value: Any) -> Any:
    """Whole numbers without a fraction."""
    if isinstance(value, dict):
        return {name: _short(inner) for name, inner in value.items()}
    if isinstance(value, list):
        return [_short(inner) for inner in value]
    return int(value) if isinstance(value, float) and value.is_integer() else value


def _written(value: Any, depth: int) -> str:
    plain = json.dumps(value, ensure_ascii=False)
    if not isinstance(value, dict | list) or len(plain) + depth <= 110:
        return plain
    if isinstance(value, dict) and "text" in value:
        return plain
    pad, end = "\n" + " " * (depth + 1), "\n" + " " * depth
    if isinstance(value, dict):
        inner = [f"{json.dumps(name, ensure_ascii=False)}: {_written(held, depth + 1)}"
                 for name, held in value.items()]
        return "{" + pad + ("," + pad).join(inner) + end + "}"
    if all(isinstance(held, int | float) for point in value for held in (
            point if isinstance(point, list) else [point])):
        return plain  # a long line of points says nothing to who reads
    return "[" + pad + ("," + pad).join(_written(held, depth + 1) for held in value) + end + "]"
