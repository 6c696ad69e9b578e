"""The palette: named colours, gradients, lengths, times, timings, fonts, text styles."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self

from pydantic import Field, TypeAdapter, ValidationError, model_validator

from mektel.core.kit.forms import Brief
from mektel.core.kit.timing import Timing
from mektel.core.kit.value_types import Colour, FontSize, Identifier, Spacing, Stops, Text, Weight

ValueType = Literal["length", "duration", "number", "font", "gradient", "text-style",
                    "timing"]
Schemes = Annotated[dict[Identifier, Any], Field(max_length=8)]


class Swatch(Brief):
    """A named palette colour, #RRGGBB or #RRGGBBAA; other values in some schemes.

    With a ``formula`` over other palette colours it follows them; ``colour`` is then its last
    value. ``note`` says what it is for.
    """

    name: Identifier
    colour: Colour
    formula: Text = ""
    schemes: dict[Identifier, Colour] = Field(default_factory=dict, max_length=8)
    note: Text = ""

    @model_validator(mode="after")
    def _is_a_colour(self) -> Self:
        for colour in (self.colour, *self.schemes.values()):
            if not colour.startswith("#"):
                raise ValueError(f"palette colour “{self.name}” must be #RRGGBB or #RRGGBBAA")
        return self


class TextStyle(Brief):
    """How a text is set."""

    name: Literal["style"] = "style"
    family: Literal["Hanken Grotesk", "Rubik"] = "Hanken Grotesk"
    size: FontSize = 16.0
    weight: Weight = 600
    spacing: Spacing = 0.0


_VALUES: dict[str, TypeAdapter[Any]] = {
    "length": TypeAdapter(Annotated[float, Field(ge=-10_000, le=10_000, allow_inf_nan=False)]),
    "duration": TypeAdapter(Annotated[float, Field(ge=0, le=600, allow_inf_nan=False)]),
    "number": TypeAdapter(Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]),
    "font": TypeAdapter(Annotated[str, Field(max_length=80)]),
    "gradient": TypeAdapter(Stops),
    "text-style": TypeAdapter(TextStyle),
    "timing": TypeAdapter(Timing),
}
UNITS = {"length": "px", "duration": "s", "number": "", "font": "", "gradient": "",
         "text-style": "", "timing": ""}


class PaletteValue(Brief):
    """A named value that is not a colour: lengths in px, times in seconds."""

    name: Identifier
    type: ValueType
    value: Any
    schemes: Schemes = Field(default_factory=dict)
    note: Text = ""

    @model_validator(mode="before")
    @classmethod
    def _values_fit(cls, data: Any) -> Any:
        if not isinstance(data, dict) or data.get("type") not in _VALUES:
            return data
        adapter = _VALUES[data["type"]]
        try:
            checked = {**data, "value": adapter.validate_python(data.get("value"))}
            checked["schemes"] = {scheme: adapter.validate_python(value)
                                for scheme, value in dict(data.get("schemes") or {}).items()}
        except ValidationError as error:
            why = error.errors(include_url=False)[0]["msg"]
            raise ValueError(f"{data.get('name')}: {why}") from None
        if data["type"] == "timing":
            if checked["schemes"]:
                raise ValueError(f"{data.get('name')}: a timing is the same in every scheme")
            checked["value"] = checked["value"].unnamed
        return checked
