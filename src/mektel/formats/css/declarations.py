"""The declarations of one state as a body and layers, in paint order."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import tinycss2

from mektel.formats.css.gradients import fill_values, is_gradient
from mektel.formats.css.lengths import (
    Scale,
    angle,
    colour,
    four,
    is_length,
    length,
    radii,
    shadows,
)
from mektel.formats.css.rules import CssError, Declared, Sheet, components, split_by
from mektel.formats.css.text import LABEL, Text, label_values, text_of, transition_of

SIZES = ("width", "height", "min-width", "min-height")
STYLES = ("none", "hidden", "solid", "dashed", "dotted", "double", "groove", "ridge", "inset",
          "outset", "auto")
BORDER = ("border", "border-width", "border-color", "border-style")
BACKGROUND = ("background", "background-color", "background-image")
KNOWN = {
    *SIZES, *BORDER, *BACKGROUND, *LABEL, "border-radius", "box-shadow", "opacity", "padding",
    "padding-top", "padding-bottom", "padding-left", "padding-right", "outline", "outline-offset",
    "outline-width", "outline-color", "outline-style", "transform", "transform-origin",
    "backdrop-filter", "filter", "mix-blend-mode", "background-blend-mode", "transition",
    "border-top-left-radius", "border-top-right-radius", "border-bottom-right-radius",
    "border-bottom-left-radius",
}
CORNERS = ("border-top-left-radius", "border-top-right-radius", "border-bottom-right-radius",
           "border-bottom-left-radius")


@dataclass
class Built:
    outline: dict[str, Any] = field(default_factory=dict)
    layers: dict[str, dict[str, Any]] = field(default_factory=dict)
    size: tuple[float, float] = (4.0, 4.0)
    sized: bool = False
    transition: dict[str, Any] | None = None


@dataclass
class Border:
    width: float = 0.0
    colour: str = ""
    style: str = "none"


class Reader:
    """Declarations of one state; what cannot be read is left with its line."""

    def __init__(self, sheet: Sheet, state: str) -> None:
        self.sheet = sheet
        self.declared = sheet.merged(state)
        for name, declared in self.declared.items():
            if name not in KNOWN:
                sheet.leave(declared.line, f"{name}: {declared.text[:60]}")

    def take(self, name: str, read: Callable[[Declared], Any], otherwise: Any) -> Any:
        declared = self.declared.get(name)
        if declared is None or declared.text in ("inherit", "initial", "unset", "revert"):
            return otherwise
        try:
            return read(declared)
        except CssError as error:
            self.sheet.leave(declared.line, f"{name}: {error}")
        except Exception:
            # Whatever a token is, it is not a value that this property takes.
            self.sheet.leave(declared.line, f"{name}: {declared.text[:60]}")
        return otherwise

    def has(self, *names: str) -> bool:
        return any(name in self.declared for name in names)


def build(sheet: Sheet, state: str) -> Built:
    reader = Reader(sheet, state)
    text = text_of(reader)
    scale = Scale(text.size)
    built = Built(transition=transition_of(reader))
    _size(reader, scale, built)
    border = _edge(reader, scale, text, "border")
    _body(reader, scale, built, border)
    # CSS paints outer shadows, the backdrop's blur, backgrounds, inner shadows, border, text.
    _filters(reader, scale, built, text)
    _shadows(reader, scale, built, text, inset=False)
    _glass(reader, scale, built)
    _backgrounds(reader, scale, built, text, border)
    _shadows(reader, scale, built, text, inset=True, border=border.width)
    if border.width > 0:
        built.layers["border"] = _line("Border", border, "inside", 0.0)
    outline = _outline(reader, scale, text)
    if outline is not None:
        built.layers["outer-line"] = outline
    built.layers["label"] = {"kind": "label", "name": "Label", **label_values(text)}
    _transform(reader, scale, built)
    return built


def _size(reader: Reader, scale: Scale, built: Built) -> None:
    sides = []
    for side in ("width", "height"):
        value = reader.take(side, lambda d: length(components(d.tokens)[0], scale), None)
        if value is None:
            value = reader.take(
                f"min-{side}", lambda d: length(components(d.tokens)[0], scale), None)
        sides.append(None if value is None else min(2000.0, max(4.0, value)))
    built.sized = None not in sides
    width, height = sides
    known = reader.sheet.size or (4.0, 4.0)
    built.size = (width or known[0], height or known[1])


def _edge(reader: Reader, scale: Scale, text: Text, name: str) -> Border:
    """``border`` or ``outline``: the shorthand and its parts, in the order of the sheet."""
    edge = Border(colour=text.colour)

    def whole(declared: Declared) -> None:
        edge.style, edge.width, edge.colour = "none", 3.0, text.colour
        for token in components(declared.tokens):
            tone = colour(token, text.colour)
            if is_length(token):
                edge.width = length(token, scale)
            elif token.type == "ident" and token.lower_value in STYLES:
                edge.style = token.lower_value
            elif tone is not None:
                edge.colour = tone
            else:
                raise CssError(tinycss2.serialize([token]))

    def width(declared: Declared) -> None:
        sides = [length(token, scale) for token in four(components(declared.tokens))]
        if len(set(sides)) > 1:
            raise CssError("sides of different widths")
        edge.width = sides[0]

    def tone(declared: Declared) -> None:
        tones = [colour(token, text.colour) for token in components(declared.tokens)]
        if tones[0] is None or len(set(tones)) > 1:
            raise CssError(f"{declared.text}; one colour is taken for all sides")
        edge.colour = tones[0]

    def style(declared: Declared) -> None:
        edge.style = components(declared.tokens)[0].lower_value

    readers = {name: whole, f"{name}-width": width, f"{name}-color": tone, f"{name}-style": style}
    for property_name in reader.declared:
        if property_name in readers:
            reader.take(property_name, readers[property_name], None)
    if edge.style in ("none", "hidden"):
        edge.width = 0.0
    if edge.style == "auto":
        edge.style = "solid"
    return edge


def _line(name: str, border: Border, place: str, gap: float) -> dict[str, Any]:
    values: dict[str, Any] = {
        "kind": "line", "name": name, "colour": border.colour, "width": border.width,
        "place": place, "gap": gap,
    }
    if border.style == "dashed":
        values |= {"dash": border.width * 2, "dash_gap": border.width * 2}
    elif border.style == "dotted":
        values |= {"dash": border.width, "dash_gap": border.width}
    return values


def _body(reader: Reader, scale: Scale, built: Built, border: Border) -> None:
    size = built.size
    across, down = reader.take(
        "border-radius", lambda d: radii(d, scale, size), ((0.0,) * 4, (0.0,) * 4))
    across, down = list(across), list(down)
    for at, name in enumerate(CORNERS):
        pair = reader.take(name, lambda d: [
            length(token, scale, size[n])
            for n, token in enumerate((components(d.tokens)[0], components(d.tokens)[-1]))], None)
        if pair is not None:
            across[at], down[at] = pair
    limited = [min(2000.0, max(0.0, value)) for value in across]
    within_y = [min(2000.0, max(0.0, value)) for value in down]
    padding = reader.take("padding", lambda d: [
        length(token, scale, size[0]) for token in four(components(d.tokens))
    ], [1.0, 6.0, 1.0, 6.0])
    for at, side in enumerate(("top", "right", "bottom", "left")):
        padding[at] = reader.take(
            f"padding-{side}", lambda d: length(components(d.tokens)[0], scale), padding[at])
    if padding[0] != padding[2] or padding[1] != padding[3]:
        line = next(entry.line for n, entry in reader.declared.items() if n.startswith("padding"))
        reader.sheet.leave(line, "padding that differs from side to side; its mean is taken")
    built.outline = {
        "form": "box", "corners": tuple(limited),
        "vertical_radii": None if limited == within_y else tuple(within_y),
        "padding": ((padding[1] + padding[3]) / 2 + border.width,
                    (padding[0] + padding[2]) / 2 + border.width),
        "opacity": reader.take("opacity", _share, 1.0),
    }
    if reader.has("mix-blend-mode"):
        blend = reader.declared["mix-blend-mode"]
        if blend.text != "normal":
            reader.sheet.leave(blend.line, "mix-blend-mode of the whole: a control stands alone")


def _share(declared: Declared) -> float:
    token = components(declared.tokens)[0]
    value = token.value / 100 if token.type == "percentage" else token.value
    return min(1.0, max(0.0, float(value)))


def _shadows(
    reader: Reader, scale: Scale, built: Built, text: Text, inset: bool, border: float = 0.0
) -> None:
    listed = [shadow for shadow in reader.take(
        "box-shadow", lambda d: shadows(d, scale, text.colour), []) if shadow.inset == inset]
    for at, shadow in reversed(list(enumerate(listed, 1))):
        values: dict[str, Any] = {
            "kind": "inner-shadow" if inset else "shadow", "colour": shadow.colour,
            "name": f"{'Inner shadow' if inset else 'Shadow'}{f' {at}' if len(listed) > 1 else ''}",
            "offset": (shadow.x, shadow.y), "blur": min(400.0, shadow.blur),
            "spread": shadow.spread,
        }
        if inset and border > 0:
            # Inner shadows fall within the border.
            values["outline"] = _inside(built, border)
        built.layers[f"{'inner' if inset else 'shadow'}-{at}"] = values


def _inside(built: Built, border: float) -> dict[str, Any]:
    """The padding box as an outline of its own: the body's, drawn in by the border."""
    body = built.outline
    across = tuple(max(0.0, r - border) for r in body["corners"])
    down = tuple(max(0.0, r - border) for r in body["vertical_radii"] or body["corners"])
    return {
        "form": "box", "x": (0.0, border), "y": (0.0, border), "width": (1.0, -2 * border),
        "height": (1.0, -2 * border), "corners": across,
        "vertical_radii": None if across == down else down,
    }


def _glass(reader: Reader, scale: Scale, built: Built) -> None:
    def read(declared: Declared) -> float:
        total = 0.0
        for token in components(declared.tokens):
            if token.type == "ident" and token.lower_value == "none":
                return 0.0
            if token.type != "function" or token.lower_name != "blur":
                raise CssError(tinycss2.serialize([token]))
            total = length(components(token.arguments)[0], scale)
        return total

    sigma = reader.take("backdrop-filter", read, 0.0)
    if sigma > 0:
        built.layers["glass"] = {
            "kind": "lens", "name": "Glass", "bend": 0.0, "blur": min(400.0, 2 * sigma),
            "colour": "#FFFFFF00", "rim": 0.0, "fringe": 0.0,
        }


def _filters(reader: Reader, scale: Scale, built: Built, text: Text) -> None:
    def read(declared: Declared) -> list[dict[str, Any]]:
        layers = []
        for token in components(declared.tokens):
            if token.type == "ident" and token.lower_value == "none":
                continue
            if token.type != "function" or token.lower_name != "drop-shadow":
                raise CssError(tinycss2.serialize([token]))
            shadow = shadows(Declared(token.arguments, declared.line), scale, text.colour)[0]
            # Here the third length is the Gaussian's sigma itself (Filter Effects 1).
            layers.append({
                "kind": "shadow", "name": "Drop shadow", "colour": shadow.colour,
                "offset": (shadow.x, shadow.y), "blur": min(400.0, 2 * shadow.blur), "spread": 0.0,
            })
        return layers

    for at, values in enumerate(reader.take("filter", read, []), 1):
        built.layers[f"drop-{at}"] = values


def _backgrounds(
    reader: Reader, scale: Scale, built: Built, text: Text, border: Border
) -> None:
    images: list[Any] = []
    tone = ""

    def whole(declared: Declared) -> tuple[list[Any], str]:
        layers, last = [], ""
        for part in split_by(declared.tokens, ","):
            for token in components(part):
                shade = colour(token, text.colour)
                if is_gradient(token):
                    layers.append(token)
                elif shade is not None:
                    last = shade
                elif token.type != "ident" or token.lower_value not in ("none", "no-repeat"):
                    reader.sheet.leave(
                        declared.line, f"{tinycss2.serialize([token])} in background")
        return layers, last

    for name in sorted((n for n in BACKGROUND if reader.has(n)), key=list(reader.declared).index):
        last_images, shade = reader.take(name, whole, ([], ""))
        if name == "background":
            images, tone = last_images, shade
        elif name == "background-image":
            images = last_images
        else:
            tone = shade
    modes = reader.take("background-blend-mode", lambda d: [
        t.lower_value for t in components(d.tokens) if t.type == "ident"], [])
    width, height = built.size
    # Gradients span the padding box and are repeated under the border, where that shows them.
    inset = border.width
    hidden = border.style == "solid" and len(border.colour) == 7
    box = (max(1.0, width - 2 * inset), max(1.0, height - 2 * inset))
    if tone and tone != "#00000000":
        built.layers["background"] = {
            "kind": "fill", "name": "Background", "style": "solid", "colour": tone}
    for at, token in reversed(list(enumerate(images, 1))):
        line = reader.declared.get("background") or reader.declared["background-image"]
        try:
            values = fill_values(token, box, scale, text.colour)
        except CssError as error:
            reader.sheet.leave(line.line, f"{token.name}: {error}")
            continue
        except Exception:
            reader.sheet.leave(line.line, f"{token.name}: not a gradient that can be read")
            continue
        if modes and modes[(at - 1) % len(modes)] != "normal":
            values["blend"] = modes[(at - 1) % len(modes)]
        built.layers[f"gradient-{at}"] = {
            "kind": "fill", "name": "Gradient" if len(images) == 1 else f"Gradient {at}",
            **({"expand": -inset} if hidden else {"origin": inset}), **values}


def _outline(reader: Reader, scale: Scale, text: Text) -> dict[str, Any] | None:
    outline = _edge(reader, scale, text, "outline")
    gap = reader.take("outline-offset", lambda d: length(components(d.tokens)[0], scale), 0.0)
    return _line("Focus ring", outline, "outside", gap) if outline.width > 0 else None


def _transform(reader: Reader, scale: Scale, built: Built) -> None:
    """A move is the body's; turning and scaling go to every layer, about the origin."""
    move, turn, factors = [0.0, 0.0], 0.0, [1.0, 1.0]

    def read(declared: Declared) -> None:
        nonlocal turn
        width, height = built.size
        for token in components(declared.tokens):
            if token.type == "ident" and token.lower_value == "none":
                continue
            if token.type != "function":
                raise CssError(tinycss2.serialize([token]))
            given = map(components, split_by(token.arguments, ","))
            values = [tokens[0] for tokens in given if tokens]
            name = token.lower_name
            if name in ("translate", "translatex", "translatey"):
                if name == "translatey":
                    move[1] += length(values[0], scale, height)
                else:
                    move[0] += length(values[0], scale, width)
                    if len(values) > 1:
                        move[1] += length(values[1], scale, height)
            elif name == "rotate":
                turn += angle(values[0])
            elif name in ("scale", "scalex", "scaley"):
                both = [float(value.value) for value in (values * 2)[:2]]
                factors[0] *= both[0] if name != "scaley" else 1.0
                factors[1] *= both[1] if name != "scalex" else 1.0
            else:
                raise CssError(f"{name}()")

    reader.take("transform", read, None)
    built.outline["offset"] = (move[0], move[1])
    if turn or factors != [1.0, 1.0]:
        from mektel.formats.css.gradients import position

        pivot = reader.take("transform-origin", lambda d: position(
            components(d.tokens), built.size, scale), (0.5, 0.5))
        for values in built.layers.values():
            values |= {"rotate": turn, "scale": (factors[0], factors[1]), "pivot": pivot}
