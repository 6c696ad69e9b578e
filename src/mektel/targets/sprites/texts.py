"""What a game needs to set a text of its own where a label was."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from mektel.core.look import GroupLook, LabelLook, LineLook, Look, ShadowLook
from mektel.core.look.label_lines import own_text, shown_text
from mektel.core.look.outlines import own_box
from mektel.core.look.paints import Gradient, Paint
from mektel.core.look.pose import Pose
from mektel.core.text import font_file, shape_line
from mektel.targets.sheet import Sheet
from mektel.targets.sprites.description import Content, Pass, Stops, Text

# Between a text of one's own and what stands beside it, at the least.
NEAREST = 4.0


def is_text(layer: Any) -> bool:
    """Whether a layer's look is a label's and nothing else."""
    members = layer.members if isinstance(layer, GroupLook) else (layer,)
    return bool(members) and all(isinstance(member, LabelLook) for member in members)


def texts_over(look: Look, labels: Iterable[str]) -> list[Any]:
    """The control's labels that nothing but labels lies over, and that cover as paint does."""
    over: list[Any] = []
    above: list[Any] = []
    for layer in reversed(look.layers):
        if layer.id not in labels:
            above.append(layer)
        elif layer.blend == "normal" and all(
                _is_clear_of(other, layer.extent()) for other in above):
            over.append(layer)
    return over[::-1]


def _is_clear_of(layer: Any, box: tuple[float, float, float, float]) -> bool:
    """Whether a layer draws nothing in a box: it lies beside it, or is a ring or glow round it."""
    left, top, right, bottom = layer.extent()
    x0, y0, x1, y1 = box
    if right <= x0 or left >= x1 or bottom <= y0 or top >= y1:
        return True
    if isinstance(layer, GroupLook):
        return layer.matrix is None and all(_is_clear_of(each, box) for each in layer.members)
    hole = {LineLook: "inner", ShadowLook: "cut"}.get(type(layer))
    outline = getattr(layer, hole) if hole else None
    spots = [(x, y) for x in (x0, (x0 + x1) / 2, x1) for y in (y0, (y0 + y1) / 2, y1)]
    return outline is not None and all(outline.contains(x, y) for x, y in spots)


def contents_of(sheet: Sheet, look: Look) -> tuple[Content, ...]:
    """What stands in the box beside the texts."""
    kinds = {part.name: part for part in sheet.layers if not part.host}
    standing = []
    for layer in look.layers:
        part = kinds.get(layer.id)
        if part is not None and part.kind in ("icon", "symbol", "light", "look", "progress"):
            x0, y0, x1, y1 = layer.extent()
            standing.append(Content(layer=part.title, kind=part.kind, box=_rounded(
                (x0, y0, x1 - x0, y1 - y0))))
    return tuple(standing)


def text_of(
    sheet: Sheet, pose: Pose, look: Look, layer: Any, contents: Iterable[Content],
    picture: str | None,
) -> Text:
    """How a label is set in a look, and where a text of one's own may stand."""
    part = sheet.part(layer.id)
    values = next(posed.values for posed in pose.layers if posed.values.id == layer.id)
    group = layer if isinstance(layer, GroupLook) else None
    lines: tuple[LabelLook, ...] = group.members if group else (layer,)
    wrapped = values.flow == "wrap"
    faces = [line for line in lines if line.paint == lines[-1].paint and not line.swell
             and not line.sigma] if wrapped else [lines[-1]]
    face = faces[0]
    beneath = [line for line in lines[: len(lines) - len(faces)]]
    # Of every copy the one that lies beneath the first line.
    passes = beneath[:: len(faces)]
    padding = pose.outline.padding[0]
    room, align = _room(sheet, look, values, face, contents, padding)
    shaped = shape_line("", face.family, face.weight, face.size)
    return Text(
        layer=part.title, text=shown_text(values, own_text(values, pose.text)),
        follows=values.text is None, picture=picture,
        font=font_file(face.family, face.weight).name, family=face.family, weight=face.weight,
        size=values.size, spacing=face.spacing, capitals=values.case == "capitals",
        flow=values.flow,
        line_height=round(values.line_height * face.size) if wrapped else round(shaped.height, 3),
        lines=len(faces), align=align, pen=(round(face.x, 3), round(face.baseline, 3)),
        room=_rounded(room),
        colour=_colour(face.paint), gradient=_gradient(face.paint),
        beneath=tuple(Pass(
            offset=(round(line.x - face.x, 3), round(line.baseline - face.baseline, 3)),
            colour=_colour(line.paint), grow=line.swell, blur=round(line.sigma, 3))
            for line in passes),
        opacity=round(group.opacity, 4) if group else 1.0,
        matrix=tuple(round(number, 5) for number in group.matrix)
        if group and group.matrix else None)


def _room(
    sheet: Sheet, look: Look, values: Any, face: LabelLook, contents: Iterable[Content],
    padding: float,
) -> tuple[tuple[float, float, float, float], str]:
    """The box that a text may fill (left, top, right, bottom), and where in it a line begins.

    What stands beside the text stays where it is: so a text that follows an icon begins where it
    was designed to begin, and one that stands before it ends there.
    """
    box, pad = look.outline, padding
    if values.box is not None:
        box, pad = own_box(values.box, look.outline).moved(*values.move), 0.0
    left, right = box.x + pad, box.x + box.width - pad
    line = face.line()
    start, end = face.x, face.x + line.advance
    top, bottom = face.baseline - line.ascent, face.baseline + line.descent
    content = sheet.content
    gap = content.gap if content is not None and content.flow == "row" else NEAREST
    before = after = False
    for other in contents:
        x, y, width, height = other.box
        if y >= bottom or y + height <= top:
            continue
        if x + width <= start + 1:
            left, before = max(left, min(start, x + width + gap)), True
        elif x >= end - 1:
            right, after = min(right, max(end, x - gap)), True
    in_row = content is not None and content.flow == "row" and values.id in content.items
    align: str = values.align
    if in_row and before != after:
        align = "start" if before else "end"
        left, right = (start, max(right, end)) if before else (min(left, start), end)
    elif align == "start":
        left = start
    elif align == "end":
        right = end
    else:
        # As far to both sides of its middle as there is room on the narrower one.
        middle = (start + end) / 2
        half = max(min(middle - left, right - middle), 0.0)
        left, right = middle - half, middle + half
    if values.flow == "wrap":
        return (left, box.y, right, box.y + box.height), align
    return (left, top, right, bottom), align


def _colour(paint: Paint) -> str:
    """#RRGGBBAA; of a gradient its middle."""
    if isinstance(paint, Gradient):
        colours = [colour for _, colour in paint.stops]
        values = [sum(channel) / len(colours) for channel in zip(*colours, strict=True)]
    else:
        values = list(paint)
    return "#" + "".join(f"{round(255 * value):02X}" for value in values)


def _gradient(paint: Paint) -> Stops | None:
    if not isinstance(paint, Gradient) or paint.kind != "linear":
        return None
    x0, y0, x1, y1 = (round(value, 3) for value in paint.geometry)
    return Stops(start=(x0, y0), end=(x1, y1), stops=tuple(
        (round(position, 5), _colour(colour)) for position, colour in paint.stops))


def _rounded(box: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    a, b, c, d = (round(value, 3) for value in box)
    return a, b, c, d
