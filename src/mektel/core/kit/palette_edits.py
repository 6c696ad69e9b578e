"""Edits of the palette: values per scheme, renaming everywhere, replacing, and who uses what."""

from __future__ import annotations

import keyword
import re
import unicodedata
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from mektel.core.errors import DocumentError
from mektel.core.formula import FUNCTIONS, FormulaError, Value, evaluate, parse
from mektel.core.kit.colours_in import recoloured, texts_in
from mektel.core.kit.control import CONTROL, Control, fault_of, names_used, retimed
from mektel.core.kit.document import Kit, with_palette_timings
from mektel.core.kit.edit import identifier
from mektel.core.kit.layers import value_names
from mektel.core.kit.palette import PaletteValue, Swatch
from mektel.core.kit.parameter_edits import formulas_of, renamed
from mektel.core.kit.timing import Timing
from mektel.core.kit.value_types import Frozen

SIZES = ("width", "height", "parent_width", "parent_height")
# What may be a colour though it is called otherwise: a parameter's default, an instance's value.
ARGUMENTS = ("default", "arguments")
# What of a control has colours in it.
COLOURED = ("layers", "states", "answers", "swings", "parameters", "variations")


def in_scheme(kit: Kit, scheme: str) -> Kit:
    """The kit as it is in a scheme: every palette value that has another there."""
    if not scheme or (kit.schemes and scheme == kit.schemes[0]):
        return kit
    palette = tuple(
        swatch.model_copy(update={"colour": swatch.schemes[scheme]})
        if scheme in swatch.schemes
        else swatch
        for swatch in kit.palette
    )
    figures = tuple(
        entry.model_copy(update={"value": entry.schemes[scheme]})
        if scheme in entry.schemes
        else entry
        for entry in kit.values
    )
    return kit.model_copy(update={"palette": palette, "values": figures})


def set_swatch(kit: Kit, name: str, colour: str, scheme: str = "") -> Kit:
    """Sets a palette colour, or adds it; in a scheme other than the first, only there."""
    swatch = next((entry for entry in kit.palette if entry.name == name), None)
    try:
        if swatch is None:
            return _checked(kit, palette=(*kit.palette, Swatch(name=name, colour=colour)))
        values: dict[str, Any] = {"colour": colour, "formula": ""}
        if scheme and scheme not in kit.schemes[:1]:
            values = {"schemes": {**swatch.schemes, scheme: colour}, "formula": ""}
        changed = Swatch.model_validate({**dict(swatch), **values})
    except ValidationError as error:
        raise DocumentError(name, fault_of(error)[1]) from None
    palette = tuple(changed if entry.name == name else entry for entry in kit.palette)
    return _followed(kit.model_copy(update={"palette": palette}))


def set_swatch_formula(kit: Kit, name: str, formula: str) -> Kit:
    """Lets a palette colour follow others, as ``darken(tide, 0.2)``, in every scheme."""
    palette = tuple(
        swatch.model_copy(update={"formula": formula}) if swatch.name == name else swatch
        for swatch in kit.palette
    )
    changed = kit.model_copy(update={"palette": palette})
    _colour_in(changed, name, "", ())  # a formula without a value is refused
    return _followed(changed)


def _followed(kit: Kit) -> Kit:
    """Every palette colour that follows others, worked out anew in each scheme."""
    if not any(swatch.formula for swatch in kit.palette):
        return kit
    palette = []
    for swatch in kit.palette:
        if swatch.formula:
            try:
                values = {
                    scheme: _colour_in(kit, swatch.name, scheme, ())
                    for scheme in ("", *kit.schemes[1:])
                }
                colour = values.pop("")
                swatch = swatch.model_copy(update={"colour": colour, "schemes": values})
            except (FormulaError, DocumentError):
                pass  # its last value stays
        palette.append(swatch)
    return kit.model_copy(update={"palette": tuple(palette)})


def _colour_in(kit: Kit, name: str, scheme: str, under_way: tuple[str, ...]) -> str:
    if name in under_way:
        raise DocumentError(name, f"it follows itself: {' → '.join([*under_way, name])}")
    swatch = next(entry for entry in kit.palette if entry.name == name)
    if not swatch.formula:
        return swatch.schemes.get(scheme, swatch.colour)
    colour = evaluate(parse(swatch.formula), _Colours(kit, scheme, (*under_way, name)))
    if not isinstance(colour, str) or not colour.startswith("#"):
        raise FormulaError(f"“{swatch.formula}” is not a colour.")
    return colour


@dataclass(frozen=True)
class _Colours:
    """What the formula of a palette colour may call by name."""

    kit: Kit
    scheme: str
    under_way: tuple[str, ...]

    def name(self, word: str) -> Value:
        for entry in self.kit.palette:
            if entry.name.replace("-", "_") == word:
                return _colour_in(self.kit, entry.name, self.scheme, self.under_way)
        raise FormulaError(f"no palette colour is called “{word}”.")

    def field(self, part: str, value: str) -> Value:
        raise FormulaError("a palette colour can follow palette colours only.")


def set_palette_value(kit: Kit, figure: PaletteValue) -> Kit:
    """Sets a named length, time, timing, font, gradient or text style, or adds it."""
    have = [entry.name for entry in kit.values]
    figures = tuple(figure if entry.name == figure.name else entry for entry in kit.values)
    made = _checked(kit, values=figures if figure.name in have else (*figures, figure))
    return with_palette_timings(made, made.controls)


def set_schemes(kit: Kit, schemes: tuple[str, ...]) -> Kit:
    """The kit's schemes; the first is the one that plain values belong to."""
    return _checked(kit, schemes=schemes)


def name_from(title: str) -> str:
    """A palette name from what a person types: ``Café crème`` becomes ``cafe-creme``.

    Raises :class:`DocumentError` where no letter or digit is left.
    """
    plain = unicodedata.normalize("NFKD", title).encode("ascii", "ignore").decode()
    name = identifier(plain, [], "colour")
    if not re.search(r"[a-zA-Z0-9]", plain):
        raise DocumentError("", f"“{title}” has no letter from a to z or digit to make a name of")
    return name


def rename(kit: Kit, old: str, new: str) -> Kit:
    """Gives a palette entry another name, in everything that uses it.

    The name is made one that a palette can have (see :func:`name_from`). Raises
    :class:`DocumentError` for a name that is taken, or that formulas have for something else.
    """
    new = name_from(new)
    if new == old:
        return kit
    if new in [swatch.name for swatch in kit.palette] + [entry.name for entry in kit.values]:
        raise DocumentError(new, "the palette has this name already; replace one by the other")
    _check_word(kit, old, new)
    kit = _with_timing_name(_rewritten(kit, old, new), old, new)
    palette = tuple(
        swatch.model_copy(update={"name": new}) if swatch.name == old else swatch
        for swatch in kit.palette
    )
    figures = tuple(
        entry.model_copy(update={"name": new}) if entry.name == old else entry
        for entry in kit.values
    )
    return _checked(kit, palette=palette, values=figures)


def _check_word(kit: Kit, old: str, new: str) -> None:
    """That a palette name means the same in every formula that had another one there."""
    before, word = old.replace("-", "_"), new.replace("-", "_")
    for entry in kit.palette:
        if entry.formula and before in parse(entry.formula).names and _is_taken(word, ()):
            raise DocumentError("", f"formulas have “{word}” for something else; choose another")
    for control in kit.controls:
        own = {parameter.name for parameter in control.parameters}
        for _, part, _, text in formulas_of(control):
            formula = parse(text)
            if before in own or not (
                before in formula.names or any(p == before for p, _ in formula.fields)
            ):
                continue
            values = () if part == CONTROL else value_names(control.part(part))
            layers = {layer.id.replace("-", "_") for layer in control.layers}
            if _is_taken(word, (*own, *values, *layers)):
                raise DocumentError(
                    "",
                    f"a formula of {control.name} ({text}) has “{word}” for "
                    "something else; choose another name",
                )


def _is_taken(word: str, names: Iterable[str]) -> bool:
    return (
        word in FUNCTIONS
        or word in ("rest", "text", "outline", *SIZES)
        or word in names
        or keyword.iskeyword(word)
    )


def replace(kit: Kit, old: str, by: str) -> Kit:
    """Puts one palette colour in the place of another, which goes."""
    kit.colour(by)
    if not by.startswith("#"):
        _check_word(kit, old, by)
    kit = _rewritten(kit, old, by)
    return _checked(
        kit,
        palette=tuple(swatch for swatch in kit.palette if swatch.name != old),
        values=tuple(entry for entry in kit.values if entry.name != old),
    )


def remove(kit: Kit, name: str) -> Kit:
    """Takes an entry away; what used a colour or a timing keeps its values."""
    if not any(swatch.name == name for swatch in kit.palette):
        kit = _with_timing_name(kit, name, None)
        return _checked(kit, values=tuple(entry for entry in kit.values if entry.name != name))
    kit = _rewritten(kit, name, kit.colour(name))
    return _checked(kit, palette=tuple(swatch for swatch in kit.palette if swatch.name != name))


def _rewritten(kit: Kit, old: str, new: str) -> Kit:
    word = old.replace("-", "_")
    put = f'"{new}"' if new.startswith("#") else new.replace("-", "_")

    def formula(text: str) -> str:
        return renamed(text, word, put) if word in text else text

    controls = tuple(_control_with_name(control, old, new, formula) for control in kit.controls)
    palette = tuple(
        swatch.model_copy(update={"formula": formula(swatch.formula)}) if swatch.formula else swatch
        for swatch in kit.palette
    )
    return kit.model_copy(update={"controls": controls, "palette": palette})


def _with_timing_name(kit: Kit, old: str, new: str | None) -> Kit:
    """The timings that follow one palette entry follow another, or none."""
    def renamed_timing(timing: Timing) -> Timing:
        return timing.model_copy(update={"named": new}) if timing.named == old else timing

    return kit.model_copy(
        update={"controls": tuple(retimed(control, renamed_timing) for control in kit.controls)})


def _control_with_name(
    control: Control, old: str, new: str, formula: Callable[[str], str]
) -> Control:
    own = {parameter.name for parameter in control.parameters}
    fields: dict[str, Any] = {}
    for name in COLOURED:
        value = getattr(control, name)
        changed = _with_name(value, old, new, "")
        if changed is not value:
            fields[name] = changed
    if control.formulas and old.replace("-", "_") not in own:
        fields["formulas"] = {
            condition: {
                part: {path: formula(text) for path, text in paths.items()}
                for part, paths in parts.items()
            }
            for condition, parts in control.formulas.items()
        }
    return control.model_copy(update=fields) if fields else control


def _with_name(value: Any, old: str, new: str, key: str = "") -> Any:
    """A value with a palette name in it changed; the same object where there is none."""
    if isinstance(value, tuple):
        made = tuple(_with_name(part, old, new, key) for part in value)
        return made if any(a is not b for a, b in zip(made, value, strict=True)) else value
    if isinstance(value, Frozen) and old not in texts_in(value):
        return value
    return recoloured(value, lambda colour: new if colour == old else colour, key, ARGUMENTS)


def users_of(kit: Kit, name: str) -> list[str]:
    """The names of the controls, and palette entries, that use a palette entry."""
    word = name.replace("-", "_")
    users = [
        swatch.name
        for swatch in kit.palette
        if swatch.formula and word in parse(swatch.formula).names
    ]
    for control in kit.controls:
        plain = any(
            _with_name(getattr(control, part), name, "#000000", "") is not getattr(control, part)
            for part in COLOURED
        )
        own = {parameter.name for parameter in control.parameters}
        driven = word not in own and any(
            word in parse(text).names or any(part == word for part, _ in parse(text).fields)
            for _, _, _, text in formulas_of(control)
        )
        timed = ("timing", name) in {(what, value) for _, what, value in names_used(control)}
        if plain or driven or timed:
            users.append(control.name)
    return users


def _checked(kit: Kit, **fields: Any) -> Kit:
    """The kit with other fields, every rule of the document kept."""
    light = Kit.model_validate({**dict(kit), **fields, "controls": ()})
    return _followed(light.model_copy(update={"controls": kit.controls}))
