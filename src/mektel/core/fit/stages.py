"""Reads a picture: starts from its edges, adds part after part, keeps those that explain more."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace
from itertools import product

import numpy as np
from numpy.typing import NDArray

from mektel.core.fit.fitting import GLOSS, RADIAL, SECOND, SHADOW, Fit
from mektel.core.fit.masks import CORNERS, Geometry
from mektel.core.fit.model import JUDGED, Floats, Parts
from mektel.core.fit.reading import Reading, ReadingError, averaged, step_for
from mektel.core.fit.start import around, boxes_of, first_guess
from mektel.core.stopping import check_wanted

SMALLEST, LARGEST = 12, 2048
# A part is kept if what is left falls by this share, and by so much of 255.
LESS, LEAST = 0.04, 0.02
# A part without which so little more is left, in the end, is none; more for each 1 of 255 that is
# left anyway.
NEEDLESS, NOISE = 0.03, 0.1
# A line differs from what is round it by more than this, from 0 to 1.
UNSEEN = 12 / 255
# So much more may be left without a line that nobody sees, as a share.
TAKEN = 0.1
# When so little is left, of 255, no other order or explanation is tried, and no other gradient.
GOOD, PERFECT = 0.3, 0.15
# How much dearer what nobody draws is, as a share; the least blur of a glow, in pixels.
ODD, SOFT = 0.3, 6.0
# How often another explanation of the whole is looked for, how many of the ways to begin one are
# tried, and how many of these are gone on with after a first step.
ROUNDS, LIKELY, PROMISING = 2, 4, 2
# Nothing else is looked for after so many pixels were worked out, some three seconds, or by this
# share more where as much as 1 of 255 is left.
MOST_EFFORT, MORE = 26_000_000, 0.4
# A radial face is looked at closely where at first it leaves no more than so many times as much.
NEARLY = 1.5
# A gloss has to explain so much of what is left without it.
GLOSSY = 0.25
# It is looked for where so much is left on the face, of 255, and at these shares of the height.
WITHIN = (0.0, 0.5, 1.0, 1.5, 2.0, 3.0)
UNEVEN, GLOSSES = 2.5, (0.3, 0.38, 0.46, 0.5, 0.54, 0.62, 0.7)
# A second shadow has to explain so much of what one leaves.
TWO = 0.2
ANYTHING = Parts(anything=True)
# A box is sought among guesses with these radii, as shares of its shorter side; those that are best
# at half the size, so many, are looked at closely.
RADII, CLOSELY = (0.0, 0.1, 0.2, 0.35, 0.5), 4
# Corners are unlike where so much less is left there with each by itself, as a share.
UNLIKE = 0.2


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
    rows, columns = (slice(span.start * step, span.stop * step)
                     for span in around(averaged(whole, step)))
    whole = whole[rows, columns]
    step = step_for(whole.shape[1], whole.shape[0])
    small = averaged(whole, step)
    guesses = [first_guess(box) for box in boxes_of(small)]
    if not guesses:
        raise ReadingError("nothing in this picture stands out from what is round it")
    fit = Stages(small, progress or (lambda _: None))
    found = fit.reading(fit.run(guesses), float(step))
    seen = (small.shape[1] * step, small.shape[0] * step)
    return found.within((width, height), (columns.start, rows.start), seen)


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
    """Whether a line looks like what is round it: then there is none."""
    beneath = colours["backdrop"]
    near = [np.abs(JUDGED @ (colours["line"] - tone)).max() for tone in (
        beneath, beneath + colours.get("shadow", np.zeros(3)))]
    return bool(min(near) < UNSEEN)


class Stages(Fit):
    """The stages of a fit, each from what the one before it found."""

    def run(self, guesses: list[Geometry]) -> Geometry:
        """The stages, each from what the one before it found."""
        geometry = self.with_second(self._settled(self._sought(guesses)))
        self._progress(1.0)
        return geometry

    def _sought(self, guesses: list[Geometry]) -> Geometry:
        """The stages up to where it is known what there is."""
        geometry = self._with_corners(self._likely(guesses), ANYTHING)
        geometry = self.exact(geometry, ANYTHING, self.box, 5)
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
            ends.append((self.exact(end, self.parts, self.free(), 6), self.parts))
            if self.left(*ends[-1]) < GOOD:
                break
        geometry, self.parts = min(ends, key=lambda end: self._weighed(*end))
        geometry, self.parts = self._plainer(geometry)
        self._progress(0.7)
        return self.with_gloss(self.with_light(geometry))

    def _settled(self, geometry: Geometry) -> Geometry:
        """The stages that doubt it, and make it exact."""
        self._progress(0.8)
        # A face that runs from a centre is not known yet.
        self.take_label(
            geometry, ANYTHING if self.left(geometry, self.parts) > GOOD else self.parts)
        geometry = self._with_stops(geometry, radial=True)
        geometry = self.exact(geometry, self.parts, self.free(), 12)
        if not self.unlike:
            # Where little is left, small corners show.
            geometry = self._with_corners(geometry, self.parts)
            if self.unlike:
                geometry = self.exact(geometry, self.parts, self.free(), 12)
        self._progress(0.9)
        geometry = self._otherwise(geometry)
        return self._without_needless(geometry)

    def _likely(self, guesses: list[Geometry]) -> Geometry:
        """The guess that leaves least, whatever parts there may be."""
        half = self._half()
        if len(guesses) > CLOSELY:
            guesses = sorted(guesses, key=lambda guess: half.left(guess.scaled(0.5), ANYTHING))[
                :CLOSELY]
        ends = [half.best(guess.scaled(0.5), ANYTHING, (
            {"radius": share * min(guess.width, guess.height) / 2} for share in RADII)).scaled(2)
            for guess in guesses]
        return min(ends, key=lambda end: self.left(end, ANYTHING))

    def _half(self) -> Stages:
        """The picture at half the size: what to begin with can be told from it as well."""
        return Stages(averaged(self.picture.pixels, 2), lambda _: None)

    def _with_corners(self, geometry: Geometry, parts: Parts) -> Geometry:
        """Each corner by itself, where that leaves clearly less: what is off there says which."""
        shorter = min(geometry.width, geometry.height)
        edge, middle = 2.0, shorter / 2
        left, top = geometry.x, geometry.y
        right, bottom = left + geometry.width, top + geometry.height
        places = [tuple(slice(max(0, round(start)), max(1, round(end))) for start, end in spans)
                  for spans in (
                      ((top - edge, top + middle), (left - edge, left + middle)),
                      ((top - edge, top + middle), (right - middle, right + edge)),
                      ((bottom - middle, bottom + edge), (right - middle, right + edge)),
                      ((bottom - middle, bottom + edge), (left - edge, left + middle)))]
        rows, shares = [], sorted({*RADII, geometry.radius / shorter})
        for share in shares:
            check_wanted()
            solved = self.picture.solve(geometry.moved(radius=share * shorter), parts)
            off = np.abs(solved.off).sum(axis=0) * self.picture.weights
            rows.append([float(off[place].sum()) for place in places])
        table = np.array(rows)
        best = [shares[at] for at in np.argmin(table, axis=0)]
        alike, unlike = table.sum(axis=1).min(), table.min(axis=0).sum()
        if max(best) == min(best) or unlike > alike * (1 - UNLIKE):
            return geometry
        self.unlike = True
        return geometry.moved(radius=max(best) * shorter, **{
            name: share / max(best) for name, share in zip(CORNERS, best, strict=True)})

    def with_light(self, geometry: Geometry) -> Geometry:
        """A light or shade along the edge, a sharp one or a soft one, whichever explains more."""
        high, before = geometry.height, self.parts
        ends = [(geometry, before)]
        for tries in (((1.0, 0.0), (2.0, 0.0), (-2.0, 0.0)),
                      ((2.0, 4.0), (-2.0, 4.0), (0.06 * high, 0.15 * high))):
            self.parts = before
            found = self._try(geometry, replace(before, light=True), (
                {"light_y": y, "light_blur": blur} for y, blur in tries),
                (*self.box, "light_y", "light_blur"))
            ends.append((found, self.parts))
        best, self.parts = min(ends, key=lambda end: self.left(*end))
        return best

    def _otherwise(self, geometry: Geometry) -> Geometry:
        """What is taken for one part may be another, beyond or within an edge that is a px off."""
        for _ in range(ROUNDS):
            left, ends = self._weighed(geometry, self.parts), [(geometry, self.parts)]
            worth = MOST_EFFORT * (1 + MORE * min(left, 1.0))
            if self.picture.effort > worth or (left < GOOD and not self._is_odd(geometry)):
                break
            starts = sorted(self._other_starts(geometry), key=lambda end: self._weighed(*end))
            begun = []
            for start, parts in starts[:LIKELY]:
                self.parts = parts
                begun.append((self.exact(start, parts, self.free(), 1), parts))
            for start, parts in sorted(begun, key=lambda end: self._weighed(*end))[:PROMISING]:
                self.parts = parts
                ends.append((self.exact(start, parts, self.free(), 3), parts))
            end, self.parts = min(ends, key=lambda end: self._weighed(*end))
            if self._weighed(end, self.parts) > left * (1 - LESS):
                geometry, self.parts = ends[0]
                break
            geometry = self.exact(end, self.parts, self.free(), 6)
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
        if parts.light and not parts.line and abs(geometry.light_y) < 0.5:
            # A line that was taken for a shade all round.
            for width in (1.0, 2.0):
                yield geometry.moved(line=width), replace(parts, light=False, line=True)
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
        if self.parts.gloss and self.parts.light:
            # Each is taken for a part of the other.
            without = replace(self.parts, light=False)
            start = self.best(geometry, without, ({"gloss_gap": gap} for gap in WITHIN))
            found = self.exact(start, without, tuple(
                name for name in self.free() if not name.startswith("light")), 20)
            if self.left(found, without) < self.left(geometry, self.parts) * (1 + GLOSSY):
                geometry, self.parts = found, without
        if self.parts.line and _is_unseen(self.picture.solve(geometry, self.parts).colours):
            # It was taken in to explain what is off about the edge.
            by, before, self.parts = geometry.line, self.parts, replace(self.parts, line=False)
            found = self.exact(_grown(geometry, -by, -by, -by), self.parts, self.free(), 12)
            if self.left(found, self.parts) < self.left(geometry, before) * (1 + TAKEN) + LEAST:
                geometry = found
            else:
                self.parts = before
        for name in ("light", "line", "shadow"):
            without, left = replace(self.parts, **{name: False}), self.left(geometry, self.parts)
            # Compression leaves something along every edge that looks like a faint part.
            enough = 1 + NEEDLESS + NOISE * min(left, 1.5)
            if getattr(self.parts, name) and self.left(geometry, without) < left * enough:
                self.parts = without
                geometry = self.exact(geometry, self.parts, self.free())
        return geometry

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
        less, names = replace(self.parts, line=False), self.free()
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
            for blur in (0.08, 0.25, 0.6) for x, y in ((0, 0), (0, 0.08), (0.08, 0.08))), SHADOW)

    def with_gloss(self, geometry: Geometry) -> Geometry:
        """A band of light over the upper part, where it explains much of the face. It stands out as
        a label does, so that nothing is left out while it is sought.
        """
        weights = self.picture.weights
        if self.left_on_face(geometry) < UNEVEN:
            return geometry
        self.picture.weights = np.ones_like(weights)
        left, before = self.left(geometry, self.parts), self.parts
        ends, half = [], self._half()
        for stops in sorted({1, min(2, before.stops)}):
            parts = replace(before, gloss=True, stops=stops, light=False)
            start = half.best(geometry.moved(gloss_gap=1.0).scaled(0.5), parts, (
                {"gloss_height": height, "gloss_bulge": bulge, "gloss_fade": fade}
                for height in GLOSSES for bulge in (0.0, 0.15, 0.3) for fade in (0.25, 1.0))
            ).scaled(2)
            start = self.best(start, parts, ({"gloss_gap": gap} for gap in WITHIN))
            if self.left(start, parts) < left:
                names = ("direction",) if stops > 1 else ()
                ends.append((self.exact(start, parts, (*self.box, *GLOSS, *names), 12), parts))
        if ends:
            found, self.parts = min(ends, key=lambda end: self.left(*end))
            # What still stands out beside a gloss is a label: the rest is compared.
            self.take_label(found)
            if self.left(found, self.parts) < self.left(geometry, before) * (1 - GLOSSY):
                return found
            self.parts = before
        self.picture.weights = weights
        return geometry

    def with_second(self, geometry: Geometry) -> Geometry:
        """A second shadow, where one leaves clearly more: a near one beside a far one."""
        left = self.left(geometry, self.parts)
        if not self.parts.shadow or left < PERFECT:
            return geometry
        high, parts = geometry.height, replace(self.parts, second=True)
        start = self.best(geometry, parts, (
            {"second_y": y * high, "second_blur": blur * high}
            for blur in (0.06, 0.2, 0.6) for y in (0.03, 0.15)))
        found = self.exact(start, parts, (*SHADOW, *SECOND))
        if self.left(found, parts) > left * (1 - TWO):
            return geometry
        self.parts = parts
        return self.exact(found, parts, self.free(), 6)

    def with_line(self, geometry: Geometry) -> Geometry:
        """A line along the edge, or round the box that was taken for the outline."""
        before = self.parts
        found = self._try(geometry, replace(before, line=True), (
            {"line": width, "x": geometry.x - more, "y": geometry.y - more,
             "width": geometry.width + 2 * more, "height": geometry.height + 2 * more,
             "radius": geometry.radius + more}
            for width in (1.0, 2.0, 4.0) for more in (0.0, width)), (*self.box, "line"))
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
