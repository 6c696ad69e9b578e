"""One fit: what a geometry leaves unexplained, the nearest geometry that leaves least, and what it
comes to.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from mektel.core.fit.masks import CORNERS, Geometry, masks_of
from mektel.core.fit.model import Floats, Parts, Picture, Solved
from mektel.core.fit.nearest import nearest
from mektel.core.fit.reading import Part, Reading
from mektel.core.fit.start import standing_out
from mektel.core.stopping import check_wanted

# It reaches this far at most, in widths and heights of the box.
FARTHEST = 4.0
BOUNDS: dict[str, tuple[float, float]] = {
    "radius": (0.0, 1000.0), "line": (0.3, 24.0), "shadow_x": (-60.0, 60.0),
    "shadow_y": (-60.0, 60.0), "shadow_blur": (2.0, 160.0), "shadow_spread": (-20.0, 20.0),
    "light_y": (-12.0, 12.0), "light_blur": (0.0, 24.0), "direction": (-400.0, 800.0),
}
SHADOW = ("shadow_x", "shadow_y", "shadow_blur", "shadow_spread")
SECOND = ("second_x", "second_y", "second_blur", "second_spread")
BOUNDS |= {second: BOUNDS[first] for first, second in zip(SHADOW, SECOND, strict=True)}
GLOSS = ("gloss_height", "gloss_bulge", "gloss_fade", "gloss_gap")
BOUNDS |= {"gloss_height": (0.15, 0.9), "gloss_bulge": (0.0, 0.5), "gloss_fade": (0.0, 1.0),
           "gloss_gap": (0.0, 12.0)}
RADIAL = ("centre_x", "centre_y", "reach_x", "reach_y")
BOX = ("x", "y", "width", "height", "radius")


class Fit:
    """One fit of a picture (height, width, 3), from 0 to 1."""

    def __init__(self, pixels: Floats, progress: Callable[[float], None]) -> None:
        self.picture = Picture(pixels)
        self.parts = Parts()
        self.label: NDArray[np.bool_] | None = None
        self.unlike = False
        self._progress = progress

    @property
    def box(self) -> tuple[str, ...]:
        """The values of the outline that are sought."""
        return (*BOX, *CORNERS) if self.unlike else BOX

    def free(self) -> tuple[str, ...]:
        """Every value that the parts found have."""
        names = self.box
        if self.parts.line:
            names += ("line",)
        if self.parts.shadow:
            names += SHADOW
        if self.parts.second:
            names += SECOND
        if self.parts.gloss:
            names += GLOSS
        if self.parts.light:
            names += ("light_y", "light_blur")
        if self.parts.stops > 1:
            names += RADIAL if self.parts.radial else ("direction",)
        return names

    def left(self, geometry: Geometry, parts: Parts) -> float:
        """The mean of what is not explained, of 255, as it is judged."""
        solved = self.picture.solve(geometry, parts)
        return self._mean(solved)

    def _mean(self, solved: Solved) -> float:
        weights = self.picture.weights
        off = np.abs(solved.off).sum(axis=0)
        return float((off * weights).sum() / max(1.0, weights.sum()) * 255)

    def best(
        self, geometry: Geometry, parts: Parts, tries: Iterable[dict[str, float]]
    ) -> Geometry:
        check_wanted()
        candidates = [geometry.moved(**values) for values in tries]
        return min(candidates, key=lambda candidate: self.left(candidate, parts))

    def exact(
        self, geometry: Geometry, parts: Parts, names: tuple[str, ...], most: int = 9
    ) -> Geometry:
        """The geometry nearest by in which least is left, by a robust measure."""
        size = (self.picture.width, self.picture.height)
        limits = {"x": (-4.0, size[0]), "y": (-4.0, size[1]), "width": (4.0, size[0] + 8.0),
                  "height": (4.0, size[1] + 8.0), **BOUNDS}
        wide, high = geometry.width, geometry.height
        limits |= {"centre_x": (-wide, wide), "centre_y": (-2 * high, 2 * high),
                   "reach_x": (4.0, FARTHEST * wide), "reach_y": (4.0, FARTHEST * high)}
        limits["radius"] = (0.0, min(geometry.width, geometry.height) / 2 + 0.5)
        limits |= dict.fromkeys(CORNERS, (0.0, 1.0))
        found = nearest(self.picture, geometry, parts, {name: limits[name] for name in names}, most)
        better = self.left(found, parts) <= self.left(geometry, parts) + 1e-9
        return found if better else geometry

    def take_label(self, geometry: Geometry, parts: Parts | None = None) -> None:
        """Leaves out the pixels that stand on the face."""
        self.picture.weights = np.ones_like(self.picture.weights)
        solved = self.picture.solve(geometry, parts or self.parts)
        size = (self.picture.width, self.picture.height)
        inside = masks_of(geometry.moved(
            x=geometry.x + 3, y=geometry.y + 3, width=max(1.0, geometry.width - 6),
            height=max(1.0, geometry.height - 6)), size, False, False).outer
        label = standing_out(solved.residual, inside)
        share = label.sum() / max(1.0, inside.sum())
        self.label = label if 0 < share < 0.6 else None
        if self.label is not None:
            self.picture.weights = np.where(self.label, np.float32(0), np.float32(1))

    def reading(self, geometry: Geometry, step: float) -> Reading:
        solved = self.picture.solve(geometry, self.parts)
        left = self._mean(solved)
        found = [Part("face", 1.0)]
        for name, without in (("line", replace(self.parts, line=False)),
                              ("shadow", replace(self.parts, shadow=False)),
                              ("second", replace(self.parts, second=False)),
                              ("gloss", replace(self.parts, gloss=False)),
                              ("light", replace(self.parts, light=False))):
            if getattr(self.parts, name):
                worse = self.left(geometry, without)
                found.append(Part(name, float(np.clip(1 - left / max(worse, 1e-6), 0.0, 1.0))))
        label = colour = None
        ink = 0.0
        if self.label is not None:
            rows, columns = np.flatnonzero(self.label.any(1)), np.flatnonzero(self.label.any(0))
            # What stands out was widened by two pixels.
            label = ((columns[0] + 2) * step, (rows[0] + 2) * step,
                     (columns[-1] - columns[0] - 3) * step, (rows[-1] - rows[0] - 3) * step)
            off = np.abs(solved.residual).sum(axis=2)[self.label]
            strongest = off >= np.quantile(off, 0.9)
            colour = np.median(self.picture.pixels[self.label][strongest], axis=0)
            # How much of each pixel has this colour and not the face's.
            apart = colour - solved.picture[self.label]
            covered = (solved.residual[self.label] * apart).sum(axis=1) / np.maximum(
                (apart**2).sum(axis=1), 1e-6)
            ink = float(np.clip(covered, 0.0, 1.0).sum()) * step * step
            found.append(Part("label", 0.5))
        off = np.abs(solved.residual).mean(axis=2) * self.picture.weights
        mean = float(off.sum() / max(1.0, self.picture.weights.sum()) * 255)
        return Reading(geometry.scaled(step), self.parts, solved.colours, mean, tuple(found),
                       label, colour, ink)

    def left_on_face(self, geometry: Geometry) -> float:
        """The mean of what is not explained well within the outline, of 255."""
        solved = self.picture.solve(geometry, self.parts)
        inside = masks_of(geometry.moved(
            x=geometry.x + 4, y=geometry.y + 4, width=max(1.0, geometry.width - 8),
            height=max(1.0, geometry.height - 8)),
            (self.picture.width, self.picture.height), False, False).outer
        off = np.abs(solved.off).sum(axis=0)
        return float((off * inside).sum() / max(1.0, inside.sum()) * 255)
