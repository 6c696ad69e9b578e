"""Resolving: palette links, states and forms are looked up once; what is left is numbers."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from mektel.core.errors import NotFoundError
from mektel.core.kit import (
    BODY,
    REST,
    SHOWN_STATES,
    STATES,
    Body,
    Control,
    Fill,
    InnerShadow,
    Kit,
    Label,
    Line,
    Shadow,
)
from mektel.core.look.look import (
    RGBA,
    FillLook,
    InnerShadowLook,
    LabelLook,
    LayerLook,
    LineLook,
    Look,
    Margins,
    ShadowLook,
)
from mektel.core.remember import Remembered
from mektel.core.shape import Outline, outline_for
from mektel.core.text import shape_line


def parse_flags(text: str) -> frozenset[str]:
    """``"hover+pressed"`` as a set of states; ``"rest"`` is the empty set.

    >>> sorted(parse_flags("pressed + hover"))
    ['hover', 'pressed']
    """
    flags = {word.strip() for word in text.split("+")} - {REST}
    for flag in flags:
        if flag not in STATES:
            raise NotFoundError("state", flag, list(SHOWN_STATES))
    return frozenset(flags)


def rgba(kit: Kit, colour: str, opacity: float = 1.0) -> RGBA:
    digits = kit.colour(colour).lstrip("#")
    red, green, blue = (int(digits[at : at + 2], 16) / 255 for at in (0, 2, 4))
    alpha = int(digits[6:8], 16) / 255 if len(digits) == 8 else 1.0
    return red, green, blue, alpha * opacity


def resolve(
    kit: Kit,
    control: Control,
    flags: Iterable[str] = (),
    size: tuple[float, float] | None = None,
    text: str | None = None,
) -> Look:
    """The look of a control with the given states holding, at ``size`` (width, height) in px."""
    held = frozenset(flags)
    return _looks.get(
        (kit.palette, control), (held, size, text),
        lambda: _resolve(kit, control, held, size, text),
    )


_looks = Remembered()
_rooms = Remembered()


def _resolve(
    kit: Kit, control: Control, held: frozenset[str], size: tuple[float, float] | None,
    text: str | None,
) -> Look:
    width, height = size or control.size
    body: Body = control.part_in(BODY, held)
    box = outline_for(body.form, body.radii, width, height).moved(*body.offset)
    parts = [control.part_in(layer.id, held) for layer in control.layers]
    shown = [part for part in parts if part.visible and part.opacity > 0]
    layers: list[LayerLook] = []
    for at, part in enumerate(shown):
        if isinstance(part, Shadow):
            hidden = any(is_opaque(kit, above) for above in shown[at + 1 :])
            layers.append(_shadow(kit, part, box, hidden))
        elif isinstance(part, InnerShadow):
            hole = box.grown(-part.spread).moved(*part.offset)
            colour = rgba(kit, part.colour, part.opacity)
            layers.append(InnerShadowLook(part.id, box, hole, part.blur / 2, colour))
        elif isinstance(part, Fill):
            layers.append(_fill(kit, part, box, tucked_growth(kit, part, shown[at + 1 :])))
        elif isinstance(part, Line):
            layers.append(_line(kit, part, box))
        elif isinstance(part, Label):
            words = control.text if text is None else text
            layers.append(_label(kit, part, box, body, words))
    return Look(width, height, box, tuple(layers))


def is_opaque(kit: Kit, part: object) -> bool:
    if not isinstance(part, Fill) or part.opacity < 1 or part.grow < 0:
        return False
    colours = [part.colour] if part.style == "solid" else [stop.colour for stop in part.stops]
    return all(rgba(kit, colour)[3] == 1 for colour in colours)


def _shadow(kit: Kit, part: Shadow, box: Outline, hidden: bool) -> ShadowLook:
    outline = box.grown(part.spread).moved(*part.offset)
    colour = rgba(kit, part.colour, part.opacity)
    return ShadowLook(part.id, outline, part.blur / 2, colour, None if hidden else box)


def _fill(kit: Kit, part: Fill, box: Outline, grow: float) -> FillLook:
    outline, box = box.grown(grow), box.grown(part.grow)
    if part.style == "solid":
        only = (0.0, rgba(kit, part.colour, part.opacity))
        return FillLook(part.id, outline, box, (only,), 0.0)
    stops = tuple((stop.position, rgba(kit, stop.colour, part.opacity)) for stop in part.stops)
    return FillLook(part.id, outline, box, stops, part.angle)


def line_band(part: Line) -> tuple[float, float]:
    """How far a line's outer and inner edge lie outside the control's outline, in px."""
    outward = {"inside": 0.0, "centre": part.width / 2, "outside": part.width}[part.place]
    return outward + part.gap, outward + part.gap - part.width


def tucked_growth(kit: Kit, part: Fill, above: list[Any]) -> float:
    """A fill's ``grow``, its edge moved under the middle of an opaque line that covers it.

    Two edges in one place would each cover their share of a pixel, and the fill would show as a
    fringe round the line; browsers draw a background back under its border in the same way.
    """
    for other in above:
        if isinstance(other, Line) and rgba(kit, other.colour, other.opacity)[3] == 1:
            outer, inner = line_band(other)
            if inner <= part.grow <= outer:
                return outer - other.width / 2
    return part.grow


def _line(kit: Kit, part: Line, box: Outline) -> LineLook:
    outer = box.grown(line_band(part)[0])
    return LineLook(
        part.id, outer, outer.grown(-part.width), rgba(kit, part.colour, part.opacity)
    )


def _label(kit: Kit, part: Label, box: Outline, body: Body, text: str) -> LabelLook:
    line = shape_line(text, part.family, part.weight, part.size)
    left = box.x + body.padding[0]
    spare = box.width - 2 * body.padding[0] - line.advance
    # Text too long for its room stays centred on it, so that it shows on both sides.
    share = 0.5 if spare < 0 else {"start": 0.0, "centre": 0.5, "end": 1.0}[part.align]
    baseline = box.y + (box.height - line.height) / 2 + line.ascent
    return LabelLook(
        part.id,
        text,
        part.family,
        part.weight,
        part.size,
        rgba(kit, part.colour, part.opacity),
        left + spare * share + part.shift[0],
        baseline + part.shift[1],
    )


def shared_margins(
    kit: Kit,
    control: Control,
    size: tuple[float, float] | None = None,
    text: str | None = None,
) -> Margins:
    """Room that suffices for every state, so that all pictures of a control have equal bounds."""
    return _rooms.get(
        (kit.palette, control), (size, text), lambda: _shared_margins(kit, control, size, text)
    )


def _shared_margins(
    kit: Kit, control: Control, size: tuple[float, float] | None, text: str | None
) -> Margins:
    margins = Margins()
    for state in SHOWN_STATES:
        flags = parse_flags(state)
        margins = margins.union(resolve(kit, control, flags, size, text).margins())
    pressed = resolve(kit, control, {"hover", "pressed"}, size, text)
    return margins.union(pressed.margins())


def natural_size(control: Control, text: str | None = None) -> tuple[float, float]:
    """The control's own size, or larger where its text with padding needs it, in px."""
    width, height = control.size
    words = control.text if text is None else text
    for layer in control.layers:
        if isinstance(layer, Label):
            line = shape_line(words, layer.family, layer.weight, layer.size)
            width = max(width, line.advance + 2 * control.body.padding[0])
            height = max(height, line.height + 2 * control.body.padding[1])
    return width, height
