"""Conditions of a sheet, decided for a desktop screen with a pointer (Media Queries 4)."""

from __future__ import annotations

from typing import Any

from mektel.formats.css.tokens import components, split_by, text_of

WIDTH, HEIGHT = 1280.0, 800.0
PER_UNIT = {"px": 1.0, "em": 16.0, "rem": 16.0, "pt": 96 / 72, "cm": 96 / 2.54, "in": 96.0}
# Features that a desktop screen has, by the value that is asked of them; "" for any.
FEATURES = {
    "hover": ("", "hover"), "any-hover": ("", "hover"), "pointer": ("", "fine"),
    "any-pointer": ("", "fine", "coarse"), "orientation": ("landscape",),
    "prefers-reduced-motion": ("no-preference",), "prefers-contrast": ("no-preference",),
    "prefers-reduced-transparency": ("no-preference",), "forced-colors": ("none",),
    "inverted-colors": ("none",), "update": ("", "fast"), "scripting": ("", "enabled"),
    "color": ("",), "color-gamut": ("srgb",), "display-mode": ("browser",), "grid": ("0",),
    "min-resolution": (), "max-resolution": (), "dynamic-range": ("standard",),
}


def scheme_of(prelude: list[Any]) -> str:
    """The scheme that a media query asks for, if it asks for that alone; or nothing."""
    asked = text_of(prelude).replace(" ", "").lower().removeprefix("screenand")
    return {"(prefers-color-scheme:dark)": "dark", "(prefers-color-scheme:light)": "light"}.get(
        asked, "")


def media_holds(prelude: list[Any]) -> bool | None:
    """Whether any of the queries holds; None where none does and some are not understood."""
    answers = [_query(part) for part in split_by(prelude, ",")]
    if True in answers or not components(prelude):
        return True
    return None if None in answers else False


def _query(tokens: list[Any]) -> bool | None:
    """One query: types and features joined by ``and`` or ``or``, or one of them with ``not``."""
    negated, joined = False, "and"
    answers: list[bool | None] = []
    for token in components(tokens):
        if token.type == "ident":
            word = token.lower_value
            if word == "not":
                negated = True
            elif word in ("and", "or"):
                joined = word
            elif word != "only":
                answers.append(word in ("all", "screen"))
        elif token.type == "() block":
            answers.append(_feature(components(token.content)))
        else:
            return None
    if None in answers:
        return None
    met = any(answers) if joined == "or" else all(answers)
    return met != negated


def _feature(tokens: list[Any]) -> bool | None:
    if any(token.type == "() block" for token in tokens) or (
            tokens and tokens[0].type == "ident" and tokens[0].lower_value == "not"):
        return _query(tokens)
    values = [token.lower_value for token in tokens if token.type == "ident"]
    numbers = [token for token in tokens if token.type in ("dimension", "number")]
    marks = "".join(token.value for token in tokens if token.type == "literal")
    if not values:
        return None
    name = values[0]
    for side, room in (("width", WIDTH), ("height", HEIGHT)):
        if name.removeprefix("min-").removeprefix("max-") == side:
            sizes = [size for token in numbers if (size := _px(token)) is not None]
            if len(sizes) < len(numbers) or not sizes:
                return None if numbers else True
            return _compared(tokens, name, marks, room, sizes)
    if name == "prefers-color-scheme":
        return "light" in values
    if name in FEATURES:
        given = values[1] if len(values) > 1 else (
            f"{numbers[0].value:g}" if numbers else "")
        return given in FEATURES[name]
    return None


def _compared(
    tokens: list[Any], name: str, marks: str, room: float, sizes: list[float]
) -> bool:
    if name.startswith("min-"):
        return room >= sizes[0]
    if name.startswith("max-"):
        return room <= sizes[0]
    if marks == ":":
        return room == sizes[0]
    # A range: "width >= 600px", "600px <= width", "400px <= width <= 700px".
    first = tokens[0].type == "dimension"
    if len(sizes) == 2:
        low, high = (sizes[0], sizes[1]) if marks.startswith("<") else (sizes[1], sizes[0])
        return low <= room <= high
    mark = marks if not first else marks.translate(str.maketrans("<>", "><"))
    return {"<": room < sizes[0], "<=": room <= sizes[0], ">": room > sizes[0],
            ">=": room >= sizes[0]}.get(mark, False)


def _px(token: Any) -> float | None:
    if token.type == "number":
        return float(token.value) if token.value == 0 else None
    factor = PER_UNIT.get(token.lower_unit)
    return None if factor is None else float(token.value) * factor


def supported(prelude: list[Any]) -> bool:
    """Whether a current browser supports what is asked; what is not prefixed is taken as so."""
    tokens = components(prelude)
    if tokens and tokens[0].type == "ident" and tokens[0].lower_value == "not":
        return not supported(tokens[1:])
    text = text_of(tokens).lower().lstrip("( ")
    return not text.startswith(("-moz-", "-ms-", "selector(::-moz"))
