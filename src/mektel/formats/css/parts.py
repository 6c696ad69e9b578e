"""``::before`` and ``::after`` as layers in boxes of their own, within the control's."""

from __future__ import annotations

from typing import Any

from mektel.formats.css.borders import border_of
from mektel.formats.css.boxes import box_layers
from mektel.formats.css.cascade import Style
from mektel.formats.css.described import Described
from mektel.formats.css.filters import colour_filter, filtered
from mektel.formats.css.lengths import Scale, colour, is_length, length
from mektel.formats.css.outlines import Span, composed
from mektel.formats.css.reader import Reader
from mektel.formats.css.tokens import CssError, Declared, components, text_of

AXES = (("left", "width", "right"), ("top", "height", "bottom"))


def part_layers(
    described: Described, name: str, style: Style, size: tuple[float, float],
    edges: tuple[float, float, float, float], padding: list[float] | None = None,
) -> tuple[dict[str, dict[str, Any]], bool]:
    """The layers of one part of an element of ``size`` px, and whether they lie behind it.

    It is placed in the box within the element's border, which is ``edges`` px wide (CSS Positioned
    Layout 3); or, in an element that never holds text, stands as a block within its ``padding``.
    Raises :class:`CssError` where it is not placed by itself.
    """
    values = style.values
    content = values.get("content")
    if content is None or content.text in ("none", "normal") or _is(values, "display", "none"):
        return {}, False
    if content.text.strip("\"'\\ "):
        described.leave(content.line, f"::{name}: its content {content.text[:40]}")
    placed = _is(values, "position", "absolute") or _is(values, "position", "fixed")
    if not placed and padding is not None:
        edges = tuple(a + b for a, b in zip(edges, padding, strict=True))  # type: ignore[assignment]
    elif not placed:
        raise CssError("stands in the row of the text; only what is placed by itself is taken")
    scale = Scale(style.em, style.root_em)
    reader = Reader(described, values)
    current = reader.take("color", lambda d: colour(components(d.tokens)[0]) or "", "") or "#000000"
    border = border_of(reader, scale, current)
    spans = [_along(reader, scale, at, size, edges, border.widths, placed) for at in (0, 1)]
    if not placed and not reader.has("width"):
        spans[0] = (spans[0][0], _by_ratio(reader, spans[1][1], size[1]) or spans[0][1])
    px = tuple(max(0.0, share * full + more) for (_, (share, more)), full in zip(
        spans, size, strict=True))
    outline = {"form": "box", **reader.corners(scale, (px[0], px[1]))}
    move, turn, factors = reader.transform(scale, (px[0], px[1]))
    pivot = tuple(
        (place[0] * full + place[1] + side * share) / full for (place, _), full, side, share in zip(
            spans, size, px, reader.pivot(scale, (px[0], px[1])), strict=True))
    matrices, faded = reader.take("filter", colour_filter, ([], 1.0))
    opacity = reader.share("opacity") * faded
    made: dict[str, dict[str, Any]] = {}
    for layer_id, layer in box_layers(
            reader, scale, current, outline, (px[0], px[1]), border).items():
        inner = layer.pop("outline", outline)
        layer |= {
            "outline": {**inner, **composed(spans, inner)}, "opacity": opacity, "move": move,
            "name": f"{name.capitalize()} {layer['name'][0].lower()}{layer['name'][1:]}"}
        if turn or factors != (1.0, 1.0) or reader.has("animation", "animation-name"):
            layer |= {"rotate": turn, "scale": factors, "pivot": pivot}
        made[f"{name}-{layer_id}"] = layer
    depth = values.get("z-index")
    return filtered(made, matrices), depth is not None and depth.text.startswith("-")


def _is(values: dict[str, Declared], name: str, text: str) -> bool:
    return name in values and values[name].text.lower() == text


def _along(
    reader: Reader, scale: Scale, at: int, size: tuple[float, float],
    edges: tuple[float, ...], own_edges: tuple[float, ...], placed: bool,
) -> tuple[Span, Span]:
    """Where a part begins and how long it is on one axis, of the whole control's box."""
    before, side, after = AXES[at]
    first, last = (edges[3], edges[1]) if at == 0 else (edges[0], edges[2])

    def span(name: str) -> Span | None:
        def read(declared: Declared) -> Span | None:
            token = components(declared.tokens)[0]
            if token.type == "ident":
                return None
            return share_and_px(token, scale, size[at], first + last)

        return reader.take(name, read, None)

    padding = reader.padding(scale)
    around = padding[1 - at] + padding[3 - at] + own_edges[1 - at] + own_edges[3 - at]
    own = span(side)
    sizing = reader.declared.get("box-sizing")
    if own is not None and (sizing is None or sizing.text != "border-box"):
        own = (own[0], own[1] + around)
    margins = [span(f"margin-{edge}") or (0.0, 0.0) for edge in (before, after)]
    start, end = (span(before), span(after)) if placed else ((0.0, 0.0), None)
    if not placed and own is None and at == 0:
        # A block fills the line.
        end = (0.0, 0.0)
    if start is not None and end is not None and own is None:
        own = (1 - start[0] - end[0], -first - last - start[1] - end[1]
               - margins[0][1] - margins[1][1])
    own = own or (0.0, around)
    if start is not None:
        place = (start[0] + margins[0][0], first + start[1] + margins[0][1])
    elif end is not None:
        place = (1 - end[0] - own[0] - margins[1][0],
                 -last - end[1] - own[1] - margins[1][1])
    else:
        # Not placed on this axis: where the row of text would begin.
        place = (0.5 - own[0] / 2, margins[0][1] - own[1] / 2)
    return place, own


def _by_ratio(reader: Reader, high: Span, full: float) -> Span | None:
    """The width that ``aspect-ratio`` gives to a height."""

    def read(declared: Declared) -> float:
        numbers = [float(token.value) for token in components(declared.tokens)
                   if token.type == "number"]
        return numbers[0] / numbers[1] if len(numbers) == 2 else numbers[0]

    ratio = reader.take("aspect-ratio", read, None)
    return (0.0, ratio * (high[0] * full + high[1])) if ratio else None


def share_and_px(token: Any, scale: Scale, full: float, less: float = 0.0) -> Span:
    """A length as a share of ``full`` px and px; percentages are of ``full`` without ``less``."""
    if token.type == "percentage":
        share = float(token.value) / 100
        return share, -share * less
    if token.type == "function":
        # A sum is of its percentages and of what is left at nought per cent.
        px = length(token, scale, 0.0)
        share = (length(token, scale, full - less) - px) / max(1e-6, full)
        return share, px
    if not is_length(token):
        raise CssError(text_of([token]))
    return 0.0, length(token, scale)
