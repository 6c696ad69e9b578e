"""The blend modes of W3C Compositing and Blending 1 (section 10), on straight colours 0 to 1."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
# Channel-wise modes take the backdrop's and the source's channel.
Separable = Callable[[Floats, Floats], Floats]


def _multiply(back: Floats, front: Floats) -> Floats:
    return back * front


def _screen(back: Floats, front: Floats) -> Floats:
    return back + front - back * front


def _hard_light(back: Floats, front: Floats) -> Floats:
    return np.where(front <= 0.5, back * (2 * front), _screen(back, 2 * front - 1))


def _color_dodge(back: Floats, front: Floats) -> Floats:
    full = np.minimum(1, back / np.maximum(1 - front, 1e-9))
    return np.where(back <= 0, 0, np.where(front >= 1, 1, full))


def _color_burn(back: Floats, front: Floats) -> Floats:
    full = 1 - np.minimum(1, (1 - back) / np.maximum(front, 1e-9))
    return np.where(back >= 1, 1, np.where(front <= 0, 0, full))


def _soft_light(back: Floats, front: Floats) -> Floats:
    curve = np.where(back <= 0.25, ((16 * back - 12) * back + 4) * back,
                     np.sqrt(np.maximum(back, 0)))
    return np.where(front <= 0.5, back - (1 - 2 * front) * back * (1 - back),
                    back + (2 * front - 1) * (curve - back))


SEPARABLE: dict[str, Separable] = {
    "multiply": _multiply,
    "screen": _screen,
    "overlay": lambda back, front: _hard_light(front, back),
    "darken": np.minimum,
    "lighten": np.maximum,
    "color-dodge": _color_dodge,
    "color-burn": _color_burn,
    "hard-light": _hard_light,
    "soft-light": _soft_light,
    "difference": lambda back, front: np.abs(back - front),
    "exclusion": lambda back, front: back + front - 2 * back * front,
}


# Some have a form on premultiplied colours (back, front, their alphas) that needs no division; it
# includes the compositing, and gives the alpha where it is the fourth channel.
Premultiplied = Callable[[Floats, Floats, Floats, Floats], Floats]
PREMULTIPLIED: dict[str, Premultiplied] = {
    "multiply": lambda b, f, ba, fa: f * b + f * (1 - ba) + b * (1 - fa),
    "screen": lambda b, f, ba, fa: f + b - f * b,
    "darken": lambda b, f, ba, fa: np.minimum(f * ba, b * fa) + f * (1 - ba) + b * (1 - fa),
    "lighten": lambda b, f, ba, fa: np.maximum(f * ba, b * fa) + f * (1 - ba) + b * (1 - fa),
}


def _luminosity(rgb: Floats) -> Floats:
    return np.asarray(0.3 * rgb[0] + 0.59 * rgb[1] + 0.11 * rgb[2])


def _with_luminosity(rgb: Floats, wanted: Floats) -> Floats:
    """SetLum and ClipColor of the standard."""
    moved = rgb + (wanted - _luminosity(rgb))
    light, low, high = _luminosity(moved), moved.min(axis=0), moved.max(axis=0)
    under = np.maximum(light - low, 1e-9)
    moved = np.where(low < 0, light + (moved - light) * light / under, moved)
    above = np.maximum(high - light, 1e-9)
    return np.where(high > 1, light + (moved - light) * (1 - light) / above, moved)


def _with_saturation(rgb: Floats, wanted: Floats) -> Floats:
    """SetSat: the range of channels stretched to the wanted one, from 0."""
    low, high = rgb.min(axis=0), rgb.max(axis=0)
    return np.where(high > low, (rgb - low) * wanted / np.maximum(high - low, 1e-9), 0)


def _saturation(rgb: Floats) -> Floats:
    return np.asarray(rgb.max(axis=0) - rgb.min(axis=0))


def blend(mode: str, back: Floats, front: Floats) -> Floats:
    """B(cb, cs): both of shape ``(3, …)``, straight sRGB from 0 to 1; the same shape."""
    if mode in SEPARABLE:
        return SEPARABLE[mode](back, front)
    light = _luminosity(back)
    if mode == "hue":
        return _with_luminosity(_with_saturation(front, _saturation(back)), light)
    if mode == "saturation":
        return _with_luminosity(_with_saturation(back, _saturation(front)), light)
    if mode == "color":
        return _with_luminosity(front, light)
    if mode == "luminosity":
        return _with_luminosity(back, _luminosity(front))
    return front
