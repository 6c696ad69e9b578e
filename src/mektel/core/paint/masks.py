"""Masks kept by value: what covers what does not change with a colour.

A mask depends on an outline in pixels, a blur and a size, and on nothing else.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from typing import Any, TypeVar

import cachetools
import numpy as np
from numpy.typing import NDArray

from mektel.core.paint.blur import blurred_coverage, enlarged, gaussian
from mektel.core.remember import is_kept
from mektel.core.shape import AnyOutline, FreeOutline, coverage, distance_field, polygon_coverage
from mektel.core.shape.stroke import stroke_coverage
from mektel.core.text import Line

Floats = NDArray[np.float32]
Mask = TypeVar("Mask", bound=NDArray[Any])
LARGEST, LARGEST_OF_FRAMES = 32 * 1024 * 1024, 6 * 1024 * 1024
# A place this near to a whole pixel is taken for one.
STAYS = 0.002
# Pixels beyond which a free outline's distances are worked out at every second one.
LARGE_FIELD = 40_000


class Masks:
    """Read-only masks, the least recently used forgotten beyond ``LARGEST`` bytes. Those of frames
    that are shown once have a store of their own: what stands still in them comes again.
    """

    def __init__(self) -> None:
        self._kept: cachetools.LRUCache[Hashable, Any] = cachetools.LRUCache(
            LARGEST, lambda mask: mask.nbytes)
        self._passing: cachetools.LRUCache[Hashable, Any] = cachetools.LRUCache(
            LARGEST_OF_FRAMES, lambda mask: mask.nbytes)
        self._lock = threading.Lock()
        self._making: dict[Hashable, threading.Event] = {}

    def get(self, key: Hashable, make: Callable[[], Mask]) -> Mask:
        with self._lock:
            mask = self._kept.get(key)
            if mask is None and not is_kept():
                mask = self._passing.get(key)
            if mask is not None:
                return mask
            other = self._making.get(key)
            if other is None:
                self._making[key] = threading.Event()
        if other is not None:
            # Another thread is at it: two would only be in each other's way.
            other.wait()
            return self.get(key, make)
        try:
            made = make()
            made.setflags(write=False)
            store = self._kept if is_kept() else self._passing
            if made.nbytes < store.maxsize:
                with self._lock:
                    store[key] = made
        finally:
            with self._lock:
                self._making.pop(key).set()
        return made

    def forget(self) -> None:
        """Begins anew, as for a cold measurement."""
        with self._lock:
            self._kept.clear()
            self._passing.clear()


masks = Masks()


def covered(outline: AnyOutline, width: int, height: int) -> Floats:
    """:func:`mektel.core.shape.coverage`, remembered."""
    return masks.get(("cover", outline, width, height), lambda: coverage(outline, width, height))


def blurred(outline: AnyOutline, sigma: float, width: int, height: int) -> Floats:
    """:func:`mektel.core.paint.blur.blurred_coverage`, remembered."""
    return masks.get(
        ("blur", outline, sigma, width, height),
        lambda: blurred_coverage(outline, sigma, width, height),
    )


def ring(outer: AnyOutline, inner: AnyOutline, width: int, height: int) -> Floats:
    """What lies in ``outer`` and not in ``inner``, shape ``(height, width)``, 0 to 1."""

    def make() -> Floats:
        mask = covered(outer, width, height)
        if inner.width > 0 and inner.height > 0:
            return np.maximum(mask - coverage(inner, width, height), 0)
        return mask.copy()

    return masks.get(("ring", outer, inner, width, height), make)


def inner(outline: AnyOutline, hole: AnyOutline, sigma: float, width: int, height: int) -> Floats:
    """What of ``outline`` a blurred ``hole`` leaves dark, shape ``(height, width)``, 0 to 1."""
    return masks.get(
        ("inner", outline, hole, sigma, width, height),
        lambda: covered(outline, width, height) * (
            1 - blurred_coverage(hole, sigma, width, height)
        ),
    )


def glyphs(
    key: Hashable, line: Line, scale: float, x: float, y: float, width: int, height: int,
    swell: float = 0.0, sigma: float = 0.0,
) -> Floats:
    """Coverage of a shaped line, its pen starting at (x, y) in pixels; ``key`` names the line.

    ``swell`` grows the glyphs and ``sigma`` blurs them, in pixels.
    """

    def make() -> Floats:
        origin = np.array([x, y])
        contours = [contour * scale + origin for contour in line.contours]
        if swell <= 0:
            mask = polygon_coverage(contours, width, height)
        else:
            closed = [np.concatenate([contour, contour[:1]]) for contour in contours]
            mask = np.maximum(stroke_coverage(closed, 2 * swell, width, height),
                              polygon_coverage(contours, width, height))
        return gaussian(mask, sigma)

    return masks.get(("glyphs", key, scale, x, y, width, height, swell, sigma), make)


def stroked(key: Hashable, lines: list[NDArray[np.float64]], thick: float, width: int,
            height: int) -> Floats:
    """:func:`mektel.core.shape.stroke.stroke_coverage`, remembered under ``key``."""
    return masks.get(("stroke", key, thick, width, height),
                     lambda: stroke_coverage(lines, thick, width, height))


def distances(outline: AnyOutline, width: int, height: int, reach: float) -> Floats:
    """Signed distance to an outline at every pixel's middle, right within ``reach``; remembered."""

    def make() -> Floats:
        if isinstance(outline, FreeOutline) and width * height > LARGE_FIELD:
            # A distance is nearly straight from pixel to pixel: every second one says enough.
            half = distance_field(outline.scaled(0.5), width // 2 + 1, height // 2 + 1, reach / 2)
            clipped = np.clip(2 * half, -reach, reach)
            field = enlarged(enlarged(clipped, 2).T, 2).T[:height, :width]
        else:
            field = distance_field(outline, width, height, reach)
        return np.clip(field, -reach, reach).astype(np.float32)

    if not is_kept() and isinstance(outline, FreeOutline) and outline.rings and not outline.joins:
        # Of a frame: an outline that moves by parts of a pixel is looked at once, and moved.
        x, y = outline.arrays()[0][0]
        dx, dy = float(x - np.floor(x)), float(y - np.floor(y))
        if min(dx, 1 - dx) > STAYS or min(dy, 1 - dy) > STAYS:
            whole = FreeOutline(tuple(np.round(np.add(ring, (1 - dx, 1 - dy)), 3).tobytes()
                                      for ring in outline.arrays()), outline.grow)
            field = distances(whole, width + 1, height + 1, reach + 2)
            across = field[:, :-1] * np.float32(dx) + field[:, 1:] * np.float32(1 - dx)
            moved = across[:-1] * np.float32(dy) + across[1:] * np.float32(1 - dy)
            return np.clip(moved, -reach, reach)
    return masks.get(("distance", outline, width, height, reach), make)
