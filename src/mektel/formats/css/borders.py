"""``border``, side by side, and ``outline``: their values, and the layers that draw them."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from mektel.formats.css.cascade import SIDES
from mektel.formats.css.lengths import Scale, colour, four, is_length, length
from mektel.formats.css.tokens import CssError, Declared, components, text_of

if TYPE_CHECKING:
    from mektel.formats.css.reader import Reader

STYLES = ("none", "hidden", "solid", "dashed", "dotted", "double", "groove", "ridge", "inset",
          "outset", "auto")
PARTS = ("width", "color", "style")
NAMED_WIDTHS = {"thin": 1.0, "medium": 3.0, "thick": 5.0}


@dataclass
class Edge:
    """A line's width in px, colour and style."""

    width: float = 3.0
    colour: str = ""
    style: str = "none"

    @property
    def shown(self) -> float:
        return 0.0 if self.style in ("none", "hidden") else self.width


@dataclass
class Border:
    """Four edges, clockwise from the top."""

    sides: list[Edge] = field(default_factory=lambda: [Edge() for _ in SIDES])
    line: int = 1
    # Whether a picture stands in its place.
    pictured: bool = False

    @property
    def widths(self) -> tuple[float, float, float, float]:
        top, right, bottom, left = (side.shown for side in self.sides)
        return top, right, bottom, left

    @property
    def even(self) -> bool:
        return len({(side.shown, side.colour, side.style) for side in self.sides}) == 1

    @property
    def any(self) -> bool:
        return max(self.widths) > 0

    @property
    def hides(self) -> bool:
        """Whether nothing shows through it."""
        return not self.pictured and all(side.style == "solid" and len(side.colour) == 7
                   for side in self.sides if side.shown)


def _width(token: Any, scale: Scale) -> float:
    if token.type == "ident" and token.lower_value in NAMED_WIDTHS:
        return NAMED_WIDTHS[token.lower_value]
    width = max(0.0, length(token, scale))
    # Browsers bring lines down to whole pixels of the screen (CSS Values 4, 5.3); here at 2x.
    return math.floor(2 * width + 1e-6) / 2 if width > 1 else width


def _whole(declared: Declared, scale: Scale, current: str) -> Edge:
    edge = Edge(colour=current)
    for token in components(declared.tokens):
        tone = colour(token, current)
        if is_length(token) or (token.type == "ident" and token.lower_value in NAMED_WIDTHS):
            edge.width = _width(token, scale)
        elif token.type == "ident" and token.lower_value in STYLES:
            edge.style = token.lower_value
        elif tone is not None:
            edge.colour = tone
        else:
            raise CssError(text_of([token]))
    return edge


def _tone(token: Any, current: str) -> str:
    tone = colour(token, current)
    if tone is None:
        raise CssError(text_of([token]))
    return tone


def _style(token: Any) -> str:
    if token.type != "ident" or token.lower_value not in STYLES:
        raise CssError(text_of([token]))
    return str(token.lower_value)


def border_of(reader: Reader, scale: Scale, current: str) -> Border:
    """The border of all four sides: shorthands and parts, in the order of precedence."""
    border = Border([Edge(colour=current) for _ in SIDES])

    def read(declared: Declared, words: list[str]) -> None:
        """``border``, ``border-SIDE``, ``border-PART`` or ``border-SIDE-PART``."""
        at = SIDES.index(words[1]) if words[1:] and words[1] in SIDES else None
        sides = range(4) if at is None else (at,)
        part = words[-1] if words[-1] in PARTS else ""
        initial = declared.text == "initial"
        tokens = components(declared.tokens)
        for n in sides:
            if initial:
                border.sides[n] = _initial(border.sides[n], part, current)
            elif part:
                token = tokens[0] if at is not None else four(tokens)[n]
                _give(border.sides[n], part, token, scale, current)
            else:
                border.sides[n] = _whole(declared, scale, current)

    for name in reader.declared:
        words = name.split("-")
        if words[0] == "border" and "radius" not in words and "image" not in words:
            border.line = reader.declared[name].line

            def read_words(declared: Declared, words: list[str] = words) -> None:
                read(declared, words)

            reader.take(name, read_words, None, initial=True)
    return border


def _initial(edge: Edge, part: str, current: str) -> Edge:
    """An edge with one of its parts, or all of them, as no sheet gives it."""
    plain = Edge(colour=current)
    return Edge(plain.width if part in ("", "width") else edge.width,
                plain.colour if part in ("", "color") else edge.colour,
                plain.style if part in ("", "style") else edge.style)


def _give(edge: Edge, part: str, token: Any, scale: Scale, current: str) -> None:
    if part == "width":
        edge.width = _width(token, scale)
    elif part == "color":
        edge.colour = _tone(token, current)
    else:
        edge.style = _style(token)


def edge_of(reader: Reader, scale: Scale, current: str, name: str) -> Edge:
    """``outline``: the shorthand and its parts."""
    edge = Edge(colour=current)
    for property_name in reader.declared:
        part = property_name.removeprefix(f"{name}-")
        if property_name == name:
            edge = reader.take(name, lambda d: _whole(d, scale, current), None) or edge
        elif property_name != part and part in PARTS:

            def give(declared: Declared, part: str = part, edge: Edge = edge) -> None:
                _give(edge, part, components(declared.tokens)[0], scale, current)

            reader.take(property_name, give, None)
    edge.width = edge.shown
    if edge.style == "auto":
        edge.style = "solid"
    return edge


def line_values(name: str, edge: Edge, place: str, gap: float) -> dict[str, Any]:
    values: dict[str, Any] = {
        "kind": "line", "name": name, "colour": edge.colour, "width": edge.width,
        "place": place, "gap": gap,
    }
    if edge.style == "dashed":
        # Thin dashes are longer, as browsers draw them.
        dash = edge.width * (2 if edge.width >= 3 else 3)
        values |= {"dash": dash, "dash_gap": dash}
    elif edge.style == "dotted":
        values |= {"dash": edge.width, "dash_gap": edge.width}
    return values


def border_layers(
    border: Border, outline: dict[str, Any], size: tuple[float, float]
) -> dict[str, dict[str, Any]]:
    """One line where all sides are alike; else for each colour its part of the ring."""
    if not border.any:
        return {}
    if border.even:
        return {"border": line_values("Border", border.sides[0], "inside", 0.0)}
    layers: dict[str, dict[str, Any]] = {}
    tones = dict.fromkeys(side.colour for side in border.sides
                          if side.shown and side.colour != "#00000000")
    for tone in tones:
        shown = [side.shown > 0 and side.colour == tone for side in border.sides]
        names = [name for name, is_shown in zip(SIDES, shown, strict=True) if is_shown]
        layers[f"border-{'-'.join(names)}"] = {
            "kind": "fill", "name": f"Border {' '.join(names)}"[:60], "style": "solid",
            "colour": tone, "outline": _band(outline, shown, border.widths, size)}
    return layers


def _band(
    outline: dict[str, Any], shown: list[bool], widths: tuple[float, ...],
    size: tuple[float, float],
) -> dict[str, Any]:
    """Sides of a border that are ``shown``: straight, or parts of the ring between two boxes."""
    if not any(outline["corners"]) and sum(width > 0 for width in widths) == 1:
        # One straight side is a box of its own.
        top, right, bottom, left = widths
        return {
            "form": "box", "corners": (0.0,) * 4,
            "x": (1.0, -right) if right else (0.0, 0.0),
            "y": (1.0, -bottom) if bottom else (0.0, 0.0),
            "width": (0.0, left + right) if left or right else (1.0, 0.0),
            "height": (0.0, top + bottom) if top or bottom else (1.0, 0.0)}
    joins = [{**inside(outline, widths), "operation": "difference"}]
    if any(width and not is_shown for width, is_shown in zip(widths, shown, strict=True)):
        joins.append(_sides_alone(shown, widths, size))
    return {"form": "box", "corners": outline["corners"],
            "vertical_radii": outline["vertical_radii"], "joins": joins}


def _sides_alone(
    shown: list[bool], widths: tuple[float, ...], size: tuple[float, float]
) -> dict[str, Any]:
    """What belongs to some sides: they meet on lines from the corners of the outer box through
    those of the inner one (CSS Backgrounds 3, 4.4).
    """
    top, right, bottom, left = (max(width, 1e-3) for width in widths)
    wide, high = size
    reach = min(wide / (left + right), high / (top + bottom))
    inner = [(left * reach, top * reach), (wide - right * reach, top * reach),
             (wide - right * reach, high - bottom * reach), (left * reach, high - bottom * reach)]
    outer = [(0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)]
    spots: list[tuple[float, float]] = []
    pieces: list[str] = []
    for at, is_shown in enumerate(shown):
        if is_shown:
            piece = [outer[at], outer[(at + 1) % 4], inner[(at + 1) % 4], inner[at]]
            spots += piece
            pieces.append("M" + " L".join(f"{x:.3f} {y:.3f}" for x, y in piece) + " Z")
    across, down = [x for x, _ in spots], [y for _, y in spots]
    return {
        "form": "path", "path": " ".join(pieces), "operation": "intersection",
        "x": (min(across) / wide, 0.0), "width": ((max(across) - min(across)) / wide, 0.0),
        "y": (min(down) / high, 0.0), "height": ((max(down) - min(down)) / high, 0.0),
    }


def inside(outline: dict[str, Any], widths: tuple[float, ...]) -> dict[str, Any]:
    """The box within a border as an outline of its own (CSS Backgrounds 3, 4.2)."""
    top, right, bottom, left = widths
    across_by, down_by = (left, right, right, left), (top, top, bottom, bottom)
    across = tuple(max(0.0, r - by) for r, by in zip(outline["corners"], across_by, strict=True))
    down = tuple(max(0.0, r - by) for r, by in zip(
        outline["vertical_radii"] or outline["corners"], down_by, strict=True))
    return {
        "form": "box", "x": (0.0, left), "y": (0.0, top), "width": (1.0, -left - right),
        "height": (1.0, -top - bottom), "corners": across,
        "vertical_radii": None if across == down else down,
    }
