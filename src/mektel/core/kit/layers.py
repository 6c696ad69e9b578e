"""The layer kinds: what values each holds. How they are drawn is in ``core/paint``.

Every field but ``id``, ``kind`` and ``name`` is a *value* that a state may change.
"""

from __future__ import annotations

from typing import Annotated, Literal, get_args, get_type_hints

from pydantic import Field

from mektel.core.kit.values import (
    Blur,
    Colour,
    Corners,
    Degrees,
    FontSize,
    Frozen,
    Identifier,
    Length,
    Measure,
    Padding,
    Pair,
    Share,
    Shift,
    Stop,
    Stops,
    Title,
    Weight,
)

FIXED = frozenset({"id", "kind", "name"})
BODY = "body"


class Body(Frozen):
    """The control's outline and what goes for all layers. Changed in states like a layer."""

    form: Literal["box", "capsule", "ellipse"] = "box"
    radii: Corners = (8.0, 8.0, 8.0, 8.0)
    padding: Padding = (16.0, 8.0)
    offset: Pair = (0.0, 0.0)


class LayerBase(Frozen):
    id: Identifier
    name: Title
    visible: bool = True
    opacity: Share = 1.0


class Shadow(LayerBase):
    """A shadow outside the outline, as CSS ``box-shadow``: Gaussian with σ = blur / 2."""

    kind: Literal["shadow"] = "shadow"
    colour: Colour = "#00000055"
    offset: Pair = (0.0, 4.0)
    blur: Blur = 10.0
    spread: Shift = 0.0


class InnerShadow(LayerBase):
    """A shadow inside the outline, as CSS ``box-shadow: inset``: Gaussian with σ = blur / 2."""

    kind: Literal["inner-shadow"] = "inner-shadow"
    colour: Colour = "#FFFFFF73"
    offset: Pair = (0.0, 1.0)
    blur: Blur = 0.0
    spread: Shift = 0.0


class Fill(LayerBase):
    """The outline filled with one colour or a linear gradient (angle as in CSS: 180° is down).

    ``grow`` makes the filled outline larger than the control's, or smaller if negative.
    """

    kind: Literal["fill"] = "fill"
    style: Literal["solid", "linear"] = "solid"
    grow: Shift = 0.0
    colour: Colour = "#2F8C93"
    angle: Degrees = 180.0
    stops: Stops = (Stop(position=0, colour="#3AA2A8"), Stop(position=1, colour="#175A66"))


class Line(LayerBase):
    """A line along the outline; ``gap`` moves it outward from where ``place`` puts it."""

    kind: Literal["line"] = "line"
    place: Literal["inside", "centre", "outside"] = "inside"
    width: Length = 1.0
    gap: Shift = 0.0
    colour: Colour = "#0E454E"


class Label(LayerBase):
    """The control's text, on one line, in a shipped font."""

    kind: Literal["label"] = "label"
    family: Literal["Hanken Grotesk"] = "Hanken Grotesk"
    size: FontSize = 16.0
    weight: Weight = 600
    colour: Colour = "#FFFFFF"
    align: Literal["start", "centre", "end"] = "centre"
    shift: Pair = (0.0, 0.0)


Layer = Annotated[
    Shadow | InnerShadow | Fill | Line | Label, Field(discriminator="kind")
]
KINDS: dict[str, type[LayerBase]] = {
    kind.model_fields["kind"].default: kind for kind in (Shadow, InnerShadow, Fill, Line, Label)
}


def value_names(part: Frozen | type[Frozen]) -> list[str]:
    """The names of the values of a layer or body that a state may change."""
    model = part if isinstance(part, type) else type(part)
    return [name for name in model.model_fields if name not in FIXED]


def measure_of(model: type[Frozen], name: str) -> Measure:
    """Unit and limits of a number, or of each number of a pair or of four corners."""
    todo: list[object] = [get_type_hints(model, include_extras=True)[name]]
    while todo:
        hint = todo.pop()
        for part in get_args(hint):
            if isinstance(part, Measure):
                return part
            todo.append(part)
    raise KeyError(f"{model.__name__}.{name} is no number")
