"""The declarations of one state as an outline and layers, in paint order."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from mektel.formats.css.border_images import BORDER_IMAGE
from mektel.formats.css.borders import Border, border_of
from mektel.formats.css.boxes import box_layers
from mektel.formats.css.cascade import SIDES
from mektel.formats.css.described import Described
from mektel.formats.css.filters import colour_filter, filtered
from mektel.formats.css.keyframes import LONGHANDS
from mektel.formats.css.lengths import Scale, length
from mektel.formats.css.parts import part_layers
from mektel.formats.css.reader import CORNERS, LARGEST, Reader
from mektel.formats.css.text import LABEL, label_values, text_of, transition_of
from mektel.formats.css.tokens import CssError, Declared, components

SIZES = ("line-height", "width", "height", "min-width", "min-height")
# What a button has where no sheet says so (HTML 15.5.6); the height of a line, in em.
PADDING, NORMAL = (1.0, 6.0, 1.0, 6.0), 1.2
BORDER = ("border", *(f"border-{part}" for part in ("width", "color", "style", *SIDES)),
          *(f"border-{side}-{part}" for side in SIDES for part in ("width", "color", "style")))
BACKGROUND = ("background", *(f"background-{part}" for part in (
    "color", "image", "size", "position", "repeat", "origin", "clip", "blend-mode")))
TRANSFORM = ("transform", "transform-origin", "translate", "rotate", "scale")
KNOWN = {
    *SIZES, *BORDER, *BORDER_IMAGE, *BACKGROUND, *LABEL, *CORNERS, *TRANSFORM, "border-radius",
    "box-shadow", "opacity", "padding", *(f"padding-{side}" for side in SIDES), "outline",
    "outline-offset", "outline-width", "outline-color", "outline-style", "backdrop-filter",
    "filter", "mix-blend-mode", "transition", "transition-duration", "transition-timing-function",
    "transition-delay", "animation", *LONGHANDS,
}


@dataclass
class Built:
    outline: dict[str, Any] = field(default_factory=dict)
    layers: dict[str, dict[str, Any]] = field(default_factory=dict)
    size: tuple[float, float] = (4.0, 4.0)
    sized: bool = False
    transition: dict[str, Any] | None = None


def build(sheet: Described, state: str) -> Built:
    reader = Reader(sheet, sheet.states[state], PADDING)
    for name, declared in reader.declared.items():
        if name not in KNOWN:
            sheet.leave(declared.line, f"{name}: {declared.text[:60]}")
    text = text_of(reader)
    scale = Scale(text.size, sheet.root_em)
    built = Built(transition=transition_of(reader))
    border = border_of(reader, scale, text.colour)
    _size(reader, scale, built, border)
    _outline(reader, scale, built, border)
    # An input that holds no text has no padding by itself.
    padding = Reader(sheet, sheet.states[state]).padding(scale) if sheet.empty else None
    behind, before = _parts(sheet, state, built, border, padding)
    built.layers = behind | box_layers(
        reader, scale, text.colour, built.outline, built.size, border)
    # A ring lies outside of everything.
    ring = built.layers.pop("outer-line", None)
    built.layers |= before | ({"outer-line": ring} if ring else {})
    built.layers["label"] = {"kind": "label", "name": "Label", **label_values(text),
                             "move": _off_middle(reader.padding(scale), border.widths)}
    _transform(reader, scale, built)
    matrices, faded = reader.take("filter", colour_filter, ([], 1.0))
    built.outline["opacity"] *= faded
    built.layers = filtered(built.layers, matrices)
    return built


def _size(reader: Reader, scale: Scale, built: Built, border: Border) -> None:
    padding, edges = reader.padding(scale), border.widths
    sides: list[float | None] = []
    for at, side in enumerate(("width", "height")):
        around = padding[1 - at] + padding[3 - at] + edges[1 - at] + edges[3 - at]
        # Between the box that the sheet gives and the one with padding and border.
        more = around if reader.sheet.content_box else 0.0
        exact, least = (reader.take(name, lambda d: _side(d, scale), None)
                        for name in (side, f"min-{side}"))
        given = [value + more for value in (exact, least) if value is not None]
        if exact is None and at == 1 and (given or reader.has("line-height")):
            # It is as high as its text at least. Browsers put the edges of boxes on whole pixels.
            given.append(round(_text_height(reader, scale) + around))
        sides.append(min(LARGEST, max(4.0, *given)) if given else None)
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


def _outline(reader: Reader, scale: Scale, built: Built, border: Border) -> None:
    padding = reader.padding(scale)
    top, right, bottom, left = border.widths
    built.outline = {
        "form": "box", **reader.corners(scale, built.size),
        "padding": ((padding[1] + padding[3] + left + right) / 2,
                    (padding[0] + padding[2] + top + bottom) / 2),
        "opacity": reader.share("opacity"),
    }
    if reader.has("mix-blend-mode"):
        blend = reader.declared["mix-blend-mode"]
        if blend.text != "normal":
            reader.sheet.leave(blend.line, "mix-blend-mode of the whole: a control stands alone")


def _off_middle(padding: list[float], edges: tuple[float, ...]) -> tuple[float, float]:
    """How far the middle of the text's room is from that of the box, where sides are unlike."""
    top, right, bottom, left = (inner + edge for inner, edge in zip(padding, edges, strict=True))
    return (left - right) / 2, (top - bottom) / 2


def _parts(
    sheet: Described, state: str, built: Built, border: Border, padding: list[float] | None
) -> tuple[dict[str, Any], dict[str, Any]]:
    """The layers of ``::before`` and ``::after``: behind the element, and in front of its face."""
    behind: dict[str, Any] = {}
    before: dict[str, Any] = {}
    for name, style in sheet.parts[state].items():
        line = style.values["content"].line if "content" in style.values else 1
        for fault_line, what in style.faults:
            sheet.leave(fault_line, f"::{name}: {what}")
        try:
            layers, below = part_layers(
                sheet, name, style, built.size, border.widths, padding)
        except CssError as error:
            sheet.leave(line, f"::{name}: {error}")
            continue
        (behind if below else before).update(layers)
    return behind, before


def _transform(reader: Reader, scale: Scale, built: Built) -> None:
    """A move is the outline's; turning and scaling go to every layer, about the origin."""
    move, turn, factors = reader.transform(scale, built.size)
    built.outline["offset"] = move
    if turn or factors != (1.0, 1.0):
        pivot = reader.pivot(scale, built.size)
        for values in built.layers.values():
            values |= {"rotate": turn + values.get("rotate", 0.0), "pivot": pivot,
                       "scale": tuple(a * b for a, b in zip(
                           factors, values.get("scale", (1.0, 1.0)), strict=True))}

