"""A label as lines of glyphs: flow, place, and what goes round and beneath them."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

from mektel.core.kit import Label
from mektel.core.look.look import LabelLook
from mektel.core.look.outlines import own_box
from mektel.core.look.scene import Scene, paint_of
from mektel.core.text import shape_line
from mektel.core.text.breaking import break_units

SMALLEST_FIT = 0.4
RAISED = ((0.0, -1.0, (1.0, 1.0, 1.0, 0.55)), (0.0, 1.0, (0.0, 0.0, 0.0, 0.45)))


def shown_text(part: Label, text: str) -> str:
    return text.upper() if part.case == "capitals" else text


def own_text(part: Label, text: str) -> str:
    """What a label says: a text of its own, or the control's."""
    return text if part.text is None else part.text


def broken(part: Label, text: str, room: float) -> list[str]:
    """Lines no longer than ``room`` px where the text may be broken: each as long as will go."""
    lines: list[str] = []
    for unit in break_units(text):
        longer = f"{lines[-1]}{unit}" if lines else unit
        if lines and _advance(part, longer.rstrip(" "), part.size) <= room:
            lines[-1] = longer
        else:
            lines.append(unit)
    return [line.rstrip(" ") for line in lines] or [""]


def _advance(part: Label, text: str, size: float) -> float:
    return shape_line(text, part.family, part.weight, size, part.spacing).advance


def fitted_size(part: Label, text: str, room: float) -> float:
    """The label's size, or as much smaller as makes it fit, down to ``SMALLEST_FIT`` of it."""
    wide = _advance(part, text, part.size)
    if part.flow != "fit" or wide <= room or wide <= 0:
        return part.size
    return part.size * max(SMALLEST_FIT, room / wide)


def label_size(part: Label, text: str) -> tuple[float, float]:
    """Width and height in px that the text takes unwrapped."""
    line = shape_line(shown_text(part, text), part.family, part.weight, part.size, part.spacing)
    return line.advance, line.height


def whole_baseline(y: float) -> float:
    """The whole px nearest to ``y``, as toolkits and browsers set a line: letters are sharp, and
    stand alike in all of them. A half goes up, whatever rounding errors came before.
    """
    return math.floor(y + 0.49)


def label_looks(scene: Scene, part: Label, opacity: float) -> list[LabelLook]:
    box, across = scene.box, scene.pose.outline.padding[0]
    if part.box is not None:
        box, across = own_box(part.box, scene.box), 0.0
    text = shown_text(part, own_text(part, scene.pose.text))
    room = box.width - 2 * across
    size = fitted_size(part, text, room)
    lines = broken(part, text, room) if part.flow == "wrap" else [text]
    shaped = [shape_line(line, part.family, part.weight, size, part.spacing) for line in lines]
    # Whole px from line to line, as browsers set them.
    pitch = round(part.line_height * size) if part.flow == "wrap" else shaped[0].height
    top = box.y + (box.height - pitch * len(lines)) / 2
    widest = max(line.advance for line in shaped)
    left = box.x + across + _start(part, room - widest)
    paint = paint_of(scene, part, (left, top, widest, pitch * len(lines)), opacity)
    faces = []
    for at, (text, line) in enumerate(zip(lines, shaped, strict=True)):
        baseline = whole_baseline(top + pitch * at + (pitch - line.height) / 2 + line.ascent)
        x = box.x + across + _start(part, room - line.advance)
        faces.append(LabelLook(
            part.id, text, part.family, part.weight, size, part.spacing, paint, x, baseline,
        ))
    return [*_beneath(scene, part, faces), *faces]


def _start(part: Label, spare: float) -> float:
    # Text too long for its room stays centred on it, so that it shows on both sides.
    return spare * (0.5 if spare < 0 else {"start": 0.0, "centre": 0.5, "end": 1.0}[part.align])


def _beneath(scene: Scene, part: Label, faces: list[LabelLook]) -> list[LabelLook]:
    copies_beneath: list[LabelLook] = []
    shadow = scene.rgba(part.shadow_colour)

    def copies(dx: float, dy: float, **changes: Any) -> list[LabelLook]:
        # All of it lies under the line round the glyphs, where there is one.
        return [replace(f, x=f.x + dx, baseline=f.baseline + dy, swell=part.edge, **changes)
                for f in faces]

    if shadow[3] > 0:
        copies_beneath += copies(*part.shadow_offset, paint=shadow, sigma=part.shadow_blur / 2)
    if part.relief != "flat":
        way = 1 if part.relief == "raised" else -1
        for dx, dy, colour in RAISED:
            copies_beneath += copies(dx, dy * way, paint=colour)
    if part.edge > 0:
        copies_beneath += copies(0.0, 0.0, paint=scene.rgba(part.edge_colour))
    return copies_beneath
