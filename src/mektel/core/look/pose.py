"""A pose: every part of a control with all its values, while some states hold at a size.

Nothing is implicit in it: links, formulas and arguments are worked out, what states change is laid
on, hidden layers are there too, and embedded looks stand in the layer that embeds them. What a
pose is drawn as is its look (:func:`mektel.core.look.resolve.look_of`).
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from mektel.core.errors import MektelError
from mektel.core.kit import (
    OUTLINE,
    REST,
    Control,
    ControlOutline,
    EmbeddedLook,
    Kit,
    combined_states,
    parse_flags,
)
from mektel.core.look.embedding import ITS_OWN, MOST_LAYERS, placed_members
from mektel.core.look.outlines import Blended, control_outline
from mektel.core.look.settle import NOTHING, Problem, Settled, settle
from mektel.core.remember import Remembered

Flags = frozenset[str]


@dataclass(frozen=True, eq=False)
class PosedLayer:
    """A layer's total values; of one that embeds a look, that look's layers in their places.

    ``source`` is the control whose look the layer is part of; empty for the control's own.
    ``share`` is how much of its own opacity is left to it while it comes, goes or turns into
    another version of itself.
    """

    values: Any
    members: tuple[PosedLayer, ...] = ()
    source: str = ""
    share: float = 1.0

    def walk(self, path: tuple[str, ...] = ()) -> Iterator[tuple[tuple[str, ...], PosedLayer]]:
        """This layer and all that it embeds, each with the ids that lead to it, in paint order."""
        own = (*path, self.values.id)
        yield own, self
        for member in self.members:
            yield from member.walk(own)


@dataclass(frozen=True, eq=False)
class Pose:
    """A control at ``size`` (width, height) px with every part's values; ``designed`` is the size
    that its proportions come from. Colours may be names of the kit's palette.
    """

    kit: Kit
    size: tuple[float, float]
    designed: tuple[float, float]
    outline: ControlOutline
    layers: tuple[PosedLayer, ...]
    text: str
    # The outline's form while it is on its way to an unlike one.
    form: Blended | None = None
    # What all of it goes through while it answers a touch, as in a group.
    matrix: tuple[float, ...] | None = None

    def walk(self) -> Iterator[tuple[tuple[str, ...], PosedLayer]]:
        """Every layer and all that they embed, each with the ids that lead to it."""
        for layer in self.layers:
            yield from layer.walk()

    def colour(self, value: str) -> str:
        """A colour as #RRGGBB or #RRGGBBAA."""
        return self.kit.colour(value)


_poses = Remembered(256)


def pose(
    kit: Kit, control: Control, flags: Iterable[str] = (), arguments: Mapping[str, Any] = NOTHING,
    size: tuple[float, float] | None = None, text: str | None = None,
) -> Pose:
    """The control while the given states hold, at ``size`` (width, height) px.

    Raises :class:`mektel.core.kit.ArgumentError` for an argument that no parameter takes.
    """
    settled_control = settle(kit, control, size, arguments, text=text)
    return pose_of(kit, settled_control, frozenset(flags), size, text)


def pose_of(
    kit: Kit, settled: Settled, flags: Flags, size: tuple[float, float] | None = None,
    text: str | None = None,
) -> Pose:
    """:func:`pose` of what is settled already."""
    control = settled.control
    box = size or control.size
    return _poses.get(
        (kit.palette, kit.assets, control), (flags, box, text),
        lambda: _pose(kit, settled, flags, box, control.text if text is None else text))


def _pose(
    kit: Kit, settled: Settled, flags: Flags, box: tuple[float, float], text: str
) -> Pose:
    control = settled.control
    layers: list[PosedLayer] = []
    count = len(control.layers)
    for layer in control.layers:
        values = control.part_in(layer.id, flags)
        made = PosedLayer(values)
        if isinstance(values, EmbeddedLook) and values.control and settled.find is not None:
            try:
                made = _with_look(kit, settled, values, flags, box)
            except (MektelError, ArithmeticError, ValueError):
                made = PosedLayer(values)  # reported by problems_of
            count += sum(1 for _ in made.walk()) - 1
            if count > MOST_LAYERS:
                made = PosedLayer(values)
        layers.append(made)
    return Pose(kit, box, control.size, control.part_in(OUTLINE, flags), tuple(layers), text)


def _with_look(
    kit: Kit, settled: Settled, layer: EmbeddedLook, flags: Flags, box: tuple[float, float]
) -> PosedLayer:
    assert settled.find is not None
    inner = settled.find(layer)
    shown = flags - ITS_OWN if layer.shows == "same" else parse_flags(layer.shows)
    inner_pose = pose_of(kit, inner.settled, shown, inner.size, inner.text)
    host = control_outline(settled.control.outline, *box, settled.control.size)
    return PosedLayer(
        layer.model_copy(update={"opacity": layer.opacity * inner_pose.outline.opacity}),
        placed_members(layer, inner, inner_pose, (host.width, host.height)))


def problems_of(
    kit: Kit, control: Control, arguments: Mapping[str, Any] = NOTHING
) -> tuple[Problem, ...]:
    """Formulas without a value, and layers whose look cannot be embedded, at rest or in a state."""
    settled = settle(kit, control, None, arguments)
    control = settled.control
    if settled.find is None:
        return settled.problems
    problems = list(settled.problems)
    count = len(control.layers)
    for layer in control.layers:
        if not isinstance(layer, EmbeddedLook):
            continue
        conditions = [REST, *(state for state, parts in control.states.items()
                              if layer.id in parts)]
        try:
            for condition in conditions:
                values = control.part_in(layer.id, parse_flags(condition))
                if values.control:
                    posed = _with_look(
                        kit, settled, values, parse_flags(condition), control.size)
                    if condition == REST:
                        count += sum(1 for _ in posed.walk()) - 1
            if count > MOST_LAYERS:
                raise MektelError(f"more than {MOST_LAYERS} layers would be drawn here.")
        except (MektelError, ArithmeticError, ValueError) as error:
            why = str(error) if isinstance(error, MektelError) else "it has no size to lie in."
            problems.append(Problem(REST, layer.id, "control", why))
    return tuple(problems)


def conditions_of(settled: Settled) -> tuple[str, ...]:
    """Every condition under which a part of the control, or of an embedded look, may differ."""
    control = settled.control
    own = list(control.states)
    inner: set[str] = set()
    for layer in control.layers:
        if not isinstance(layer, EmbeddedLook) or settled.find is None:
            continue
        for condition in (REST, *own):
            values = control.part_in(layer.id, parse_flags(condition))
            if values.shows != "same" or not values.control:
                continue
            try:
                inner_look = settled.find(values)
            except (MektelError, ArithmeticError, ValueError):
                continue
            inner |= {condition for condition in conditions_of(inner_look.settled)
                      if not parse_flags(condition) & ITS_OWN}
    return tuple(dict.fromkeys([*own, *sorted(inner)]))


def distinct_sets(settled: Settled, more: Iterable[str] = ()) -> dict[Flags, Flags]:
    """Every set of states that can hold at once, with the first set that looks the same.

    ``more`` are conditions under which something else differs.
    """
    conditions = [parse_flags(condition) for condition in {*conditions_of(settled), *more}]
    first: dict[frozenset[Flags], Flags] = {}
    sets = {}
    for flags in combined_states(settled.control.behaviour):
        holding = frozenset(condition for condition in conditions if condition <= flags)
        sets[flags] = first.setdefault(holding, flags)
    return sets
