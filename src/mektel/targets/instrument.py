"""The instrument that a target draws a control with: some ten primitives, and what it cannot do.

A target subclasses :class:`Instrument` and says for each primitive what its shipped code holds of
it: named groups of values, such as a part of a module or a rule of a style sheet. :func:`draw`
plays a sheet on it, in every set of states, and keeps of each set only what fewer states do not
say already; :func:`plan` says in words what is drawn natively, what as a picture, what is lost.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from typing import Any

from mektel.core.kit import CONTROL, OUTLINE, STATES
from mektel.core.stopping import check_wanted
from mektel.targets.answering import answers_plan
from mektel.targets.baking import BakedPicture
from mektel.targets.base import LayerPlan
from mektel.targets.drivers import Driver
from mektel.targets.sheet import Flags, Part, PartState, Sheet

# What shipped code holds of a part: values by group and name.
Groups = dict[str, dict[str, Any]]
# A set of states in the order of ``STATES``.
States = tuple[str, ...]
# Drawn in one colour with a soft edge.
BLURRED = ("shadow", "glow", "inner-shadow", "inner-glow")
NATIVE = "native"


# Of an answer to touch or endless motion that a target has nothing for.
STILL = "it plays no answers to touch and no endless motion"


class Instrument(ABC):
    """What a target makes of each primitive. One is used for one control.

    ``followed`` gathers the drivers that the target has asked for, and thus follows.
    """

    def __init__(self, sheet: Sheet) -> None:
        self.sheet = sheet
        self.followed: set[tuple[str, str, str]] = set()

    # What it cannot do

    def reason(self, part: Part) -> str:
        """Why a layer is shipped as a picture; empty if it is not."""
        return ""

    def reason_beneath(self, part: Part) -> str:
        """Why a layer is one picture with all that lies beneath it; empty if it is not."""
        return ""

    def how(self, part: Part) -> LayerPlan:
        """How a layer is drawn, in words."""
        why = self.reason(part)
        return LayerPlan(part.title, "baked" if why else NATIVE, why)

    def reason_lost(self, part: Part, path: str) -> str:
        """Why a value does not follow what drives it."""
        return ("it is baked into a picture" if self.reason(part)
                else "it is not kept apart in the code")

    def reason_still(self, entry: Any) -> str:
        """Why an answer or a swing is not played; empty where it is."""
        return STILL

    def plays_partly(self, entry: Any) -> str:
        """What of an answer or a swing that is played is not; empty for nothing."""
        return ""

    # Primitives: each gives what is shipped of it in one set of states.

    @abstractmethod
    def outline(self, state: PartState) -> Groups:
        """The control's outline, and what goes for all layers."""

    @abstractmethod
    def shadow(self, state: PartState) -> Groups:
        """Shadow or glow: the outline, grown and blurred, in one colour."""

    @abstractmethod
    def inner_shadow(self, state: PartState) -> Groups:
        """Shadow or glow inside the outline."""

    @abstractmethod
    def fill(self, state: PartState) -> Groups:
        """An outline filled with a colour or gradient."""

    @abstractmethod
    def line(self, state: PartState) -> Groups:
        """A line along an outline."""

    @abstractmethod
    def gloss(self, state: PartState) -> Groups:
        """A band of light within an outline."""

    @abstractmethod
    def strokes(self, state: PartState) -> Groups:
        """An icon: lines of one width about a spot."""

    @abstractmethod
    def shape(self, state: PartState) -> Groups:
        """A symbol: a filled shape of its own size about a spot."""

    @abstractmethod
    def label(self, state: PartState) -> Groups:
        """A text."""

    @abstractmethod
    def group(self, state: PartState) -> Groups:
        """What moves, turns and fades the layers of an embedded look as one."""

    @abstractmethod
    def picture(self, state: PartState, picture: BakedPicture | None) -> Groups:
        """A layer as a picture; None where it draws nothing, or nothing is to be drawn."""

    def lens(self, state: PartState, picture: BakedPicture | None) -> Groups:
        """Glass, and a picture of what of it does not depend on what lies behind."""
        return self.picture(state, picture)

    def lamp(self, state: PartState) -> Groups:
        """A status light, for a target that paints its own."""
        return self.picture(state, self.bake(state))

    def merged(self, flags: Flags, picture: BakedPicture | None) -> Groups:
        """Several layers from the back as one picture."""
        return {}

    def bake(self, state: PartState) -> BakedPicture | None:
        """A layer's picture in a set of states, moved, turned and faded as it is there."""
        return self.sheet.picture([state.part], state.flags)

    # Drivers

    def driver(self, state: PartState, path: str) -> Driver | None:
        """What drives a value of a part in these states: the target follows it from now on."""
        driver = state.drivers.get(path)
        if driver is not None:
            self.followed.add((driver.part, driver.condition, driver.path))
        return driver


PRIMITIVES = {
    OUTLINE: "outline", "shadow": "shadow", "glow": "shadow", "inner-shadow": "inner_shadow",
    "inner-glow": "inner_shadow", "fill": "fill", "line": "line", "gloss": "gloss",
    "icon": "strokes", "symbol": "shape", "label": "label", "look": "group",
    "light": "lamp",
}


@dataclass
class Drawing:
    """What shipped code holds: at rest, and what each set of states changes in that.

    A value of None is one that is not there in those states.
    """

    rest: Groups
    changes: dict[States, Groups]

    def total(self, states: Collection[str]) -> Groups:
        """Everything that holds while these states do: rest, and every change that belongs to it.
        """
        total = {name: dict(values) for name, values in self.rest.items()}
        for fewer, groups in self.changes.items():
            if set(fewer) <= set(states):
                for name, changed in groups.items():
                    total.setdefault(name, {}).update(changed)
        return total


def key_of(flags: Flags) -> States:
    """A set of states as shipped code names it."""
    return tuple(state for state in STATES if state in flags)


def draw(sheet: Sheet, instrument: Instrument, pictures: bool = True) -> Drawing:
    """Plays a sheet on an instrument; without ``pictures`` nothing is drawn that takes time."""
    merged = count_merged(sheet, instrument)
    beneath = sheet.layers[:merged]
    by_first: dict[Flags, Groups] = {}
    for flags in sheet.distinct:
        check_wanted()
        groups = instrument.outline(sheet.outline.states[flags])
        if merged:
            picture = sheet.picture(beneath, flags) if pictures else None
            groups = groups | instrument.merged(flags, picture)
        for part in sheet.layers[merged:]:
            if not holder_in_picture(sheet, instrument, part):
                groups = groups | _drawn(part.states[flags], instrument, pictures)
        by_first[flags] = groups
    totals = {flags: by_first[sheet.same[flags]] for flags in sheet.sets}
    return Drawing(totals[frozenset()], changes_of(totals))


def holder_in_picture(sheet: Sheet, instrument: Instrument, part: Part) -> str:
    """The title of what a layer is in one picture with, since that embeds it; empty for none."""
    while part.host:
        part = sheet.part(part.host)
        if instrument.reason(part):
            return part.title
    return ""


def _drawn(state: PartState, instrument: Instrument, pictures: bool) -> Groups:
    part = state.part
    if part.kind == "lens":
        return instrument.lens(state, instrument.bake(state) if pictures else None)
    if instrument.reason(part) or part.kind not in PRIMITIVES:
        return instrument.picture(state, instrument.bake(state) if pictures else None)
    groups: Groups = getattr(instrument, PRIMITIVES[part.kind])(state)
    return groups


def count_merged(sheet: Sheet, instrument: Instrument) -> int:
    """How many layers from the back are one picture."""
    merged = 0
    for at, part in enumerate(sheet.layers):
        if instrument.reason_beneath(part):
            merged = at + 1
    while merged and merged < len(sheet.layers) and sheet.layers[merged].host and (
            sheet.layers[merged].path[0] == sheet.layers[merged - 1].path[0]):
        merged += 1  # what a look embeds stays together
    return merged


def changes_of(totals: Mapping[Flags, Groups]) -> dict[States, Groups]:
    """What each set of states (those that win last) changes beyond what fewer of them do.

    >>> changes_of({frozenset(): {"a": {"x": 1}}, frozenset({"hover"}): {"a": {"x": 2, "y": 3}}})
    {('hover',): {'a': {'x': 2, 'y': 3}}}
    """
    rest = totals[frozenset()]
    changes: dict[States, Groups] = {}
    for flags, total in totals.items():
        if not flags:
            continue
        for name in {**rest, **total}:
            known: dict[str, Any] = dict(rest.get(name, {}))
            for states, changed in changes.items():
                if flags.issuperset(states):
                    known |= changed.get(name, {})
            values = total.get(name, {})
            own = {value: values.get(value) for value in (*known, *values)
                   if values.get(value) != known.get(value)}
            if own:
                changes.setdefault(key_of(flags), {})[name] = own
    return changes


def plan(sheet: Sheet, instrument: Instrument) -> list[LayerPlan]:
    """One entry per layer, in paint order; and one for the outline where it does not follow."""
    plans: list[LayerPlan] = []
    for at, part in enumerate(sheet.layers):
        beneath = instrument.reason_beneath(part)
        if beneath:
            plans = [LayerPlan(entry.title, "baked", f"in one picture with “{part.title}”",
                               text_is_fixed=entry.kind == "label", part=entry.name)
                     for entry in sheet.layers[:at]]
            plans.append(LayerPlan(part.title, "baked", beneath, part=part.name,
                                   text_is_fixed=part.kind == "label"))
        elif title := holder_in_picture(sheet, instrument, part):
            plans.append(LayerPlan(part.title, "baked", f"in one picture with “{title}”",
                                   text_is_fixed=part.kind == "label", part=part.name))
        else:
            plans.append(replace(instrument.how(part), part=part.name))
    draw(sheet, instrument, pictures=False)
    return [*with_lost(plans, [*lost(sheet, instrument), *sheet.lost]),
            *answers_plan(sheet, instrument.reason_still, instrument.plays_partly)]


def lost(sheet: Sheet, instrument: Instrument) -> list[tuple[Driver, str]]:
    """The drivers that a drawing has not asked for, each with why."""
    return [
        (driver, instrument.reason_lost(sheet.part(driver.part), driver.path))
        for driver in sheet.driven
        if driver.part != CONTROL
        and (driver.part, driver.condition, driver.path) not in instrument.followed
    ]


def with_lost(plans: list[LayerPlan], drivers: list[tuple[Driver, str]]) -> list[LayerPlan]:
    """Plans that also say which values cannot follow their formulas in shipped code."""
    reasons: dict[str, list[str]] = {}
    for driver, why in drivers:
        part = "" if driver.part in (OUTLINE, CONTROL) else driver.part
        reasons.setdefault(part, []).append(f"{driver.path} is fixed: {why}")
    completed = []
    for layer in plans:
        if layer.part in reasons:
            how = "partly" if layer.how == NATIVE else layer.how
            why = "; ".join([*filter(None, [layer.why]), *dict.fromkeys(reasons[layer.part])])
            layer = replace(layer, how=how, why=why)
        completed.append(layer)
    if "" in reasons:
        completed.append(LayerPlan("Outline", "partly", "; ".join(dict.fromkeys(reasons[""]))))
    return completed
