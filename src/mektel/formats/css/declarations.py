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
from mektel.formats.css.borders import (
    SIDES,
    Border,
    border_layers,
    border_of,
    edge_of,
    inside,
    line_values,
)
from mektel.formats.css.cascade import KEYWORDS
from mektel.formats.css.described import Described
from mektel.formats.css.tokens import CssError, Declared, components, split_by
from mektel.formats.css.text import LABEL, Text, label_values, text_of, transition_of

SIZES = ("line-height", "width", "height", "min-width", "min-height")
# What a button has where no sheet says so (HTML 15.5.6); the height of a line, in em.
PADDING, NORMAL = (1.0, 6.0, 1.0, 6.0), 1.2
BORDER = ("border", *(f"border-{part}" for part in ("width", "color", "style", *SIDES)),
          *(f"border-{side}-{part}" for side in SIDES for part in ("width", "color", "style")))
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


class Reader:
    """Declarations of one state; what cannot be read is left with its line."""

    def __init__(self, sheet: Described, state: str) -> None:
        self.sheet = sheet
        self.declared = sheet.states[state]
        for name, declared in self.declared.items():
            if name not in KNOWN:
                sheet.leave(declared.line, f"{name}: {declared.text[:60]}")

    def take(
        self, name: str, read: Callable[[Declared], Any], otherwise: Any, initial: bool = False
    ) -> Any:
        """What ``read`` makes of a value; ``initial`` if it also reads that keyword."""
        declared = self.declared.get(name)
        if declared is None or (declared.text in KEYWORDS and not initial):
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


def build(sheet: Described, state: str) -> Built:
    reader = Reader(sheet, state)
    text = text_of(reader)
    scale = Scale(text.size, sheet.root_em)
    built = Built(transition=transition_of(reader))
    border = border_of(reader, scale, text.colour)
    _size(reader, scale, built, border)
    _body(reader, scale, built, border)
    # CSS paints outer shadows, the backdrop's blur, backgrounds, inner shadows, border, text.
    _filters(reader, scale, built, text)
    _shadows(reader, scale, built, text, inset=False)
    _glass(reader, scale, built)
    _backgrounds(reader, scale, built, text, border)
    _shadows(reader, scale, built, text, inset=True, border=border)
    built.layers |= border_layers(border, built.outline)
    outline = _outline(reader, scale, text)
    if outline is not None:
        built.layers["outer-line"] = outline
    built.layers["label"] = {"kind": "label", "name": "Label", **label_values(text)}
    _transform(reader, scale, built)
    return built


def _size(reader: Reader, scale: Scale, built: Built, border: Border) -> None:
    padding, edges = _padding(reader, scale), border.widths
    sides = []
    for at, side in enumerate(("width", "height")):
        # Between the box that the sheet gives and the one with padding and border.
        more = 0.0
        if reader.sheet.content_box:
            more = padding[1 - at] + padding[3 - at] + edges[1 - at] + edges[3 - at]
        values = [
            reader.take(name, lambda d: _side(d, scale), None)
            for name in (side, f"min-{side}")]
        given = [value + more for value in values if value is not None]
        if values[0] is None and at == 1 and given:
            # What is at least so high is as high as its text where that is higher.
            given.append(_text_height(reader, scale) + padding[0] + padding[2] + edges[0] + edges[2])
        sides.append(min(2000.0, max(4.0, *given)) if given else None)
    if sides[1] is None and reader.has("line-height"):
        # Browsers, too, put the edges of boxes on whole pixels.
        sides[1] = max(4.0, round(_text_height(reader, scale) + padding[0] + padding[2]
                                  + edges[0] + edges[2]))
    built.sized = None not in sides
    width, height = sides
    known = reader.sheet.size or (4.0, 4.0)
    built.size = (width or known[0], height or known[1])


def _side(declared: Declared, scale: Scale) -> float | None:
    token = components(declared.tokens)[0]
    if token.type == "ident" or (token.type == "percentage" and token.value > 0):
        return None  # as its text or what holds it has it
    return length(token, scale)


def _text_height(reader: Reader, scale: Scale) -> float:
    """The height of a line of text, in px; as the shipped font has it where no sheet says so."""
    def read(declared: Declared) -> float:
        token = components(declared.tokens)[0]
        if token.type == "number":
            return float(token.value) * scale.em
        return NORMAL * scale.em if token.type == "ident" else length(token, scale, scale.em)

    return min(400.0, max(0.0, reader.take("line-height", read, NORMAL * scale.em)))


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
    padding = _padding(reader, scale)
    top, right, bottom, left = border.widths
    built.outline = {
        "form": "box", "corners": tuple(limited),
        "vertical_radii": None if limited == within_y else tuple(within_y),
        "padding": ((padding[1] + padding[3] + left + right) / 2,
                    (padding[0] + padding[2] + top + bottom) / 2),
        "opacity": reader.take("opacity", _share, 1.0),
    }
    if reader.has("mix-blend-mode"):
        blend = reader.declared["mix-blend-mode"]
        if blend.text != "normal":
            reader.sheet.leave(blend.line, "mix-blend-mode of the whole: a control stands alone")


def _padding(reader: Reader, scale: Scale) -> list[float]:
    """From the top clockwise, in px; percentages are of a width that is not known here."""
    padding = reader.take("padding", lambda d: [
        length(token, scale) for token in four(components(d.tokens))
    ], list(PADDING))
    for at, side in enumerate(SIDES):
        padding[at] = reader.take(
            f"padding-{side}", lambda d: length(components(d.tokens)[0], scale), padding[at])
    return [min(400.0, max(0.0, value)) for value in padding]


def _share(declared: Declared) -> float:
    token = components(declared.tokens)[0]
    value = token.value / 100 if token.type == "percentage" else token.value
    return min(1.0, max(0.0, float(value)))


def _shadows(
    reader: Reader, scale: Scale, built: Built, text: Text, inset: bool,
    border: Border | None = None,
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
        if inset and border is not None and border.any:
            # Inner shadows fall within the border.
            values["outline"] = inside(built.outline, border.widths)
        built.layers[f"{'inner' if inset else 'shadow'}-{at}"] = values


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
    top, right, bottom, left = border.widths
    box = (max(1.0, width - left - right), max(1.0, height - top - bottom))
    if len({top, right, bottom, left}) == 1:
        frame: dict[str, Any] = {"expand": -top} if border.hides else {"origin": top}
    else:
        frame = {"outline": inside(built.outline, border.widths)}
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
            **frame, **values}


def _outline(reader: Reader, scale: Scale, text: Text) -> dict[str, Any] | None:
    outline = edge_of(reader, scale, text.colour, "outline")
    gap = reader.take("outline-offset", lambda d: length(components(d.tokens)[0], scale), 0.0)
    return line_values("Focus ring", outline, "outside", gap) if outline.width > 0 else None


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
