"""Layers as pictures, for what a target cannot draw: cropped, deduplicated, in nine slices."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from mektel.core.kit import OUTLINE, Control, Kit
from mektel.core.look import GroupLook, Look, resolve
from mektel.core.look.holding import MARK
from mektel.core.paint import render
from mektel.core.slices import stretch_zones
from mektel.formats.png import png_bytes
from mektel.targets.base import Pixels

DENSITIES = (1, 2, 3)


@dataclass(frozen=True)
class BakedPicture:
    """A PNG per density of 1, 2 and 3 pixels per px, and where it lies at the designed size.

    ``place`` is x, y, width, height in whole px from the box's top left; ``slices`` (left, top,
    right, bottom, px) keep their form when the control is larger. ``follows`` says by what share
    of the control's growth its x, y, width and height grow.
    """

    place: tuple[int, int, int, int]
    slices: tuple[int, int, int, int]
    pngs: tuple[bytes, ...]
    follows: tuple[float, float, float, float] = (0.0, 0.0, 1.0, 1.0)


def bare_look(kit: Kit, control: Control, layer_id: str, flags: frozenset[str]) -> Any:
    """A layer's primitive in a state, shown, before it is turned, faded or moved; or None."""
    parts = tuple(_straight(part) if part.id == layer_id or layer_id.startswith(part.id + MARK)
                  else part for one in control.layers for part in [control.part_in(one.id, flags)])
    alone = control.model_copy(update={
        "states": {}, "layers": parts, "outline": control.part_in(OUTLINE, flags)})
    found = _only(resolve(kit, alone).layers, {layer_id})
    return next((one.members[0] if isinstance(one, GroupLook) else one for one in found), None)


def _straight(part: Any) -> Any:
    return part.model_copy(update={
        "visible": True, "opacity": 1.0, "rotate": 0.0, "scale": (1.0, 1.0), "move": (0.0, 0.0)})


def _only(looks: Iterable[Any], wanted: set[str]) -> list[Any]:
    """Those of the wanted layers, what holds them taken away."""
    found: list[Any] = []
    for look in looks:
        if look.id in wanted:
            found.append(look)
        elif isinstance(look, GroupLook):
            found += _only(look.members, wanted)
    return found


def bake(
    kit: Kit, control: Control, layer_ids: Iterable[str], flags: frozenset[str],
    still: bool = False,
) -> BakedPicture | None:
    """These layers in one state, with nothing behind them; None where they draw nothing.

    ``still`` leaves the body's offset in that state to the target.
    """
    wanted = set(layer_ids)
    # What fades all layers is left to where they are drawn together.
    body = control.part_in(OUTLINE, flags).model_copy(update={"opacity": 1.0})
    if still:
        body = body.model_copy(update={"offset": (0.0, 0.0)})
    # What holds them moves, turns and fades them where they are drawn.
    parts = tuple(
        _straight(part).model_copy(update={"blend": "normal"})
        if part.kind == "look" and part.id not in wanted else part
        for layer in control.layers for part in [control.part_in(layer.id, flags)])
    control = control.model_copy(update={"states": {}, "outline": body, "layers": parts})
    look = resolve(kit, control, flags)
    layers = tuple(_only(look.layers, wanted))
    if len(wanted) == 1:
        # Alone there is nothing to blend with; the target blends the picture itself.
        layers = tuple(replace(layer, blend="normal") for layer in layers)
    picture = _baked(replace(look, layers=layers)) if layers else None
    if picture is not None and len(wanted) == 1:
        part = next(one for one in parts if one.id in wanted)
        picture = replace(picture, follows=follows(part))
    return picture


def follows(part: Any) -> tuple[float, float, float, float]:
    """How a layer's box goes with its control's: by its spot, or as its own outline says."""
    at, own = getattr(part, "at", None), getattr(part, "outline", None)
    if at is not None:
        return (*at, 0.0, 0.0)
    if own is not None:
        return own.x[0], own.y[0], own.width[0], own.height[0]
    return 0.0, 0.0, 1.0, 1.0


@lru_cache(maxsize=256)
def _baked(look: Look) -> BakedPicture | None:
    pictures = [render(look, density, look.margins()).rgba for density in DENSITIES]
    room = look.margins()
    filled = np.argwhere(pictures[0].any(axis=2) | _any_finer(pictures[1], pictures[0].shape))
    if not len(filled):
        return None
    (y0, x0), (y1, x1) = filled.min(axis=0), filled.max(axis=0) + 1
    cropped = [
        np.ascontiguousarray(p[y0 * d : y1 * d, x0 * d : x1 * d])
        for p, d in zip(pictures, DENSITIES, strict=True)
    ]
    width, height = int(x1 - x0), int(y1 - y0)
    return BakedPicture(
        (int(x0) - room.left, int(y0) - room.top, width, height),
        slices_of(cropped[0]), tuple(png_bytes(one) for one in cropped),
    )


def _any_finer(picture: Pixels, shape: tuple[int, ...]) -> np.ndarray:
    height, width = shape[:2]
    cells = picture[: height * 2, : width * 2].reshape(height, 2, width, 2, 4)
    return np.asarray(cells.any(axis=(1, 3, 4)))


def slices_of(picture: Pixels) -> tuple[int, int, int, int]:
    """What must keep its form at each side; an axis that cannot stretch is halved."""
    height, width = picture.shape[:2]
    zones = stretch_zones([picture], tolerance=2)
    left, run = zones.columns or (width // 2, 1)
    top, down = zones.rows or (height // 2, 1)
    return left, top, max(0, width - left - run), max(0, height - top - down)
