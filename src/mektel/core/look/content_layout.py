"""Laying out content: where each layer of a row, column or stack stands, in px."""

from __future__ import annotations

import unicodedata
from typing import Any

from mektel.core.kit import OUTLINE, Control, Label, condition_of, parse_flags
from mektel.core.kit.content import SIZED, Content
from mektel.core.layout import Flow, Item, arrange, extent
from mektel.core.look.label_lines import label_size, own_text
from mektel.core.text import shape_line

OFFSET = "content_offset"


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


def flow_of(content: Content, text: str) -> Flow:
    """How a control's content flows; a row is mirrored where its text runs from the right."""
    return Flow(content.flow, content.gap, content.align, content.place,
                content.flow == "row" and runs_from_the_right(text))


def items_of(control: Control, text: str) -> dict[str, Item]:
    """The content's visible layers with their sizes, in its order."""
    content = control.content
    if content is None:
        return {}
    parts = {layer.id: layer for layer in control.layers}
    return {name: _item(parts[name], text) for name in content.items
            if name in parts and parts[name].visible}


def _item(part: Any, text: str) -> Item:
    if isinstance(part, Label):
        width, height = label_size(part, own_text(part, text))
        line = shape_line("", part.family, part.weight, part.size)
        return Item(width, height, line.ascent)
    if part.kind == "look":
        return Item(part.width, part.height, part.height * 0.86)
    if part.kind == "symbol":
        wide = part.size * part.repeat + part.gap * (part.repeat - 1)
        return Item(wide, part.size, part.size * 0.86)
    if part.kind in ("picture", "progress") and part.outline is not None:
        width, height = part.outline.width[1], part.outline.height[1]
        return Item(width, height, height)
    size = float(getattr(part, "size", 0.0))
    return Item(size, size, size * 0.86)


def laid_out(
    control: Control, text: str, size: tuple[float, float] | None = None
) -> Control:
    """The control with its content's layers in their places, at ``size`` px."""
    content = control.content
    if content is None:
        return control
    items, flow = items_of(control, text), flow_of(content, text)
    width, height = size or control.size
    room_x, room_y = control.outline.padding
    boxes = arrange([*items.values()], flow, (
        room_x, room_y, width - 2 * room_x, height - 2 * room_y))
    layers = {layer.id: layer for layer in control.layers}
    states = {condition: {part: dict(values) for part, values in parts.items()}
              for condition, parts in control.states.items()}
    for name, (x, y, wide, high) in zip(items, boxes, strict=True):
        middle = (x + wide / 2, y + high / 2)
        layers[name] = _placed(layers[name], middle, flow.anchor, (width, height), control)
        for parts in states.values():
            values = parts.get(name)
            if values and "move" in values:
                # A state's own move goes on top of the place that the layout gives.
                before, moved = control.layer(name).move, layers[name].move
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
    moving = [name for name, parts in control.states.items() if OFFSET in parts.get(OUTLINE, {})]
    base = control.outline.content_offset
    items = control.content.items if control.content else ()
    ids = [layer.id for layer in control.layers if layer.id in items or (
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
    return part.model_copy(update={"position": anchor, "move": move})


def fitted(control: Control, text: str, width: float, height: float) -> tuple[float, float]:
    """The size that the content with padding needs, kept between its limits, in px."""
    content = control.content
    if content is None or content.sizing != "fit":
        return width, height
    across, down = extent([*items_of(control, text).values()], flow_of(content, text))
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
    items, flow = items_of(control, text), flow_of(content, text)
    labels = [layer.id for layer in control.layers
              if isinstance(layer, Label) and layer.text is None and layer.id in items]
    if not labels:
        return {}, 0.0, 0.0
    wide = items[labels[0]].width
    more = extent([*items.values()], flow)[0] - wide
    if content.flow != "row":
        return {}, wide, max(0.0, more)
    order = [*reversed(items)] if flow.mirrored else [*items]
    at = order.index(labels[0])
    before, after = {"start": (0.0, 1.0), "centre": (-0.5, 0.5), "end": (-1.0, 0.0)}[content.place]
    shares = {name: before if number < at else after
             for number, name in enumerate(order) if number != at}
    return {name: share for name, share in shares.items() if share}, wide, more
