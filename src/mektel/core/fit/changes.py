"""Pictures of other states, read as changes of the first: as few values as explain them."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.fit.again import Compared, compared_with, content_box
from mektel.core.fit.as_control import control_of_reading, drawn, hex_of, picture_of
from mektel.core.fit.fitting import BOX, RADIAL, SECOND, SHADOW, Fit
from mektel.core.fit.masks import Geometry, covered
from mektel.core.fit.model import judged
from mektel.core.fit.reading import Reading, Ring, averaged, step_for
from mektel.core.fit.stages import LEAST, PERFECT, Stages, read_picture
from mektel.core.fit.start import boxes_of
from mektel.core.kit import OUTLINE, Control, Kit, Line
from mektel.core.kit.conditions import REST, parse_flags
from mektel.core.kit.layers import value_names
from mektel.core.kit.merging import Layered, merged
from mektel.core.look import pose
from mektel.core.stopping import check_wanted

# A condition, a layer or the outline, and the name of a value that differs from rest there.
Change = tuple[str, str, str]
# A value of the geometry changes if what is left falls by this share, and a part goes if without it
# no more than this share is left.
CLEARLY, NEEDLESS = 0.12, 0.03
# What is left of a state's picture, as so many times that of the first, is explained well enough.
ENOUGH, ANYWAY = 1.25, 0.1
# Values are the same that differ by no more: levels of 255 and of alpha, px, degrees, and shares of
# a length and of a size.
LEVELS, ALPHA, NEAR, TURN, SHARE, SIZE = 5, 16, 0.4, 5.0, 0.1, 0.012
# Where a ring is sought, pixels of the picture, and what is left with it, as a share of before.
GAPS, WIDTHS, RINGED = (0.0, 1.0, 2.0, 3.0, 4.0, 6.0), (1.0, 2.0, 3.0, 4.0, 6.0), 0.5
# Letters cover few pixels, so that their colour is known less well.
LETTERS = 24
# Parts that may be gone or new in a state; new ones are tried in this order.
PARTS = ("shadow", "light", "line")


def read_change(pixels: NDArray[np.uint8], first: Reading) -> Reading:
    """The same control in another state, in a picture of shape (height, width, 3), of 8 bits.

    It has what the first reading has but for what explains the picture clearly better: first
    colours, then place, shadow, face, light, line and size, then parts that are gone or new.
    """
    height, width = pixels.shape[:2]
    step = step_for(width, height)
    small = averaged(pixels[:, :, :3].astype(np.float64) / 255, step)
    fit = Stages(small, lambda _: None)
    fit.parts = first.parts
    enough = max(PERFECT, first.residual * ENOUGH + ANYWAY)
    geometry = _placed(fit, first.geometry.scaled(1 / step), small, enough)
    fit.take_label(geometry)
    ring = _ring(fit, geometry) if fit.left(geometry, fit.parts) > enough else None
    _leave_out(fit, geometry, ring)
    geometry = _with_other_parts(fit, _with_values(fit, geometry, enough), enough)
    fit.take_label(geometry)
    _leave_out(fit, geometry, ring)
    if ring is not None:
        ring = replace(ring, gap=ring.gap * step, width=ring.width * step)
    return replace(fit.reading(geometry, float(step)), ring=ring)


def _with_values(fit: Fit, geometry: Geometry, enough: float) -> Geometry:
    """The geometry with as few other values as explain the picture."""
    kept: tuple[str, ...] = ()
    left = fit.left(geometry, fit.parts)
    for names in _groups(fit):
        check_wanted()
        if left <= enough:
            break
        found = fit.exact(geometry, fit.parts, tuple(dict.fromkeys((*kept, *names))), 8)
        now = fit.left(found, fit.parts)
        if now < left * (1 - CLEARLY) and now < left - LEAST:
            geometry, kept, left = found, tuple(dict.fromkeys((*kept, *names))), now
    return geometry


def _with_other_parts(fit: Stages, geometry: Geometry, enough: float) -> Geometry:
    """Without the parts that are gone, and with those that are new."""
    left = fit.left(geometry, fit.parts)
    for name in (*PARTS, "second", "gloss"):
        without = replace(fit.parts, **{name: False})
        if getattr(fit.parts, name) and fit.left(geometry, without) <= left * (1 + NEEDLESS):
            fit.parts = without
    for name in PARTS if fit.left(geometry, fit.parts) > enough else ():
        if not getattr(fit.parts, name):
            before, left = fit.parts, fit.left(geometry, fit.parts)
            found = getattr(fit, f"with_{name}")(geometry)
            if fit.left(found, fit.parts) < left * (1 - 2 * CLEARLY):
                geometry = found
            else:
                fit.parts = before
    return geometry


def read_states(
    pictures: Mapping[str, NDArray[np.uint8]], progress: Callable[[float], None] | None = None
) -> dict[str, Reading]:
    """Readings by condition, of pictures (height, width, 3) of 8 bits; that of rest comes first.

    Raises :class:`ReadingError` where nothing stands out, KeyError without a picture of rest.
    """
    share = 0.9 if len(pictures) > 1 else 1.0
    made = {REST: read_picture(pictures[REST], progress and (lambda at: progress(at * share)))}
    for condition, pixels in pictures.items():
        if condition != REST:
            made[condition] = read_change(pixels, made[REST])
    return made


def _ring(fit: Fit, geometry: Geometry) -> Ring | None:
    """A line outside of the outline, as states that have the focus show it, if there is one."""
    before, weights = fit.left(geometry, fit.parts), fit.picture.weights

    def tried(gap: float, width: float) -> tuple[float, Ring]:
        check_wanted()
        ring = Ring(gap, width, np.zeros(3))
        cover = _cover(fit, geometry, ring)
        fit.picture.weights = np.where(cover > 0.01, 0.0, weights).astype(np.float32)
        picture = fit.picture.solve(geometry, fit.parts).picture
        fit.picture.weights = weights
        share = cover[:, :, None]
        apart = fit.picture.pixels - (1 - share) * picture
        colour = (apart * share).sum(axis=(0, 1)) / max(1e-6, float((share**2).sum()))
        left = (apart - share * colour.astype(np.float32)).transpose(2, 0, 1)
        off = np.abs(judged(left)).sum(axis=0) * weights
        return float(off.sum() / max(1.0, weights.sum()) * 255), replace(ring, colour=colour)

    left, best = min((tried(gap, width) for gap in GAPS for width in WIDTHS),
                     key=lambda found: found[0])
    for by in (0.5, 0.25):
        near = [tried(max(0.0, best.gap + across * by), max(0.5, best.width + more * by))
                for across in (-1, 0, 1) for more in (-1, 0, 1)]
        left, best = min([(left, best), *near], key=lambda found: found[0])
    return best if left < before * RINGED else None


def _cover(fit: Fit, geometry: Geometry, ring: Ring) -> NDArray[np.float32]:
    """How much of each pixel a ring covers, (height, width)."""
    size = (fit.picture.width, fit.picture.height)
    box = geometry.outer
    return covered(box.grown(ring.gap + ring.width), size) - covered(box.grown(ring.gap), size)


def _leave_out(fit: Fit, geometry: Geometry, ring: Ring | None) -> None:
    """What a ring covers says nothing about the rest."""
    if ring is not None:
        fit.picture.weights = np.where(
            _cover(fit, geometry, ring) > 0.01, 0.0, fit.picture.weights).astype(np.float32)


def _placed(
    fit: Fit, geometry: Geometry, pixels: NDArray[np.float64], enough: float
) -> Geometry:
    """Where the control is: in the same place, or where a box of about its size is, or larger or
    smaller as a whole about its middle.
    """
    tries = [{"x": geometry.x, "y": geometry.y}]
    for x, y, wide, high in boxes_of(pixels):
        if abs(wide - geometry.width) < 0.2 * geometry.width + 4 and (
                abs(high - geometry.height) < 0.2 * geometry.height + 4):
            tries.append({"x": x + (wide - geometry.width) / 2,
                          "y": y + (high - geometry.height) / 2})
    best = fit.best(geometry, fit.parts, tries)
    if fit.left(best, fit.parts) <= enough:
        return best
    return min((best, _resized(fit, geometry), _resized(fit, best)),
               key=lambda found: fit.left(found, fit.parts))


def _resized(fit: Fit, geometry: Geometry) -> Geometry:
    """Larger or smaller as a whole about its middle, where that explains more."""
    def by(share: float) -> Geometry:
        return geometry.scaled(share).moved(
            x=geometry.x - (share - 1) * geometry.width / 2,
            y=geometry.y - (share - 1) * geometry.height / 2, direction=geometry.direction)

    best = min((1 + step / 100 for step in range(-12, 13)),
               key=lambda share: fit.left(by(share), fit.parts))
    best = min((best + step / 500 for step in range(-4, 5)),
               key=lambda share: fit.left(by(share), fit.parts))
    before, after = fit.left(geometry, fit.parts), fit.left(by(best), fit.parts)
    return by(best) if abs(best - 1) > SIZE and after < before * (1 - CLEARLY) else geometry


def _groups(fit: Fit) -> list[tuple[str, ...]]:
    parts = fit.parts
    groups: list[tuple[str, ...]] = [("x", "y")]
    if parts.shadow:
        groups += [("shadow_y", "shadow_blur"),
                   SHADOW]
    if parts.second:
        groups.append(SECOND)
    if parts.stops > 1:
        groups.append(RADIAL if parts.radial else ("direction",))
    if parts.light:
        groups.append(("light_y", "light_blur"))
    if parts.line:
        groups.append(("line",))
    return [*groups, BOX]


def control_of_states(
    readings: Mapping[str, Reading], name: str, density: float = 1.0, typed: str = "",
    without: Collection[Change] = (),
) -> Control:
    """A control that looks as was read in each state, by condition; that of rest is among them.
    Changes of ``without`` are left out.

    Raises KeyError where there is no reading of rest.
    """
    first = readings[REST]
    rest = control_of_reading(first, name, density, typed)
    layered = {REST: Layered(rest)}
    outlines: dict[str, dict[str, Any]] = {}
    for condition, other in readings.items():
        if condition == REST:
            continue
        size = _share_of_size(first.geometry, other.geometry)
        own = control_of_reading(
            replace(other, geometry=other.geometry.scaled(1 / size)), name, density, typed)
        layers = [_near(layer, _same(rest, layer), size) for layer in own.layers
                  if layer.kind != "label" or _same(rest, layer) is not None]
        if any(layer.kind == "label" for layer in rest.layers) and not any(
                layer.kind == "label" for layer in layers):
            layers.append(_near(rest.layer("label"), rest.layer("label"), size))
        if other.ring is not None:
            layers.append(_ring_layer(other.ring, density))
        own = own.model_copy(update={"layers": tuple(layers)})
        layered[condition] = Layered(own, offset=_offset(first.geometry, other.geometry, density))
        if any(abs(radius - before) > max(2 * NEAR, SHARE * before) for radius, before in zip(
                own.outline.corners, rest.outline.corners, strict=True)):
            outlines[condition] = {"corners": own.outline.corners}
    together = merged(layered)
    for condition, values in outlines.items():
        changes = together.states.setdefault(condition, {})
        changes[OUTLINE] = changes.get(OUTLINE, {}) | values
    kept: dict[str, dict[str, dict[str, Any]]] = {}
    for condition, parts in together.states.items():
        for part, values in parts.items():
            own_values = {value: given for value, given in values.items()
                          if (condition, part, value) not in without}
            if own_values:
                kept.setdefault(condition, {})[part] = own_values
    return Control.model_validate(dict(rest) | {
        "layers": tuple(together.layers), "states": kept,
        "behaviour": "two-position" if any("checked" in parse_flags(condition)
                                           for condition in readings) else "push"})


def _ring_layer(ring: Ring, density: float) -> Line:
    return Line(id="ring", name="Ring", place="outside", gap=drawn(ring.gap / density, 0.5),
                width=drawn(ring.width / density, 0.5), colour=hex_of(ring.colour))


def compared_states(
    pictures: Mapping[str, NDArray[np.uint8]], readings: Mapping[str, Reading], control: Control,
    density: float, text: str = "",
) -> dict[str, Compared]:
    """The control in every state, with a text, beside the picture of it that was read.

    In pictures of the size of that of rest it stands where it does there, but for what the state
    moves; in others where it was read.
    """
    made, first = {}, readings[REST].geometry
    for condition, reading in readings.items():
        pixels = pictures[condition]
        height, width = pixels.shape[:2]
        flags = frozenset() if condition == REST else parse_flags(condition)
        place = (first.x / density, first.y / density)
        if pixels.shape != pictures[REST].shape:
            own = reading.geometry
            dx, dy = pose(Kit(), control, flags).outline.offset
            place = ((own.x + own.width / 2) / density - dx - control.size[0] / 2,
                     (own.y + own.height / 2) / density - dy - control.size[1] / 2)
        ours = picture_of(reading, control, (width, height), density, text, flags, place)
        made[condition] = compared_with(pixels, control, ours, content_box(reading))
    return made


def _share_of_size(first: Geometry, other: Geometry) -> float:
    """How much larger a control is as a whole; 1 where its sides do not go together."""
    across, down = other.width / first.width, other.height / first.height
    share = float(np.sqrt(across * down))
    return share if abs(share - 1) > SIZE and abs(across - down) < 2 * SIZE else 1.0


def _offset(first: Geometry, other: Geometry, density: float) -> tuple[float, float]:
    """By how much a state moves the control's middle, px."""
    moved = []
    for start, length in (("x", "width"), ("y", "height")):
        before, after = (getattr(each, start) + getattr(each, length) / 2
                         for each in (first, other))
        by = (after - before) / density
        moved.append(0.0 if abs(by) <= NEAR else round(by * 2) / 2)
    return moved[0], moved[1]


def _same(control: Control, layer: Any) -> Any:
    return next((other for other in control.layers if other.id == layer.id), None)


def _near(layer: Any, rest: Any, size: float) -> Any:
    """A layer of a state with the values of rest where these are as good as the same."""
    scaled = {"scale": (round(size, 3),) * 2} if size != 1 else {}
    if rest is None:
        return layer.model_copy(update=scaled)
    if layer.kind == "label":
        same = _alike(layer.colour, rest.colour, "colour", LETTERS)
        return rest.model_copy(update=scaled | ({} if same else {"colour": layer.colour}))
    kept = {name: getattr(rest, name) for name in value_names(layer)
            if _alike(getattr(layer, name), getattr(rest, name), name, LEVELS)}
    return layer.model_copy(update=kept | scaled)


def _alike(one: Any, two: Any, name: str, levels: int) -> bool:
    """Whether two values of a layer cannot be told apart in a picture."""
    if name == "colour":
        (first, alpha), (second, other) = (_channels(colour) for colour in (one, two))
        # Of what is nearly clear, the colour counts less.
        off = np.abs(first - second).max() * max(alpha, other) / 255
        return bool(abs(alpha - other) <= ALPHA and off <= levels)
    if name == "stops":
        return len(one) == len(two) and all(
            abs(a.position - b.position) < 0.01 and _alike(a.colour, b.colour, "colour", levels)
            for a, b in zip(one, two, strict=True))
    if name == "direction":
        return abs((one - two + 180) % 360 - 180) <= TURN
    if name in ("centre", "reach"):
        return all(abs(a - b) <= SHARE / 2 for a, b in zip(one, two, strict=True))
    if isinstance(one, float) and isinstance(two, float):
        return abs(one - two) <= max(NEAR, SHARE * max(abs(one), abs(two)))
    if name == "offset":
        return all(_alike(a, b, "", levels) for a, b in zip(one, two, strict=True))
    return bool(one == two) or name == "outline"


def _channels(colour: str) -> tuple[NDArray[np.float64], float]:
    levels = [float(int(colour[at : at + 2], 16)) for at in range(1, len(colour), 2)]
    return np.array(levels[:3]), levels[3] if len(levels) == 4 else 255.0
