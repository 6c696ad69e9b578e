"""A picture laid into a box: stretched, fitted, tiled or in nine slices; recoloured, outlined."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from mektel.core.look import PictureLook
from mektel.core.paint.masks import masks
from mektel.core.paint.surface import Surface

Floats = NDArray[np.float32]
# Luminance weights of the saturate() filter (Filter Effects 1).
FAR_LARGER = 4
# A form whose box is not quite a whole number of its pixels is still of the density that is shown.
ENOUGH = 0.99
LUMINANCE = np.array([0.213, 0.715, 0.072], np.float32)


def paint(look: PictureLook, surface: Surface) -> None:
    scale = surface.scale
    rows, columns = surface.region_of(look.extent())
    width, height = columns.stop - columns.start, rows.stop - rows.start
    if width <= 0 or height <= 0:
        return
    left = look.box[0] * scale + surface.left - columns.start
    top = look.box[1] * scale + surface.top - rows.start
    key = ("picture", look, scale, left, top, width, height)
    planes = masks.get(key, lambda: _laid(look, scale, left, top, width, height))
    surface.lay_blended(rows, columns, planes * np.float32(look.opacity), look.blend)


def _laid(
    look: PictureLook, scale: float, left: float, top: float, width: int, height: int
) -> Floats:
    """Premultiplied planes (4, height, width) from 0 to 1."""
    box_w = (look.box[2] - look.box[0]) * scale
    box_h = (look.box[3] - look.box[1]) * scale
    look = _of_density(look, scale, box_w, box_h)
    look, by = _reduced(look, scale, box_w, box_h)
    source = np.moveaxis(recoloured(look, by), 2, 0)
    x = np.arange(width, dtype=np.float64) + (0.5 - left)
    y = np.arange(height, dtype=np.float64) + (0.5 - top)
    per_px = look.density / scale
    high, wide = source.shape[1:]
    if look.fit == "tile":
        across, down = np.mod(x * per_px, wide), np.mod(y * per_px, high)
    elif look.fit == "slices":
        across = _sliced(x, box_w, wide, look.insets[0], look.insets[2], per_px)
        down = _sliced(y, box_h, high, look.insets[1], look.insets[3], per_px)
    elif look.fit == "fit":
        share = min(box_w / wide, box_h / high)
        across = (x - (box_w - wide * share) / 2) / share
        down = (y - (box_h - high * share) / 2) / share
    else:
        across, down = x / max(box_w, 1e-6) * wide, y / max(box_h, 1e-6) * high
    inside_x = ((x >= 0) & (x < box_w) & (across >= 0) & (across < wide)).astype(np.float32)
    inside_y = ((y >= 0) & (y < box_h) & (down >= 0) & (down < high)).astype(np.float32)
    # What is drawn smaller is averaged first, or fine detail would flicker.
    planes = _sampled(_sampled(source, across, 2), down, 1)
    planes = planes * inside_x[None, None, :] * inside_y[None, :, None]
    if look.edge > 0:
        planes = _edged(planes, look, scale)
    return np.ascontiguousarray(planes, np.float32)


def _sampled(source: Floats, places: NDArray[np.float64], axis: int) -> Floats:
    """Bilinear samples along one axis; each an average where samples lie far apart."""
    count = source.shape[axis]
    step = float(np.median(np.abs(np.diff(places)))) if len(places) > 1 else 1.0
    reach = max(1, round(step))
    total = 0.0
    for part in range(reach):
        at = places - 0.5 + ((part + 0.5) / reach - 0.5) * (step if reach > 1 else 0)
        at = np.clip(at, 0, count - 1)
        low = np.floor(at).astype(int)
        share = (at - low).astype(np.float32)
        shape = [1, 1, 1]
        shape[axis] = -1
        share = share.reshape(shape)
        total = total + (source.take(low, axis) * (1 - share)
                         + source.take(np.minimum(low + 1, count - 1), axis) * share)
    return np.asarray(total / reach, np.float32)


def _sliced(
    places: NDArray[np.float64], length: float, count: int, before: float, after: float,
    per_px: float,
) -> NDArray[np.float64]:
    """Where in the picture each place lies: ends keep their size, the middle stretches."""
    first, last = before / per_px, after / per_px
    if first + last > length:
        share = length / max(first + last, 1e-6)
        first, last = first * share, last * share
    return np.interp(places, [0, first, max(length - last, first + 1e-6), length],
                     [0, before, count - after, count])


def _steps(
    look: PictureLook, scale: float, box_w: float, box_h: float
) -> tuple[float, float]:
    """How many of a picture's pixels, across and down, there are to each that is shown."""
    wide, high = look.pixels.width, look.pixels.height
    if look.fit == "fit":
        return (1 / max(1e-6, min(box_w / wide, box_h / high)),) * 2
    if look.fit == "stretch":
        return wide / max(box_w, 1e-6), high / max(box_h, 1e-6)
    return (look.density / scale,) * 2


def _of_density(look: PictureLook, scale: float, box_w: float, box_h: float) -> PictureLook:
    """A picture in its coarsest form that has a pixel for each that is shown."""
    for form in reversed(look.coarser):
        share = form.width / look.pixels.width
        left, top, right, bottom = look.insets
        coarse = replace(look, pixels=form, coarser=(), density=look.density * share, insets=(
            left * share, top * share, right * share, bottom * share))
        if min(_steps(coarse, scale, box_w, box_h)) >= ENOUGH:
            return coarse
    return look


def _reduced(
    look: PictureLook, scale: float, box_w: float, box_h: float
) -> tuple[PictureLook, tuple[int, int]]:
    """A picture of more than ``FAR_LARGER`` pixels to each that is shown, as one of fewer.

    Gives the look of that, and how many pixels across and down come together in one.
    """
    steps = _steps(look, scale, box_w, box_h)
    sides = (look.pixels.width, look.pixels.height)
    by = (max(1, min(side, int(step / FAR_LARGER)))
          for step, side in zip(steps, sides, strict=True))
    across, down = by
    if look.fit != "stretch":
        across = down = min(across, down)
    if across == down == 1:
        return look, (1, 1)
    left, top, right, bottom = look.insets
    return replace(look, density=look.density / across, insets=(
        left / across, top / down, right / across, bottom / down)), (across, down)


def recoloured(look: PictureLook, by: tuple[int, int] = (1, 1)) -> Floats:
    """The picture with brightness, saturation and tint; premultiplied, (h, w, 4), 0 to 1.

    ``by`` pixels across and down are averaged into one.
    """
    whole = look.pixels.rgba()
    if by != (1, 1):
        with Image.fromarray(whole, "RGBA") as picture:
            whole = np.asarray(picture.reduce(by))
    rgba = whole.astype(np.float32) / 255
    rgb, alpha = rgba[:, :, :3] * look.brightness, rgba[:, :, 3:]
    grey = (rgb @ LUMINANCE)[:, :, None]
    rgb = grey + (rgb - grey) * look.saturation
    tint = np.array(look.colour[:3], np.float32) * alpha
    rgb = rgb + (tint - rgb) * look.tint * look.colour[3]
    return np.concatenate([np.clip(rgb, 0, alpha), alpha], axis=2)


def _edged(planes: Floats, look: PictureLook, scale: float) -> Floats:
    from scipy.ndimage import distance_transform_edt

    away = distance_transform_edt(planes[3] < 0.5)
    ring = np.clip(look.edge * scale + 0.5 - away, 0, 1).astype(np.float32) * look.edge_colour[3]
    under = np.stack([ring * np.float32(c) for c in (*look.edge_colour[:3], 1.0)])
    return planes + under * (1 - planes[3])
