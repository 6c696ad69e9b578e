"""One control: its outline, layers, states, formulas and parameters, as a frozen, checked value.

A state stores only its changes from rest, keyed by layer id (or ``outline``) and value name.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import Any, Self

from pydantic import Field, ValidationError, field_serializer, model_validator

from mektel.core.errors import MektelError, NotFoundError
from mektel.core.formula import parse as parse_formula
from mektel.core.kit.answers import MOST_ANSWERS, MOST_SWINGS, Answer, Sound, Swing
from mektel.core.kit.conditions import (
    REST,
    Behaviour,
    Condition,
    checked_condition,
    condition_of,
    in_order,
    parse_flags,
)
from mektel.core.kit.content import Content
from mektel.core.kit.layers import KINDS, OUTLINE, ControlOutline, Layer, value_names
from mektel.core.kit.moved_values import checked_answers, checked_swings
from mektel.core.kit.parameters import Parameter, Variation
from mektel.core.kit.paths import is_past_the_end, value_at
from mektel.core.kit.timing import Timing
from mektel.core.kit.value_types import Corners, Frozen, Identifier, Size, Text, Title
from mektel.core.remember import Remembered

Changes = dict[str, dict[str, Any]]


# Formulas of the control's own text and size, and the timing of all its parts, have this part.
CONTROL = "control"
# The timing of all values of a part is kept under this name.
ALL = "all"
# By condition (or rest), part and value.
Timings = dict[str, dict[str, dict[str, Timing]]]


CONTROL_VALUES = ("text", "size.0", "size.1")


def is_empty(kept: Any) -> bool:
    return not kept


# Parts with the values of a state in them, as they were checked.
_changed = Remembered(2048)


class Control(Frozen):
    """One parameterised design of a control, at its own size in px.

    ``slices`` overrides the computed ones (left, top, right, bottom, px) within which the
    control's pictures are not stretched. ``links`` makes a condition follow another's changes, or
    ``rest`` to have none on purpose. ``formulas`` drive values: by condition (or rest), layer and
    path. ``transition`` is how any change of state takes place, ``timings`` how it does in what
    states hold then, of all parts, of one, or of one value (see ``timing_of``); ``answers`` are
    what a touch sets off, ``swings`` what moves without end. ``base`` is the control it derives
    from (see ``deriving``).
    """

    id: Identifier
    name: Title
    content: Content | None = Field(default=None, exclude_if=lambda given: given is None)
    base: Identifier | None = Field(default=None, exclude_if=lambda given: given is None)
    behaviour: Behaviour = "push"
    text: Text = ""
    size: Size = (160.0, 48.0)
    slices: Corners | None = Field(default=None, exclude_if=lambda given: given is None)
    transition: Timing | None = Field(default=None, exclude_if=lambda given: given is None)
    timings: Timings = Field(default_factory=dict, exclude_if=is_empty)
    answers: tuple[Answer, ...] = Field(
        default=(), max_length=MOST_ANSWERS, exclude_if=is_empty)
    swings: tuple[Swing, ...] = Field(default=(), max_length=MOST_SWINGS, exclude_if=is_empty)
    outline: ControlOutline = ControlOutline()
    layers: tuple[Layer, ...] = Field(default=(), max_length=64)
    states: dict[Condition, Changes] = Field(default_factory=dict)
    links: dict[Condition, str] = Field(default_factory=dict, exclude_if=is_empty)
    formulas: dict[str, dict[str, dict[str, str]]] = Field(
        default_factory=dict, exclude_if=is_empty)
    parameters: tuple[Parameter, ...] = Field(default=(), max_length=64, exclude_if=is_empty)
    variations: tuple[Variation, ...] = Field(default=(), max_length=64, exclude_if=is_empty)

    @model_validator(mode="after")
    def _is_consistent(self) -> Self:
        ids = [layer.id for layer in self.layers]
        for layer_id in ids:
            if ids.count(layer_id) > 1 or layer_id == OUTLINE:
                raise ValueError(f"layer id “{layer_id}” is used twice or is reserved")
        _drop_empty(self.states)
        _drop_empty(self.formulas)
        for state, changes in self.states.items():
            for part_id, values in changes.items():
                if part_id != OUTLINE and part_id not in ids:
                    raise ValueError(f"state {state} changes “{part_id}”, which is not a layer")
                part = self.part(part_id)
                for name in values:
                    if name not in value_names(part):
                        raise ValueError(f"state {state}: “{part_id}” has no value “{name}”")
                try:
                    # An edit shares most parts and values, which were checked before.
                    changed = _changed.get((part, *values.values()), tuple(values),
                                           partial(with_values, part, values))
                except ValidationError as error:
                    where, why = fault_of(error)
                    raise ValueError(f"state {state}, {part_id}.{where}: {why}") from None
                # Keep what is stored in the checked form, so that equal values are equal.
                values.update({name: getattr(changed, name) for name in values})
        check_links(self.states, self.links)
        for item in self.content.items if self.content else ():
            if item not in ids:
                raise ValueError(f"the content holds “{item}”, which is not a layer")
        names = [parameter.name for parameter in self.parameters]
        for name in names:
            if names.count(name) > 1:
                raise ValueError(f"parameter “{name}” is given twice")
        for condition, parts in self.formulas.items():
            if condition != REST:
                checked_condition(condition)
            for part_id, formulas in parts.items():
                if part_id not in (OUTLINE, CONTROL, *ids):
                    raise ValueError(f"a formula drives “{part_id}”, which is not a layer")
                for path, text in list(formulas.items()):
                    # A list may have become shorter than what a formula of a state drives.
                    if part_id != CONTROL and is_past_the_end(self.part(part_id), path):
                        del formulas[path]
                    else:
                        check_formula(self, condition, part_id, path, text)
        _drop_empty(self.formulas)
        _drop_empty(self.timings)
        for condition, timed in self.timings.items():
            if condition != REST:
                checked_condition(condition)
            for part_id, by_name in timed.items():
                if part_id not in (OUTLINE, CONTROL, *ids):
                    raise ValueError(f"a timing is for “{part_id}”, which is not a layer")
                known = [] if part_id == CONTROL else value_names(self.part(part_id))
                for name in by_name:
                    if name != ALL and name not in known:
                        raise ValueError(f"a timing is for {part_id}.{name}, which is not a value")
        checked_answers(self)
        swings = checked_swings(self)
        if len(swings) < len(self.swings):
            object.__setattr__(self, "swings", swings)
        return self

    @field_serializer("states")
    def _ordered_states(self, states: dict[str, Changes]) -> dict[str, Any]:
        # Stable order: states as applied, layers in paint order, values as declared.
        out: dict[str, Any] = {}
        for state, _ in in_order(tuple(states)):
            for part_id in [OUTLINE, *(layer.id for layer in self.layers)]:
                values = states.get(state, {}).get(part_id)
                if values:
                    part = self.part(part_id)
                    changed = with_values(part, values).model_dump(mode="json", context="whole")
                    kept = {n: changed[n] for n in value_names(part) if n in values}
                    out.setdefault(state, {})[part_id] = kept
        return out

    def layer(self, layer_id: str) -> Layer:
        for layer in self.layers:
            if layer.id == layer_id:
                return layer
        raise NotFoundError("layer", layer_id, [layer.id for layer in self.layers])

    def part(self, part_id: str) -> Any:
        """The outline or a layer, by id, as it is at rest."""
        return self.outline if part_id == OUTLINE else self.layer(part_id)

    def part_in(self, part_id: str, flags: Iterable[str]) -> Any:
        """The outline or a layer with every change whose condition holds laid on in order."""
        holding = frozenset(flag for names in flags for flag in names.split("+"))
        values: dict[str, Any] = {}
        for condition, needed in in_order(tuple(self.states)):
            if needed <= holding:
                values |= self.states[condition].get(part_id, {})
        # What is stored has been checked.
        part = self.part(part_id)
        return part.model_copy(update=values) if values else part

    def changes(self, state: str) -> Changes:
        return self.states.get(condition_of(parse_flags(state)), {})

    def only(self, condition: str) -> Control:
        """The control with no changes but those of one condition."""
        kept = self.states.get(condition)
        return self.model_copy(update={"states": {condition: kept} if kept else {}})

    def origin(self, part_id: str, name: str, flags: Iterable[str]) -> str:
        """The condition that gives a value while these states hold; ``rest`` where none does."""
        holding = frozenset(flag for names in flags for flag in names.split("+"))
        origin = REST
        for condition, needed in in_order(tuple(self.states)):
            if needed <= holding and name in self.states[condition].get(part_id, {}):
                origin = condition
        return origin

    def timing_of(self, part_id: str, name: str, flags: Iterable[str]) -> Timing | None:
        """How a value moves when these states are arrived in; None where it jumps.

        A timing of the value itself counts most, then one of its part, then one of the control;
        of several of a kind that of the condition that wins, as for changes.
        """
        if not self.timings:
            return self.transition
        holding = frozenset(flag for names in flags for flag in names.split("+"))
        met = [self.timings[REST]] if REST in self.timings else []
        conditions = tuple(condition for condition in self.timings if condition != REST)
        met += [self.timings[condition] for condition, needed in in_order(conditions)
                if needed <= holding]
        for part, value in ((part_id, name), (part_id, ALL), (CONTROL, ALL)):
            for parts in reversed(met):
                if value in parts.get(part, {}):
                    return parts[part][value]
        return self.transition

    def count_changes(self, state: str) -> int:
        return sum(len(values) for values in self.changes(state).values())


def _drop_empty(by_condition: dict[str, Any]) -> None:
    """Conditions and parts with nothing in them are as those that are not there."""
    for condition, parts in list(by_condition.items()):
        for part in [part_id for part_id, values in parts.items() if not values]:
            del parts[part]
        if not parts:
            del by_condition[condition]


def check_links(states: dict[str, Changes], links: dict[str, str]) -> None:
    """A link leads to another condition or to rest, never back to itself."""
    for condition, other in links.items():
        if other != REST:
            checked_condition(other)
        if states.get(condition):
            raise ValueError(f"{condition} follows {other} and has changes of its own, too")
        seen, at = [condition], other
        while at != REST and at in links:
            if at in seen:
                raise ValueError(f"states follow each other in a ring: {' → '.join([*seen, at])}")
            seen.append(at)
            at = links[at]


def check_formula(control: Control, condition: str, part_id: str, path: str, text: str) -> None:
    """That a formula can be read and drives something there is; raises ValueError."""
    try:
        parse_formula(text)
        if part_id == CONTROL:
            if path not in CONTROL_VALUES or condition != REST:
                raise ValueError(f"a formula can drive the control’s text and size, not “{path}”")
            return
        part = control.part(part_id)
        if path.split(".")[0] not in value_names(part):
            raise ValueError(f"“{part_id}” has no value “{path}”")
        value_at(part, path)
    except MektelError as error:
        raise ValueError(f"{part_id}.{path}: {error}") from None


def with_values(part: Any, values: dict[str, Any]) -> Any:
    """``part`` with some values replaced, checked as the document would check them."""
    return type(part).model_validate({**dict(part), **values})


def place_of(loc: tuple[int | str, ...]) -> str:
    """A pydantic location as a path: ``controls[0].layers[2].width``."""
    path = ""
    for step in loc:
        if isinstance(step, int):
            path += f"[{step}]"
        elif step not in KINDS:
            path += f".{step}" if path else str(step)
    return path


def fault_of(error: ValidationError) -> tuple[str, str]:
    """The place and the reason of the first fault, in words fit for the user."""
    first = error.errors(include_url=False, include_context=False, include_input=False)[0]
    return place_of(first["loc"]), first["msg"].removeprefix("Value error, ")


def is_colour(name: str) -> bool:
    """Whether a value of this name is a colour: so that palette names in it are followed."""
    return name == "colour" or name.endswith("_colour")


_names_used = Remembered(2048)


def timings_in(control: Control) -> Iterable[tuple[str, Timing]]:
    """Every timing of a control with its place in the document."""
    if control.transition is not None:
        yield "transition", control.transition
    for condition, parts in control.timings.items():
        for part_id, by_name in parts.items():
            for name, timing in by_name.items():
                yield f"timings.{condition}.{part_id}.{name}", timing
    for at, answer in enumerate(control.answers):
        if isinstance(own := getattr(answer, "timing", None), Timing):
            yield f"answers[{at}].timing", own


def retimed(control: Control, change: Callable[[Timing], Timing]) -> Control:
    """A control with each of its timings changed; the same object where none is."""
    made = {id(timing): change(timing) for _, timing in timings_in(control)}
    if all(made[id(timing)] is timing for _, timing in timings_in(control)):
        return control
    timings = {
        condition: {part: {name: made[id(timing)] for name, timing in by_name.items()}
                    for part, by_name in parts.items()}
        for condition, parts in control.timings.items()}
    answers = tuple(
        answer.model_copy(update={"timing": made[id(timing)]})
        if isinstance(timing := getattr(answer, "timing", None), Timing) else answer
        for answer in control.answers)
    transition = control.transition and made[id(control.transition)]
    return control.model_copy(
        update={"timings": timings, "answers": answers, "transition": transition})


def names_used(control: Control) -> tuple[tuple[str, str, str], ...]:
    """Every colour, picture, sound and palette timing that a control names: its place in the
    document, value name (``timing`` for a timing) and value.
    """
    return _names_used.get((control,), (), lambda: tuple(_all_names(control)))


def _all_names(control: Control) -> Iterable[tuple[str, str, str]]:
    for at, layer in enumerate(control.layers):
        own = _names_used.get((layer,), (), partial(_names_of, layer))
        yield from ((f"layers[{at}]{place}", name, value) for place, name, value in own)
    for place, timing in timings_in(control):
        if timing.named is not None:
            yield f"{place}.named", "timing", timing.named
    for at, answer in enumerate(control.answers):
        if isinstance(answer, Sound):
            yield f"answers[{at}].sound", "sound", answer.sound
    for name in ("answers", "swings"):
        for at, entry in enumerate(getattr(control, name)):
            if getattr(entry, "colour", None) is not None:
                yield from _names_in(dict(entry), f"{name}[{at}]")
    for state, changes in control.states.items():
        for part_id, values in changes.items():
            yield from _names_in(values, f"states.{state}.{part_id}")


def _names_of(layer: Layer) -> tuple[tuple[str, str, str], ...]:
    return tuple(_names_in(dict(layer), ""))


def _names_in(values: dict[str, Any], place: str) -> Iterable[tuple[str, str, str]]:
    for name, value in values.items():
        if is_colour(name) or (name == "picture" and value):
            yield f"{place}.{name}", name, value
    for at, stop in enumerate(values.get("stops", ())):
        yield f"{place}.stops[{at}].colour", "colour", stop.colour
