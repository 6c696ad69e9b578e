"""The picture that a geometry gives: its colours follow by linear least squares.

A pixel is backdrop with the shadow on it, or line, or face with the light on it, each in its share;
so for a given geometry all colours follow at once (variable projection, Golub and Pereyra 1973).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mektel.core.fit.masks import Geometry, Mask, masks_of

Floats = NDArray[np.float64]
# What keeps colours of parts that cover next to nothing from running away.
RIDGE = 1e-4


@dataclass(frozen=True)
class Parts:
    """Which parts the picture has; ``stops`` is the number of colours of the face."""

    stops: int = 1
    line: bool = False
    shadow: bool = False
    light: bool = False


@dataclass(frozen=True)
class Solved:
    """Colours of shape (3,) from 0 to 1 by name, the picture they give, and what is left of it."""

    colours: dict[str, Floats]
    picture: Floats
    residual: Floats


class Picture:
    """Pixels to be explained: (height, width, 3) from 0 to 1, those of ``weights`` above 0."""

    def __init__(self, pixels: Floats, weights: Mask | None = None) -> None:
        self.pixels = pixels
        self.height, self.width = pixels.shape[:2]
        self.weights = np.ones(pixels.shape[:2]) if weights is None else weights
        rows, columns = np.mgrid[: self.height, : self.width]
        self._x = (columns + 0.5) / self.width - 0.5
        self._y = (rows + 0.5) / self.height - 0.5

    def solve(self, geometry: Geometry, parts: Parts) -> Solved:
        masks = masks_of(geometry, (self.width, self.height), parts.shadow, parts.light)
        outside = 1 - masks.outer
        columns = {"backdrop": outside, "backdrop x": outside * self._x,
                   "backdrop y": outside * self._y}
        if parts.shadow:
            columns["shadow"] = outside * masks.shadow
        if parts.line:
            columns["line"] = masks.outer - masks.inner
        face = masks.inner if parts.line else masks.outer
        for at, share in enumerate(self._shares(geometry, parts.stops)):
            columns[f"face {at}"] = face * share
        if parts.light:
            columns["light"] = face * masks.light
        return self._solved(columns)

    def _shares(self, geometry: Geometry, stops: int) -> list[Mask]:
        """How much of each stop of the face a pixel has."""
        if stops == 1:
            return [np.ones_like(self.weights)]
        turn = math.radians(geometry.direction)
        along = (math.sin(turn), -math.cos(turn))
        box = geometry.outer
        length = abs(box.width * along[0]) + abs(box.height * along[1])
        across = (self._x + 0.5) * self.width - (box.x + box.width / 2)
        down = (self._y + 0.5) * self.height - (box.y + box.height / 2)
        place = np.clip(0.5 + (across * along[0] + down * along[1]) / max(length, 1.0), 0.0, 1.0)
        places = np.linspace(0.0, 1.0, stops)
        return [np.clip(1 - np.abs(place - at) * (stops - 1), 0.0, 1.0) for at in places]

    def _solved(self, columns: dict[str, Mask]) -> Solved:
        matrix = np.stack([column.ravel() for column in columns.values()], axis=1)
        weights = self.weights.ravel()[:, None]
        weighted = matrix * weights
        normal = weighted.T @ matrix + RIDGE * np.eye(matrix.shape[1])
        target = self.pixels.reshape(-1, 3)
        found = np.linalg.solve(normal, weighted.T @ target)
        picture = (matrix @ found).reshape(self.pixels.shape)
        return Solved(dict(zip(columns, found, strict=True)), picture, self.pixels - picture)
