"""Lengths, colours, shadows and radii from CSS tokens."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import tinycss2

from mektel.core.colour import ColourError, channels_of, colour_from_text, mixed
from mektel.formats.css.calc import is_sum, worked_out
from mektel.formats.css.tokens import CssError, Declared, components, split_by

ROOT_EM = 16.0
PER_INCH = {"in": 96.0, "cm": 96 / 2.54, "mm": 96 / 25.4, "pt": 96 / 72, "pc": 16.0,
            "q": 96 / 101.6}
# A hundredth of the screen that sheets are read for.
PER_SCREEN = {"vw": 12.8, "vh": 8.0, "vmin": 8.0, "vmax": 12.8, "dvh": 8.0, "svh": 8.0}


# The space of a colour function, and what relative colours call its channels.
CHANNELS = {"rgb": ("srgb", "rgb"), "rgba": ("srgb", "rgb"), "hsl": ("hsl", "hsl"),
            "hsla": ("hsl", "hsl"), "hwb": ("hwb", "hwb"), "lab": ("lab", "lab"),
            "lch": ("lch", "lch"), "oklab": ("oklab", "lab"), "oklch": ("oklch", "lch")}
COLOUR_FUNCTIONS = ("rgb", "rgba", "hsl", "hsla", "hwb", "lab", "lch", "oklab", "oklch", "color")
# As a light page has them (CSS Color 4, 6.2).
SYSTEM_COLOURS = {
    "canvas": "#FFFFFF", "canvastext": "#000000", "buttonface": "#EFEFEF",
    "buttontext": "#000000", "buttonborder": "#000000", "field": "#FFFFFF",
    "fieldtext": "#000000", "highlight": "#0078D7", "highlighttext": "#FFFFFF",
    "graytext": "#6D6D6D", "linktext": "#0000EE", "accentcolor": "#0075FF",
    "accentcolortext": "#FFFFFF", "mark": "#FFFF00", "marktext": "#000000",
}


@dataclass(frozen=True)
class Scale:
    """What relative lengths refer to, in px."""

    em: float = ROOT_EM
    root: float = ROOT_EM


def length(token: Any, scale: Scale, of: float | None = None) -> float:
    """A length in px; a percentage is of ``of``. Raises :class:`CssError` for anything else."""
    if token.type == "number" and token.value == 0:
        return 0.0
    if token.type == "percentage" and of is not None and abs(token.value) < 1e6:
        return float(token.value / 100 * of)
    if token.type == "dimension":
        unit = token.lower_unit
        factor = {"px": 1.0, "em": scale.em, "rem": scale.root, "ex": scale.em / 2,
                  "ch": scale.em / 2, **PER_INCH, **PER_SCREEN}.get(unit)
        if factor is not None and abs(token.value) < 1e6:
            return float(token.value * factor)
    if is_sum(token):
        value, is_length_too = worked_out(token, lambda part: length(part, scale, of))
        if is_length_too or value == 0:
            return min(1e6, max(-1e6, value))
    raise CssError(f"{tinycss2.serialize([token])} is not a length that can be taken")


def is_length(token: Any) -> bool:
    if token.type == "dimension":
        return token.lower_unit not in ("deg", "s", "ms", "turn", "rad")
    return (token.type == "number" and token.value == 0) or token.type == "percentage" or is_sum(
        token)


def angle(token: Any) -> float:
    """Degrees."""
    if token.type == "number" and token.value == 0:
        return 0.0
    if token.type == "dimension":
        factor = {"deg": 1.0, "turn": 360.0, "rad": 57.29577951308232, "grad": 0.9}.get(
            token.lower_unit)
        if factor and abs(token.value) < 1e6:
            return float(token.value * factor)
    raise CssError(f"{tinycss2.serialize([token])} is not an angle")


def colour(token: Any, current: str = "#000000") -> str | None:
    """#RRGGBB(AA), or None where a token is not a colour."""
    if token.type == "ident" and token.lower_value == "currentcolor":
        return current
    if token.type == "ident" and token.lower_value == "transparent":
        return "#00000000"
    if token.type == "ident" and token.lower_value in SYSTEM_COLOURS:
        return SYSTEM_COLOURS[token.lower_value]
    if token.type == "function" and token.lower_name == "color-mix":
        return _mixed(token, current)
    if token.type == "function" and token.lower_name == "light-dark":
        first = components(split_by(token.arguments, ",")[0])
        return colour(first[0], current) if first else None
    if token.type == "function" and token.lower_name in CHANNELS and _begins(token, "from"):
        return _relative(token, current)
    if token.type in ("ident", "hash") or (
            token.type == "function" and token.lower_name in COLOUR_FUNCTIONS):
        try:
            return colour_from_text(tinycss2.serialize([_summed(token)]), clipped=True)
        except (ColourError, CssError):
            return None
    return None


def _begins(token: Any, word: str) -> bool:
    first = (components(token.arguments) or [None])[0]
    return first is not None and first.type == "ident" and first.lower_value == word


def _relative(token: Any, current: str) -> str | None:
    """A colour made of another's channels: ``oklch(from teal calc(l * 0.9) c h)`` (CSS Color 5, 4).
    """
    _, source, *rest = components(token.arguments)
    tone = colour(source, current)
    if tone is None:
        return None
    space, names = CHANNELS[token.lower_name]
    try:
        known = dict(zip((*names, "alpha"), channels_of(tone, space), strict=True))
        shares = space in ("hsl", "hwb")
        text = " ".join(tinycss2.serialize([part]) + (
            "%" if shares and at in (1, 2) and part.type == "number" else "")
            for at, part in enumerate(_worked(_filled(rest, known))))
        if "/" not in text and known["alpha"] < 1:
            text += f" / {known['alpha']:.6f}"
        return colour_from_text(f"{token.lower_name}({text})", clipped=True)
    except (ColourError, CssError):
        return None


def _filled(tokens: list[Any], known: dict[str, float]) -> list[Any]:
    """Tokens with the values of channels in place of their names."""
    filled: list[Any] = []
    for token in tokens:
        if token.type == "ident" and token.lower_value in known:
            filled += tinycss2.parse_component_value_list(f"{known[token.lower_value]:.6f}")
        elif token.type == "function":
            filled.append(tinycss2.ast.FunctionBlock(
                token.source_line, token.source_column, token.name,
                _filled(token.arguments, known)))
        elif token.type == "() block":
            filled.append(tinycss2.ast.ParenthesesBlock(
                token.source_line, token.source_column, _filled(token.content, known)))
        else:
            filled.append(token)
    return filled


def _worked(tokens: list[Any]) -> list[Any]:
    """Tokens with each sum as the number that it comes to."""
    made: list[Any] = []
    for token in tokens:
        if is_sum(token):
            value, _ = worked_out(token, lambda part: float(part.value) / 100)
            made += tinycss2.parse_component_value_list(f"{value:.6f}")
        else:
            made.append(token)
    return made


def _summed(token: Any) -> Any:
    """A colour whose sums are worked out: ``hsl(calc(10 * 3) 50% 50%)``."""
    if token.type != "function" or not any(is_sum(part) for part in token.arguments):
        return token
    arguments: list[Any] = []
    for part in token.arguments:
        if is_sum(part):
            units: list[str] = []

            def plain(entry: Any, units: list[str] = units) -> float:
                units.append("%" if entry.type == "percentage" else entry.unit)
                return float(entry.value)

            value, has_unit = worked_out(part, plain)
            text = f"{value:.6f}{units[0] if has_unit and units else ''}"
            arguments += tinycss2.parse_component_value_list(text)
        else:
            arguments.append(part)
    return tinycss2.ast.FunctionBlock(
        token.source_line, token.source_column, token.name, arguments)


def _mixed(token: Any, current: str) -> str | None:
    """``color-mix()`` of two colours (CSS Color 5, 2)."""
    head, *sides = (components(part) for part in split_by(token.arguments, ","))
    words = [part.lower_value for part in head if part.type == "ident"]
    if len(sides) != 2 or words[:1] != ["in"] or len(words) < 2:
        return None
    tones: list[str] = []
    shares: list[float | None] = []
    for side in sides:
        part, tone = next(((part, shade) for part in side if (shade := colour(part, current))),
                          (None, None))
        if part is None or tone is None:
            return None
        # What sRGB cannot show counts as it is until the mix is shown.
        plain = part.type == "function" and part.lower_name in COLOUR_FUNCTIONS
        tones.append(tinycss2.serialize([_summed(part)]) if plain else tone)
        shares.append(next((part.value / 100 for part in side if part.type == "percentage"), None))
    first, second = shares
    if first is None:
        first = 0.5 if second is None else 1 - second
    try:
        return mixed(tones[0], tones[1], first, 1 - first if second is None else second, words[1])
    except ColourError:
        return None


@dataclass(frozen=True)
class ShadowValue:
    x: float
    y: float
    blur: float
    spread: float
    colour: str
    inset: bool = False


def shadows(declared: Declared, scale: Scale, current: str) -> list[ShadowValue]:
    """The list of ``box-shadow`` or ``text-shadow``, front first."""
    shadow_list = []
    for part in split_by(declared.tokens, ","):
        lengths: list[float] = []
        tone, inset = current, False
        for token in components(part):
            shade = colour(token, current)
            if is_length(token):
                lengths.append(length(token, scale))
            elif token.type == "ident" and token.lower_value == "inset":
                inset = True
            elif token.type == "ident" and token.lower_value == "none":
                return []
            elif shade is not None:
                tone = shade
            else:
                raise CssError(f"{tinycss2.serialize([token])} in a shadow")
        if len(lengths) < 2:
            raise CssError("a shadow needs two offsets")
        x, y, blur, spread = (*lengths, 0.0, 0.0)[:4]
        shadow_list.append(ShadowValue(x, y, max(0.0, blur), spread, tone, inset))
    return shadow_list


def radii(
    declared: Declared, scale: Scale, size: tuple[float, float]
) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Horizontal and vertical radii of the four corners, clockwise from the top left, in px."""
    parts = split_by(declared.tokens, "/")
    both = []
    for at, side in enumerate(size):
        tokens = components(parts[min(at, len(parts) - 1)])
        both.append(tuple(length(token, scale, side) for token in four(tokens)))
    return both[0], both[1]


def four(tokens: list[Any]) -> list[Any]:
    """One to four values as four, as CSS repeats them."""
    if not 1 <= len(tokens) <= 4:
        raise CssError("one to four values are needed")
    a = tokens[0]
    b = tokens[1] if len(tokens) > 1 else a
    c = tokens[2] if len(tokens) > 2 else a
    d = tokens[3] if len(tokens) > 3 else b
    return [a, b, c, d]
