"""The picture that a geometry gives: its colours follow by linear least squares.

A pixel is backdrop with the shadow on it, or line, or face with the light on it, each in its share;
so for a given geometry all colours follow at once (variable projection, Golub and Pereyra 1973).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mektel.core.fit.masks import (
    Geometry,
    Mask,
    blurred,
    covered,
    glossed,
    left_within,
    masks_of,
)

Floats = NDArray[np.float64]
# What keeps colours of parts that cover next to nothing from running away.
RIDGE = 1e-4
EACH_TIME = 15_000
# Differences of colour count less than those of brightness: compression blurs them round every
# edge (luma and chroma as in ITU-R BT.601).
CHROMA = 0.35
JUDGED = np.array([
    [0.299, 0.587, 0.114], [-0.169 * CHROMA, -0.331 * CHROMA, 0.5 * CHROMA],
    [0.5 * CHROMA, -0.419 * CHROMA, -0.081 * CHROMA]], np.float32)
# What may be there before anything is known: blurs and offsets of shadows as shares of the height,
# widths of lines, offsets and σ of lights, in pixels.
SHADOWS, MOVED = (0.1, 0.4), (0.0, 0.15)
LINES, LIGHTS = (1.0, 2.0, 3.0), ((1.0, 0.0), (2.0, 0.0), (-2.0, 0.0), (2.0, 2.0))


@dataclass(frozen=True)
class Parts:
    """Which parts the picture has; ``stops`` is the number of colours of the face, which run out
    from a centre if it is ``radial``; ``second`` is a second shadow.
    """

    stops: int = 1
    line: bool = False
    shadow: bool = False
    light: bool = False
    radial: bool = False
    second: bool = False
    gloss: bool = False
    # Before it is known which parts there are: many of each, of usual sizes, all at once.
    anything: bool = False


@dataclass(frozen=True)
class Solved:
    """Colours of shape (3,) from 0 to 1 by name, the picture they give, and what is left of it,
    both (height, width, 3); the share of each colour in each pixel, (colours, height × width).
    """

    colours: dict[str, Floats]
    picture: Mask
    residual: Mask
    shares: Mask

    @property
    def off(self) -> Mask:
        """What is left by what it counts for, (3, height, width)."""
        return judged(self.residual.transpose(2, 0, 1))


def judged(planes: Mask) -> Mask:
    """Differences (…, 3, height, width) of RGB by what they count for: brightness, then two of
    colour.
    """
    return (JUDGED @ planes.reshape(*planes.shape[:-2], -1)).reshape(planes.shape)


class Picture:
    """Pixels to be explained: (height, width, 3) from 0 to 1, those of ``weights`` above 0."""

    def __init__(self, pixels: NDArray[np.floating], weights: Mask | None = None) -> None:
        self.pixels = pixels.astype(np.float32)
        self._planes = np.ascontiguousarray(self.pixels.reshape(-1, 3).T)
        self.height, self.width = pixels.shape[:2]
        self.weights: Mask = np.ones(pixels.shape[:2], np.float32) if weights is None else weights
        # How many pixels were worked out, over and over; each time costs as much as so many more.
        self.effort = 0
        rows, columns = np.mgrid[: self.height, : self.width].astype(np.float32)
        self._x = (columns + 0.5) / self.width - 0.5
        self._y = (rows + 0.5) / self.height - 0.5

    def solve(self, geometry: Geometry, parts: Parts) -> Solved:
        """The colours by which least is left."""
        columns = self._columns(geometry, parts)
        shares = _stacked(columns)
        colours = self._explained(shares, self._planes)
        painted = colours.astype(np.float32) @ shares
        return Solved(dict(zip(columns, colours.T, strict=True)), self._upright(painted),
                      self._upright(self._planes - painted), shares)

    def changes(
        self, solved: Solved, parts: Parts, moved: Sequence[tuple[Geometry, float]]
    ) -> Mask:
        """How what is left changes from a geometry that was solved to each of others, the colours
        following, per unit of its step: (values, 3, height, width). Second-order terms are left
        out (Kaufman 1975).
        """
        colours = np.stack([*solved.colours.values()], axis=1).astype(np.float32)
        here = colours @ solved.shares
        made = np.empty((len(moved), *here.shape), np.float32)
        for at, (other, step) in enumerate(moved):
            np.subtract(here, colours @ _stacked(self._columns(other, parts)), out=made[at])
            made[at] /= np.float32(step)
        rows = made.reshape(-1, made.shape[2])
        rows -= self._explained(solved.shares, rows).astype(np.float32) @ solved.shares
        return made.reshape(-1, 3, self.height, self.width)

    def _explained(self, shares: Mask, target: Mask) -> Floats:
        """The colours (n, colours) of the shares that come nearest to a target (n, pixels)."""
        weighted = shares * self.weights.reshape(-1)
        # Sums of so many pixels are exact enough in single precision, and ten times as fast.
        normal = (weighted @ shares.T).astype(float) + RIDGE * np.eye(len(shares))
        return np.linalg.solve(normal, (weighted @ target.T).astype(float)).T

    def _upright(self, planes: Mask) -> Mask:
        """Planes (3, pixels) as a picture (height, width, 3)."""
        return planes.reshape(3, self.height, self.width).transpose(1, 2, 0)

    def _columns(self, geometry: Geometry, parts: Parts) -> dict[str, Mask]:
        """How much of each colour a pixel has."""
        self.effort += self.width * self.height + EACH_TIME
        if parts.anything:
            return self._anything(geometry)
        if geometry.line and not parts.line:
            # Left over from a line that was tried: lights lie within it.
            geometry = geometry.moved(line=0.0)
        masks = masks_of(
            geometry, (self.width, self.height), parts.shadow, parts.light, parts.second)
        outside = 1 - masks.outer
        columns = {"backdrop": outside, "backdrop x": outside * self._x,
                   "backdrop y": outside * self._y}
        if parts.shadow:
            columns["shadow"] = outside * masks.shadow
        if parts.second:
            columns["second"] = outside * masks.second
        if parts.line:
            columns["line"] = masks.outer - masks.inner
        face = masks.inner if parts.line else masks.outer
        columns |= {f"face {at}": share for at, share in enumerate(
            self._shares(geometry, parts, face))}
        if parts.gloss:
            columns["gloss"] = face * glossed(geometry, (self.width, self.height))
        if parts.light:
            columns["light"] = face * masks.light
        return columns

    def _anything(self, geometry: Geometry) -> dict[str, Mask]:
        """Shadows, lines, lights and a smooth face: what is left then says how good a box is."""
        size, box = (self.width, self.height), geometry.outer
        outer = covered(box, size)
        outside = 1 - outer
        made = [outside, outside * self._x, outside * self._y]
        # What is soft need not follow every part of a pixel, and is kept then.
        x, y, width, height, radius = (float(round(length)) for length in (
            box.x, box.y, box.width, box.height, geometry.radius))
        soft = geometry.moved(x=x, y=y, width=width, height=height, radius=radius).outer
        made += [outside * blurred(soft.moved(0.0, down * height), max(
            1.0, blur * height / 2), size) for blur in SHADOWS for down in MOVED]
        within = outer
        for width in LINES:
            narrower = covered(box.grown(-width), size)
            made.append(within - narrower)
            within = narrower
        across = np.clip(((self._x + 0.5) * self.width - box.x) / box.width * 2 - 1, -1, 1)
        down = np.clip(((self._y + 0.5) * self.height - box.y) / box.height * 2 - 1, -1, 1)
        made += [within, within * across, within * down, within * across**2, within * down**2]
        made += [outer * left_within(soft, down, sigma, size) if sigma else left_within(
            box, down, sigma, size) for down, sigma in LIGHTS]
        return {str(at): column for at, column in enumerate(made)}

    def _shares(self, geometry: Geometry, parts: Parts, face: Mask) -> list[Mask]:
        """How much of each stop of the face a pixel has."""
        stops = parts.stops
        if stops == 1:
            return [face]
        box = geometry.outer
        across = np.arange(self.width, dtype=np.float32) + 0.5 - (box.x + box.width / 2)
        down = np.arange(self.height, dtype=np.float32) + 0.5 - (box.y + box.height / 2)
        if parts.radial:
            share = np.hypot.outer((down - geometry.centre_y) / max(1.0, geometry.reach_y),
                                   (across - geometry.centre_x) / max(1.0, geometry.reach_x))
        else:
            turn = math.radians(geometry.direction)
            along = (math.sin(turn), -math.cos(turn))
            length = max(1.0, abs(box.width * along[0]) + abs(box.height * along[1]))
            share = np.add.outer(
                down * (along[1] / length), across * (along[0] / length)) + np.float32(0.5)
        place = np.clip(share, 0, 1) * (stops - 1)
        return [face * np.clip(1 - np.abs(place - at), 0, 1) for at in range(stops)]


def _stacked(columns: dict[str, Mask]) -> Mask:
    """The shares of all colours, (colours, height × width)."""
    return np.stack([column.reshape(-1) for column in columns.values()])
