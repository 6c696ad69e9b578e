"""``border-image`` with a gradient: the border as a cut-out of it (CSS Backgrounds 3, 6)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from mektel.formats.css.borders import Border, inside
from mektel.formats.css.gradients import fill_values, is_gradient
from mektel.formats.css.lengths import Scale, four, length
from mektel.formats.css.pictures import url_in
from mektel.formats.css.reader import Reader
from mektel.formats.css.tokens import CssError, Declared, components, split_by, text_of

PARTS = ("source", "slice", "width", "outset", "repeat")
BORDER_IMAGE = ("border-image", *(f"border-image-{part}" for part in PARTS))
WAYS = ("stretch", "repeat", "round", "space")
# By so much of 255 a gradient may change where slices are stretched to other widths.
UNSEEN = 12.0
SQUARE: dict[str, Any] = {"corners": (0.0,) * 4, "vertical_radii": None}


@dataclass
class _Given:
    """What the shorthand and its parts come to, as tokens."""

    source: Any = None
    slices: tuple[Any, ...] = ()
    widths: tuple[Any, ...] = ()
    outset: tuple[Any, ...] = ()


def border_image(
    reader: Reader, scale: Scale, current: str, size: tuple[float, float], border: Border
) -> dict[str, dict[str, Any]] | None:
    """The layer in place of a border of a box of ``size`` px; None where there is none."""
    given = _Given()
    for name in reader.declared:
        if name in BORDER_IMAGE:

            def read(declared: Declared, part: str = name.removeprefix("border-image")) -> None:
                _read(given, part.strip("-"), declared)

            reader.take(name, read, None)
    if given.source is None or not border.any:
        return None
    name = next(name for name in BORDER_IMAGE if reader.has(name))
    return reader.take(name, lambda _: _layer(given, scale, current, size, border), None)


def _read(given: _Given, part: str, declared: Declared) -> None:
    if part in ("slice", "width", "outset"):
        setattr(given, {"slice": "slices", "width": "widths"}.get(part, part),
                tuple(components(declared.tokens)))
        return
    measures: list[list[Any]] = []
    for tokens in split_by(declared.tokens, "/"):
        measures.append([])
        for token in components(tokens):
            word = token.lower_value if token.type == "ident" else ""
            if is_gradient(token) or url_in(token) is not None:
                given.source = token
            elif word == "none":
                given.source = None
            elif token.type in ("number", "percentage", "dimension") or word in ("fill", "auto"):
                measures[-1].append(token)
            elif word not in WAYS:
                raise CssError(text_of([token]))
    if part == "":
        given.slices, given.widths, given.outset = (
            tuple(of) for of in (*measures, [], [], [])[:3])


def _layer(
    given: _Given, scale: Scale, current: str, size: tuple[float, float], border: Border
) -> dict[str, dict[str, Any]]:
    if not is_gradient(given.source):
        raise CssError("a picture for the border; import it by itself")
    if any(token.type == "ident" or token.value for token in given.outset):
        raise CssError("a border image that stands off")
    filled = any(token.type == "ident" for token in given.slices)
    numbers = [token for token in given.slices if token.type != "ident"]
    sides = size[1], size[0], size[1], size[0]
    slices, widths = list(sides), list(border.widths)
    if numbers:
        slices = [_slice(*pair) for pair in zip(four(numbers), sides, strict=True)]
    if given.widths:
        widths = [_width(token, scale, *pair) for token, pair in zip(
            four(list(given.widths)), zip(border.widths, sides, strict=True), strict=True)]
    values = fill_values(given.source, size, scale, current)
    for at, (cut, width) in enumerate(zip(slices, widths, strict=True)):
        if width and abs(cut - width) * _steepness(values, size, at % 2 == 1) > UNSEEN:
            raise CssError(f"slices of {cut:g} px for a border of {width:g}")
    joins = [] if filled else [{**inside(SQUARE, tuple(widths)), "operation": "difference"}]
    return {"border-image": {
        "kind": "fill", "name": "Border image",
        "outline": {"form": "box", "corners": SQUARE["corners"], "joins": joins}, **values}}


def _steepness(values: dict[str, Any], size: tuple[float, float], across: bool) -> float:
    """By how much of 255 a gradient on a box changes in a px, across or down, at most."""
    if values["style"] == "conic":
        return 255.0
    if values["style"] == "radial":
        along = 1 / max(1.0, values["reach"][1 - across] * size[1 - across])
    else:
        turn = math.radians(values["direction"])
        shares = abs(math.cos(turn)), abs(math.sin(turn))
        along = shares[across] / max(1.0, size[0] * shares[1] + size[1] * shares[0])
    steepest = 0.0
    for first, last in pairwise(values["stops"]):
        far = max(abs(one - other) for one, other in zip(
            _channels(first.colour), _channels(last.colour), strict=True))
        steepest = max(steepest, far / max(1e-3, last.position - first.position))
    return along * steepest


def _channels(colour: str) -> bytes:
    return bytes.fromhex((colour[1:] + "FF")[:8])


def _slice(token: Any, side: float) -> float:
    """Px of a gradient, which is as large as the box."""
    value = float(token.value)
    return value * side / 100 if token.type == "percentage" else value


def _width(token: Any, scale: Scale, border: float, side: float) -> float:
    if token.type == "number":
        return float(token.value) * border
    return border if token.type == "ident" else length(token, scale, side)
