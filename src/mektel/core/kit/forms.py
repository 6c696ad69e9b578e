"""Outlines as the document holds them: a form with its numbers, and what is joined to it."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, SerializerFunctionWrapHandler, model_serializer
from pydantic_core.core_schema import SerializationInfo

from mektel.core.kit.value_types import (
    Corners,
    Frozen,
    Length,
    Points,
    Power,
    Share,
    Span,
)

FORMS = Literal[
    "box", "capsule", "ellipse", "superellipse", "polygon", "star", "cut", "notch", "path",
]
# Written first and in any case.
ALWAYS = ("id", "name", "kind", "form")


@cache
def _defaults(model: type[Frozen]) -> dict[str, Any]:
    return {name: field.get_default(call_default_factory=True)
            for name, field in model.model_fields.items()}


class Brief(Frozen):
    """Written without the values that are as the format has them by default."""

    @model_serializer(mode="wrap")
    def _briefly(
        self, handler: SerializerFunctionWrapHandler, info: SerializationInfo
    ) -> dict[str, Any]:
        whole: dict[str, Any] = handler(self)
        if info.context == "whole":
            return whole
        usual = _defaults(type(self))
        kept = [name for name in ALWAYS if name in whole]
        kept += [name for name in whole
                 if name not in ALWAYS and getattr(self, name) != usual[name]]
        return {name: whole[name] for name in kept}


def _checked_path(text: str) -> str:
    from mektel.core.path_data import path_problem

    problem = path_problem(text)
    if problem:
        raise ValueError(problem)
    return text


PathData = Annotated[str, Field(max_length=20_000), AfterValidator(_checked_path)]


class Outlined(Brief):
    """A form and its numbers. Which numbers count depends on the form.

    ``box``, ``cut`` and ``notch`` use ``corners`` (and ``vertical_radii`` for elliptical corners),
    ``superellipse`` uses ``power``, ``polygon`` and ``star`` use ``points``, ``inner_radius`` and
    ``rounding``, ``path`` an SVG path, stretched over the box.
    """

    form: FORMS = "box"
    corners: Corners = (8.0, 8.0, 8.0, 8.0)
    vertical_radii: Corners | None = None
    power: Power = 4.0
    points: Points = 5.0
    inner_radius: Share = 0.5
    rounding: Length = 0.0
    path: PathData = "M50 0 L100 100 H0 Z"


class Area(Brief):
    """A box of its own within the control's; each length is share · the control's size + px."""

    x: Span = (0.0, 0.0)
    y: Span = (0.0, 0.0)
    width: Span = (1.0, 0.0)
    height: Span = (1.0, 0.0)


class Placed(Area, Outlined):
    """A form in a box of its own."""


class Join(Placed):
    """What is joined to an outline by an ``operation``; ``softness`` in px melts a smooth union."""

    operation: Literal["union", "intersection", "difference", "smooth"] = "union"
    softness: Length = 8.0


class OwnOutline(Placed):
    """A layer's own outline."""

    joins: tuple[Join, ...] = Field(default=(), max_length=16)
