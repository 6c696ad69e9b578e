"""``filter``: functions that change colours are worked into every colour of a control.

Such a function is affine in sRGB, so that changing what lies on each other is the same as changing
what comes of it (but for channels that it drives beyond black or white).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise
from typing import Any

import numpy as np

from mektel.core.colour import colour_from_text, hex_of, mixed
from mektel.core.kit import Stop
from mektel.formats.css.lengths import angle
from mektel.formats.css.tokens import CssError, Declared, components, text_of

# Rows of a matrix on (r, g, b, 1), from 0 to 1.
Matrix = Any
LUMINANCE = (0.2126, 0.7152, 0.0722)
# Into how many parts a gradient is cut where its colours reach an end.
FINER = 8
COLOURED = ("brightness", "contrast", "grayscale", "hue-rotate", "invert", "saturate", "sepia")


def colour_filter(declared: Declared) -> tuple[list[Matrix], float]:
    """What the functions of a ``filter`` do to colours, and by what it fades the whole.

    Raises :class:`CssError` for a function that does something else; a shadow is a layer of its
    own and passed over. Source: Filter Effects 1, 8 and 10.
    """
    matrices, opacity = [], 1.0
    for token in components(declared.tokens):
        if token.type == "ident" and token.lower_value == "none":
            continue
        name = token.lower_name if token.type == "function" else ""
        if name in COLOURED:
            matrices.append(_function(name, components(token.arguments)))
        elif name == "opacity":
            opacity *= min(1.0, _amount(components(token.arguments)))
        elif name != "drop-shadow":
            raise CssError(text_of([token])[:60])
    return matrices, opacity


def _amount(tokens: list[Any]) -> float:
    """The argument as a share; 1 where there is none."""
    if not tokens:
        return 1.0
    value = float(tokens[0].value)
    return max(0.0, value / 100 if tokens[0].type == "percentage" else value)


def _function(name: str, tokens: list[Any]) -> Matrix:
    made = np.eye(4)
    if name == "hue-rotate":
        made[:3, :3] = _turned(angle(tokens[0]) if tokens else 0.0)
        return made
    amount = _amount(tokens)
    if name == "brightness":
        made[:3, :3] *= amount
    elif name == "contrast":
        made[:3, :3] *= amount
        made[:3, 3] = 0.5 - 0.5 * amount
    elif name == "invert":
        amount = min(1.0, amount)
        made[:3, :3] *= 1 - 2 * amount
        made[:3, 3] = amount
    elif name == "sepia":
        kept = 1 - min(1.0, amount)
        made[:3, :3] = kept * np.eye(3) + (1 - kept) * np.array([
            [0.393, 0.769, 0.189], [0.349, 0.686, 0.168], [0.272, 0.534, 0.131]])
    else:
        kept = amount if name == "saturate" else 1 - min(1.0, amount)
        made[:3, :3] = kept * np.eye(3) + (1 - kept) * np.array([LUMINANCE] * 3)
    return made


def _turned(degrees: float) -> Matrix:
    red, green, blue = 0.213, 0.715, 0.072
    across, up = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    grey = np.array([[red, green, blue]] * 3)
    return grey + across * (np.eye(3) - grey) + up * np.array([
        [-red, -green, 1 - blue], [0.143, 0.140, -0.283], [-(1 - red), green, blue]])


def filtered(
    layers: dict[str, dict[str, Any]], matrices: list[Matrix]
) -> dict[str, dict[str, Any]]:
    """Layers with every colour changed."""
    if not matrices:
        return layers
    return {layer_id: {name: _value(name, value, layer, matrices) for name, value in layer.items()}
            for layer_id, layer in layers.items()}


def _value(name: str, value: Any, layer: dict[str, Any], matrices: list[Matrix]) -> Any:
    if isinstance(value, str) and name.endswith("colour") and value.startswith("#"):
        return _colour(value, matrices)[0]
    if name != "stops":
        return value
    changed = [(stop.position, *_colour(stop.colour, matrices)) for stop in value]
    if any(cut for *_, cut in changed) and "mixing" not in layer:
        # Where a channel reaches its end between two stops the gradient bends there.
        changed = [(at, *_colour(colour, matrices)) for at, colour in _finer(value)]
    return tuple(Stop(position=at, colour=colour) for at, colour, _ in changed)


def _finer(stops: Sequence[Stop]) -> list[tuple[float, str]]:
    made = []
    for first, last in pairwise(stops):
        parts = FINER if last.position > first.position else 1
        made += [(first.position + (last.position - first.position) * at / parts,
                  mixed(first.colour, last.colour, 1 - at / parts, at / parts, "srgb"))
                 for at in range(parts)]
    return [*made, (stops[-1].position, stops[-1].colour)]


def _colour(text: str, matrices: list[Matrix]) -> tuple[str, bool]:
    """A colour after all functions, each of which keeps to what can be shown; and whether one had
    to.
    """
    digits = colour_from_text(text).lstrip("#")
    channels = np.array([*(int(digits[at : at + 2], 16) / 255 for at in (0, 2, 4)), 1.0])
    cut = False
    for matrix in matrices:
        changed = matrix @ channels
        channels = np.clip(changed, 0.0, 1.0)
        cut = cut or bool(np.abs(channels - changed).max() > 1 / 255)
    alpha = int(digits[6:8], 16) / 255 if len(digits) == 8 else 1.0
    return hex_of((*map(float, channels[:3]), alpha)), cut
