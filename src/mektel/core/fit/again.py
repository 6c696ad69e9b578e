"""A reading that the user goes on with: parts locked, set by hand, left out, and fitted again."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mektel.core.fit.as_control import control_of_reading, picture_of
from mektel.core.fit.fitting import BOX, GLOSS, RADIAL, SECOND, SHADOW, Fit
from mektel.core.fit.reading import Reading, averaged, step_for
from mektel.core.kit import Control

# The lengths and angles of each part, by their names in a geometry.
VALUES: dict[str, tuple[str, ...]] = {
    "outline": BOX, "face": ("direction",), "line": ("line",),
    "shadow": SHADOW, "second": SECOND,
    "light": ("light_y", "light_blur"), "gloss": GLOSS,
}
# Where a part begins that is added by hand, in pixels.
BEGINS = {"line": {"line": 2.0}, "shadow": {"shadow_y": 4.0, "shadow_blur": 12.0},
          "second": {"second_y": 1.0, "second_blur": 3.0},
          "light": {"light_y": 2.0, "light_blur": 0.0},
          "gloss": {"gloss_height": 0.5, "gloss_bulge": 0.1, "gloss_fade": 0.25}}
FINAL = 25
# By how much a difference is made stronger, to be seen.
STRONGER = 8.0


def read_again(
    pixels: NDArray[np.uint8], reading: Reading, free: Collection[str],
    values: Mapping[str, float] | None = None, without: Collection[str] = (),
    added: Collection[str] = (),
) -> Reading:
    """The reading after the parts of ``free`` were fitted again, the others locked.

    ``values`` are set by hand, lengths in pixels of the picture, and are locked, too; parts are
    taken away by ``without`` and tried by ``added``. ``pixels`` are (height, width, 3).
    """
    height, width = pixels.shape[:2]
    step = step_for(width, height)
    fit = Fit(averaged(pixels[:, :, :3].astype(np.float64) / 255, step), lambda _: None)
    begins: dict[str, float] = {}
    for name in added:
        begins |= BEGINS.get(name, {})
    given = dict(values or {})
    geometry = reading.geometry.moved(**(begins | given)).scaled(1 / step)
    fit.parts = replace(reading.parts, **{name: False for name in without if name in BEGINS},
                        **{name: True for name in added if name in BEGINS})
    if reading.label is not None:
        fit.take_label(geometry)
    has = {"outline": True, "face": fit.parts.stops > 1, "line": fit.parts.line,
           "shadow": fit.parts.shadow, "second": fit.parts.second, "light": fit.parts.light,
           "gloss": fit.parts.gloss}
    fit.unlike = len(set(geometry.radii)) > 1
    values_of = VALUES | {"outline": fit.box} | ({"face": RADIAL} if fit.parts.radial else {})
    names = tuple(value for part, own in values_of.items() if part in free and has[part]
                  for value in own if value not in given)
    if names:
        geometry = fit.exact(geometry, fit.parts, names, FINAL)
    if reading.label is not None:
        fit.take_label(geometry)
    return fit.reading(geometry, float(step))


@dataclass(frozen=True)
class Compared:
    """Ours, and how far it is from the picture, made stronger: (height, width, 3), uint8."""

    control: Control
    ours: NDArray[np.uint8]
    difference: NDArray[np.uint8]
    mean: float


def compared(
    pixels: NDArray[np.uint8], reading: Reading, name: str, density: float, text: str
) -> Compared:
    """The control of a reading beside the picture; the mean leaves out what the label covers."""
    height, width = pixels.shape[:2]
    control = control_of_reading(reading, name, density, text)
    ours = picture_of(reading, control, (width, height), density, text)
    return compared_with(pixels, control, ours, content_box(reading))


def content_box(reading: Reading) -> tuple[int, int, int, int] | None:
    """Left, top, right and bottom of what a label covers, in pixels of the picture."""
    if reading.label is None:
        return None
    x, y, wide, high = (round(side) for side in reading.label)
    return max(0, x - 2), max(0, y - 2), x + wide + 2, y + high + 2


def compared_with(
    pixels: NDArray[np.uint8], control: Control, ours: NDArray[np.float64],
    without: tuple[int, int, int, int] | None = None,
) -> Compared:
    """Our picture (height, width, 3), from 0 to 1, beside the given one; the mean is of all but a
    box.
    """
    off = np.abs(ours - pixels[:, :, :3] / 255.0)
    counts = np.ones(off.shape[:2], bool)
    if without is not None:
        left, top, right, bottom = without
        counts[top:bottom, left:right] = False
    mean = float(off[counts].mean() * 255) if counts.any() else 0.0
    return Compared(
        control, np.round(np.clip(ours, 0, 1) * 255).astype(np.uint8),
        np.round(np.clip(off * STRONGER, 0, 1) * 255).astype(np.uint8), mean)
