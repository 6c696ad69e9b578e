"""Designs with one value a little off: shipped instead of the design, each must be caught.

Some are what people have seen go wrong; the others are made from the values themselves, whatever
the verdict looks at.
"""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from pydantic import ValidationError

from mektel.core.errors import MektelError
from mektel.core.kit import OUTLINE, REST, Control, Kit, Stop, designed_states, edit, parse_flags
from mektel.core.kit.layers import measure_of, value_names
from mektel.core.look import settled
from mektel.core.look.scene import rgba
from mektel.targets.verify import designed_picture

# A change shows if it differs by so many steps of 255 somewhere, and in sum of all px by so many.
LEAST, LEAST_IN_SUM = 3, 2400
PX, BLUR, THIN, SHARE, DEGREES = 1.0, 2.0, 0.5, 0.1, 12.0
TINT, FACE_TINT, STOP = 14, 5, 0.06


@dataclass(frozen=True)
class Change:
    """A value of a part in a state that is another than in the design."""

    control: str
    state: str
    part: str
    value: str
    other: Any

    def __str__(self) -> str:
        return f"{self.control}, {self.state}: {self.part}.{self.value} = {self.other}"

    def of(self, control: str) -> Change:
        """The same of a copy of the control."""
        return replace(self, control=control)

    def made(self, kit: Kit) -> Kit:
        return edit.set_value(kit, self.control, self.state, self.part, self.value, self.other)


def _stops(*colours: tuple[float, str]) -> tuple[Stop, ...]:
    return tuple(Stop(position=position, colour=colour) for position, colour in colours)


SEEN = (
    Change("board", REST, "label", "colour", "#F3F1EB"),
    Change("board", REST, "face", "stops", _stops((0, "#339097"), (1, "#1B5E6A"))),
    Change("board", REST, "face", "stops", _stops((0.06, "tide-light"), (1, "tide-deep"))),
    Change("board", REST, "shadow", "offset", (0.0, 5.0)),
    Change("board", REST, "shadow", "blur", 12.0),
    Change("board", REST, "line", "colour", "#225962"),
    Change("board", "focus", "focus-ring", "width", 1.5),
    Change("board", "disabled", "label", "opacity", 0.75),
    Change("cargo", REST, "line", "width", 1.5),
    Change("cargo", REST, OUTLINE, "corners", (9.0,) * 4),
    Change("round", REST, OUTLINE, "corners", (23.0,) * 4),
)


def with_round(kit: Kit) -> Kit:
    """The kit and a capsule whose radius is a number: *Board* as a box with round ends."""
    kit = edit.copy_control(kit, "board")
    kit = edit.set_id(kit, kit.controls[-1].id, "round")
    kit = edit.set_value(kit, "round", REST, OUTLINE, "form", "box")
    return edit.set_value(kit, "round", REST, OUTLINE, "corners", (24.0,) * 4)


def small_changes(kit: Kit, count: int, seed: int = 1) -> list[Change]:
    """So many changes that show, each of another value or control than the others."""
    every = [change for control in kit.controls for change in _changes(kit, control)]
    random.Random(seed).shuffle(every)
    chosen: dict[tuple[str, str, str], Change] = {}
    for change in every:
        if len(chosen) == count:
            break
        key = (change.control, change.part, change.value)
        if key not in chosen and shows(kit, change):
            chosen[key] = change
    return list(chosen.values())


def shows(kit: Kit, change: Change) -> bool:
    """Whether a change can be seen in the design of its state, at two pixels per px."""
    try:
        pictures = [
            designed_picture(each, each.control(change.control), _flags(change.state), None, 2)
            for each in (kit, change.made(kit))]
    except (MektelError, ValidationError):
        return False
    first, second = pictures
    if first.shape != second.shape:
        return False
    apart = np.abs(first.astype(int) - second)
    return bool(apart.max() >= LEAST and apart.sum() / 4 >= LEAST_IN_SUM)


def _flags(state: str) -> frozenset[str]:
    flags = parse_flags(state)
    return flags | {"hover"} if "pressed" in flags else flags


def _changes(kit: Kit, control: Control) -> Iterator[Change]:
    design = settled(kit, control)
    for state in designed_states(control.behaviour, control.states):
        for part in (design.outline, *design.layers):
            part_id = OUTLINE if part is design.outline else part.id
            if state == REST and not getattr(part, "visible", True):
                continue
            names = value_names(part) if state == REST else design.states.get(state, {}).get(
                part_id, {})
            for name in names:
                own = design.states.get(state, {}).get(part_id, {}).get(name, getattr(part, name))
                for other in _others(kit, part, name, own):
                    yield Change(control.id, state, part_id, name, other)


def _others(kit: Kit, part: Any, name: str, own: Any) -> Iterator[Any]:
    if name == "stops":
        yield from _other_stops(kit, own)
    elif isinstance(own, bool):
        yield not own
    elif "colour" in name and isinstance(own, str):
        by = FACE_TINT if part.kind == "fill" else TINT
        # Towards white or black as far as that is from here.
        yield from (_tinted(kit, own, way * by) for way in (1, -1)
                    if all(0 <= 255 * share + way * by <= 255 for share in rgba(kit, own)[:3]))
    else:
        try:
            unit = measure_of(type(part), name).unit
        except KeyError:
            return
        step = {"px": PX, "°": DEGREES}.get(unit, SHARE)
        step = BLUR if name == "blur" else THIN if "width" in name else step
        if isinstance(own, tuple):
            yield from (tuple(number + way * step if at in which else number
                              for at, number in enumerate(own))
                        for way in (1, -1) for which in (range(4), (0,), (1,)))
        elif isinstance(own, float):
            yield from (own + way * step for way in (1, -1))


def _other_stops(kit: Kit, stops: tuple[Stop, ...]) -> Iterator[tuple[Stop, ...]]:
    for at, stop in enumerate(stops):
        others = [stop.model_copy(update={"colour": _tinted(kit, stop.colour, way * FACE_TINT)})
                  for way in (1, -1)]
        others += [stop.model_copy(update={"position": stop.position + way * STOP})
                   for way in (1, -1)]
        for other in others:
            yield (*stops[:at], other, *stops[at + 1 :])


def _tinted(kit: Kit, colour: str, by: int) -> str:
    *channels, alpha = (round(255 * share) for share in rgba(kit, colour))
    return "#" + "".join(f"{min(255, max(0, channel + by)):02X}" for channel in channels) + (
        f"{alpha:02X}")
