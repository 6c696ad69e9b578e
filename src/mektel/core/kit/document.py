"""The document: a kit of controls and a palette, as frozen, validated values.

A state stores only its changes from rest, keyed by layer id (or ``outline``) and value name.
"""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise
from typing import Annotated, Any, Literal, Self

from pydantic import (
    Field,
    SerializerFunctionWrapHandler,
    ValidationError,
    model_serializer,
    model_validator,
)
from pydantic_core.core_schema import SerializationInfo

from mektel.core.errors import DocumentError, NotFoundError
from mektel.core.kit import differences
from mektel.core.kit.answers import SHIPPED_SOUNDS
from mektel.core.kit.assets import PngData, pixels_of
from mektel.core.kit.control import Control, fault_of, is_empty, names_used, retimed
from mektel.core.kit.migration import migrated
from mektel.core.kit.own_sounds import MOST_SOUNDS, OwnSound
from mektel.core.kit.palette import PaletteValue, Swatch
from mektel.core.kit.timing import Timing
from mektel.core.kit.value_types import (
    Frozen,
    Identifier,
    Title,
)

FORMAT: Literal[4] = 4
MOST_CONTROLS, MOST_COLOURS, MOST_SCHEMES = 2000, 512, 8
TOO_MANY_CONTROLS = f"a kit holds at most {MOST_CONTROLS} controls; begin another kit for more"


class Asset(Frozen):
    """A picture of the kit: PNG content as base64, at most ``LARGEST_ASSET`` pixels.

    ``coarser`` are its forms for lower densities, each of fewer pixels than the one before.
    """

    id: Identifier
    name: Title
    png: PngData
    coarser: tuple[PngData, ...] = Field(default=(), max_length=4, exclude_if=is_empty)

    @model_validator(mode="after")
    def _coarser_ones_have_its_shape(self) -> Self:
        forms = [pixels_of(png) for png in (self.png, *self.coarser)]
        for larger, smaller in pairwise(forms):
            share = smaller.width / forms[0].width
            if smaller.width >= larger.width or abs(forms[0].height * share - smaller.height) > 1:
                raise ValueError(
                    f"the form of {smaller.width} × {smaller.height} pixels for a lower density "
                    f"has to have fewer than {larger.width} × {larger.height} and their shape")
        return self

    @property
    def length(self) -> int:
        """Letters of base64 that all of its forms take."""
        return len(self.png) + sum(map(len, self.coarser))


class Kit(Frozen):
    """One document: palette and controls."""

    format: Literal[4] = FORMAT
    name: Title = "Untitled kit"
    palette: tuple[Swatch, ...] = Field(default=(), max_length=MOST_COLOURS)
    values: tuple[PaletteValue, ...] = Field(
        default=(), max_length=MOST_COLOURS, exclude_if=is_empty)
    # How faces are drawn in the whole kit, by the name of a finish; empty for as they are drawn.
    finish: Annotated[str, Field(max_length=64)] = Field(default="", exclude_if=is_empty)
    schemes: tuple[Identifier, ...] = Field(
        default=(), max_length=MOST_SCHEMES, exclude_if=is_empty)
    # A token file that the palette came from, for what of it the palette has no place for.
    tokens: dict[str, Any] = Field(default_factory=dict, exclude_if=is_empty)
    assets: tuple[Asset, ...] = Field(
        default=(), max_length=256, exclude_if=lambda kept: not kept
    )
    sounds: tuple[OwnSound, ...] = Field(
        default=(), max_length=MOST_SOUNDS, exclude_if=lambda kept: not kept)
    controls: tuple[Control, ...] = Field(default=(), max_length=MOST_CONTROLS)

    @model_validator(mode="before")
    @classmethod
    def _with_derived(cls, data: Any) -> Any:
        if isinstance(data, dict) and isinstance(data.get("controls"), list | tuple):
            return {**data, "controls": differences.read(list(data["controls"]))}
        return data

    @model_serializer(mode="wrap")
    def _derived_briefly(
        self, handler: SerializerFunctionWrapHandler, info: SerializationInfo
    ) -> dict[str, Any]:
        data: dict[str, Any] = handler(self)
        if info.context == "whole" or not any(control.base for control in self.controls):
            return data
        return differences.written(data, self.controls)

    @model_validator(mode="after")
    def _is_consistent(self) -> Self:
        for what, names in (
            ("control id", [control.id for control in self.controls]),
            ("palette name", [swatch.name for swatch in self.palette]
             + [entry.name for entry in self.values]),
            ("scheme", list(self.schemes)),
            ("picture", [asset.id for asset in self.assets]),
            ("sound", [*SHIPPED_SOUNDS, *(sound.id for sound in self.sounds)]),
        ):
            seen: set[str] = set()
            for name in names:
                if name in seen:
                    raise ValueError(f"{what} “{name}” is used twice")
                seen.add(name)
        return self

    def control(self, control_id: str) -> Control:
        """The control with this id, or else with this name in any letter case."""
        for control in self.controls:
            if control.id == control_id:
                return control
        for control in self.controls:
            if control.name.casefold() == control_id.casefold():
                return control
        raise NotFoundError("control", control_id, [control.id for control in self.controls])

    def asset(self, asset_id: str) -> Asset:
        for asset in self.assets:
            if asset.id == asset_id:
                return asset
        raise NotFoundError("picture", asset_id, [asset.id for asset in self.assets])

    def sound(self, sound_id: str) -> OwnSound:
        """A sound of the kit itself."""
        for sound in self.sounds:
            if sound.id == sound_id:
                return sound
        known = [*SHIPPED_SOUNDS, *(sound.id for sound in self.sounds)]
        raise NotFoundError("sound", sound_id, known)

    def colour(self, value: str) -> str:
        """A colour value as #RRGGBB or #RRGGBBAA, palette names looked up."""
        if value.startswith("#"):
            return value
        for swatch in self.palette:
            if swatch.name == value:
                return swatch.colour
        raise NotFoundError("palette colour", value, [swatch.name for swatch in self.palette])


def kit_from_data(data: Any) -> Kit:
    """A kit from plain data (dicts, lists, numbers, strings).

    Raises :class:`DocumentError` with the place and the reason of the first fault.
    """
    if not isinstance(data, dict):
        raise DocumentError("", "this is not a kit: the outermost value must be an object")
    if len(data.get("controls") or ()) > MOST_CONTROLS:
        raise DocumentError("controls", TOO_MANY_CONTROLS)
    version = data.get("format")
    if version is None:
        raise DocumentError("format", f"missing; a kit says its format version, now {FORMAT}")
    if isinstance(version, int) and version > FORMAT:
        raise DocumentError(
            "format",
            f"this kit has format {version}; this Mektel reads up to {FORMAT}. "
            "Open it with a newer Mektel.",
        )
    try:
        kit = Kit.model_validate(migrated(data))
    except ValidationError as error:
        place, reason = fault_of(error)
        more = error.error_count() - 1
        raise DocumentError(place, reason + (f" (and {more} more)" if more else "")) from None
    check_names(kit, kit.controls)
    return with_palette_timings(kit, kit.controls)


def with_palette_timings(kit: Kit, controls: Iterable[Control]) -> Kit:
    """The kit in which the timings that these controls name have the palette's values."""
    named = {entry.name: entry.value for entry in kit.values if entry.type == "timing"}

    def followed(timing: Timing) -> Timing:
        value = named.get(timing.named or "")
        wanted = timing if value is None else value.model_copy(update={"named": timing.named})
        return timing if wanted == timing else wanted

    some = {id(control) for control in controls}
    if not named or not some:
        return kit
    retimed_controls = tuple(
        retimed(control, followed) if id(control) in some else control for control in kit.controls)
    if all(a is b for a, b in zip(retimed_controls, kit.controls, strict=True)):
        return kit
    return kit.model_copy(update={"controls": retimed_controls})


def check_names(kit: Kit, controls: Iterable[Control]) -> None:
    """That every palette colour, timing, picture and sound that these controls name is in the kit.

    Raises :class:`DocumentError` with the place of the first that is not.
    """
    # In order, for messages.
    colours = dict.fromkeys(swatch.name for swatch in kit.palette)
    named = {
        "picture": ("picture", dict.fromkeys(asset.id for asset in kit.assets)),
        "sound": ("sound", dict.fromkeys(
            [*SHIPPED_SOUNDS, *(sound.id for sound in kit.sounds)])),
        "timing": ("palette timing", dict.fromkeys(
            entry.name for entry in kit.values if entry.type == "timing")),
    }
    for control in controls:
        for place, name, value in names_used(control):
            kind, known = named.get(name, ("palette colour", colours))
            if value in known or (kind == "palette colour" and value.startswith("#")):
                continue
            at = next(n for n, other in enumerate(kit.controls) if other is control)
            raise DocumentError(f"controls[{at}].{place}", str(
                NotFoundError(kind, value, list(known))))


