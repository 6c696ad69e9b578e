"""Content: label, icon and the like laid out in a row, a column or a stack."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from mektel.core.kit.forms import Brief
from mektel.core.kit.value_types import Identifier, Length, Size

# Layers that have a size by themselves; pictures and bars have one with an outline of their own.
SIZED = ("label", "icon", "symbol", "light", "look")


def _as_tuple(value: object) -> object:
    return tuple(value) if isinstance(value, list) else value


class Content(Brief):
    """Which layers are the content, in their order, and how they stand to each other.

    ``place`` is where the whole stands along the flow, ``align`` how each item stands across it.
    The control grows to ``fit`` its content with padding, between ``min`` and ``max``, or is
    sized from outside (``own``). A row is mirrored where the text runs from right to left.
    """

    flow: Literal["row", "column", "stack"] = "row"
    items: Annotated[tuple[Identifier, ...], BeforeValidator(_as_tuple)] = Field(
        default=(), max_length=16)
    gap: Length = 8.0
    align: Literal["start", "centre", "end", "baseline"] = "centre"
    place: Literal["start", "centre", "end"] = "centre"
    sizing: Literal["fit", "own"] = "fit"
    min: Size | None = None
    max: Size | None = None
