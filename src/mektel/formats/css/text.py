"""How text is set, and how long changes take."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from mektel.core.easing import EasingError, easing_from_text
from mektel.formats.css.lengths import (
    ROOT_EM,
    Scale,
    ShadowValue,
    colour,
    is_length,
    length,
    shadows,
)
from mektel.formats.css.tokens import CssError, Declared, components, split_by
from mektel.formats.css.tokens import text_of as text_of_tokens

if TYPE_CHECKING:
    from mektel.formats.css.reader import Reader

LABEL = (
    "color", "font", "font-family", "font-size", "font-weight", "letter-spacing", "line-height",
    "text-align", "text-transform", "text-shadow", "font-style",
)
FAMILIES = ("Hanken Grotesk", "Rubik")
WEIGHTS = (400, 500, 600, 700, 800)
NAMED_WEIGHTS = {"normal": 400, "bold": 700, "bolder": 700, "lighter": 400}
ALIGN = {"left": "start", "start": "start", "center": "centre", "right": "end", "end": "end"}
EASINGS = ("linear", "ease", "ease-in", "ease-out", "ease-in-out")


@dataclass
class Text:
    colour: str = "#000000"
    family: str = "Hanken Grotesk"
    size: float = ROOT_EM
    weight: int = 400
    spacing: float = 0.0
    align: str = "centre"
    case: str = "as-written"
    shadow: ShadowValue | None = None


def text_of(reader: Reader) -> Text:
    text = Text()
    text.colour = reader.take("color", _one_colour, "#000000")
    root = Scale(root=reader.sheet.root_em)

    def whole(declared: Declared) -> None:
        family: list[Any] = []
        for token in components(declared.tokens):
            if text.size != ROOT_EM or family:
                family.append(token)
            elif token.type == "number":
                text.weight = round(token.value)
            elif token.type == "ident" and token.lower_value in NAMED_WEIGHTS:
                text.weight = NAMED_WEIGHTS[token.lower_value]
            elif is_length(token):
                text.size = length(token, root, ROOT_EM)
                family.append(token)
        _family(reader, declared, family[1:], text)

    reader.take("font", whole, None)
    text.size = reader.take(
        "font-size", lambda d: length(components(d.tokens)[0], root, ROOT_EM), text.size)
    text.size = min(400.0, max(4.0, text.size))
    reader.take("font-family", lambda d: _family(reader, d, components(d.tokens), text), None)
    text.weight = reader.take("font-weight", _weight, text.weight)
    text.weight = min(WEIGHTS, key=lambda known: abs(known - text.weight))
    scale = Scale(text.size, reader.sheet.root_em)
    text.spacing = reader.take("letter-spacing", lambda d: 0.0 if d.text == "normal" else length(
        components(d.tokens)[0], scale), 0.0)
    text.align = ALIGN.get(reader.take("text-align", lambda d: d.text, "center"), "centre")
    case = reader.take("text-transform", lambda d: d.text, "none")
    if case == "uppercase":
        text.case = "capitals"
    elif case != "none":
        reader.sheet.leave(reader.declared["text-transform"].line, f"text-transform: {case}")
    text_shadows = reader.take("text-shadow", lambda d: shadows(d, scale, text.colour), [])
    if text_shadows:
        text.shadow = text_shadows[0]
    if len(text_shadows) > 1:
        reader.sheet.leave(reader.declared["text-shadow"].line, "all but the first text-shadow")
    if reader.has("font-style") and reader.declared["font-style"].text != "normal":
        reader.sheet.leave(reader.declared["font-style"].line, "no slanted font ships with Mektel")
    return text


def _one_colour(declared: Declared) -> str:
    tone = colour(components(declared.tokens)[0])
    if tone is None:
        raise CssError(declared.text)
    return tone


def _weight(declared: Declared) -> int:
    token = components(declared.tokens)[0]
    if token.type == "ident":
        return NAMED_WEIGHTS.get(token.lower_value, 400)
    return round(token.value)


def _family(reader: Reader, declared: Declared, tokens: list[Any], text: Text) -> None:
    for part in split_by(tokens, ","):
        name = " ".join(str(token.value) for token in components(part)
                        if token.type in ("ident", "string")).strip()
        if name in FAMILIES:
            text.family = name
            return
    if tokens:
        reader.sheet.leave(
            declared.line, f"its font does not ship with Mektel; {text.family} stands in")


def label_values(text: Text) -> dict[str, Any]:
    values: dict[str, Any] = {
        "colour": text.colour, "family": text.family, "size": text.size, "weight": text.weight,
        "spacing": text.spacing, "align": text.align, "case": text.case, "style": "solid",
    }
    if text.shadow is not None:
        values |= {
            "shadow_colour": text.shadow.colour, "shadow_blur": min(400.0, text.shadow.blur),
            "shadow_offset": (text.shadow.x, text.shadow.y),
        }
    return values


def transition_of(reader: Reader) -> dict[str, Any] | None:
    """The first transition's times and easing, for all values; None for none."""

    def first(declared: Declared) -> Any:
        return components(split_by(declared.tokens, ",")[0])

    def whole(declared: Declared) -> dict[str, Any]:
        transition: dict[str, Any] = {}
        for token in first(declared):
            if token.type == "dimension" and token.lower_unit in ("s", "ms"):
                name = "delay" if "seconds" in transition else "seconds"
                transition[name] = _seconds(token)
            elif token.type == "function" or (
                    token.type == "ident" and token.lower_value in EASINGS):
                transition["easing"] = text_of_tokens([token]).lower()
            elif token.type == "ident" and token.lower_value == "none":
                return {}
        return transition

    transition: dict[str, Any] = reader.take("transition", whole, {})
    for name, part, read in (
            ("seconds", "duration", lambda d: _seconds(first(d)[0])),
            ("delay", "delay", lambda d: _seconds(first(d)[0])),
            ("easing", "timing-function", lambda d: text_of_tokens(first(d)[:1]).lower())):
        value = reader.take(f"transition-{part}", read, None)
        if value is not None:
            transition[name] = value
    if not transition.get("seconds"):
        return None
    try:
        easing_from_text(transition.get("easing", "ease"))
    except EasingError as error:
        reader.sheet.leave(
            reader.line_of("transition", "transition-timing-function"), f"transition: {error}")
        del transition["easing"]
    transition["delay"] = min(10.0, max(0.0, transition.get("delay", 0.0)))
    transition["seconds"] = min(10.0, transition["seconds"])
    return transition


def _seconds(token: Any) -> float:
    return max(0.0, float(token.value) * (0.001 if token.lower_unit == "ms" else 1.0))
