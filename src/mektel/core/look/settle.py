"""Settling: links, formulas and parameters become plain values, before a look is resolved.

What comes out is a control without links and formulas that looks the same: everything after it,
the painter and every target, need know nothing of either.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from mektel.core.errors import MektelError, NotFoundError
from mektel.core.formula import LONGEST_CHAIN, FormulaError, Value, evaluate, parse
from mektel.core.formula.evaluate import is_colour
from mektel.core.kit import (
    CONTROL,
    OUTLINE,
    REST,
    Control,
    EmbeddedLook,
    Kit,
    PaletteValue,
    Swatch,
    arguments_for,
    in_order,
)
from mektel.core.kit.control import fault_of, with_values
from mektel.core.kit.paths import changed_by, value_at
from mektel.core.look.content_layout import (
    fitted,
    laid_out,
    moves_content,
    natural,
    with_content_moved,
)
from mektel.core.look.embedding import Inner, embedded_control, embeds_looks, with_sizes
from mektel.core.look.finishes import drawn_as
from mektel.core.remember import Remembered

NOTHING: Mapping[str, Any] = {}
SIZES = {"width": 0, "height": 1, "parent_width": 0, "parent_height": 1}


@dataclass(frozen=True)
class Problem:
    """A formula without a value: where it stands, and why; the value before it stays."""

    condition: str
    part: str
    path: str
    text: str

    def __str__(self) -> str:
        where = f"{self.part}.{self.path}"
        return f"{where if self.condition == REST else f'{where} in {self.condition}'}: {self.text}"


@dataclass(frozen=True, eq=False)
class Settled:
    """A control of plain values: nothing in it is left to work out.

    ``find`` gives the controls whose looks its layers embed; None where none does.
    """

    control: Control
    find: Finder | None = None
    problems: tuple[Problem, ...] = ()


@dataclass(frozen=True, eq=False)
class Finder:
    """Finds what a layer embeds, settled as its variation and text make it.

    ``around`` is the host's size (width, height) in px, ``under_way`` the ids of all hosts.
    """

    kit: Kit
    around: tuple[float, float]
    under_way: tuple[str, ...]

    def __call__(self, layer: EmbeddedLook) -> Inner:
        kit, around, under_way = self.kit, self.around, self.under_way
        other = embedded_control(kit, layer, under_way)
        variations = {variation.name: variation for variation in other.variations}
        variation = variations.get(layer.variation)
        if layer.variation and variation is None:
            raise NotFoundError("variation", layer.variation, list(variations))
        arguments = {**(variation.arguments if variation else NOTHING), **layer.arguments}
        text = layer.text if layer.text is not None else variation.text if variation else None
        own = settle(kit, other, None, arguments, around, text, under_way).control
        said = own.text if text is None else text
        wide, high = natural(own, said)
        box = (layer.width or wide, layer.height or high)
        return Inner(settle(kit, other, box, arguments, around, text, under_way), box, said)


def settle(
    kit: Kit, control: Control, size: tuple[float, float] | None = None,
    arguments: Mapping[str, Any] = NOTHING, parent: tuple[float, float] | None = None,
    text: str | None = None, hosts: tuple[str, ...] = (),
) -> Settled:
    """The control as these arguments make it at this size (px); ``parent`` is what it stands in,
    ``hosts`` the controls that embed its look.

    Raises :class:`ArgumentError` for an argument that no parameter takes. A formula that cannot
    be computed is a problem of the result, and its value stays as it was.
    """
    holds, moves = embeds_looks(control), moves_content(control)
    if not (holds or moves or control.links or control.formulas or arguments or kit.finish
            or control.content):
        return Settled(control)
    key = (size, parent, tuple(sorted(arguments.items())) if arguments else (), kit.finish,
           text if control.content else None, hosts if holds else ())
    frozen = (kit.palette, kit.values, control, *((kit.controls,) if holds else ()))
    return _settled.get(frozen, key,
                        lambda: _settle(kit, control, size, arguments, parent, text, hosts))


def settled(kit: Kit, control: Control) -> Control:
    """The control as its defaults make it at its own size."""
    return settle(kit, control).control


_settled = Remembered(256)


def _settle(
    kit: Kit, control: Control, size: tuple[float, float] | None, arguments: Mapping[str, Any],
    parent: tuple[float, float] | None, text: str | None, hosts: tuple[str, ...],
) -> Settled:
    linked = without_links(control)
    work = _Work(kit, linked, size, arguments_for(control.parameters, dict(arguments)), parent)
    work.run()
    made = work.control
    find = Finder(kit, size or made.size, (*hosts, control.id)) if embeds_looks(control) else None
    if find is not None:
        made = with_sizes(made, find)
    said = made.text if text is None else text
    placed = laid_out(made, said, size)
    if made.content is not None and size is None and text is None:
        placed = placed.model_copy(update={"size": fitted(made, said, *placed.size)})
        placed = laid_out(made.model_copy(update={"size": placed.size}), said)
    placed = drawn_as(kit, with_content_moved(placed))
    return Settled(_lean(placed), find, tuple(work.problems))


def _lean(control: Control) -> Control:
    """Without changes of one state that are as rest, as the document never has them."""
    states: dict[str, Any] = {}
    for condition, parts in control.states.items():
        if "+" in condition:
            states[condition] = parts
            continue
        kept = {
            part_id: {name: value for name, value in values.items()
                      if value != getattr(control.part(part_id), name)}
            for part_id, values in parts.items()}
        kept = {part_id: values for part_id, values in kept.items() if values}
        if kept:
            states[condition] = kept
    return control.model_copy(update={"states": states})


def without_links(control: Control) -> Control:
    """Links followed: a condition has what the one it follows has, formulas too."""
    if not control.links:
        return control
    states, formulas = dict(control.states), dict(control.formulas)
    for condition in control.links:
        other = followed(control, condition)
        for kept in (states, formulas):
            kept.pop(condition, None)
            if other != REST and other in kept:
                kept[condition] = kept[other]
    return control.model_copy(update={"states": states, "formulas": formulas, "links": {}})


def followed(control: Control, condition: str) -> str:
    """The condition whose changes this one shows in the end; itself where it follows none."""
    while condition in control.links:
        condition = control.links[condition]
    return condition


class _Work:
    """One settling: values are computed when first asked for, and remembered."""

    def __init__(
        self, kit: Kit, control: Control, size: tuple[float, float] | None,
        arguments: dict[str, Any], parent: tuple[float, float] | None,
    ) -> None:
        self.kit, self.source, self.control = kit, control, control
        self.size, self.parent, self.arguments = size, parent, arguments
        self.types = {parameter.name: parameter.type for parameter in control.parameters}
        self.problems: list[Problem] = []
        self.palette: dict[str, Swatch | PaletteValue] = {
            swatch.name.replace("-", "_"): swatch for swatch in kit.palette}
        self.palette |= {entry.name.replace("-", "_"): entry for entry in kit.values}
        self.parts = {layer.id.replace("-", "_"): layer.id for layer in control.layers}
        self.parts[OUTLINE] = OUTLINE
        self.known: dict[tuple[str, str, str], Value] = {}
        self.under_way: list[str] = []

    def run(self) -> None:
        # The size comes first: other formulas speak of it.
        for path, text in self.source.formulas.get(REST, {}).get(CONTROL, {}).items():
            self._put_control(path, text)
        order = [REST, *(name for name, _ in in_order(tuple(c for c in self.source.formulas
                                                          if c != REST)))]
        for condition in order:
            for part_id, formulas in self.source.formulas.get(condition, {}).items():
                if part_id != CONTROL:
                    for path in formulas:
                        self._put(condition, part_id, path)
        self.control = self.control.model_copy(update={"formulas": {}})

    def _put_control(self, path: str, text: str) -> None:
        try:
            value = evaluate(parse(text), _Scope(self, REST, CONTROL, path))
            if path == "text":
                if not isinstance(value, str):
                    raise FormulaError("a text is needed here.")
                self.control = self.control.model_copy(update={"text": value[:200]})
            else:
                if isinstance(value, bool) or not isinstance(value, float):
                    raise FormulaError("a number is needed here.")
                at = int(path.split(".")[1])
                both = list(self.control.size)
                both[at] = max(4.0, min(2000.0, value))
                self.control = self.control.model_copy(update={"size": (both[0], both[1])})
        except FormulaError as error:
            self.problems.append(Problem(REST, CONTROL, path, str(error)))

    def _put(self, condition: str, part_id: str, path: str) -> None:
        try:
            value = self.formula_value(condition, part_id, path)
            part = self._part(condition, part_id)
            name = path.split(".")[0]
            change = changed_by(part, path, _fitting(part, path, value))
            changed = getattr(with_values(part, change), name)
        except ValidationError as error:
            self.problems.append(Problem(condition, part_id, path, f"{fault_of(error)[1]}."))
            return
        except (MektelError, TypeError, ValueError) as error:
            self.problems.append(Problem(condition, part_id, path, str(error)))
            return
        control = self.control
        if condition == REST:
            new = control.part(part_id).model_copy(update={name: changed})
            if part_id == OUTLINE:
                self.control = control.model_copy(update={"outline": new})
            else:
                layers = tuple(new if la.id == part_id else la for la in control.layers)
                self.control = control.model_copy(update={"layers": layers})
        else:
            states = dict(control.states)
            states[condition] = {
                **states.get(condition, {}),
                part_id: {**states.get(condition, {}).get(part_id, {}), name: changed}}
            self.control = control.model_copy(update={"states": states})

    def _part(self, condition: str, part_id: str) -> Any:
        """A part under one condition alone, as far as it is settled."""
        part = self.control.part(part_id)
        values = self.control.states.get(condition, {}).get(part_id, {})
        return with_values(part, values) if values else part

    def formula_value(self, condition: str, part_id: str, path: str) -> Value:
        key = (condition, part_id, path)
        if key in self.known:
            return self.known[key]
        place = f"{part_id}.{path}"
        if len(self.under_way) >= LONGEST_CHAIN:
            raise FormulaError(
                f"more than {LONGEST_CHAIN} formulas depend on each other in a row.")
        if place in self.under_way:
            chain = " → ".join([*self.under_way[self.under_way.index(place) :], place])
            raise FormulaError(f"it depends on itself: {chain}.")
        self.under_way.append(place)
        try:
            formula = parse(self.source.formulas[condition][part_id][path])
            value = evaluate(formula, _Scope(self, condition, part_id, path))
        finally:
            self.under_way.pop()
        self.known[key] = value
        return value

    def current(self, condition: str, part_id: str, path: str) -> Value:
        """A part's value under a condition, formulas of it followed."""
        for where in dict.fromkeys((condition, REST)):
            formulas = self.source.formulas.get(where, {}).get(part_id, {})
            if path in formulas:
                value = self.formula_value(where, part_id, path)
                before = value_at(self.source.part(part_id), path)
                # One number may drive several, such as all four corners.
                if isinstance(before, tuple) and isinstance(value, float):
                    return (value,) * len(before)
                return value
            if where == condition != REST:
                values = self.source.states.get(where, {}).get(part_id, {})
                if path.split(".")[0] in values:
                    return plain_at(self.kit, self._part(where, part_id), path)
        return plain_at(self.kit, self.source.part(part_id), path)

    def palette_value(self, name: str) -> Value:
        entry = self.palette[name]
        if isinstance(entry, Swatch):
            return entry.colour
        if entry.type == "timing":
            raise FormulaError(f"“{name}” is a timing; formulas compute values, not how they move.")
        return plain_value(self.kit, entry.value)


@dataclass(frozen=True)
class _Scope:
    work: _Work
    condition: str
    part: str
    path: str

    def name(self, name: str) -> Value:
        work = self.work
        if name in work.arguments:
            value = work.arguments[name]
            return plain_value(work.kit, value, work.types[name] in ("colour", "colours"))
        if name == "text":
            return work.control.text
        if name in SIZES:
            own = work.size or work.control.size
            both = (work.parent or own) if name.startswith("parent") else own
            return float(both[SIZES[name]])
        if name == "rest" and self.condition != REST and self.part != CONTROL:
            return work.current(REST, self.part, self.path)
        if self.part != CONTROL and name in type(work.source.part(self.part)).model_fields:
            return work.current(self.condition, self.part, name)
        if name in work.palette:
            return work.palette_value(name)
        known = ", ".join([*work.arguments, "width", "height", *list(work.palette)[:12]])
        raise FormulaError(f"there is no “{name}” here. Available: {known}.")

    def field(self, part: str, name: str) -> Value:
        work = self.work
        if part in work.parts:
            return work.current(self.condition, work.parts[part], name)
        entry = work.palette.get(part)
        if isinstance(entry, PaletteValue) and entry.type == "text-style":
            return plain_at(work.kit, entry.value, name)
        raise FormulaError(f"there is no layer “{part}”. Available: {', '.join(work.parts)}.")


def plain_at(kit: Kit, part: Any, path: str) -> Value:
    """What stands at a path of a part, as formulas have it."""
    return plain_value(kit, value_at(part, path), is_shown_colour(path))


def plain_value(kit: Kit, value: Any, colour: bool = False) -> Value:
    """A value of the document as formulas have it: numbers as floats, colours as hex.

    Only what is a ``colour`` is looked up in the palette: a text may be called like one.
    """
    if isinstance(value, bool):
        return value
    if isinstance(value, int | float):
        return float(value)
    if isinstance(value, str):
        if colour and any(swatch.name == value for swatch in kit.palette):
            return kit.colour(value)
        return value
    if isinstance(value, tuple | list):
        return tuple(plain_value(kit, item, colour) if isinstance(item, str | int | float) else item
                     for item in value)
    return (value,)


def _fitting(part: Any, path: str, value: Value) -> Any:
    """A formula's value as the document takes it at a path."""
    before = value_at(part, path)
    if is_shown_colour(path) and not is_colour(value):
        raise FormulaError("a colour is needed here.")
    number = isinstance(before, float | int) and not isinstance(before, bool)
    if number != (isinstance(value, float) and not isinstance(value, bool)) and not (
            isinstance(before, tuple)):
        raise FormulaError(f"{'a number' if number else 'no number'} is needed here.")
    if isinstance(before, int) and not isinstance(before, bool) and isinstance(value, float):
        return round(value)
    if isinstance(before, tuple) and isinstance(value, tuple) and path == "stops" and all(
            isinstance(entry, str) for entry in value):
        return colours_as_stops(value)
    return value


def is_shown_colour(path: str) -> bool:
    """Whether a path ends at a colour."""
    last = path.split(".")[-1]
    return last == "colour" or last.endswith("_colour")


def colours_as_stops(colours: tuple[Any, ...]) -> tuple[Any, ...]:
    """A list of colours as a gradient's stops, evenly apart."""
    from mektel.core.kit import Stop

    last = max(1, len(colours) - 1)
    stops = [Stop(position=at / last, colour=colour) for at, colour in enumerate(colours)]
    if len(stops) == 1:
        stops.append(Stop(position=1, colour=colours[0]))
    return tuple(stops)
