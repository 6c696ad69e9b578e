"""What a shipped Qt control holds of each primitive: plain values that its runtime paints with."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from itertools import chain
from typing import Any, cast

import numpy as np

from mektel.core.drawings import icon_paths
from mektel.core.kit import OUTLINE, Area, value_names
from mektel.core.kit.layers import Painted
from mektel.core.look import FillLook, LineLook
from mektel.core.look.outlines import box_of, own_outline
from mektel.core.look.paints import ColourStops, in_oklab, oklab_shares
from mektel.core.look.scene import rgba
from mektel.core.path_data import path_commands
from mektel.core.shape import AnyOutline, FreeOutline, Outline, polygons, thinned
from mektel.core.text import font_file
from mektel.targets.answering import moved_part
from mektel.targets.baking import BakedPicture
from mektel.targets.base import LayerPlan
from mektel.targets.drivers import Driver
from mektel.targets.instrument import BLURRED, NATIVE, Groups, Instrument
from mektel.targets.qtwidgets.plain_values import (
    number,
    numbers,
    present,
    qt_rgba,
    qt_value,
)
from mektel.targets.sheet import Flags, Part, PartState, Written

# QPainter has the separable modes; the others are baked with what lies beneath them.
BLENDS = frozenset({
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
    "hard-light", "soft-light", "difference", "exclusion"})
# Values that are always written, because the runtime reads them without asking.
ALWAYS = {
    OUTLINE: {"form", "corners", "padding", "offset"},
    "shadow": {"colour", "offset", "blur", "spread"},
    "inner-shadow": {"colour", "offset", "blur", "spread"},
    "fill": {"style", "expand"},
    "line": {"style", "place", "width", "gap"},
    "gloss": {"colour", "height", "bulge", "gap", "fade"},
    "light": {"colour", "lit", "size", "position", "glow"},
    "label": {"style", "size", "weight", "align"},
}
COMMON = {"visible", "opacity", "blend", "move", "rotate", "scale", "pivot"}
# Written apart, in the form that the runtime wants.
APART = {"family", "direction", "ends", "centre", "reach", "mixing", "stops", "outline", "joins",
         "box"}
ROUND = ("box", "capsule", "ellipse")
# Values that a polygon holds, and that thus cannot follow while it runs.
SHAPING = {"form", "joins", "outline", "power", "points", "inner_radius", "rounding", "path", "fit"}
# Those that a line with dashes holds.
DASHED = {"width", "gap", "dash", "dash_gap"}
# The part that stands for all layers that are one picture.
BENEATH = "=beneath"


@dataclass(frozen=True)
class Followed:
    """A value that the module works out: what it is by default, and what drives it.

    ``wrap`` is Python source with ``{}`` for the driver's own.
    """

    now: Any
    driver: Driver
    wrap: str = "{}"


class QtInstrument(Instrument):
    # What QPainter cannot do

    def reason(self, part: Part) -> str:
        return next((why for state in part.distinct if (why := self._reason(part, state))), "")

    def _reason(self, part: Part, state: PartState) -> str:
        values = state.values
        if part.kind == "bevel":
            return "QPainter has no light on edges"
        if part.kind == "progress":
            return "its bar is a picture; fill it by state"
        if part.kind == "picture":
            return "it is a picture"
        if part.kind == "lens":
            return "its tint and rim; a widget cannot bend or blur what lies behind it"
        if part.kind == "fill" and values.origin and values.style != "solid":
            return "its gradient is repeated beyond its own box"
        if (isinstance(values, Painted) and values.style == "radial" and values.spread != "pad"
                and values.stops[0].position != 0):
            return "QPainter repeats circles only from their centre"
        return ""

    def reason_beneath(self, part: Part) -> str:
        mode = next((state.values.blend for state in part.distinct
                     if state.values.blend not in BLENDS), "")
        return mode and (
            f"QPainter has no blend mode {mode}, so it is one picture with all beneath it")

    def how(self, part: Part) -> LayerPlan:
        why = self.reason(part)
        if why:
            lens = part.kind == "lens"
            return LayerPlan(part.title, "partly" if lens else "baked", why, differs=lens)
        values = part.rest.values
        if part.kind in BLURRED:
            if not any(state.values.blur for state in part.distinct):
                return LayerPlan(part.title, NATIVE)
            return LayerPlan(part.title, NATIVE, "blurred by the control's own code" + (
                "; its outline stretches with the control" if is_shaped(part) else ""))
        if any(_begins_anew(state.values) for state in part.distinct):
            return LayerPlan(part.title, "partly", (
                "where its gradient begins anew, the edge may fall a pixel beside"), differs=True)
        if getattr(values, "dash", 0) > 0:
            return LayerPlan(part.title, NATIVE, "its dashes stretch with the control")
        if part.kind in ("fill", "line", "gloss") and is_shaped(part):
            return LayerPlan(part.title, NATIVE, "its outline stretches with the control")
        return LayerPlan(part.title, NATIVE)

    def reason_lost(self, part: Part, path: str) -> str:
        name = path.split(".")[0]
        if name in ("picture", "icon") or (part.kind not in (OUTLINE, "label") and (
                self.reason(part) or self._is_merged(part))):
            return "it is in a picture"
        if name in SHAPING or (name in DASHED and is_dashed(part)) or (
                name == "corners" and is_shaped(part)):
            return "its outline is drawn for the designed size"
        if name == "stops" and getattr(part.rest.values, "mixing", "srgb") == "oklab":
            return "its OKLab gradient is fixed at export"
        return "it is not kept apart in the code"

    def reason_still(self, entry: Any) -> str:
        part = moved_part(self.sheet, entry)
        if part is None:
            return ""
        name = entry.value.split(".")[0]
        if part.kind != OUTLINE and (self.reason(part) or self._is_merged(part)):
            return "it is in a picture"
        if name in SHAPING or (name == "corners" and is_shaped(part)) or (
                name in DASHED and is_dashed(part)):
            return "its outline is drawn for the designed size"
        return ""

    def _is_merged(self, part: Part) -> bool:
        at = self.sheet.layers.index(part)
        return any(map(self.reason_beneath, self.sheet.layers[at:]))

    # Primitives

    def outline(self, state: PartState) -> Groups:
        simple = is_simple(state)
        group = self._values(state, ALWAYS[OUTLINE], still=set() if simple else {"corners"})
        if state.values.opacity < 1 or "opacity" in state.part.varied:
            group["opacity"] = self._value(state, "opacity")
        if not simple:
            group = {name: value for name, value in group.items() if name not in SHAPING}
            drawn = [layer.states[state.flags] for layer in self.sheet.layers]
            group |= {"form": "box", "shape": self._shape(
                self.sheet.shape(state.flags), state.outline.offset, self.sheet.size,
                [other for other in drawn if getattr(other.values, "outline", None) is None])}
        return {OUTLINE: present(group)}

    def shadow(self, state: PartState) -> Groups:
        glow = {"cut": True} if state.part.kind == "glow" else {}
        return self._part(state, {**self._blurred(state, "shadow"), **glow})

    def inner_shadow(self, state: PartState) -> Groups:
        return self._part(state, self._blurred(state, "inner-shadow"))

    def _blurred(self, state: PartState, kind: str) -> dict[str, Any]:
        return {"kind": kind, "offset": (0, 0), **self._values(state, ALWAYS[kind])}

    def fill(self, state: PartState) -> Groups:
        return self._part(state, self._area(state, "fill"))

    def line(self, state: PartState) -> Groups:
        return self._part(state, self._strips(state) if is_dashed(state.part) else
                          self._area(state, "line"))

    def _area(self, state: PartState, kind: str) -> dict[str, Any]:
        return {"kind": kind, **self._values(state, ALWAYS[kind]), **self._paint(state)}

    def _strips(self, state: PartState) -> dict[str, Any]:
        """A line with dashes, or one that has some in another state, as an area of its own."""
        look = state.drawn
        if isinstance(look, LineLook):
            # A ring within another is a hole where it turns the other way.
            strips = [*(_turned(ring, 1) for ring in rings(look.outer, state.outline.offset)),
                      *(_turned(ring, -1) for ring in rings(look.inner, state.outline.offset))]
        elif isinstance(look, FillLook):
            strips = rings(look.outline, state.outline.offset)
        else:
            return NOTHING
        edge = look.outer if isinstance(look, LineLook) else look.outline
        x, y = state.outline.offset
        return {"kind": "fill", "expand": 0, **self._paint(state), "own_box": {
            "x": (0, 0), "y": (0, 0), "width": (1, 0), "height": (1, 0), "shape": {
                "size": numbers(self.sheet.size), "rings": {0: strips},
                "box": numbers((edge.x - x, edge.y - y, edge.width, edge.height))}}}

    def gloss(self, state: PartState) -> Groups:
        return self._part(state, {"kind": "gloss", **self._values(state, ALWAYS["gloss"])})

    def strokes(self, state: PartState) -> Groups:
        values = state.values
        return self._part(state, {
            **self._paint(state), "kind": "strokes", "position": self._value(state, "position"),
            "size": self._value(state, "size"),
            "width": number(values.thickness * values.size / 24),
            "commands": self._commands(state),
        })

    def _commands(self, state: PartState) -> Any:
        commands = icon_commands(state.values.icon)
        driver = self.driver(state, "icon")
        return commands if driver is None else Followed(commands, driver, "ICONS[{}]")

    def shape(self, state: PartState) -> Groups:
        """A symbol: contours about its spot, which follows the control's size; its own does not."""
        look, outline = state.drawn, self.sheet.shape(state.flags)
        if not isinstance(look, FillLook):
            return self._part(state, {**NOTHING, **EMPTY})
        posed = self._posed(state)
        across, down = posed.position
        x0, y0 = outline.x + across * outline.width, outline.y + down * outline.height
        return self._part(state, {
            "kind": "fill", "expand": 0, **self._paint(state),
            "position": self._value(state, "position"),
            "shape": {"size": (1, 1), "rings": {0: rings(look.outline, (x0, y0))}}})

    def label(self, state: PartState) -> Groups:
        values = state.values
        group = {
            "kind": "label", **self._values(state, ALWAYS["label"]), **self._paint(state),
            "font": font_file(values.family, values.weight).name}
        if values.box is not None:
            group["box"] = self._own_area(state, "box", values.box)
        return self._part(state, group)

    def lamp(self, state: PartState) -> Groups:
        return self._part(state, {"kind": "lamp", **self._values(state, ALWAYS["light"])})

    def group(self, state: PartState) -> Groups:
        return self._part(state, {"kind": "group"})

    def picture(self, state: PartState, picture: BakedPicture | None) -> Groups:
        group: dict[str, Any] = {"kind": "baked", "picture": picture}
        if state.values.blend != "normal":
            group["blend"] = state.values.blend
        driver = state.drivers.get("picture")
        if driver is not None and driver.parameter:
            self.driver(state, "picture")
            group["file"] = Followed("", driver)
        return {state.part.name: present(group)}

    def merged(self, flags: Flags, picture: BakedPicture | None) -> Groups:
        return {BENEATH: present({"kind": "baked", "picture": picture})}

    # Values

    def _part(self, state: PartState, values: dict[str, Any]) -> Groups:
        """A layer's group: what it is made of, and what all layers have."""
        common = self._values(state, set(), only=COMMON)
        if getattr(state.values, "outline", None) is not None and "own_box" not in values:
            values = {**values, "own_box": self._own_box(state)}
        return {state.part.name: present(values | common)}

    def _posed(self, state: PartState) -> Any:
        """A layer's values with its places as shares of the outline's bounds."""
        posed = dict(self.sheet.pose(state.flags).walk()).get(state.part.path)
        return state.values if posed is None else posed.values

    def _values(
        self, state: PartState, always: set[str], only: set[str] | None = None,
        still: Collection[str] = (),
    ) -> dict[str, Any]:
        """Values that are not as the format has them by default, that vary, or are always there;
        those in ``still`` follow nothing.
        """
        group: dict[str, Any] = {}
        fields = type(state.values).model_fields
        for name in value_names(state.values):
            wanted = name in only if only is not None else name not in COMMON | APART
            usual = getattr(state.values, name) == fields[name].default
            if wanted and (not usual or name in always or name in state.part.varied):
                group[name] = (qt_value(name, getattr(state.values, name)) if name in still
                               else self._value(state, name))
        return group

    def _value(self, state: PartState, name: str) -> Any:
        """A value as Qt has it, with what is driven in it."""
        value = getattr(state.values, name)
        drivers = [path for path in state.drivers
                   if path.split(".")[0] == name and name not in SHAPING]
        plain = qt_value(name, value)
        for path in drivers:
            driver = self.driver(state, path)
            assert driver is not None
            steps = path.split(".")[1:]
            if not steps:
                wrap = "runtime.qt_colour({})" if name.endswith("colour") else (
                    f"({{}},) * {len(value)}" if isinstance(value, tuple) else "{}")
                plain = Followed(plain, driver, wrap)
            else:
                at = int(steps[0])
                plain = (*plain[:at], Followed(plain[at], driver), *plain[at + 1 :])
        return plain

    def _paint(self, state: PartState) -> dict[str, Any]:
        """How a layer is painted: one colour, or a gradient's stops and geometry as shares."""
        part = state.values
        if part.style == "solid":
            return {"style": "solid", "colour": self._value(state, "colour")}
        group: dict[str, Any] = {"style": part.style, "stops": self._stops(state)}
        if part.style == "radial":
            group |= {name: self._value(state, name) for name in ("centre", "reach")}
        elif part.style == "conic":
            group |= {name: self._value(state, name) for name in ("centre", "direction")}
        elif part.ends is not None:
            group["ends"] = self._value(state, "ends")
        else:
            group["direction"] = self._value(state, "direction")
        if part.spread != "pad":
            group["spread"] = part.spread
        return group

    def _stops(self, state: PartState) -> Any:
        part = state.values
        stops = _plain_stops(part)
        if part.mixing == "oklab":
            # Of one number in all states: then each moves to its own.
            every = zip(*(oklab_shares(_plain_stops(other.values)) for other in state.part.distinct
                          if len(other.values.stops) == len(stops)), strict=True)
            shares = tuple(tuple(sorted({*chain(*between)})) for between in every)
            return [(number(at), qt_rgba(colour)) for at, colour in in_oklab(stops, shares)]
        written: list[tuple[Any, Any]] = [(number(at), qt_rgba(colour)) for at, colour in stops]
        for path in [path for path in state.drivers if path.startswith("stops")]:
            driver = self.driver(state, path)
            assert driver is not None
            if path == "stops":
                return Followed(written, driver, "runtime.stops_of({})")
            at, colour = written[int(path.split(".")[1])]
            if path.endswith("colour"):
                colour = Followed(colour, driver, "runtime.qt_colour({})")
            else:
                at = Followed(at, driver)
            written[int(path.split(".")[1])] = (at, colour)
        return written

    def _own_box(self, state: PartState) -> dict[str, Any]:
        own = state.values.outline
        if not is_round(own):
            x, y, width, height = box_of(own, *self.sheet.size)
            dx, dy = state.outline.offset
            outline = own_outline(self._posed(state).outline, self.sheet.shape(state.flags))
            shape = self._shape(outline, (x + dx, y + dy), (width, height), [state])
            return {"shape": shape, **self._own_area(state, "outline", own)}
        group: dict[str, Any] = {"form": own.form}
        if own.form == "box":
            group["corners"] = numbers(own.corners)
        if own.form == "box" and own.vertical_radii is not None:
            group["vertical_radii"] = numbers(own.vertical_radii)
        return group | self._own_area(state, "outline", own)

    def _shape(
        self, outline: AnyOutline, start: tuple[float, float], size: tuple[float, float],
        along: Sequence[PartState],
    ) -> dict[str, Any]:
        """An outline that is no rounded box, made for ``size`` px from ``start`` on; one of several
        that are joined also as it is grown for the layers ``along`` it.
        """
        made: dict[str, Any] = {
            "size": numbers(size), "rings": {0: rings(outline, start)}}
        if not isinstance(outline, FreeOutline) or not outline.joins:
            return made
        for look in (look for state in along for look in state.drawn_all):
            for name in ("outline", "outer", "inner", "hole", "clip"):
                edge = getattr(look, name, None)
                by = number(edge.grow, 3) if isinstance(edge, FreeOutline) else 0
                made["rings"].setdefault(by, rings(outline.grown(by), start))
        return {**made, "box": numbers((
            outline.x - start[0], outline.y - start[1], outline.width, outline.height))}

    def _own_area(self, state: PartState, name: str, area: Area) -> dict[str, Any]:
        """A box of a layer's own, with what is driven in it."""
        group: dict[str, Any] = {
            side: numbers(getattr(area, side)) for side in ("x", "y", "width", "height")}
        for path in state.drivers:
            first, *steps = path.split(".")
            if first != name or len(steps) != 2 or steps[0] not in group:
                continue
            driver = self.driver(state, path)
            assert driver is not None
            pair, at = list(group[steps[0]]), int(steps[1])
            pair[at] = Followed(pair[at], driver)
            group[steps[0]] = tuple(pair)
        return group


NOTHING: dict[str, Any] = {
    "kind": "fill", "style": "solid", "colour": "#00000000", "expand": 0}
# A symbol that is not there.
EMPTY: dict[str, Any] = {"position": (0, 0), "shape": {"size": (1, 1), "rings": {0: []}}}


def _plain_stops(part: Any) -> ColourStops:
    return tuple((stop.position, rgba(Written, stop.colour)) for stop in part.stops)


def is_simple(state: PartState) -> bool:
    """Whether the control's outline is a rounded box, capsule or ellipse in these states, which the
    runtime works out itself.
    """
    outline = state.outline
    return outline.form in ROUND and not outline.joins and outline.fit == "fill"


def is_shaped(part: Part) -> bool:
    """Whether the outline that a layer lies along, or the control's own, is in some state one that
    the runtime cannot work out itself.
    """
    own = [getattr(state.values, "outline", None) for state in part.distinct]
    return any(not is_simple(state) if outline is None else not is_round(outline)
               for state, outline in zip(part.distinct, own, strict=True))


def is_dashed(part: Part) -> bool:
    return part.kind == "line" and any(state.values.dash > 0 for state in part.distinct)


def is_round(own: Any) -> bool:
    return own.form in ROUND and not own.joins


def rings(
    outline: AnyOutline, start: tuple[float, float]
) -> list[list[tuple[float | int, float | int]]]:
    """Closed polygons, from ``start`` on."""
    if isinstance(outline, Outline) and (outline.width <= 0 or outline.height <= 0):
        return []
    return [[(number(x - start[0], 2), number(y - start[1], 2)) for x, y in _few(ring)]
            for ring in polygons(outline)]


# So far may a polygon be from the outline that it stands for, px.
MOST_OFF = 0.03


def _few(ring: Sequence[tuple[float, float]]) -> list[list[float]]:
    """A closed polygon without the points that hardly bend it."""
    closed = np.array([*ring, ring[0]])
    return cast(list[list[float]], thinned(closed, MOST_OFF)[:-1].tolist())


def _turned(ring: list[tuple[float, float]], way: int) -> list[tuple[float, float]]:
    """A closed polygon running clockwise (1) or the other way (-1)."""
    area = sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(
        ring, [*ring[1:], *ring[:1]], strict=True))
    return ring if area * way > 0 else ring[::-1]


def icon_commands(icon: str) -> str:
    """An icon's lines as SVG path data: absolute moves, lines and curves about the middle of its 24
    units, all apart.
    """
    return " ".join(
        " ".join([command[0], *(
            f"{number(value - 12, 3)}" for spot in command[1:] for value in spot)])
        for path in icon_paths(icon) for command in path_commands(path))


def _begins_anew(values: Any) -> bool:
    """Whether a gradient jumps from its last colour to its first again and again: QPainter picks
    colours from a table, and so takes some pixels on such an edge to be on its other side.
    """
    return isinstance(values, Painted) and values.style != "solid" and (
        values.spread == "repeat" and values.stops[0].colour != values.stops[-1].colour)
