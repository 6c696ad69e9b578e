"""Lengths, colours, shadows and radii from CSS tokens."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import tinycss2

from mektel.core.colour import ColourError, colour_from_text
from mektel.formats.css.rules import CssError, Declared, components, split_by

ROOT_EM = 16.0
PER_INCH = {"in": 96.0, "cm": 96 / 2.54, "mm": 96 / 25.4, "pt": 96 / 72, "pc": 16.0}


@dataclass(frozen=True)
class Scale:
    """What relative lengths refer to, in px."""

    em: float = ROOT_EM


def length(token: Any, scale: Scale, of: float | None = None) -> float:
    """A length in px; a percentage is of ``of``. Raises :class:`CssError` for anything else."""
    if token.type == "number" and token.value == 0:
        return 0.0
    if token.type == "percentage" and of is not None and abs(token.value) < 1e6:
        return float(token.value / 100 * of)
    if token.type == "dimension":
        unit = token.lower_unit
        factor = {"px": 1.0, "em": scale.em, "rem": ROOT_EM, **PER_INCH}.get(unit)
        if factor is not None and abs(token.value) < 1e6:
            return float(token.value * factor)
    raise CssError(f"{tinycss2.serialize([token])} is not a length that can be taken")


def is_length(token: Any) -> bool:
    return (token.type == "dimension" and token.lower_unit not in ("deg", "s", "ms", "turn", "rad")
            ) or (token.type == "number" and token.value == 0) or token.type == "percentage"


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
    if token.type in ("ident", "hash") or (token.type == "function" and token.lower_name in (
            "rgb", "rgba", "hsl", "hsla", "hwb", "lab", "lch", "oklab", "oklch", "color")):
        try:
            return colour_from_text(tinycss2.serialize([token]))
        except ColourError:
            return None
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
        raise CssError("one to four values are wanted")
    a = tokens[0]
    b = tokens[1] if len(tokens) > 1 else a
    c = tokens[2] if len(tokens) > 2 else a
    d = tokens[3] if len(tokens) > 3 else b
    return [a, b, c, d]
