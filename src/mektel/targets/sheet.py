"""The state sheet: all that a target has to know of a control, worked out once.

Per part and set of states it has total values, what drives them in shipped code, and on request
what is drawn: primitives with their numbers, and pictures. A target draws from it through its
instrument (:mod:`mektel.targets.instrument`) and never looks at the kit itself.
"""

from __future__ import annotations

import ast
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from mektel.core.kit import (
    CONTROL,
    OUTLINE,
    REST,
    Control,
    ControlOutline,
    Kit,
    combined_states,
    condition_of,
    in_order,
    states_of,
    value_names,
)
from mektel.core.kit.colours_in import colours_in, recoloured
from mektel.core.kit.conditions import rank
from mektel.core.kit.control import ALL
from mektel.core.kit.timing import Timing
from mektel.core.look import GroupLook, Look, PosedLayer, look_of, settle
from mektel.core.look.content_layout import following_text
from mektel.core.look.pose import Pose, distinct_sets, pose_of
from mektel.core.look.primitives import MAKERS, is_opaque, lies_with, tucked_growth
from mektel.core.look.resolve import margins_of
from mektel.core.look.scene import Scene
from mektel.core.look.settle import without_links
from mektel.core.motion.arrivals import lasts
from mektel.core.motion.room import moving_room
from mektel.core.remember import Remembered
from mektel.core.shape import AnyOutline
from mektel.core.sounds import sound_bytes
from mektel.targets.baking import BakedPicture, baked, follows
from mektel.targets.drivers import INSIDE, Driver, drivers_of, widest_margins
from mektel.targets.placing import in_box

Flags = frozenset[str]
# What a layer is straightened to where its target moves, turns and fades it.
STRAIGHT: dict[str, Any] = {
    "visible": True, "opacity": 1.0, "rotate": 0.0, "scale": (1.0, 1.0), "move": (0.0, 0.0)}

# Answers that go by timings, as changes of state do.
MOVING = ("press", "lift", "lean", "follow")


class Written:
    """Colours of a sheet: written out already."""

    @staticmethod
    def colour(value: str) -> str:
        return value


@dataclass(frozen=True, eq=False)
class Part:
    """One part of a control: its outline, a layer, or a layer of an embedded look.

    ``name`` is unlike that of any other part: lower-case letters, digits and hyphens. ``path`` are
    the ids that lead to it, ``sources`` the controls that these are of (empty for this one), and
    ``host`` is the name of the part that embeds it; empty for none.
    """

    name: str
    title: str
    kind: str
    path: tuple[str, ...] = ()
    sources: tuple[str, ...] = ()
    host: str = ""
    # The names of the values that a swing or the pointer moves.
    moved: frozenset[str] = frozenset()
    # By every set of states that can hold at once; of a layer that is not there, it is hidden.
    states: dict[Flags, PartState] = field(default_factory=dict)

    @property
    def rest(self) -> PartState:
        return self.states[frozenset()]

    @cached_property
    def distinct(self) -> list[PartState]:
        """Its states, each once."""
        return list({id(state): state for state in self.states.values()}.values())

    @cached_property
    def varied(self) -> frozenset[str]:
        """The names of the values that differ between states, or are driven."""
        rest = self.rest.values
        return frozenset(
            name for name in value_names(rest)
            for state in self.distinct
            if getattr(state.values, name, None) != getattr(rest, name)
        ) | {path.split(".")[0] for state in self.distinct for path in state.drivers} | self.moved


@dataclass(frozen=True, eq=False)
class PartState:
    """A part while a set of states holds: its total values, colours written out and places as
    shares of the control's box, and what drives them, by path.
    """

    sheet: Sheet
    part: Part
    flags: Flags
    values: Any
    drivers: Mapping[str, Driver]

    @property
    def outline(self) -> ControlOutline:
        """The values of the control's outline in this set of states."""
        outline: ControlOutline = self.sheet.outline.states[self.flags].values
        return outline

    @cached_property
    def above(self) -> list[Any]:
        """The values of the shown layers in front of it, in the same look."""
        beside = [part for part in self.sheet.layers if part.host == self.part.host]
        after = beside[beside.index(self.part) + 1 :]
        return [values for part in after
                if (values := part.states[self.flags].values).visible and values.opacity > 0]

    @cached_property
    def drawn(self) -> Any:
        """Its first primitive at the designed size, before it is moved, turned or faded; or None.
        """
        return next(iter(self.drawn_all), None)

    @cached_property
    def drawn_all(self) -> list[Any]:
        """All its primitives, back first, as :attr:`drawn` has the first."""
        return self.sheet.primitives(self.part, self.flags)

    @property
    def is_hidden_below(self) -> bool:
        """Whether an opaque face lies over all that is inside its outline."""
        return any(is_opaque(Written, other) and lies_with(self.values, other)
                   for other in self.above)

    @property
    def growth(self) -> float:
        """How far a fill grows, its edge moved under what covers it."""
        return tucked_growth(Written, self.values, self.above)

    def size_of_own_box(self) -> tuple[float, float]:
        """Width and height in px, at the designed size, of the layer's own box or the control's."""
        width, height = self.sheet.size
        own = getattr(self.values, "outline", None)
        if own is None:
            return width, height
        return own.width[0] * width + own.width[1], own.height[0] * height + own.height[1]


# What a control is called in what is shipped, by its behaviour.
CALLED = {"push": "a push button", "two-position": "a switch", "group": "one of a group of buttons",
          "long-press": "a push button with a long press", "busy": "a push button that can be busy"}


class Sheet:
    """A control's states, parts, texts, measures and drivers. Lengths are in px."""

    def __init__(self, kit: Kit, control: Control) -> None:
        self._kit, self._settled = kit, settle(kit, control)
        plain = self._settled.control
        self._control, self._source = control, without_links(control)
        self.id, self.name, self.kit_name = control.id, control.name, kit.name
        self.behaviour, self.text = plain.behaviour, plain.text
        self.size = plain.size
        self.content = plain.content
        # What a touch sets off and what moves without end, colours written out.
        self.answers = recoloured(plain.answers, kit.colour)
        self.swings = recoloured(plain.swings, kit.colour)
        self.states = states_of(plain.behaviour)
        # Every set of states that can hold at once; those that win come last.
        self.sets: tuple[Flags, ...] = tuple(sorted(
            combined_states(plain.behaviour), key=lambda flags: rank(condition_of(flags))))
        drivers = drivers_of(kit, control)
        self.parameters, self.schemes = drivers.parameters, drivers.schemes
        self._drivers, self.lost = drivers.values, drivers.lost
        self._varying = drivers.palette
        driven = {driver.condition for driver in drivers.values if driver.condition != REST}
        driven |= {swing.during for swing in self.swings if swing.during != REST}
        driven |= {"pressed" for answer in self.answers if answer.kind in ("press", "lift")}
        self.same = distinct_sets(self._settled, driven)
        self.layers: list[Part] = []
        self.outline = self._outline()
        self._add_layers()
        self.parts = [self.outline, *self.layers]
        self._by_name = {part.name: part for part in self.parts}
        # How what stands beside the text moves as that grows: share by layer; the text's width as
        # designed, and that of what stands beside it with the gaps.
        self.following, self.text_width, self.beside = following_text(plain, plain.text)

    def part(self, name: str) -> Part:
        return self._by_name[name]

    @cached_property
    def text_part(self) -> Part | None:
        """The first label that shows the control's text."""
        return next((part for part in self.layers
                     if part.kind == "label" and part.rest.values.text is None), None)

    def pose(self, flags: Flags) -> Pose:
        return pose_of(self._kit, self._settled, self.same[flags])

    def look(self, flags: Flags) -> Look:
        return look_of(self.pose(flags))

    @cached_property
    def distinct(self) -> tuple[Flags, ...]:
        """One set of states for each way that the control can look."""
        return tuple(dict.fromkeys(self.same[flags] for flags in self.sets))

    @cached_property
    def margins(self) -> Any:
        """Room round the box that every state needs, with the defaults of all parameters."""
        return margins_of(self._kit, self._settled, self.size)

    @cached_property
    def widest_margins(self) -> Any:
        """Room that suffices for numbers anywhere within their limits, too."""
        return moving_room(self._control, widest_margins(self._kit, self._control))

    @cached_property
    def moves(self) -> bool:
        """Whether any change of state takes time, or what the pointer does."""
        answers = any(answer.kind in MOVING for answer in self.answers)
        swings = any(swing.during != REST for swing in self.swings)
        return answers or swings or any(
            timing is not None and lasts(timing) > 0 for flags in self.sets
            for part in (CONTROL, *(part.name for part in self.layers))
            for timing in (self.timing_of(part, ALL, flags),))

    def timing_of(self, part_name: str, value: str, flags: Flags) -> Timing | None:
        """How a value of a part moves when these states are arrived in; None for at once."""
        owner, name = self._timed_by(part_name)
        timing = owner.timing_of(name, value, flags) if owner is not None else None
        if owner is not self._control:
            timing = timing or self._control.timing_of(CONTROL, ALL, flags)
        return timing.unnamed if timing is not None else None

    def timed_values(self, part_name: str) -> set[str]:
        """The values of a part that have a timing of their own in some state."""
        owner, name = self._timed_by(part_name)
        timings = owner.timings if owner is not None else {}
        return {value for parts in timings.values() for value in parts.get(name, ())} - {ALL}

    def _timed_by(self, part_name: str) -> tuple[Control | None, str]:
        """The control that has a part's timings, and what the part is called there."""
        part = self._by_name.get(part_name)
        if part is None or not part.host:
            return self._control, part_name
        return {other.id: other for other in self._kit.controls}.get(
            part.sources[-1]), part.path[-1]

    def sound(self, name: str) -> bytes:
        """A sound that the control plays, as a WAV file."""
        return sound_bytes(self._kit, name)

    # Parts

    def _outline(self) -> Part:
        part = Part(OUTLINE, "Outline", OUTLINE, moved=self._moved(OUTLINE))
        for flags in self.sets:
            first = self.same[flags]
            if first not in part.states:
                part.states[first] = PartState(
                    self, part, first, self.pose(first).outline, self._drivers_in(OUTLINE, first))
            part.states[flags] = part.states[first]
        return part

    def _add_layers(self) -> None:
        """Every layer of every pose, in paint order; what a pose lacks is hidden there."""
        posed: dict[tuple[tuple[str, ...], tuple[str, ...]], dict[Flags, PosedLayer]] = {}
        order: list[tuple[tuple[str, ...], tuple[str, ...]]] = []
        firsts = list(dict.fromkeys(self.same[flags] for flags in self.sets))
        for first in firsts:
            before = -1
            for path, sources, layer in _walk(self.pose(first).layers):
                key = (path, sources)
                if key not in posed:
                    order.insert(before + 1, key)
                before = order.index(key)
                posed.setdefault(key, {})[first] = layer
        names: set[str] = set()
        by_key: dict[tuple[tuple[str, ...], tuple[str, ...]], str] = {}
        for path, sources in order:
            host = by_key[path[:-1], sources[:-1]] if len(path) > 1 else ""
            name = f"{host}{INSIDE}{path[-1]}" if host else path[-1]
            if name in names:  # another control's, that a state shows instead
                name = INSIDE.join([host, sources[-1], path[-1]])
            names.add(name)
            by_key[path, sources] = name
            usual = next(iter(posed[path, sources].values())).values
            moved = frozenset() if host else self._moved(name)
            self._add_layer(Part(name, usual.name, usual.kind, path, sources, host, moved),
                            posed[path, sources], firsts)

    def _moved(self, name: str) -> frozenset[str]:
        return frozenset(entry.value.split(".")[0] for entry in (*self.answers, *self.swings)
                         if getattr(entry, "part", None) == name)

    def _add_layer(self, part: Part, posed: dict[Flags, PosedLayer], firsts: list[Flags]) -> None:
        usual = next(iter(posed.values()))
        absent = replace(usual, values=usual.values.model_copy(update={"visible": False}))
        for first in firsts:
            layer = posed.get(first, absent)
            written = recoloured(layer.values, self._kit.colour)
            values = in_box(written, self.look(first).outline,
                            self.outline.states[first].values.offset, self.size)
            part.states[first] = PartState(
                self, part, first, values, self._drivers_in(part.name, first, layer.values))
        for flags in self.sets:
            part.states[flags] = part.states[self.same[flags]]
        self.layers.append(part)

    def _drivers_in(self, name: str, flags: Flags, values: Any = None) -> dict[str, Driver]:
        """What drives a part's values while these states hold, by path."""
        drivers: dict[str, Driver] = {}
        conditions = tuple({*self._source.states, *(
            driver.condition for driver in self._drivers if driver.condition != REST)})
        for condition, needed in [(REST, frozenset()), *in_order(conditions)]:
            if not needed <= flags:
                continue
            changed = self._source.states.get(condition, {}).get(name, {})
            drivers = {path: driver for path, driver in drivers.items()
                       if path.split(".")[0] not in changed}
            drivers |= {driver.path: driver for driver in self._drivers
                        if (driver.part, driver.condition) == (name, condition)}
        if INSIDE in name and values is not None:
            named = {name: getattr(values, name) for name in value_names(values)}
            for path, colour in colours_in(named):
                word = colour.replace("-", "_")
                if word in self._varying and path not in drivers:
                    drivers[path] = Driver(REST, name, path, ast.Name(word, ast.Load()),
                                         frozenset({word}))
        return drivers

    # Drivers

    @cached_property
    def driven(self) -> list[Driver]:
        """Everything that shipped code works out, each once: of the control itself, then of parts.
        """
        own = [driver for driver in self._drivers if driver.part == CONTROL]
        drivers = {(driver.part, driver.condition, driver.path): driver for part in self.parts
                 for state in part.distinct for driver in state.drivers.values()}
        return [*own, *drivers.values()]

    @property
    def text_driver(self) -> Driver | None:
        return next((driver for driver in self.driven
                     if driver.part == CONTROL and driver.path == "text"), None)

    @property
    def size_drivers(self) -> dict[int, Driver]:
        """What drives the control's own width (0) and height (1)."""
        return {int(driver.path[-1]): driver for driver in self.driven
                if driver.part == CONTROL and driver.path != "text"}

    @cached_property
    def palette(self) -> dict[str, dict[str, str]]:
        """Palette colours that differ between schemes and are used: by name, then scheme."""
        used = {name for driver in self.driven for name in driver.names}
        return {name: colours for name, colours in self._varying.items() if name in used}

    @property
    def light_and_dark(self) -> tuple[str, str]:
        """The schemes for a platform's light and dark: by the mean lightness of their colours."""
        def lightness(scheme: str) -> float:
            colours = [entry[scheme].lstrip("#") for entry in self._varying.values()]
            return sum(int(colour[at : at + 2], 16) for colour in colours for at in (0, 2, 4))

        return max(self.schemes, key=lightness), min(self.schemes, key=lightness)

    @property
    def required(self) -> list[Any]:
        """The parameters that must be given."""
        return [parameter for parameter in self.parameters if parameter.required]

    @cached_property
    def fonts(self) -> set[tuple[str, int]]:
        """Family and weight of every label in any state."""
        return {(state.values.family, state.values.weight) for part in self.layers
                if part.kind == "label" for state in part.distinct}

    def uses(self, *names: str) -> bool:
        """Whether a driver has one of these names in it."""
        return any(driver.names & set(names) for driver in self.driven)

    # What is drawn

    def shape(self, flags: Flags) -> AnyOutline:
        """The control's outline at the designed size, offset included."""
        return self.look(flags).outline

    def primitives(self, part: Part, flags: Flags) -> list[Any]:
        """What a layer draws at the designed size, straight and shown."""
        pose, layers = self.pose(flags), self.pose(flags).layers
        at = None
        for step, source in zip(part.path, part.sources, strict=True):
            layers = layers[at].members if at is not None else layers
            at = next((n for n, layer in enumerate(layers)
                       if (layer.values.id, layer.source) == (step, source)), None)
            if at is None:
                return []
        if at is None or part.kind == "look":
            return []
        above = [layer.values for layer in layers[at + 1 :]
                 if layer.values.visible and layer.values.opacity > 0]
        scene = Scene(pose, self.shape(flags), above)
        return MAKERS[part.kind](scene, layers[at].values.model_copy(update=STRAIGHT), 1.0)

    def picture(
        self, parts: Collection[Part], flags: Flags, still: bool = False, **changes: Any
    ) -> BakedPicture | None:
        """These layers in a set of states, with nothing behind them; None if they draw nothing.

        What fades, moves and turns them from outside is left to where they are drawn; with
        ``still`` the outline's offset, too. A single layer has ``changes`` to its values.
        """
        pose = self.pose(flags)
        paths = {part.path for part in parts}
        # What fades all layers is left to where they are drawn together.
        outline = pose.outline.model_copy(
            update={"opacity": 1.0, **({"offset": (0.0, 0.0)} if still else {})})
        layers = tuple(_isolated(layer, (), paths, changes) for layer in pose.layers)
        look = look_of(replace(pose, outline=outline, layers=layers))
        drawn = tuple(_only(look.layers, (), paths))
        if len(paths) == 1:
            # Alone there is nothing to blend with; the target blends the picture itself.
            drawn = tuple(replace(primitive, blend="normal") for primitive in drawn)
        baked_picture = baked(replace(look, layers=drawn)) if drawn else None
        if baked_picture is not None and len(paths) == 1:
            part = next(iter(parts))
            baked_picture = replace(baked_picture, follows=follows(part.states[flags].values))
        return baked_picture


def _walk(
    layers: tuple[PosedLayer, ...], path: tuple[str, ...] = (), sources: tuple[str, ...] = ()
) -> Iterator[tuple[tuple[str, ...], tuple[str, ...], PosedLayer]]:
    for layer in layers:
        own = (*path, layer.values.id), (*sources, layer.source)
        yield *own, layer
        yield from _walk(layer.members, *own)


def _isolated(
    layer: PosedLayer, path: tuple[str, ...], wanted: set[tuple[str, ...]],
    changes: Mapping[str, Any],
) -> PosedLayer:
    """A layer with what embeds the wanted ones straightened, and these as they are to be drawn."""
    own = (*path, layer.values.id)
    update: Mapping[str, Any] = {}
    if own in wanted:
        update = changes
    elif layer.members and any(path[: len(own)] == own for path in wanted):
        update = {**STRAIGHT, "blend": "normal"}
    values = layer.values.model_copy(update=dict(update)) if update else layer.values
    return replace(layer, values=values, members=tuple(
        _isolated(member, own, wanted, changes) for member in layer.members))


def _only(looks: Collection[Any], path: tuple[str, ...], wanted: set[tuple[str, ...]]
          ) -> Iterator[Any]:
    """Those of the wanted layers, what embeds them taken away."""
    for look in looks:
        own = (*path, look.id)
        if own in wanted:
            yield look
        elif isinstance(look, GroupLook):
            yield from _only(look.members, own, wanted)


_sheets = Remembered(64)


def sheet_of(kit: Kit, control: Control) -> Sheet:
    """A control's sheet; nothing is drawn for it yet."""
    embedded = (kit.controls,) if any(layer.kind == "look" for layer in control.layers) else ()
    return _sheets.get(
        (kit.palette, kit.values, kit.assets, kit.sounds, control, *embedded),
        (kit.schemes, kit.finish, kit.name), lambda: Sheet(kit, control))

