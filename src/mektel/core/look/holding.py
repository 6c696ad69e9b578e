"""Looks of other controls held as content: laid in as layers of their own.

What comes out speaks of no other control any more. The layer that holds a look stays as what
moves, turns, fades and blends it as one; behind it in the order, each layer of the held look stands
in the holder as ``holder--layer``, in its place.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from mektel.core.errors import MektelError, NotFoundError
from mektel.core.kit import (
    OUTLINE,
    REST,
    Area,
    Control,
    HeldLook,
    Join,
    Kit,
    Label,
    OwnOutline,
    condition_of,
    in_order,
    parse_flags,
    value_names,
)
from mektel.core.look.outlines import body_outline

MARK = "--"
DEEPEST = 8
# So many layers may come together in one control; looks within looks grow fast.
MOST = 256
# Keys reach the holder alone, so that only its own mark of that shows.
ITS_OWN = frozenset({"focus"})
HELD = ("control", "shows", "variation", "text", "at", "width", "height")
Spot = tuple[float, float]


@dataclass(frozen=True)
class Inner:
    """A held control made plain: its size in px, and what it says."""

    control: Control
    size: Spot
    text: str


# Gives the control that a layer holds, made plain; raises MektelError where it cannot.
Finder = Callable[[HeldLook], Inner]


def holds_looks(control: Control) -> bool:
    return any(layer.kind == "look" for layer in control.layers)


def whose(layer_id: str) -> str:
    """The layer of the document that a layer of a settled control comes from."""
    return layer_id.split(MARK)[0]


def held_ids(control: Control, layer_id: str) -> list[str]:
    """What a layer has become in a settled control."""
    return [layer.id for layer in control.layers
            if layer.id == layer_id or layer.id.startswith(layer_id + MARK)]


def holdable(kit: Kit, control: Control) -> list[Control]:
    """The controls whose look this one can hold: all but itself and those that hold it."""
    held_by: dict[str, list[str]] = {}
    for one in kit.controls:
        for name in _named(one):
            held_by.setdefault(name, []).append(one.id)
    holding, todo = {control.id}, [control.id]
    while todo:
        for name in held_by.get(todo.pop(), ()):
            if name not in holding:
                holding.add(name)
                todo.append(name)
    return [one for one in kit.controls if one.id not in holding]


def _named(control: Control) -> set[str]:
    found = {layer.control for layer in control.layers if isinstance(layer, HeldLook)}
    for changes in control.states.values():
        found |= {values["control"] for values in changes.values() if "control" in values}
    return found


def holders(kit: Kit, control_id: str) -> list[Control]:
    """The controls that hold the look of this one."""
    return [one for one in kit.controls if control_id in _named(one)]


def held_control(kit: Kit, layer: HeldLook, under_way: tuple[str, ...]) -> Control:
    """The control that a layer names; raises where it is not there or would hold itself."""
    found = next((one for one in kit.controls if one.id == layer.control), None)
    if found is None:
        raise NotFoundError("control", layer.control, [one.id for one in kit.controls])
    if found.id in under_way or len(under_way) > DEEPEST:
        raise MektelError(f"controls hold each other: {' → '.join([*under_way, found.id])}.")
    return found


def with_sizes(control: Control, find: Finder) -> Control:
    """The control with every held look's own size written out, so that it can be laid out."""
    def sized(layer: Any) -> Any:
        if not isinstance(layer, HeldLook) or not layer.control:
            return layer
        try:
            width, height = find(layer).size
        except MektelError:
            return layer
        return layer.model_copy(update={"width": width, "height": height})

    return control.model_copy(update={"layers": tuple(map(sized, control.layers))})


def laid_in(
    control: Control, size: Spot | None, find: Finder
) -> tuple[Control, list[tuple[str, str]]]:
    """The control with its held looks as layers, at ``size`` px; and (layer, why) where not."""
    layers: list[Any] = []
    held = {layer.id for layer in control.layers if isinstance(layer, HeldLook)}
    states = {condition: {part: values for part, values in parts.items() if part not in held}
              for condition, parts in control.states.items()}
    problems = []
    full = False
    for layer in control.layers:
        if not isinstance(layer, HeldLook) or not layer.control:
            layers.append(layer)
            continue
        try:
            parts, changes = ([], {}) if full else _laid(
                control, layer, size or control.size, find)
            full = full or len(layers) + len(parts) > MOST
            if full:
                raise MektelError(f"more than {MOST} layers would come together here.")
        except (MektelError, ArithmeticError, ValueError) as error:
            why = str(error) if isinstance(error, MektelError) else "it has no size to lie in."
            problems.append((layer.id, why))
            layers.append(layer)
            continue
        layers += parts
        for condition, changed in changes.items():
            states.setdefault(condition, {}).update(changed)
    states = {condition: parts for condition, parts in states.items() if parts}
    return control.model_copy(update={"layers": tuple(layers), "states": states}), problems


def _laid(
    control: Control, layer: HeldLook, size: Spot, find: Finder
) -> tuple[list[Any], dict[str, dict[str, dict[str, Any]]]]:
    """A held look's layers at rest, and what each condition changes in them."""
    outline = body_outline(control.outline, *size, control.size)
    size = (outline.width, outline.height)
    at_rest = _parts(control, layer.id, frozenset(), size, find)
    conditions = _conditions(control, layer, find)
    by_condition = {
        condition: _parts(control, layer.id, parse_flags(condition), size, find)
        for condition in conditions}
    parts = dict(at_rest)
    for found in by_condition.values():
        for name, part in found.items():
            # Another control's, that a state shows instead: not there at rest.
            parts.setdefault(name, part.model_copy(update={"visible": False}))
    changes: dict[str, dict[str, dict[str, Any]]] = {}
    for condition, flags in in_order(tuple(conditions)):
        for name, rest in parts.items():
            part = by_condition[condition].get(name) or rest.model_copy(update={"visible": False})
            before = rest
            for other, needed in in_order(tuple(changes)):
                if needed <= flags:
                    before = before.model_copy(update=changes[other].get(name, {}))
            changed = {one: getattr(part, one) for one in value_names(part)
                       if getattr(part, one) != getattr(before, one)}
            if changed:
                changes.setdefault(condition, {})[name] = changed
    return list(parts.values()), changes


def _conditions(control: Control, layer: HeldLook, find: Finder) -> list[str]:
    """The conditions under which a held look may change, its holder's and its own together."""
    own = [one for one, parts in control.states.items() if layer.id in parts]
    inner: set[str] = set()
    for condition in (REST, *own):
        part = control.part_in(layer.id, parse_flags(condition))
        if part.shows == "same" and part.control:
            inner |= {one for one in find(part).control.states if not parse_flags(one) & ITS_OWN}
    both = {condition_of(parse_flags(a) | parse_flags(b)) for a in own for b in inner}
    return [one for one, _ in in_order(tuple({*own, *inner, *both}))]


def _parts(control: Control, layer_id: str, flags: frozenset[str], size: Spot, find: Finder
           ) -> dict[str, Any]:
    """The layer and those of the look that it holds while these states hold, by their names."""
    layer: HeldLook = control.part_in(layer_id, flags)
    if not layer.control:
        return {layer_id: layer}
    inner = find(layer)
    shown = flags - ITS_OWN if layer.shows == "same" else parse_flags(layer.shows)
    body = inner.control.part_in(OUTLINE, shown)
    # What a state shows instead may have layers of the same names that are of other kinds.
    other = layer.control != control.part(layer_id).control
    prefix = f"{layer_id}{MARK}{layer.control}{MARK}" if other else f"{layer_id}{MARK}"
    frame = _Frame(layer, prefix, inner, body, size)
    faded = {"opacity": layer.opacity * body.opacity}
    placed = [frame.placed(inner.control.part_in(part.id, shown)) for part in inner.control.layers]
    return {layer_id: layer.model_copy(update=faded)} | {part.id: part for part in placed}


class _Frame:
    """Where a held control's box lies in its holder's; px of its box become spots of that."""

    def __init__(
        self, layer: HeldLook, prefix: str, inner: Inner, body: Any, size: Spot
    ) -> None:
        self.layer, self.inner, self.body, self.size = layer, inner, body, size
        self.prefix = prefix
        width, height = inner.size
        outline = body_outline(
            body.model_copy(update={"offset": (0.0, 0.0)}), width, height, inner.control.size)
        self.box = (outline.x, outline.y, outline.width, outline.height)
        across, down = width, height
        if body.fit == "keep":
            share = min(width / inner.control.size[0], height / inner.control.size[1])
            across, down = inner.control.size[0] * share, inner.control.size[1] * share
        self.nominal = ((width - across) / 2, (height - down) / 2, across, down)
        # From its top left to its middle, which lies at the layer's spot.
        self.half = (width / 2, height / 2)

    def placed(self, part: Any) -> Any:
        x, y, width, height = self.box
        # What another look in it holds moves with that.
        dx, dy = (0.0, 0.0) if MARK in part.id else self.body.offset
        changes: dict[str, Any] = {
            "id": f"{self.prefix}{part.id}", "name": f"{self.layer.name}: {part.name}"}
        start = (0.0, 0.0)  # from where the holder has it to where it lies
        if isinstance(part, Label):
            changes["text"] = self.inner.text if part.text is None else part.text
            changes["box"] = self._within(part)
        elif "outline" in type(part).model_fields:
            changes["outline"] = self._outline(part)
        elif "at" in type(part).model_fields and part.kind != "look":
            start = (x + part.at[0] * width - self.half[0], y + part.at[1] * height - self.half[1])
            changes["at"] = self.layer.at
        changes["move"] = (part.move[0] + dx + start[0], part.move[1] + dy + start[1])
        if part.rotate % 360 or part.scale != (1.0, 1.0):
            # A pivot moves with its layer, which begins at another place here.
            changes["pivot"] = tuple(
                (at * whole + begin + share * side - half - first) / whole
                for at, whole, begin, share, side, half, first in zip(
                    self.layer.at, self.size, (x, y), part.pivot, (width, height), self.half,
                    start, strict=True))
        return part.model_copy(update=changes)

    def _within(self, part: Label) -> Area:
        x, y, width, height = self.box
        if part.box is not None:
            # Worked out, not written: such a box may lie farther away than a document's.
            return Area.model_construct(None, **self._area(part.box, self.box))
        pad = min(self.body.padding[0], width / 2)
        return Area.model_construct(x=(self.layer.at[0], x + pad - self.half[0]),
                                    y=(self.layer.at[1], y - self.half[1]),
                                    width=(0.0, width - 2 * pad), height=(0.0, height))

    def _outline(self, part: Any) -> OwnOutline:
        form, box = part.outline, self.box
        if form is None:
            form, box = self.body, self.nominal
        values = {name: getattr(form, name) for name in OwnOutline.model_fields
                  if name in type(form).model_fields}
        values |= self._area(Area() if part.outline is None else form, box)
        values["joins"] = tuple(
            Join.model_construct(**{**dict(join), **self._area(join, box)}) for join in form.joins)
        return OwnOutline.model_construct(**values)

    def _area(self, area: Area, box: tuple[float, float, float, float]) -> dict[str, Spot]:
        """An area of the held control's box, as one of the holder's."""
        x, y, width, height = box
        return {
            "x": (self.layer.at[0], x + area.x[0] * width + area.x[1] - self.half[0]),
            "y": (self.layer.at[1], y + area.y[0] * height + area.y[1] - self.half[1]),
            "width": (0.0, area.width[0] * width + area.width[1]),
            "height": (0.0, area.height[0] * height + area.height[1]),
        }
