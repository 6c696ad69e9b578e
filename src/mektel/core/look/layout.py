"""Laying out content: where each layer of a row, column or stack stands, in px."""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass
from typing import Any

from mektel.core.kit import OUTLINE, Control, Label, condition_of, parse_flags
from mektel.core.kit.content import SIZED, Content
from mektel.core.look.words import label_size, own_text
from mektel.core.text import shape_line

OFFSET = "content_offset"


@dataclass(frozen=True)
class Item:
    """One layer of the content: its size in px, and where its baseline lies from its top."""

    id: str
    width: float
    height: float
    baseline: float


def runs_from_the_right(text: str) -> bool:
    """Whether the first letter with a direction runs from right to left (Unicode UAX 9, P2).

    >>> runs_from_the_right("123 עלייה")
    True
    """
    for letter in text:
        way = unicodedata.bidirectional(letter)
        if way in ("L", "R", "AL"):
            return way != "L"
    return False


def items_of(control: Control, text: str) -> list[Item]:
    """The content's visible layers with their sizes, in the order they are laid out."""
    content = control.content
    if content is None:
        return []
    parts = {layer.id: layer for layer in control.layers}
    found = [_item(parts[one], text) for one in content.items
             if one in parts and parts[one].visible]
    if content.flow == "row" and runs_from_the_right(text):
        found.reverse()
    return found


def _item(part: Any, text: str) -> Item:
    if isinstance(part, Label):
        words = own_text(part, text)
        width, height = label_size(part, words)
        line = shape_line("", part.family, part.weight, part.size)
        return Item(part.id, width, height, line.ascent)
    if part.kind == "look":
        return Item(part.id, part.width, part.height, part.height * 0.86)
    if part.kind == "symbol":
        wide = part.size * part.repeat + part.gap * (part.repeat - 1)
        return Item(part.id, wide, part.size, part.size * 0.86)
    if part.kind in ("picture", "progress") and part.outline is not None:
        return Item(part.id, part.outline.width[1], part.outline.height[1],
                    part.outline.height[1])
    size = float(getattr(part, "size", 0.0))
    return Item(part.id, size, size, size * 0.86)


def content_size(content: Content, items: list[Item]) -> tuple[float, float]:
    """Width and height in px that the items take together."""
    if not items:
        return 0.0, 0.0
    wide, high = [one.width for one in items], [one.height for one in items]
    gaps = content.gap * (len(items) - 1)
    if content.flow == "row":
        return sum(wide) + gaps, max(high)
    if content.flow == "column":
        return max(wide), sum(high) + gaps
    return max(wide), max(high)


def laid_out(
    control: Control, text: str, size: tuple[float, float] | None = None
) -> Control:
    """The control with its content's layers in their places, at ``size`` px."""
    content = control.content
    if content is None:
        return control
    items = items_of(control, text)
    width, height = size or control.size
    across, down = content_size(content, items)
    start = {"start": 0.0, "centre": 0.5, "end": 1.0}
    room_x, room_y = control.outline.padding
    share = start[content.place]
    mirrored = content.flow == "row" and runs_from_the_right(text) and content.place != "centre"
    if mirrored:
        share = 1 - share
    along_x = share if content.flow != "column" else start.get(content.align, 0.5)
    along_y = share if content.flow == "column" else 0.5
    left = room_x + (width - 2 * room_x - across) * along_x
    top = room_y + (height - 2 * room_y - down) * along_y
    base = max((one.baseline for one in items), default=0.0)
    at = left if content.flow == "row" else top
    layers = {layer.id: layer for layer in control.layers}
    states = {condition: {part: dict(values) for part, values in parts.items()}
              for condition, parts in control.states.items()}
    for one in items:
        cross = start.get(content.align, 0.5)
        if content.flow == "row":
            x, y = at, top + (down - one.height) * cross
            if content.align == "baseline":
                y = top + base - one.baseline
            at += one.width + content.gap
        elif content.flow == "column":
            x, y = left + (across - one.width) * cross, at
            at += one.height + content.gap
        else:
            x, y = left + (across - one.width) * 0.5, top + (down - one.height) * 0.5
        middle = (x + one.width / 2, y + one.height / 2)
        anchor = (along_x, along_y)
        layers[one.id] = _placed(layers[one.id], middle, anchor, (width, height), control)
        for parts in states.values():
            values = parts.get(one.id)
            if values and "move" in values:
                # A state's own move goes on top of the place that the layout gives.
                before = control.layer(one.id).move
                moved = layers[one.id].move
                values["move"] = tuple(
                    new + (own - old) for new, own, old in zip(
                        moved, values["move"], before, strict=True))
    return control.model_copy(update={
        "layers": tuple(layers[layer.id] for layer in control.layers), "states": states})


def moves_content(control: Control) -> bool:
    return control.outline.content_offset != (0.0, 0.0) or any(
        OFFSET in parts.get(OUTLINE, {}) for parts in control.states.values())


def with_content_moved(control: Control) -> Control:
    """The control's content moved by ``content_offset``, in every condition that changes it."""
    if not moves_content(control):
        return control
    moving = [one for one, parts in control.states.items() if OFFSET in parts.get(OUTLINE, {})]
    base = control.outline.content_offset
    held = control.content.items if control.content else ()
    ids = [layer.id for layer in control.layers if layer.id in held or (
        layer.kind in SIZED)]
    states = {condition: {part: dict(values) for part, values in parts.items()}
              for condition, parts in control.states.items()}
    # Where a layer's own move and the content's come together, both count.
    both = {condition_of(parse_flags(a) | parse_flags(b)) for a in moving
            for b, parts in control.states.items() if any("move" in parts.get(i, {}) for i in ids)}
    for condition in {*control.states, *both}:
        body = control.part_in(OUTLINE, parse_flags(condition))
        for layer_id in ids:
            x, y = control.part_in(layer_id, parse_flags(condition)).move
            moved = (x + body.content_offset[0], y + body.content_offset[1])
            rest = control.layer(layer_id).move
            if condition in both or condition in moving or moved != (
                    rest[0] + base[0], rest[1] + base[1]):
                states.setdefault(condition, {}).setdefault(layer_id, {})["move"] = moved
    for parts in states.values():
        parts.get(OUTLINE, {}).pop(OFFSET, None)
    layers = tuple(
        layer.model_copy(update={"move": (layer.move[0] + base[0], layer.move[1] + base[1])})
        if layer.id in ids else layer for layer in control.layers)
    return control.model_copy(update={
        "layers": layers, "states": states,
        "outline": control.outline.model_copy(update={OFFSET: (0.0, 0.0)})})


def _placed(
    part: Any, middle: tuple[float, float], anchor: tuple[float, float],
    size: tuple[float, float], control: Control,
) -> Any:
    """A layer with its middle at a spot, held to the anchor when the control is resized."""
    move = (part.move[0] + middle[0] - anchor[0] * size[0],
            part.move[1] + middle[1] - anchor[1] * size[1])
    if isinstance(part, Label):
        wide = label_size(part, own_text(part, control.text))[0]
        pad = control.outline.padding[0]
        align = {0.0: "start", 0.5: "centre", 1.0: "end"}[anchor[0]]
        # A label stands in the padded box already; only what differs from there is moved.
        rest = {"start": pad + wide / 2, "centre": size[0] / 2, "end": size[0] - pad - wide / 2}
        return part.model_copy(update={"align": align, "flow": "one-line", "move": (
            part.move[0] + middle[0] - rest[align], part.move[1] + middle[1] - size[1] / 2)})
    if part.kind in ("picture", "progress") and part.outline is not None:
        own = part.outline
        return part.model_copy(update={"outline": own.model_copy(update={
            "x": (anchor[0], middle[0] - own.width[1] / 2 - anchor[0] * size[0]),
            "y": (anchor[1], middle[1] - own.height[1] / 2 - anchor[1] * size[1])})})
    return part.model_copy(update={"at": anchor, "move": move})


def fitted(control: Control, text: str, width: float, height: float) -> tuple[float, float]:
    """The size that the content with padding needs, kept between its limits, in px."""
    content = control.content
    if content is None or content.sizing != "fit":
        return width, height
    across, down = content_size(content, items_of(control, text))
    wide = max(width, across + 2 * control.outline.padding[0])
    high = max(height, down + 2 * control.outline.padding[1])
    smallest, largest = content.min or (0.0, 0.0), content.max or (2000.0, 2000.0)
    return (min(max(wide, smallest[0]), largest[0]), min(max(high, smallest[1]), largest[1]))


def natural(control: Control, text: str) -> tuple[float, float]:
    """A plain control's size, or larger where its text or content with padding needs it, in px."""
    width, height = control.size
    if control.content is not None:
        return fitted(control, text, width, height)
    for layer in control.layers:
        if isinstance(layer, Label) and layer.flow == "one-line" and layer.box is None:
            across, down = label_size(layer, text)
            width = max(width, across + 2 * control.outline.padding[0])
            height = max(height, down + 2 * control.outline.padding[1])
    return width, height


def following_text(control: Control, text: str) -> tuple[dict[str, float], float, float]:
    """How content moves when the text grows: share of the growth by layer; the designed width of
    the text; and how much wider than the text the whole content is. For shipped code.
    """
    content = control.content
    if content is None:
        return {}, 0.0, 0.0
    items = items_of(control, text)
    labels = [one.id for one in control.layers
              if isinstance(one, Label) and one.text is None and one.id in content.items]
    if not labels:
        return {}, 0.0, 0.0
    wide = next(one.width for one in items if one.id == labels[0])
    more = content_size(content, items)[0] - wide
    if content.flow != "row":
        return {}, wide, max(0.0, more)
    at = [one.id for one in items].index(labels[0])
    before, after = {"start": (0.0, 1.0), "centre": (-0.5, 0.5), "end": (-1.0, 0.0)}[content.place]
    found = {one.id: before if number < at else after
             for number, one in enumerate(items) if number != at}
    return {name: share for name, share in found.items() if share}, wide, more
