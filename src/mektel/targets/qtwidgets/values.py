"""What a shipped control draws from: every part's values at rest and in every set of states.

Values are worked out as a whole for each set of states that can hold at once; what is written is
what of them cannot be told from the changes of fewer states.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Any

from mektel.core.kit import (
    OUTLINE,
    STATES,
    Control,
    Glow,
    InnerGlow,
    InnerShadow,
    Kit,
    Shadow,
    combined_states,
)
from mektel.core.kit.conditions import condition_of, rank
from mektel.core.look import whose
from mektel.core.look.holding import MARK
from mektel.core.look.look import SIGMAS
from mektel.core.look.outlines import box_of
from mektel.core.paint.blur import blurred_coverage
from mektel.core.shape import outline_for
from mektel.formats.png import mask_png_bytes
from mektel.targets.baked import BakedPicture, bake
from mektel.targets.driven import Shipped
from mektel.targets.qtwidgets.parts import (
    BLURRED,
    baked_reason,
    beneath_reason,
    has_paths,
    part_values,
    qt_value,
)

# A blur this smooth needs no more pixels; a finer one gets them.
SMOOTH_SIGMA = 4.0
# The part that stands for all layers baked into one picture.
BENEATH = "=beneath"
# What of a picture in one colour stays a value.
TINTED = ("visible", "opacity", "blend", "colour")

States = tuple[str, ...]
Parts = dict[str, dict[str, Any]]


@dataclass(frozen=True)
class Corner:
    """What a blurred box loses at a rounded corner: reach in px, and a PNG."""

    reach: int
    png: bytes


@dataclass
class Values:
    """A control's parts at rest, what each set of states changes in them (None for what is not
    there), and the pictures of those that are baked.
    """

    rest: Parts
    changes: dict[States, Parts]
    pictures: dict[str, dict[States, BakedPicture]] = field(default_factory=dict)


def key_of(flags: frozenset[str]) -> States:
    """A set of states as the module names it."""
    return tuple(state for state in STATES if state in flags)


def values_of(kit: Kit, control: Control, driven: Shipped, draw: bool = True) -> Values:
    """What a settled control draws from; without pictures where nothing is to be drawn."""
    everything = sorted(combined_states(control.behaviour), key=lambda one: rank(condition_of(one)))
    merged = _merged_layers(control)
    pictures: dict[str, dict[States, BakedPicture]] = {}
    totals: dict[frozenset[str], Parts] = {flags: {} for flags in everything}
    if merged:
        beneath = [layer.id for layer in control.layers[:merged]]
        pictures[BENEATH] = _pictures(kit, control, beneath) if draw else {}
    for part_id in (OUTLINE, *([BENEATH] if merged else []),
                    *(layer.id for layer in control.layers[merged:])):
        known: dict[Any, dict[str, Any]] = {}
        varied = {name for changed in control.states.values() for name in changed.get(part_id, {})}
        varied |= {one.path.split(".")[0] for one in driven.of(part_id)}
        baked = part_id not in (OUTLINE, BENEATH) and any(
            baked_reason(control, control.part_in(part_id, flags)) for flags in everything)
        if baked:
            blurred = control.layer(part_id).kind in BLURRED
            white = _whitened(control, part_id) if blurred else control
            pictures[part_id] = _pictures(kit, white, [part_id]) if draw else {}
        for flags in everything:
            if part_id == BENEATH:
                totals[flags][part_id] = {"kind": "baked", "visible": True, "opacity": 1}
                continue
            part = control.part_in(part_id, flags)
            same = (part, control.part_in(OUTLINE, flags))
            if part_id != OUTLINE and part.kind == "fill":
                # Its edge lies under a line over it, where there is one.
                same += tuple(control.part_in(layer.id, flags) for layer in control.layers)
            if same not in known:
                found = (_picture_values(kit, part) if baked
                         else part_values(kit, control, part_id, flags, varied))
                known[same] = {name: value for name, value in found.items() if value is not None}
            totals[flags][part_id] = known[same]
    return Values(totals[frozenset()], changes_of(totals), pictures)


def changes_of(totals: Mapping[frozenset[str], Parts]) -> dict[States, Parts]:
    """What each set of states (those that win last) changes beyond what fewer of them do."""
    rest = totals[frozenset()]
    changes: dict[States, Parts] = {}
    for flags, total in totals.items():
        for part_id, values in total.items():
            known: dict[str, Any] = dict(rest[part_id])
            for states, changed in changes.items():
                if flags.issuperset(states):
                    known |= changed.get(part_id, {})
            own = {name: values.get(name) for name in (*known, *values)
                   if values.get(name) != known.get(name)}
            if own and flags:
                changes.setdefault(key_of(flags), {})[part_id] = own
    return changes


def _merged_layers(control: Control) -> int:
    """How many layers from the back are one picture."""
    merged = 0
    for at, layer in enumerate(control.layers):
        if any(beneath_reason(control.part_in(layer.id, flags))
               for flags in combined_states(control.behaviour)):
            merged = at + 1
    while merged and merged < len(control.layers) and MARK in control.layers[merged].id and (
            whose(control.layers[merged].id) == whose(control.layers[merged - 1].id)):
        merged += 1  # what a look holds stays together
    return merged


def _picture_values(kit: Kit, part: Any) -> dict[str, Any]:
    if part.kind in BLURRED:
        # One colour through a mask: it is tinted when drawn, and can be changed.
        return {"kind": "baked"} | {
            name: qt_value(kit, name, getattr(part, name)) for name in TINTED}
    blend = {"blend": part.blend} if part.blend != "normal" else {}
    return {"kind": "baked", "visible": True, "opacity": 1, **blend}


def _whitened(control: Control, part_id: str) -> Control:
    """The control with one layer in white and shown, whatever holds."""
    return control.model_copy(update={
        "layers": tuple(
            one.model_copy(update={"colour": "#FFFFFF", "visible": True, "opacity": 1.0})
            if one.id == part_id else one for one in control.layers),
        "states": {
            state: {one: {n: v for n, v in found.items() if one != part_id or n not in TINTED}
                    for one, found in changed.items()}
            for state, changed in control.states.items()},
    })


def _pictures(kit: Kit, control: Control, layer_ids: list[str]) -> dict[States, BakedPicture]:
    found = {}
    for flags in combined_states(control.behaviour):
        picture = bake(kit, control, layer_ids, flags)
        if picture is not None:
            found[key_of(flags)] = picture
    return found


def corners_of(control: Control) -> dict[tuple[Any, ...], Corner]:
    """Every corner that a blurred shadow has in any state, by its radii and blur."""
    found = {}
    for flags in combined_states(control.behaviour):
        body = control.part_in(OUTLINE, flags)
        for layer in control.layers:
            part = control.part_in(layer.id, flags)
            if (not isinstance(part, Shadow | InnerShadow | Glow | InnerGlow) or not part.blur
                    or has_paths(control, layer.id)):
                continue
            form, (width, height) = part.outline or body, control.size
            if part.outline is not None:
                _, _, width, height = box_of(part.outline, width, height)
            box = outline_for(form.form, form.radii, width, height, form.radii_y)
            outward = isinstance(part, Shadow | Glow)
            shape = box.grown(part.spread if outward else -part.spread)
            for rx, ry in zip(shape.rx, shape.ry, strict=True):
                if rx > 0 and ry > 0:
                    key = (number(rx), number(ry), number(part.blur))
                    found[key] = bake_corner(rx, ry, part.blur)
    return found


@lru_cache(maxsize=256)
def bake_corner(rx: float, ry: float, blur: float) -> Corner:
    """The top left corner: the blur of what its arc cuts off a sharp box."""
    sigma = blur / 2
    density = max(2, min(3, math.ceil(SMOOTH_SIGMA / sigma)))
    reach = math.ceil(sigma * SIGMAS)
    far = 2 * (max(rx, ry) + 2 * reach)  # the other corners are out of the blur's reach
    sharp = outline_for("box", (0, 0, 0, 0), far, far)
    round_ = replace(sharp, rx=(rx, 0, 0, 0), ry=(ry, 0, 0, 0))
    columns, rows = round((rx + 2 * reach) * density), round((ry + 2 * reach) * density)
    masks = [
        blurred_coverage(one.moved(reach, reach).scaled(density), sigma * density, columns, rows)
        for one in (sharp, round_)
    ]
    return Corner(reach, mask_png_bytes(masks[0] - masks[1]))


def number(value: float) -> float | int:
    """Without a fraction that is none."""
    return int(value) if float(value).is_integer() else round(value, 4)


def is_isolated(values: Values) -> bool:
    """Whether layers must be blended among themselves, or the control is faded as one."""
    every = [values.rest, *values.changes.values()]
    return any((part.get("blend") or "normal") != "normal" for parts in every
               for part in parts.values()) or any(
        part.get("opacity", 1) != 1 for parts in every
        for name, part in parts.items() if name == OUTLINE)
