"""Reads a picture: starts from its edges, adds part after part, keeps those that explain more."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from itertools import product
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.errors import MektelError
from mektel.core.fit.masks import Geometry, masks_of
from mektel.core.fit.model import Floats, Parts, Picture, Solved, judged
from mektel.core.fit.nearest import nearest
from mektel.core.fit.start import boxes_of, first_guess, standing_out
from mektel.core.stopping import check_wanted

SMALLEST, LARGEST, MOST_PIXELS = 12, 2048, 30_000
# A part is kept if what is left falls by this share, and by so much of 255.
LESS, LEAST = 0.04, 0.02
# A part without which so little more is left, in the end, is none; more for each 1 of 255 that is
# left anyway.
NEEDLESS, NOISE = 0.03, 0.1
# What a picture with alpha is laid on, of 255: both shadows and lights show on it.
GROUND = 200.0
# A line differs from what is round it by more than this, from 0 to 1.
UNSEEN = 12 / 255
# When so little is left, of 255, no other order or explanation is tried, and no other gradient.
GOOD, PERFECT = 0.3, 0.15
# How much dearer what nobody draws is, as a share; the least blur of a glow, in pixels.
ODD, SOFT = 0.3, 6.0
# How often another explanation of the whole is looked for.
ROUNDS = 2
# A radial face is looked at closely where at first it leaves no more than so many times as much.
NEARLY = 1.5
# It reaches this far at most, in widths and heights of the box.
FARTHEST = 4.0
BOUNDS: dict[str, tuple[float, float]] = {
    "radius": (0.0, 1000.0), "line": (0.3, 24.0), "shadow_x": (-60.0, 60.0),
    "shadow_y": (-60.0, 60.0), "shadow_blur": (2.0, 160.0), "shadow_spread": (-20.0, 20.0),
    "light_y": (-12.0, 12.0), "light_blur": (0.0, 24.0), "direction": (-400.0, 800.0),
}
RADIAL = ("centre_x", "centre_y", "reach_x", "reach_y")
ANYTHING = Parts(anything=True)
# A box is sought among guesses with these radii, as shares of its shorter side; those that are best
# at half the size, so many, are looked at closely.
RADII, CLOSELY = (0.0, 0.1, 0.2, 0.35, 0.5), 4
BOX = ("x", "y", "width", "height", "radius")


class ReadingError(MektelError):
    """A picture in which no button can be made out; says why."""


@dataclass(frozen=True)
class Part:
    """A layer that was found; ``sure`` is from 0 to 1: how much worse it is without it."""

    name: str
    sure: float


@dataclass(frozen=True)
class Ring:
    """A line outside of the outline, ``gap`` away from it; lengths in pixels, a colour (3,)."""

    gap: float
    width: float
    colour: Floats


@dataclass(frozen=True)
class Reading:
    """What a picture comes to: lengths in pixels of the picture, colours (3,) from 0 to 1.

    ``residual`` is the mean difference from the picture, of 255, and ``label`` the box (x, y,
    width, height) of what stands on the face, with its colour and how many pixels it covers.
    """

    geometry: Geometry
    parts: Parts
    colours: dict[str, Floats]
    residual: float
    layers: tuple[Part, ...]
    label: tuple[float, float, float, float] | None = None
    label_colour: Floats | None = None
    label_ink: float = 0.0
    ring: Ring | None = None


def read_picture(
    pixels: NDArray[np.uint8], progress: Callable[[float], None] | None = None
) -> Reading:
    """Layers of a button in a picture of shape (height, width, 3), of 8 bits.

    Raises :class:`ReadingError` where nothing stands out, or the picture is too small or large.
    """
    height, width = pixels.shape[:2]
    if min(height, width) < SMALLEST or max(height, width) > LARGEST:
        raise ReadingError(f"a picture to read has {SMALLEST} to {LARGEST} pixels on a side; this "
                           f"has {width} × {height}")
    whole = pixels[:, :, :3].astype(np.float64) / 255
    step = step_for(width, height)
    small = averaged(whole, step)
    guesses = [first_guess(box) for box in boxes_of(small)]
    if not guesses:
        raise ReadingError("nothing in this picture stands out from what is round it")
    fit = Fit(small, progress or (lambda _: None))
    geometry = fit.run(guesses)
    return fit.reading(geometry, float(step))


def on_ground(premultiplied: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """A premultiplied picture (height, width, 4) on light grey, as (height, width, 3)."""
    alpha = premultiplied[:, :, 3:].astype(np.float64) / 255
    laid = premultiplied[:, :, :3] + (1 - alpha) * GROUND
    return np.round(laid).astype(np.uint8)


def step_for(width: int, height: int) -> int:
    """How many pixels, each way, are one for a fit, so that it takes seconds at most."""
    return max(1, int(np.ceil(np.sqrt(height * width / MOST_PIXELS))))


def averaged(pixels: NDArray[Any], step: int) -> NDArray[Any]:
    """The mean of every ``step`` × ``step`` pixels."""
    if step == 1:
        return pixels
    height, width = (side // step * step for side in pixels.shape[:2])
    blocks = pixels[:height, :width].reshape(height // step, step, width // step, step, 3)
    return np.asarray(blocks.mean(axis=(1, 3)))


def _grown(geometry: Geometry, sides: float, top: float, bottom: float) -> Geometry:
    """The box with its edges so much farther out."""
    return geometry.moved(
        x=geometry.x - sides, y=geometry.y - top, width=max(4.0, geometry.width + 2 * sides),
        height=max(4.0, geometry.height + top + bottom),
        radius=max(0.0, geometry.radius + sides))


def _oddities(geometry: Geometry, parts: Parts, colours: dict[str, Floats]) -> int:
    """How many parts are as nobody draws them: a line in the colour of what is round it, a hard
    shadow that is lighter than the backdrop.
    """
    light = parts.shadow and colours["shadow"].mean() > 0 and geometry.shadow_blur < SOFT
    return int(light) + int(parts.line and _is_unseen(colours))


def _is_unseen(colours: dict[str, Floats]) -> bool:
    """Whether a line has the colour of what is round it: then there is none."""
    beneath = colours["backdrop"]
    near = [np.abs(colours["line"] - tone).max() for tone in (
        beneath, beneath + colours.get("shadow", np.zeros(3)))]
    return bool(min(near) < UNSEEN)


class Fit:
    """One fit of a picture (height, width, 3), from 0 to 1."""

    def __init__(self, pixels: Floats, progress: Callable[[float], None]) -> None:
        self.picture = Picture(pixels)
        self.parts = Parts()
        self.label: NDArray[np.bool_] | None = None
        self._progress = progress

    def run(self, guesses: list[Geometry]) -> Geometry:
        """The stages, each from what the one before it found."""
        geometry = self.exact(self._likely(guesses), ANYTHING, BOX, 5)
        self._progress(0.15)
        self.take_label(geometry, ANYTHING)
        geometry = self._with_stops(geometry, radial=False)
        self._progress(0.3)
        self.take_label(geometry)
        # A line can be taken for a shadow and the other way round: both ways are tried.
        ends = []
        for order in ((self.with_line, self.with_shadow), (self.with_shadow, self.with_line)):
            self.parts, end = replace(self.parts, line=False, shadow=False), geometry
            for add in order:
                end = add(end)
            ends.append((self.exact(end, self.parts, self._free(), 6), self.parts))
            if self.left(*ends[-1]) < GOOD:
                break
        geometry, self.parts = min(ends, key=lambda end: self._weighed(*end))
        geometry, self.parts = self._plainer(geometry)
        self._progress(0.7)
        geometry = self.with_light(geometry)
        self._progress(0.8)
        # A face that runs from a centre is not known yet.
        self.take_label(
            geometry, ANYTHING if self.left(geometry, self.parts) > GOOD else self.parts)
        geometry = self._with_stops(geometry, radial=True)
        geometry = self.exact(geometry, self.parts, self._free(), 12)
        self._progress(0.9)
        geometry = self._otherwise(geometry)
        geometry = self._without_needless(geometry)
        self._progress(1.0)
        return geometry

    def _likely(self, guesses: list[Geometry]) -> Geometry:
        """The guess that leaves least, whatever parts there may be."""
        if len(guesses) > CLOSELY:
            half = Fit(averaged(self.picture.pixels, 2), lambda _: None)
            guesses = sorted(guesses, key=lambda guess: half.left(guess.scaled(0.5), ANYTHING))[
                :CLOSELY]
        return min((self.best(guess, ANYTHING, (
            {"radius": share * min(guess.width, guess.height)} for share in RADII))
            for guess in guesses), key=lambda guess: self.left(guess, ANYTHING))

    def with_light(self, geometry: Geometry) -> Geometry:
        """A light or shade along the edge, a sharp one or a soft one, whichever explains more."""
        high, before = geometry.height, self.parts
        ends = [(geometry, before)]
        for tries in (((1.0, 0.0), (2.0, 0.0), (-2.0, 0.0)),
                      ((2.0, 4.0), (-2.0, 4.0), (0.06 * high, 0.15 * high))):
            self.parts = before
            found = self._try(geometry, replace(before, light=True), (
                {"light_y": y, "light_blur": blur} for y, blur in tries),
                (*BOX, "light_y", "light_blur"))
            ends.append((found, self.parts))
        best, self.parts = min(ends, key=lambda end: self.left(*end))
        return best

    def _otherwise(self, geometry: Geometry) -> Geometry:
        """What is taken for one part may be another, beyond or within an edge that is a px off."""
        for _ in range(ROUNDS):
            left, ends = self._weighed(geometry, self.parts), [(geometry, self.parts)]
            if left < GOOD and not self._is_odd(geometry):
                break
            for start, parts in self._other_starts(geometry):
                self.parts = parts
                ends.append((self.exact(start, parts, self._free(), 3), parts))
            end, self.parts = min(ends, key=lambda end: self._weighed(*end))
            if self._weighed(end, self.parts) > left * (1 - LESS):
                geometry, self.parts = ends[0]
                break
            geometry = self.exact(end, self.parts, self._free(), 6)
        return geometry

    def _other_starts(self, geometry: Geometry) -> Iterator[tuple[Geometry, Parts]]:
        """Other explanations of what is there, roughly."""
        parts = self.parts
        if parts.line:
            by = -geometry.line
            yield _grown(geometry, by, by, by), replace(parts, line=False)
        # A line that was taken for a hard shadow.
        for width in (1.0, max(1.5, geometry.shadow_spread + geometry.shadow_blur / 2)):
            yield _grown(geometry, width, width, width).moved(
                line=width, shadow_spread=max(-20.0, geometry.shadow_spread - width)
            ), replace(parts, line=True)
        if parts.shadow:
            yield geometry, replace(parts, shadow=False)
        # A light that was taken for the backdrop, or for a shadow that is light.
        for high, blur, shadow in product((1.0, 2.0), (0.0, 2.0), {parts.shadow, False}):
            side = 0.2 * blur
            yield _grown(geometry, side, high, side).moved(
                light_y=high, light_blur=blur), replace(parts, light=True, shadow=shadow)
        if parts.light and geometry.light_y < 0:
            # A shadow that was taken for a shade.
            up = geometry.light_y
            yield _grown(geometry, 0.0, 0.0, up).moved(
                shadow_y=geometry.shadow_y - up), replace(parts, light=False)

    def _is_odd(self, geometry: Geometry) -> bool:
        colours = self.picture.solve(geometry, self.parts).colours
        return _oddities(geometry, self.parts, colours) > 0

    def _without_needless(self, geometry: Geometry) -> Geometry:
        """Without parts that in the end explain next to nothing."""
        for name in ("light", "line", "shadow"):
            without, left = replace(self.parts, **{name: False}), self.left(geometry, self.parts)
            # Compression leaves something along every edge that looks like a faint part.
            enough = 1 + NEEDLESS + NOISE * min(left, 1.5)
            if getattr(self.parts, name) and self.left(geometry, without) < left * enough:
                self.parts = without
                geometry = self.exact(geometry, self.parts, self._free())
        return geometry

    def _free(self) -> tuple[str, ...]:
        """Every value that the parts found have."""
        names: tuple[str, ...] = BOX
        if self.parts.line:
            names += ("line",)
        if self.parts.shadow:
            names += ("shadow_x", "shadow_y", "shadow_blur", "shadow_spread")
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
        off = np.abs(judged(solved.residual)).sum(axis=2)
        return float((off * weights).sum() / max(1.0, weights.sum()) * 255)

    def best(
        self, geometry: Geometry, parts: Parts, tries: Iterable[dict[str, float]]
    ) -> Geometry:
        check_wanted()
        candidates = [geometry.moved(**values) for values in tries]
        return min(candidates, key=lambda candidate: self.left(candidate, parts))

    def _try(
        self, geometry: Geometry, parts: Parts, tries: Iterable[dict[str, float]],
        names: tuple[str, ...],
    ) -> Geometry:
        """One more part, kept if it explains enough."""
        before = self.left(geometry, self.parts)
        start = self.best(geometry, parts, tries)
        found = self.exact(start, parts, names)
        after = self.left(found, parts)
        if after < before * (1 - LESS) and after < before - LEAST:
            self.parts = parts
            return found
        return geometry

    def _weighed(self, geometry: Geometry, parts: Parts) -> float:
        """What is left, dearer for every part, the more the more is left anyway, as compression
        does, and for parts as nobody draws them: the plainest of equals is taken.
        """
        solved = self.picture.solve(geometry, parts)
        left = self._mean(solved)
        dear = 1 + (parts.line + parts.shadow + parts.light) * (0.03 + 0.15 * min(left, 1.5))
        return left * (dear + ODD * _oddities(geometry, parts, solved.colours))

    def _plainer(self, geometry: Geometry) -> tuple[Geometry, Parts]:
        """Without the line, if a smaller box and its shadow explain as much."""
        if not self.parts.line:
            return geometry, self.parts
        less, names = replace(self.parts, line=False), self._free()
        by = geometry.line
        start = geometry.moved(
            x=geometry.x + by, y=geometry.y + by, width=max(4.0, geometry.width - 2 * by),
            height=max(4.0, geometry.height - 2 * by), radius=max(0.0, geometry.radius - by),
            shadow_spread=geometry.shadow_spread + by)
        found = self.exact(start, less, tuple(name for name in names if name != "line"))
        if self.left(found, less) <= self.left(geometry, self.parts) * 1.1 + LEAST:
            return found, less
        return geometry, self.parts

    def with_shadow(self, geometry: Geometry) -> Geometry:
        high = geometry.height
        return self._try(geometry, replace(self.parts, shadow=True), (
            {"shadow_x": x * high, "shadow_y": y * high, "shadow_blur": blur * high}
            for blur in (0.08, 0.25, 0.6) for x, y in ((0, 0), (0, 0.08), (0.08, 0.08))),
            ("shadow_x", "shadow_y", "shadow_blur", "shadow_spread"))

    def with_line(self, geometry: Geometry) -> Geometry:
        """A line along the edge, or round the box that was taken for the outline."""
        before = self.parts
        found = self._try(geometry, replace(before, line=True), (
            {"line": width, "x": geometry.x - more, "y": geometry.y - more,
             "width": geometry.width + 2 * more, "height": geometry.height + 2 * more,
             "radius": geometry.radius + more}
            for width in (1.0, 2.0, 4.0) for more in (0.0, width)), (*BOX, "line"))
        if self.parts.line and _is_unseen(self.picture.solve(found, self.parts).colours):
            self.parts = before
            return geometry
        return found

    def _with_stops(self, geometry: Geometry, radial: bool) -> Geometry:
        """The fewest colours of the face that explain it, along a line, or from a centre if this
        leaves clearly less, as it has more to be moved about; before lines and lights are known it
        would be taken for them.
        """
        best, parts = geometry, replace(self.parts, stops=1, radial=False)
        left = self.left(geometry, parts)
        wide, high = geometry.width, geometry.height
        lines = [{"direction": direction} for direction in (180.0, 90.0, 135.0, 225.0)]
        centres = [{"centre_x": x * wide, "centre_y": y * high, "reach_x": reach * wide,
                    "reach_y": reach * (wide if circle else high)}
                   for x, y in ((0.0, 0.0), (0.0, -0.4), (0.0, 0.3), (-0.25, -0.25), (0.25, -0.25))
                   for reach, circle in ((0.7, False), (0.5, True))]
        for centred, tries, names in ((False, lines, ("direction",)), (True, centres, RADIAL)):
            if centred and (left < PERFECT or not radial):
                break
            for stops in (2, 3):
                wanted = replace(self.parts, stops=stops, radial=centred)
                start = self.best(geometry, wanted, tries)
                if centred and self.left(start, wanted) > left * NEARLY:
                    continue
                found = self.exact(start, wanted, names)
                now = self.left(found, wanted)
                if now < left * (1 - (4 if centred else 2) * LESS) and now < left - LEAST:
                    best, parts, left = found, wanted, now
        self.parts = parts
        return best

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
            self.picture.weights = np.where(self.label, 0.0, 1.0)

    def reading(self, geometry: Geometry, step: float) -> Reading:
        solved = self.picture.solve(geometry, self.parts)
        left = self._mean(solved)
        found = [Part("face", 1.0)]
        for name, without in (("line", replace(self.parts, line=False)),
                              ("shadow", replace(self.parts, shadow=False)),
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
