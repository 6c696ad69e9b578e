"""Running what was shipped and comparing it, state by state, with our own picture."""

from __future__ import annotations

import math
import tempfile
from collections.abc import Callable, Collection, Iterable, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from mektel.core.formula import parse
from mektel.core.kit import (
    CONTROL,
    REST,
    Control,
    Kit,
    Parameter,
    designed_states,
    parse_flags,
)
from mektel.core.kit.parameters import NUMERIC, argument_problem
from mektel.core.look import Look, Margins, resolve, settle, settled, shared_margins
from mektel.core.look.look import LensLook, ShadowLook
from mektel.core.look.scene import rgba
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import largest_difference, local_difference, opaque_part
from mektel.core.remember import unkept
from mektel.core.shape import AnyOutline
from mektel.targets.base import Pixels, Progress, Shot, Taken, Target, TargetError
from mektel.targets.match import Compared, Match
from mektel.targets.parts import kind_of, part_matches
from mektel.targets.sheet import Sheet, sheet_of
from mektel.targets.shipping import ship
from mektel.targets.writing import write_files

BACKDROP = "#E9E2D3"
# Means are rounded to four places.
CLOSE = 1e-4
ROUNDING = 2
# A lens that changes no place by more than so many steps of 255 can be judged where it is flat.
FLAT = 1.0
NOTHING: Mapping[str, Collection[str]] = {}
# Places tried across and down, reaching so many px beyond the box; none so near the outline that
# rounding decides.
TRIED, BEYOND, CLEAR = (27, 13), 5.0, 2.0
# So far from the outline no toolkit's rounding reaches, in px.
WELL = 3.0
# How far within the corners of the box, which a round outline leaves out, it is tried, too.
CORNER = 2.0


def brought_about(control: Control) -> list[tuple[str, frozenset[str]]]:
    """Each state that the design has, and what holds when it is brought about: a press is also a
    hover.
    """
    conditions = []
    for state in designed_states(control.behaviour, control.states):
        flags = parse_flags(state)
        conditions.append((state, flags | {"hover"} if "pressed" in flags else flags))
    return conditions


def verify(
    kit: Kit,
    controls: Iterable[Control],
    target: Target,
    progress: Progress | None = None,
    scale: int = 2,
    folder: Path | None = None,
    only: Mapping[str, Collection[str]] = NOTHING,
) -> list[Match]:
    """Runs every state of the controls as shipped to ``folder``, and measures; of a control whose
    id is in ``only``, those states alone.

    Without a folder they are first written to a temporary one.
    Raises :class:`TargetError` if the toolkit is missing or a shot did not come back.
    """
    report = progress or (lambda done, of, text: True)
    chosen = list(controls)
    if folder is None:
        with tempfile.TemporaryDirectory(prefix="mektel-verify-") as made:
            report(0, 1, f"writing for {target.title}")
            write_files(ship(target, kit, chosen), Path(made))
            return verify(kit, chosen, target, progress, scale, Path(made), only)
    shots: list[Shot] = []
    labelled: dict[str, bool] = {}
    fixed: dict[str, bool] = {}
    for control in chosen:
        sheet = sheet_of(kit, control)
        fixed[control.id] = text_is_fixed(target, kit, control)
        labelled[control.id] = has_label(sheet) and not fixed[control.id]
        # As it says by itself, but for what has to be given.
        own = sheet.text if any(parameter.name == "text" for parameter in sheet.required) else None
        base = Shot(control, sheet.size, sheet.margins, REST, frozenset(), own, scale)
        for state, flags in _wanted(control, target, only):
            places = _places(sheet) if state == REST else ()
            shots.append(replace(base, state=state, flags=flags, places=places))
            if labelled[control.id]:
                shots.append(replace(base, state=state, flags=flags, text=""))
        # Last of all: what was set stays.
        shots += [replace(base, text=None, arguments=((name, value),))
                  for name, value in _other_arguments(control) if target.takes_arguments]
    taken = target.shoot(kit, shots, folder, BACKDROP, report)
    by_shot = {(t.shot.control.id, t.shot.state, t.shot.text == ""): t for t in taken
             if not t.shot.arguments}
    said = {t.shot.control.id: t for t in taken if t.shot.arguments}
    matches = []
    for control in chosen:
        sheet = sheet_of(kit, control)
        excused = {sheet.part(plan.part).path for plan in target.plan(kit, control)
                   if plan.differs}
        for state, flags in _wanted(control, target, only):
            full = by_shot.get((control.id, state, False))
            if full is None:
                raise TargetError(f"{target.title}: no picture of {control.name}, {state}.")
            bare = by_shot.get((control.id, state, True))
            if not labelled[control.id] or _has_own_text(sheet, flags):
                bare = None
            match = replace(_match(kit, control, state, flags, scale, full, bare, excused, target),
                            has_own_text=_has_own_text(sheet, flags) and not fixed[control.id])
            if state == REST and (other := said.get(control.id)) and match.text == match.meant:
                given = dict(other.shot.arguments)
                match = replace(match, text=other.text,
                                meant=settle(kit, control, None, given).control.text)
            matches.append(match)
    return with_lookalikes(matches)


def text_is_fixed(target: Target, kit: Kit, control: Control) -> bool:
    """Whether every text of the control is in a picture."""
    sheet = sheet_of(kit, control)
    return all(plan.text_is_fixed for plan in target.plan(kit, control)
               if plan.part and sheet.part(plan.part).kind == "label")


def _has_own_text(sheet: Sheet, flags: frozenset[str]) -> bool:
    """Whether a label says something of its own in a state, whatever the control's text."""
    labels = [part.states[flags].values for part in sheet.layers if part.kind == "label"]
    return any(label.visible and label.text for label in labels)


def _wanted(
    control: Control, target: Target, only: Mapping[str, Collection[str]]
) -> list[tuple[str, frozenset[str]]]:
    return [(state, flags) for state, flags in brought_about(control)
            if control.id not in only or state in only[control.id]]


def _other_arguments(control: Control) -> list[tuple[str, Any]]:
    """One argument other than its default, where the control's text follows it."""
    text = control.formulas.get(REST, {}).get(CONTROL, {}).get("text")
    names = parse(text).names if text else frozenset()
    for parameter in control.parameters:
        if parameter.name in names and not parameter.required:
            for value in _others(parameter):
                if value != parameter.default and not argument_problem(parameter, value):
                    return [(parameter.name, value)]
    return []


def _others(parameter: Parameter) -> list[Any]:
    if parameter.type in NUMERIC and isinstance(parameter.default, float):
        return [parameter.default + 1, parameter.default - 1]
    if parameter.type == "yes-no":
        return [not parameter.default]
    return [*parameter.choices] if parameter.type == "choice" else [f"{parameter.default}x"]


def with_lookalikes(matches: list[Match]) -> list[Match]:
    """Matches that also say where a state looks more like another of the same control: one that
    is lost or mixed up may differ from its design by less than any bar.
    """
    alike = []
    for match in matches:
        own = match.bare or match.full
        for other in matches:
            theirs = (other.bare or other.full).designed
            if other.control != match.control or theirs.shape != own.designed.shape:
                continue
            if own.judged_mean > CLOSE and own.distance_to(theirs) < own.judged_mean - CLOSE and (
                    largest_difference(theirs, own.designed) > ROUNDING):
                match = replace(match, nearer=other.state)
                break
        alike.append(match)
    return alike


def _places(sheet: Sheet) -> tuple[tuple[float, float], ...]:
    """Places about the box, in px from its top left, where the pointer is tried."""
    outline = sheet.shape(frozenset())
    width, height = sheet.size
    across, down = TRIED
    places = []
    tried = [(-BEYOND + (width + 2 * BEYOND) * column / (across - 1),
              -BEYOND + (height + 2 * BEYOND) * row / (down - 1))
             for row in range(down) for column in range(across)]
    tried += [(x, y) for x in (CORNER, width - CORNER) for y in (CORNER, height - CORNER)]
    # On either side of the middle of each edge.
    for away in (-WELL, WELL):
        tried += [(width / 2, away), (width / 2, height - away),
                  (away, height / 2), (width - away, height / 2)]
    for x, y in tried:
        if _is_away(outline, x, y, CLEAR):
            places.append((x, y))
    return tuple(places)


def _is_away(outline: AnyOutline, x: float, y: float, by: float) -> bool:
    """Whether no edge lies within so many px of a place, as far as its corners tell."""
    inside = outline.contains(x, y)
    return all(outline.contains(x + dx, y + dy) == inside for dx in (-by, by) for dy in (-by, by))


def _within(kit: Kit, taken: Taken, scale: int) -> Taken:
    """The colours of a shot in just the room that the design needs: shipped code may keep more, for
    arguments or an outline that reaches beyond the box with nothing drawn there, or less.
    """
    margins, (width, height) = taken.shot.margins, taken.shot.size
    x, y = (round((at - room) * scale) for at, room in zip(
        taken.box, (margins.left, margins.top), strict=False))
    wide = math.ceil((margins.left + width + margins.right) * scale - 1e-6)
    high = math.ceil((margins.top + height + margins.bottom) * scale - 1e-6)
    pixels = opaque_part(taken.pixels)
    if (x, y) != (0, 0) or pixels.shape[:2] != (high, wide):
        backdrop = [round(255 * share) for share in rgba(kit, BACKDROP)[:3]]
        room = np.full((high, wide, 3), backdrop, np.uint8)
        left, top = max(0, -x), max(0, -y)
        part = pixels[max(0, y) : max(0, y) + high - top, max(0, x) : max(0, x) + wide - left]
        room[top : top + part.shape[0], left : left + part.shape[1]] = part
        pixels = room
    return replace(taken, pixels=pixels,
                   box=(taken.box[0] - x / scale, taken.box[1] - y / scale, *taken.box[2:]))


def _is_seen_through(
    look: Look, layer_id: str, draw: Callable[[Look], Pixels], designed: Pixels
) -> bool:
    """Whether a layer is a lens with shadows alone between it and what the picture is taken on: it
    bends and blurs hardly more than one colour, which any target can.
    """
    at = next((at for at, layer in enumerate(look.layers) if layer.id == layer_id), 0)
    lens = look.layers[at] if look.layers else None
    if not isinstance(lens, LensLook) or lens.blend != "normal" or not all(
            isinstance(layer, ShadowLook) for layer in look.layers[:at]):
        return False
    flat = replace(lens, bend=0.0, sigma=0.0, fringe=0.0)
    without = replace(look, layers=(*look.layers[:at], flat, *look.layers[at + 1 :]))
    local = local_difference(designed, draw(without))
    return max(local.block, local.tone, local.stray) <= FLAT


def _apart(
    look: Look, excused: set[tuple[str, ...]], margins: Margins, scale: int
) -> tuple[tuple[slice, slice], ...]:
    """The (rows, columns) of what a target cannot draw as designed, and says so in its plan."""
    apart = []
    for layer in look.layers:
        if any(path[0] == layer.id for path in excused):
            x0, y0, x1, y1 = layer.extent()
            rows, columns = (slice(max(0, math.floor((low + room) * scale)),
                                   max(0, math.ceil((high + room) * scale)))
                             for low, high, room in ((y0, y1, margins.top), (x0, x1, margins.left)))
            apart.append((rows, columns))
    return tuple(apart)


def has_label(sheet: Sheet) -> bool:
    return bool(sheet.text) and any(part.kind == "label" for part in sheet.layers)


def designed_picture(
    kit: Kit, control: Control, flags: frozenset[str], text: str | None, scale: int
) -> Pixels:
    """Our picture of a state on the backdrop that shots are taken on."""
    look = resolve(kit, control, flags, settled(kit, control).size, text)
    with unkept():
        return _drawn(kit, look, scale, shared_margins(kit, control))


def _drawn(kit: Kit, look: Look, scale: int, margins: Margins) -> Pixels:
    return opaque_part(on_backdrop(render(look, scale, margins).rgba, rgba(kit, BACKDROP)))


def _without(look: Look, layers: Collection[str]) -> Look:
    return replace(look, layers=tuple(layer for layer in look.layers if layer.id not in layers))


def _match(
    kit: Kit, control: Control, state: str, flags: frozenset[str], scale: int,
    full: Taken, bare: Taken | None, excused: set[tuple[str, ...]], target: Target,
) -> Match:
    text = settled(kit, control).text
    look = resolve(kit, control, flags, settled(kit, control).size, text)
    margins = shared_margins(kit, control)

    def draw(look: Look) -> Pixels:
        return _drawn(kit, look, scale, margins)

    designed = draw(look)
    excused = {path for path in excused if not _is_seen_through(look, path[0], draw, designed)}
    full = _within(kit, full, scale)
    bare = None if bare is None else _within(kit, bare, scale)
    own = (margins.left, margins.top, *settled(kit, control).size)
    same = all(abs(wanted - taken) <= 0.5 for wanted, taken in zip(own, full.box, strict=True))
    without = None
    apart = _apart(resolve(kit, control, flags), excused, margins, scale)
    values = {part.name: part.states[flags].values for part in sheet_of(kit, control).layers
              if not part.host}
    labels = [name for name, own in values.items() if own.kind == "label" and own.text is None]
    if bare is not None:
        blank = draw(_without(look, labels)) if target.keeps_places else (
            designed_picture(kit, control, flags, "", scale))
        without = Compared(blank, bare.pixels, scale, apart)
    compared = Compared(designed, full.pixels, scale, apart)
    parts = part_matches(kit, control, look, target.id, draw, compared, without,
                         {name: kind_of(own) for name, own in values.items()}, labels,
                         {path[0] for path in excused})
    outline = resolve(kit, control).outline
    missed = [(x, y) for hit, (x, y) in zip(full.hits, full.shot.places, strict=bool(full.hits))
              if hit != outline.contains(x, y)]
    clearly = sum(_is_away(outline, x, y, WELL) for x, y in missed)
    return Match(
        control.id, state, tuple(sorted(flags)), scale,
        compared, without, same, len(missed), clearly, len(full.hits), full.text,
        text if full.text is not None else None, parts=parts)
