"""Each layer kind of the document as the few things that are drawn."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from mektel.core.drawings import icon_lines, symbol_contours
from mektel.core.kit import Fill, Label, Line, Stop
from mektel.core.kit.assets import pixels_of
from mektel.core.kit.layers import LayerBase
from mektel.core.look.label_lines import label_looks
from mektel.core.look.look import (
    BevelLook,
    FillLook,
    GroupLook,
    InnerShadowLook,
    LensLook,
    LineLook,
    PictureLook,
    Primitive,
    ShadowLook,
    StrokeLook,
    moved,
)
from mektel.core.look.paints import RGBA, Gradient
from mektel.core.look.scene import Colours, Scene, paint_of, rgba
from mektel.core.shape import AnyOutline, from_points, outline_for, polygons
from mektel.core.shape.dashes import dashes


@dataclass(frozen=True)
class Disc:
    """A disc that an answer to touch draws, in px of the control's box; not of the document.
    ``within`` bounds it by the control's outline.
    """

    id: str
    colour: str
    centre: tuple[float, float]
    radius: float
    opacity: float
    within: bool
    kind: str = "disc"
    visible: bool = True
    blend: str = "normal"
    move: tuple[float, float] = (0.0, 0.0)
    rotate: float = 0.0
    scale: tuple[float, float] = (1.0, 1.0)


def _disc(scene: Scene, part: Disc, opacity: float) -> list[Primitive]:
    (x, y), radius = part.centre, part.radius
    outline = outline_for("ellipse", (0, 0, 0, 0), 2 * radius, 2 * radius).moved(
        x - radius, y - radius)
    clip = scene.box if part.within else None
    return [FillLook(part.id, outline, scene.rgba(part.colour, opacity), clip)]


def layer_look(scene: Scene, part: Any) -> Primitive | GroupLook | None:
    """One layer as a primitive, or as a group where it is several, turned or scaled."""
    turned = is_turned(part) and part.kind != "lens"
    grouped = turned or part.kind in ("light", "progress") or (
        part.kind == "label" and (part.edge > 0 or part.relief != "flat" or _has_shadow(scene, part)
                                  or part.flow == "wrap"))
    opacity = 1.0 if grouped else part.opacity
    looks = MAKERS[part.kind](scene, part, opacity)
    if not looks:
        return None
    looks = [moved(look, *part.move) for look in looks]
    if not grouped:
        return replace(looks[0], blend=part.blend)
    matrix = None
    if turned:
        pivot = scene.spot(part.pivot)
        matrix = turning(part, (pivot[0] + part.move[0], pivot[1] + part.move[1]))
    return GroupLook(part.id, tuple(looks), part.opacity, matrix, part.blend)


def group_of(scene: Scene, part: LayerBase, looks: list[Any]) -> GroupLook | None:
    """The layers of an embedded look, moved, turned, faded and blended as one."""
    if not looks:
        return None
    looks = [moved(look, *part.move) for look in looks]
    matrix = None
    if is_turned(part):
        pivot = scene.spot(part.pivot)
        matrix = turning(part, (pivot[0] + part.move[0], pivot[1] + part.move[1]))
    return GroupLook(part.id, tuple(looks), part.opacity, matrix, part.blend)


def is_turned(part: LayerBase) -> bool:
    return part.rotate % 360 != 0 or part.scale != (1.0, 1.0)


def is_plain(part: Any) -> bool:
    """Whether a layer lies straight on its outline, and covers what is beneath."""
    return part.blend == "normal" and not is_turned(part)


def lies_with(part: Any, other: Any) -> bool:
    """Whether two layers lie plainly on one outline, in one place."""
    return (is_plain(part) and is_plain(other) and part.outline == other.outline
            and part.move == other.move)


def turning(part: LayerBase, pivot: tuple[float, float]) -> tuple[float, ...]:
    """Scale, then rotate (clockwise), about ``pivot`` in px."""
    turn = math.radians(part.rotate)
    cos, sin = math.cos(turn), math.sin(turn)
    a, b = cos * part.scale[0], sin * part.scale[0]
    c, d = -sin * part.scale[1], cos * part.scale[1]
    px, py = pivot
    return a, b, c, d, px - a * px - c * py, py - b * px - d * py


def _span(outline: AnyOutline) -> tuple[float, float, float, float]:
    return outline.x, outline.y, outline.width, outline.height


# Layer kinds. Each takes (scene, layer, opacity to fold in) and gives what is drawn, back first.

def _shadow(scene: Scene, part: Any, opacity: float) -> list[Primitive]:
    box = scene.outline(part)
    outline = box.grown(part.spread).moved(*part.offset)
    hidden = any(is_opaque(scene.pose, above) and lies_with(part, above)
                 for above in scene.above)
    colour = scene.rgba(part.colour, opacity)
    return [ShadowLook(part.id, outline, part.blur / 2, colour, None if hidden else box)]


def _glow(scene: Scene, part: Any, opacity: float) -> list[Primitive]:
    box = scene.outline(part)
    colour = scene.rgba(part.colour, opacity)
    return [ShadowLook(part.id, box.grown(part.spread), part.blur / 2, colour, box)]


def _inner_shadow(scene: Scene, part: Any, opacity: float) -> list[Primitive]:
    box = scene.outline(part)
    offset = getattr(part, "offset", (0.0, 0.0))
    hole = box.grown(-part.spread).moved(*offset)
    colour = scene.rgba(part.colour, opacity)
    return [InnerShadowLook(part.id, box, hole, part.blur / 2, colour)]


def _fill(scene: Scene, part: Fill, opacity: float) -> list[Primitive]:
    outline = scene.outline(part)
    span = _span(outline.grown(part.expand))
    paint = paint_of(scene, part, span, opacity)
    if part.origin > 0:
        x, y, width, height = _span(outline)
        tile = (x + part.origin, y + part.origin,
                max(1.0, width - 2 * part.origin), max(1.0, height - 2 * part.origin))
        inner = paint_of(scene, part, tile, opacity)
        paint = replace(inner, tile=tile) if isinstance(inner, Gradient) else inner
    grow = tucked_growth(scene.pose, part, scene.above)
    return [FillLook(part.id, outline.grown(grow), paint)]


def is_opaque(colours: Colours, part: object) -> bool:
    if not isinstance(part, Fill) or part.opacity < 1 or part.expand < 0 or not is_plain(part):
        return False
    stops = [Stop(position=0, colour=part.colour)] if part.style == "solid" else part.stops
    return all(rgba(colours, stop.colour)[3] == 1 for stop in stops)


def line_band(part: Line) -> tuple[float, float]:
    """How far a line's outer and inner edge lie outside the control's outline, in px."""
    outward = {"inside": 0.0, "centre": part.width / 2, "outside": part.width}[part.place]
    return outward + part.gap, outward + part.gap - part.width


def tucked_growth(colours: Colours, part: Fill, above: list[Any]) -> float:
    """A fill's ``grow``, its edge moved under what covers it: the middle of an opaque line, or
    1 px under another opaque fill.

    Two edges in one place would each cover their share of a pixel, and the fill would show as a
    fringe round the line; browsers draw a background back under its border in the same way.
    """
    for other in above:
        if not isinstance(other, Line | Fill) or not lies_with(part, other):
            continue
        if (isinstance(other, Line) and not other.dash
                and other.style == "solid" and other.visible
                and rgba(colours, other.colour, other.opacity)[3] == 1):
            outer, inner = line_band(other)
            if inner <= part.expand <= outer:
                return outer - other.width / 2
        if is_opaque(colours, other) and other.visible and other.expand >= part.expand:
            return part.expand - 1
    return part.expand


def _line(scene: Scene, part: Line, opacity: float) -> list[Primitive]:
    box = scene.outline(part)
    outer = box.grown(line_band(part)[0])
    paint = paint_of(scene, part, _span(outer), opacity)
    if part.dash > 0 and part.width > 0:
        middle = polygons(box.grown(sum(line_band(part)) / 2))
        strips = dashes(middle, part.width, part.dash, part.dash_gap)
        return [FillLook(part.id, from_points(strips), paint)] if strips else []
    return [LineLook(part.id, outer, outer.grown(-part.width), paint)]


def _bevel(scene: Scene, part: Any, opacity: float) -> list[Primitive]:
    return [BevelLook(
        part.id, scene.outline(part), part.light, part.depth, part.softness,
        scene.rgba(part.light_colour, opacity), scene.rgba(part.shade_colour, opacity),
    )]


def _gloss(scene: Scene, part: Any, opacity: float) -> list[Primitive]:
    inside = scene.outline(part).grown(-part.gap)
    if inside.width <= 0 or inside.height <= 0:
        return []
    high = max(0.01, part.height * inside.height)
    colour = scene.rgba(part.colour, opacity)
    faded = (*colour[:3], colour[3] * part.fade)
    x, y, width = inside.x, inside.y, inside.width
    bulge = part.bulge * high
    # The lower edge is half an ellipse, its middle lower or higher than its ends.
    if bulge >= 0:
        ry = min(high, 2 * bulge)
        band: AnyOutline = replace(
            outline_for("box", (0, 0, 0, 0), width, high),
            rx=(0, 0, width / 2, width / 2), ry=(0, 0, ry, ry),
        ).moved(x, y)
    else:
        steps = [(at / 48, math.sin(math.pi * at / 48)) for at in range(49)]
        lower = [(x + width * (1 - s), y + high + bulge * sag) for s, sag in steps]
        band = from_points([_points([(x, y), (x + width, y), *lower])])
    paint = Gradient("linear", ((0.0, colour), (1.0, faded)), (x, y, x, y + high))
    return [FillLook(part.id, band, paint, clip=inside)]


def _points(spots: list[tuple[float, float]]) -> Any:
    import numpy as np

    return np.array(spots)


def _lens(scene: Scene, part: Any, opacity: float) -> list[Primitive]:
    return [LensLook(
        part.id, scene.outline(part), part.bend * opacity, part.edge_zone, part.blur / 2,
        scene.rgba(part.colour, opacity), part.rim, scene.rgba(part.rim_colour, opacity),
        part.light, part.fringe * opacity,
    )]


def _picture(scene: Scene, part: Any, opacity: float) -> list[Primitive]:
    if not part.picture:
        return []
    asset = scene.pose.kit.asset(part.picture)
    box = scene.outline(part)
    left, top, right, bottom = part.slices
    return [PictureLook(
        part.id, pixels_of(asset.png), (box.x, box.y, box.x + box.width, box.y + box.height),
        part.fit,
        (left, top, right, bottom), part.density, part.tint, scene.rgba(part.colour),
        part.saturation, part.brightness, part.edge, scene.rgba(part.edge_colour), opacity,
        coarser=tuple(map(pixels_of, asset.coarser)),
    )]


def _symbol(scene: Scene, part: Any, opacity: float) -> list[Primitive]:
    cx, cy = scene.spot(part.position)
    size, count = part.size, round(part.repeat)
    contours, wide, high = symbol_contours(part.symbol)
    share = size / 24
    step = wide * share + part.gap
    start = cx - ((count - 1) * step + wide * share) / 2
    every = [
        (contour * share) + (start + at * step, cy - high * share / 2)
        for at in range(count) for contour in contours
    ]
    outline = from_points(every)
    return [FillLook(part.id, outline, paint_of(scene, part, _span(outline), opacity))]


def _icon(scene: Scene, part: Any, opacity: float) -> list[Primitive]:
    cx, cy = scene.spot(part.position)
    share = part.size / 24
    lines = tuple(
        tuple((cx + (x - 12) * share, cy + (y - 12) * share) for x, y in line)
        for line in icon_lines(part.icon)
    )
    box = (cx - part.size / 2, cy - part.size / 2, part.size, part.size)
    paint = paint_of(scene, part, box, opacity)
    return [StrokeLook(part.id, lines, part.thickness * share, paint)]


def _light(scene: Scene, part: Any, _opacity: float) -> list[Primitive]:
    cx, cy = scene.spot(part.position)
    size = part.size
    lamp = outline_for("ellipse", (0, 0, 0, 0), size, size).moved(cx - size / 2, cy - size / 2)
    colour = scene.rgba(part.colour)
    share = 1.0 if part.lit else 0.6

    def towards(other: float, by: float) -> RGBA:
        r, g, b = (c * share + (other - c * share) * by for c in colour[:3])
        return r, g, b, colour[3]

    heart = (0.0, towards(1.0, 0.7 if part.lit else 0.25))
    shade = Gradient(
        "radial", (heart, (0.45, towards(1.0, 0.0)), (1.0, towards(0.0, 0.45))),
        (cx - size * 0.12, cy - size * 0.16, size * 0.62, size * 0.62),
    )
    looks: list[Primitive] = []
    if part.lit and part.glow > 0:
        looks.append(ShadowLook(part.id, lamp.grown(1), part.glow / 2, colour, None))
    looks.append(FillLook(part.id, lamp, shade))
    ring = (0.0, 0.0, 0.0, 0.35)
    looks.append(LineLook(part.id, lamp.grown(0.5), lamp.grown(-0.5), ring))
    return looks


def _progress(scene: Scene, part: Any, _opacity: float) -> list[Primitive]:
    """A track, and as much of it as the amount says, within its outline."""
    track = scene.outline(part)
    box = outline_for("box", (0, 0, 0, 0), track.width * part.amount, track.height).moved(
        track.x, track.y)
    looks: list[Primitive] = [FillLook(part.id, track, scene.rgba(part.track_colour))]
    if part.amount > 0:
        looks.append(FillLook(part.id, track, scene.rgba(part.colour), box))
    return looks


def _has_shadow(scene: Scene, part: Label) -> bool:
    return scene.rgba(part.shadow_colour)[3] > 0


def _label(scene: Scene, part: Label, opacity: float) -> list[Primitive]:
    return list(label_looks(scene, part, opacity))


MAKERS: dict[str, Callable[[Scene, Any, float], list[Primitive]]] = {
    "shadow": _shadow, "inner-shadow": _inner_shadow, "glow": _glow, "inner-glow": _inner_shadow,
    "fill": _fill, "line": _line, "bevel": _bevel, "gloss": _gloss, "lens": _lens,
    "picture": _picture, "symbol": _symbol, "icon": _icon, "light": _light,
    "progress": _progress, "label": _label, "disc": _disc,
    # Its layers stand for it once a control is settled.
    "look": lambda _scene, _part, _opacity: [],
}
