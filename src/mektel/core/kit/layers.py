"""The layer kinds: what values each holds. How they are drawn is in ``core/paint``.

Every field but ``id``, ``kind`` and ``name`` is a *value* that a state may change.
"""

from __future__ import annotations

from collections.abc import Hashable
from functools import lru_cache
from typing import Annotated, Literal, get_args, get_type_hints

from pydantic import Field

from mektel.core.kit.forms import Area, Brief, Join, Outlined, OwnOutline
from mektel.core.kit.instance import Instance
from mektel.core.kit.value_types import (
    Amount,
    Blend,
    Blur,
    Colour,
    Corners,
    Count,
    Degrees,
    Ends,
    Factors,
    FontSize,
    Frozen,
    Identifier,
    Leaning,
    Length,
    Measure,
    Padding,
    Pair,
    Reach,
    Share,
    Shift,
    Spacing,
    Spot,
    Stop,
    Stops,
    Thin,
    Title,
    Weight,
)

FIXED = frozenset({"id", "kind", "name"})
OUTLINE = "outline"
MIDDLE = (0.5, 0.5)


class ControlOutline(Outlined):
    """The control's outline and what goes for all layers. Changed in states like a layer.

    ``fit`` says whether the outline fills the control's box or keeps its designed proportions;
    ``opacity`` fades the control as one. ``offset`` moves all of it, ``content_offset`` what
    stands on its face: label, icon and the like.
    """

    padding: Padding = (16.0, 8.0)
    offset: Pair = (0.0, 0.0)
    content_offset: Pair = (0.0, 0.0)
    fit: Literal["fill", "keep"] = "fill"
    opacity: Share = 1.0
    joins: tuple[Join, ...] = Field(default=(), max_length=16)


class LayerBase(Brief):
    """What every layer has. ``pivot`` is a spot in the control's box, as shares of it."""

    id: Identifier
    name: Title
    visible: bool = True
    opacity: Share = 1.0
    blend: Blend = "normal"
    move: Pair = (0.0, 0.0)
    rotate: Degrees = 0.0
    scale: Factors = (1.0, 1.0)
    pivot: Spot = MIDDLE


class Shaped(LayerBase):
    """A layer drawn by an outline: the control's, or its own."""

    outline: OwnOutline | None = None


class Painted(Brief):
    """One colour or a gradient. Places are shares of the box that is painted.

    ``linear`` runs by ``direction`` as in CSS (180° is down) or, where given, between ``ends``;
    ``radial`` has a centre and two radii, ``conic`` a centre and the angle it starts at.
    """

    style: Literal["solid", "linear", "radial", "conic"] = "solid"
    colour: Colour = "#2F8C93"
    direction: Degrees = 180.0
    ends: Ends | None = None
    centre: Spot = MIDDLE
    reach: Reach = MIDDLE
    spread: Literal["pad", "repeat", "mirror"] = "pad"
    mixing: Literal["srgb", "oklab"] = "srgb"
    stops: Stops = (Stop(position=0, colour="#3AA2A8"), Stop(position=1, colour="#175A66"))


class Shadow(Shaped):
    """A shadow outside the outline, as CSS ``box-shadow``: Gaussian with σ = blur / 2."""

    kind: Literal["shadow"] = "shadow"
    colour: Colour = "#00000055"
    offset: Pair = (0.0, 4.0)
    blur: Blur = 10.0
    spread: Shift = 0.0


class InnerShadow(Shaped):
    """A shadow inside the outline, as CSS ``box-shadow: inset``: Gaussian with σ = blur / 2."""

    kind: Literal["inner-shadow"] = "inner-shadow"
    colour: Colour = "#FFFFFF73"
    offset: Pair = (0.0, 1.0)
    blur: Blur = 0.0
    spread: Shift = 0.0


class Glow(Shaped):
    """Light outside the outline, all round."""

    kind: Literal["glow"] = "glow"
    colour: Colour = "#F3C25BCC"
    blur: Blur = 14.0
    spread: Shift = 0.0


class InnerGlow(Shaped):
    """Light inside the outline, from its edge inward."""

    kind: Literal["inner-glow"] = "inner-glow"
    colour: Colour = "#FFFFFF99"
    blur: Blur = 10.0
    spread: Shift = 0.0


class Fill(Shaped, Painted):
    """The outline filled with one colour or a gradient.

    ``grow`` makes the filled outline larger than the control's, or smaller if negative. A
    gradient is fitted to the outline's box less ``origin`` px on every side, and repeated beyond
    it, as CSS does under a border (``background-origin``).
    """

    kind: Literal["fill"] = "fill"
    expand: Shift = 0.0
    origin: Thin = 0.0


class Line(Shaped, Painted):
    """A line along the outline; ``gap`` moves it outward from where ``place`` puts it.

    Dashed where ``dash`` is not 0: so long each, with ``dash_gap`` between them, stretched a
    little so that they close evenly.
    """

    kind: Literal["line"] = "line"
    place: Literal["inside", "centre", "outside"] = "inside"
    width: Length = 1.0
    gap: Shift = 0.0
    dash: Length = 0.0
    dash_gap: Length = 4.0
    colour: Colour = "#0E454E"


class Bevel(Shaped):
    """Edges lit from one side: 0° is light from above, 90° from the right."""

    kind: Literal["bevel"] = "bevel"
    light: Degrees = 315.0
    depth: Thin = 4.0
    softness: Share = 0.5
    light_colour: Colour = "#FFFFFFB3"
    shade_colour: Colour = "#00000080"


class Gloss(Shaped):
    """A band of light over the upper part, ``gap`` inside the outline.

    ``height`` is its share of the control's, ``bulge`` how its lower edge curves (positive is
    down), ``fade`` how much of the colour is left at that edge.
    """

    kind: Literal["gloss"] = "gloss"
    colour: Colour = "#FFFFFFB3"
    height: Share = 0.5
    bulge: Leaning = 0.15
    gap: Thin = 2.0
    fade: Share = 0.25


class Lens(Shaped):
    """Glass: what lies behind is bent near the edge, blurred and tinted; a rim catches light.

    ``bend`` is the greatest shift in px, within ``edge_zone`` px of the edge; ``fringe`` how far
    red and blue are bent apart.
    """

    kind: Literal["lens"] = "lens"
    bend: Thin = 10.0
    edge_zone: Thin = 14.0
    blur: Blur = 4.0
    colour: Colour = "#FFFFFF26"
    rim: Thin = 1.5
    rim_colour: Colour = "#FFFFFFCC"
    light: Degrees = 315.0
    fringe: Thin = 1.0


class Picture(Shaped):
    """A picture of the kit, laid into the outline's box.

    ``slices`` keeps ``slices`` (left, top, right, bottom, in the picture's pixels at
    ``density``) in form. ``edge`` draws a line round what the picture covers.
    """

    kind: Literal["picture"] = "picture"
    picture: str = Field(default="", max_length=64)
    fit: Literal["stretch", "fit", "tile", "slices"] = "stretch"
    slices: Corners = (8.0, 8.0, 8.0, 8.0)
    density: Annotated[float, Measure("", 0.25, 8, 0.25, 2)] = 1.0
    tint: Share = 0.0
    colour: Colour = "#2F8C93"
    saturation: Amount = 1.0
    brightness: Amount = 1.0
    edge: Thin = 0.0
    edge_colour: Colour = "#FFFFFF"


class Drawn(LayerBase, Painted):
    """A drawing of one size at a spot in the control's box."""

    size: FontSize = 20.0
    position: Spot = MIDDLE
    colour: Colour = "#FFFFFF"


class Symbol(Drawn):
    """A built-in symbol, once or several times in a row."""

    kind: Literal["symbol"] = "symbol"
    symbol: str = Field(default="play", max_length=40)
    repeat: Count = 1.0
    gap: Shift = 2.0


class Icon(Drawn):
    """An outline icon of the shipped set; ``thickness`` is its line's, in px at 24 px size."""

    kind: Literal["icon"] = "icon"
    icon: str = Field(default="ship", max_length=60)
    thickness: Annotated[float, Measure("px", 0.5, 4, 0.25, 2)] = 2.0


class Light(LayerBase):
    """A status light: a small lamp with its own colour, lit or not."""

    kind: Literal["light"] = "light"
    colour: Colour = "#4BD07A"
    lit: bool = True
    size: FontSize = 10.0
    position: Spot = (0.12, 0.5)
    glow: Blur = 8.0


class Progress(LayerBase):
    """A bar that is filled by a share, on a track, in an outline of its own."""

    kind: Literal["progress"] = "progress"
    amount: Share = 0.4
    colour: Colour = "#F3C25B"
    track_colour: Colour = "#00000040"
    outline: OwnOutline | None = OwnOutline(
        form="capsule", x=(0.5, -40.0), y=(0.5, 10.0), width=(0.0, 80.0), height=(0.0, 6.0))


class Label(LayerBase, Painted):
    """The control's text, or one of its own, in a shipped font: one line, wrapped, or made to fit.

    It stands in the control's padded box, or in a ``box`` of its own. ``edge`` draws a line
    round the glyphs, ``relief`` raises or sinks them by 1 px of light and shade;
    ``shadow_colour`` with alpha gives them a shadow.
    """

    kind: Literal["label"] = "label"
    box: Area | None = None
    text: Annotated[str, Field(max_length=200)] | None = None
    family: Literal["Hanken Grotesk", "Rubik"] = "Hanken Grotesk"
    size: FontSize = 16.0
    weight: Weight = 600
    colour: Colour = "#FFFFFF"
    align: Literal["start", "centre", "end"] = "centre"
    case: Literal["as-written", "capitals"] = "as-written"
    spacing: Spacing = 0.0
    flow: Literal["one-line", "wrap", "fit"] = "one-line"
    line_height: Amount = 1.2
    edge: Thin = 0.0
    edge_colour: Colour = "#22302F"
    relief: Literal["flat", "raised", "sunken"] = "flat"
    shadow_colour: Colour = "#00000000"
    shadow_offset: Pair = (0.0, 1.0)
    shadow_blur: Blur = 2.0


class EmbeddedLook(LayerBase, Instance):
    """The look of another control's instance, with its middle at a spot of this one's box.

    It ``shows`` the states that this control is in (``same``; but for focus, which is this
    control's alone), or stays in one. A width or height of 0 is its own.
    """

    kind: Literal["look"] = "look"
    shows: Literal[
        "same", "rest", "hover", "pressed", "focus", "disabled", "checked", "busy"] = "same"
    position: Spot = MIDDLE
    width: Length = 0.0
    height: Length = 0.0


Layer = Annotated[
    Shadow | InnerShadow | Glow | InnerGlow | Fill | Line | Bevel | Gloss | Lens | Picture | Symbol
    | Icon | Light | Progress | EmbeddedLook | Label,
    Field(discriminator="kind"),
]
KINDS: dict[str, type[LayerBase]] = {
    kind.model_fields["kind"].default: kind
    for kind in (
        Shadow, InnerShadow, Glow, InnerGlow, Fill, Line, Bevel, Gloss, Lens, Picture, Symbol,
        Icon, Light, Progress, EmbeddedLook, Label,
    )
}


def value_names(part: Frozen | type[Frozen]) -> list[str]:
    """The names of the values of a layer or outline that a state may change."""
    model = part if isinstance(part, type) else type(part)
    return [name for name in model.model_fields if name not in FIXED]


def measure_of(model: type[Frozen], name: str) -> Measure:
    """Unit and limits of a number, or of each number of a pair or of four corners."""
    return _measure_of(model, name)


@lru_cache(maxsize=128)
def _types_of(model: Hashable) -> dict[str, object]:
    return get_type_hints(model, include_extras=True)


@lru_cache(maxsize=1024)
def _measure_of(model: Hashable, name: str) -> Measure:
    assert isinstance(model, type)
    todo: list[object] = [_types_of(model)[name]]
    while todo:
        hint = todo.pop()
        for part in get_args(hint):
            if isinstance(part, Measure):
                return part
            todo.append(part)
    raise KeyError(f"{model.__name__}.{name} is not a number")
