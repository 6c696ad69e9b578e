"""A control's layers as the plain values that the generated module draws from."""

from __future__ import annotations

from typing import Any

from mektel.core.drawings import icon_paths
from mektel.core.kit import (
    OUTLINE,
    Area,
    Control,
    Kit,
    Label,
    Line,
    OwnOutline,
    combined_states,
    value_names,
)
from mektel.core.kit.layers import Painted
from mektel.core.look import (
    RGBA,
    FillLook,
    Gradient,
    LineLook,
    resolve,
)
from mektel.core.look.paints import in_oklab
from mektel.core.look.parts import rgba
from mektel.core.path_data import path_commands
from mektel.core.shape import AnyOutline, Outline, polygons
from mektel.core.text import font_file
from mektel.targets.baked import bare_look
from mektel.targets.driven import Shipped
from mektel.targets.placing import in_box

# QPainter has the separable modes; the others are baked with what lies beneath them.
BLENDS = {
    "multiply": "Multiply", "screen": "Screen", "overlay": "Overlay", "darken": "Darken",
    "lighten": "Lighten", "color-dodge": "ColorDodge", "color-burn": "ColorBurn",
    "hard-light": "HardLight", "soft-light": "SoftLight", "difference": "Difference",
    "exclusion": "Exclusion",
}
# Values that are always written, because the module reads them without asking.
ALWAYS = {
    OUTLINE: {"form", "radii", "padding", "offset"},
    "shadow": {"colour", "offset", "blur", "spread"},
    "inner-shadow": {"colour", "offset", "blur", "spread"},
    "fill": {"style", "grow"},
    "line": {"style", "place", "width", "gap"},
    "gloss": {"colour", "height", "bulge", "gap", "fade"},
    "label": {"style", "family", "size", "weight", "align"},
}
BLURRED = ("shadow", "glow", "inner-shadow", "inner-glow")
ROUND = ("box", "capsule", "ellipse")


def baked_reason(control: Control, part: Any) -> str:
    """Why QPainter cannot draw a layer as it is; empty if it can."""
    if part.kind in BLURRED and has_paths(control, part.id):
        return "QPainter cannot blur this outline; its picture takes any colour"
    if part.kind == "bevel":
        return "QPainter has no light on edges"
    if part.kind == "progress":
        return "its bar is a picture; fill it by state"
    if part.kind == "light":
        return "its glow is a picture; switch it by state"
    if part.kind == "picture":
        return "it is a picture"
    if part.kind == "lens":
        return "its tint and rim; a widget cannot bend or blur what lies behind it"
    if part.kind == "fill" and part.origin and part.style != "solid":
        return "its gradient is repeated beyond its own box"
    if (isinstance(part, Painted) and part.style == "radial" and part.spread != "pad"
            and part.stops[0].position != 0):
        return "QPainter repeats circles only from their centre"
    return ""


def beneath_reason(part: Any) -> str:
    """Why a layer is baked together with all beneath it; empty if it is not."""
    if part.blend != "normal" and part.blend not in BLENDS:
        return f"QPainter has no blend mode {part.blend}, so it is one picture with all beneath it"
    return ""


def is_simple(control: Control, flags: frozenset[str]) -> bool:
    """Whether the body is a rounded box, capsule or ellipse, which the module works out itself."""
    body = control.part_in(OUTLINE, flags)
    return body.form in ROUND and not body.joins and body.fit == "fill"


def has_paths(control: Control, layer_id: str) -> bool:
    """Whether a layer's outline, in some state, is one that the module cannot work out itself."""
    return any(
        not is_simple(control, flags) or not is_round(control.part_in(layer_id, flags).outline)
        for flags in combined_states(control.behaviour)
    ) or len({control.part_in(layer_id, flags).outline is None
              for flags in combined_states(control.behaviour)}) > 1


def glosses(control: Control, layer_id: str) -> bool:
    """Whether the module works out a gloss itself: round outlines, lower edge bulging down."""
    return not has_paths(control, layer_id) and all(
        control.part_in(layer_id, flags).bulge >= 0 for flags in combined_states(control.behaviour))


def is_round(own: Any) -> bool:
    return own is None or (own.form in ROUND and not own.joins)


def part_values(
    kit: Kit, control: Control, part_id: str, flags: frozenset[str], varied: set[str]
) -> dict[str, Any]:
    """A part's values as the module holds them; ``varied`` are those that any state changes."""
    part = in_box(kit, control, control.part_in(part_id, flags), flags)
    kind = OUTLINE if part_id == OUTLINE else part.kind
    simple = is_simple(control, flags)
    if kind == OUTLINE:
        found = _plain(kit, part, ALWAYS[OUTLINE], varied)
        if part.opacity < 1 or "opacity" in varied:
            found["opacity"] = _number(part.opacity)
        if not simple:
            found["paths"] = {"shape": _rings(_outline_of(kit, control, flags), control, flags)}
        return found
    common = _plain(kit, part, {"visible", "opacity"}, varied, only={
        *COMMON})
    if kind == "look":
        return {"kind": "group", **common}
    look = None if kind == "label" else bare_look(kit, control, part_id, flags)
    own = getattr(part, "outline", None) is not None
    boxed = own and not has_paths(control, part_id)
    values: dict[str, Any]
    if kind in BLURRED:
        values = _shadow_values(kit, part, varied)
    elif kind == "symbol":
        values = _spotted(kit, control, part, look, flags)
    elif kind == "icon":
        values = _paint_values(kit, part) | {
            "kind": "strokes", "at": part.at, "size": part.size,
            "width": _number(part.thickness * part.size / 24), "commands": _commands(part.icon),
        }
    elif kind == "gloss" and glosses(control, part_id):
        values = {"kind": "gloss", **_plain(kit, part, ALWAYS["gloss"], varied)}
    elif kind == "gloss" or (kind == "line" and part.dash > 0):
        values = _band(kit, control, part, look, flags)
    elif kind == "label":
        values = _label_values(kit, part, varied)
    else:
        values = {
            "kind": kind, **_plain(kit, part, ALWAYS[kind], varied), **_paint_values(kit, part)}
        if (own and not boxed) or not simple:
            values["paths"] = _paths(look, control, flags)
    bands = values["kind"] == "fill" and kind == "gloss"
    if boxed and not bands and not (kind == "line" and part.dash > 0):
        values["own_box"] = _own_box(part.outline)
    elif own or bands or kind == "symbol" or (kind == "line" and part.dash > 0):
        values["own"] = True  # it does not cover the control's outline
    return values | common


def _plain(
    kit: Kit, part: Any, always: set[str], varied: set[str], only: set[str] | None = None
) -> dict[str, Any]:
    found: dict[str, Any] = {}
    fields = type(part).model_fields
    for name in value_names(part):
        value = getattr(part, name)
        wanted = name in (only or set(fields) - COMMON - PAINT - {"outline", "joins", "box"})
        default = value == fields[name].default
        if not wanted or (default and name not in always and name not in varied):
            continue
        if name.endswith("colour"):
            value = qt_colour(kit.colour(value))
        elif isinstance(value, tuple):
            value = tuple(_number(one) for one in value)
        elif isinstance(value, float):
            value = _number(value)
        found[name] = value
    return found


COMMON = {"visible", "opacity", "blend", "move", "rotate", "scale", "pivot"}
PAINT = {"angle", "ends", "centre", "reach", "mixing", "stops"}


def _paint_values(kit: Kit, part: Painted) -> dict[str, Any]:
    """How a layer is painted: one colour, or a gradient's stops and geometry as shares."""
    if part.style == "solid":
        return {"style": "solid", "colour": qt_colour(kit.colour(part.colour))}
    stops = tuple((s.position, rgba(kit, s.colour)) for s in part.stops)
    if part.mixing == "oklab":
        stops = in_oklab(stops)
    found: dict[str, Any] = {
        "style": part.style, "stops": [(_number(at), qt_rgba(colour)) for at, colour in stops],
    }
    if part.style == "radial":
        found |= {"centre": _numbers(part.centre), "reach": _numbers(part.reach)}
    elif part.style == "conic":
        found |= {"centre": _numbers(part.centre), "angle": _number(part.angle)}
    elif part.ends is not None:
        found["ends"] = _numbers(part.ends)
    else:
        found["angle"] = _number(part.angle)
    if part.spread != "pad":
        found["spread"] = part.spread
    return found


def _shadow_values(kit: Kit, part: Any, varied: set[str]) -> dict[str, Any]:
    kind = {"glow": "shadow", "inner-glow": "inner-shadow"}.get(part.kind, part.kind)
    found = {"kind": kind, "offset": (0, 0), **_plain(kit, part, ALWAYS[kind], varied)}
    if part.kind == "glow":
        found["cut"] = True
    return found


def _own_box(own: OwnOutline) -> dict[str, Any]:
    found: dict[str, Any] = {"form": own.form, "radii": _numbers(own.radii), **_area(own)}
    if own.radii_y is not None:
        found["radii_y"] = _numbers(own.radii_y)
    return found


def _area(area: Area) -> dict[str, Any]:
    return {name: _numbers(getattr(area, name)) for name in ("x", "y", "width", "height")}


def _paths(look: Any, control: Control, flags: frozenset[str]) -> dict[str, Any]:
    if isinstance(look, LineLook):
        return {"outer": _rings(look.outer, control, flags),
                "inner": _rings(look.inner, control, flags),
                "box": _paint_box(look.outer, control, flags)}
    if isinstance(look, FillLook):
        found: dict[str, Any] = {"area": _rings(look.outline, control, flags),
                                 "box": _paint_box(look.outline, control, flags)}
        if look.clip is not None:
            found["clip"] = _rings(look.clip, control, flags)
        return found
    return {}


def _paint_box(outline: AnyOutline, control: Control, flags: frozenset[str]) -> tuple[Any, ...]:
    """What a gradient is fitted to, at the designed size and without the body's offset."""
    dx, dy = control.part_in(OUTLINE, flags).offset
    return _numbers((outline.x - dx, outline.y - dy, outline.width, outline.height))


def _band(
    kit: Kit, control: Control, part: Any, look: Any, flags: frozenset[str]
) -> dict[str, Any]:
    """What is drawn as an area of its own: a gloss band, or the strips of a dashed line."""
    if not isinstance(look, FillLook):
        return {"kind": "fill", "style": "solid", "colour": "#00000000", "grow": 0,
                "paths": {"area": []}}
    if isinstance(part, Line):
        paint = _paint_values(kit, part)
    else:
        assert isinstance(look.paint, Gradient)
        paint = {"style": "linear", "ends": (0.5, 0, 0.5, 1),
                 "stops": [(at, qt_rgba(colour)) for at, colour in look.paint.stops]}
    return {"kind": "fill", "grow": 0, **paint, "paths": _paths(look, control, flags)}


def _spotted(kit: Kit, control: Control, part: Any, look: Any, flags: frozenset[str]
             ) -> dict[str, Any]:
    """A symbol: contours about its spot, which follows the control's size; its own does not."""
    assert isinstance(look, FillLook)
    body = _outline_of(kit, control, flags)
    x0, y0 = body.x + part.at[0] * body.width, body.y + part.at[1] * body.height
    return {
        "kind": "fill", "grow": 0, **_paint_values(kit, part), "at": _numbers(part.at),
        "paths": {"area": [
            [(_number(x - x0, 2), _number(y - y0, 2)) for x, y in one]
            for one in polygons(look.outline)
        ]},
    }


def _label_values(kit: Kit, part: Label, varied: set[str]) -> dict[str, Any]:
    return {
        "kind": "label", **_plain(kit, part, ALWAYS["label"], varied),
        **_paint_values(kit, part), "font": font_file(part.family, part.weight).name,
        **({"box": _area(part.box)} if part.box is not None else {}),
    }


def icon_commands(control: Control, kept: Shipped) -> dict[str, list[tuple[Any, ...]]]:
    """The drawings of every icon that a parameter may choose from."""
    wanted: set[str] = set()
    for one in kept.values:
        if one.path == "icon":
            wanted |= {name for p in kept.parameters if p.type == "icon" and p.name in one.names
                       for name in (*p.choices, str(p.default))}
            wanted.add(control.layer(one.part).icon)  # type: ignore[union-attr]
    return {name: _commands(name) for name in sorted(wanted)}


def _commands(icon: str) -> list[tuple[Any, ...]]:
    """An icon's lines as moves, lines and curves, about the middle of its 24 units."""
    found: list[tuple[Any, ...]] = []
    for path in icon_paths(icon):
        for command in path_commands(path):
            found.append((command[0], *(
                _number(value - 12) for spot in command[1:] for value in spot)))
    return found


def _outline_of(kit: Kit, control: Control, flags: frozenset[str]) -> AnyOutline:
    return resolve(kit, control, flags).outline


def _rings(
    outline: AnyOutline, control: Control, flags: frozenset[str]
) -> list[list[tuple[float | int, float | int]]]:
    """Closed polygons at the designed size, without the body's offset."""
    dx, dy = control.part_in(OUTLINE, flags).offset
    if isinstance(outline, Outline) and (outline.width <= 0 or outline.height <= 0):
        return []
    return [[(_number(x - dx, 2), _number(y - dy, 2)) for x, y in one]
            for one in polygons(outline)]


def qt_value(kit: Kit, name: str, value: Any) -> Any:
    """A value that needs no more than its colour written Qt's way."""
    if name.endswith("colour"):
        return qt_colour(kit.colour(value))
    return _number(value) if isinstance(value, float) else value


def qt_colour(colour: str) -> str:
    """Qt writes alpha first: #AARRGGBB."""
    return f"#{colour[7:9]}{colour[1:7]}" if len(colour) == 9 else colour


def qt_rgba(colour: RGBA, fade: float = 1.0) -> str:
    digits = "".join(f"{round(min(1.0, c) * 255):02X}" for c in colour[:3])
    alpha = round(min(1.0, colour[3] * fade) * 255)
    return f"#{digits}" if alpha == 255 else f"#{alpha:02X}{digits}"


def _number(value: float, digits: int = 4) -> float | int:
    rounded = round(float(value), digits)
    return int(rounded) if rounded.is_integer() else rounded


def _numbers(values: tuple[float, ...]) -> tuple[float | int, ...]:
    return tuple(_number(value) for value in values)
