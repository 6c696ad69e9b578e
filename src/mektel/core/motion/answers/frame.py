"""What answers work on: the layers of a moment and how all of them are placed; and what the hand
has done.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from mektel.core.kit.timing import Timing
from mektel.core.look.pose import PosedLayer
from mektel.core.motion.course import Course

# What stands on a control's face, above what answers draw on it.
CONTENT = ("label", "icon", "symbol", "light", "look", "progress")
MIDDLE = (0.5, 0.5)


@dataclass(frozen=True)
class Touch:
    """A press: when (s) and where (shares of the box) it began, and when it was let go."""

    began: float
    place: tuple[float, float] = MIDDLE
    ended: float | None = None


@dataclass(frozen=True)
class Cue:
    """What some answers are due to, and when (s)."""

    cause: str
    at: float


@dataclass(frozen=True)
class Hand:
    """What the hand has done that answers may still be at: the latest touches and cues, and where
    followers of the pointer are, by their timing: x, y (shares of the box) and how much of it is
    inside (0 to 1).
    """

    touches: tuple[Touch, ...] = ()
    cues: tuple[Cue, ...] = ()
    followers: Mapping[Timing, Course] = field(default_factory=dict)

    @property
    def holds(self) -> bool:
        """Whether a press has not ended, or the pointer is inside."""
        pressed = bool(self.touches) and self.touches[-1].ended is None
        return pressed or any(course.goal[2] > 0 for course in self.followers.values())

    def pointer(self, timing: Timing, moment: float) -> tuple[float, float, float]:
        """Where a follower of this timing has come: x, y and the share of being inside."""
        course = self.followers.get(timing)
        if course is None:
            return (*MIDDLE, 0.0)
        x, y, inside = course.at(moment)
        return x, y, min(1.0, max(0.0, inside))

    def pointed(self, timing: Timing) -> float:
        """The moment (s) from which on a follower stands still."""
        course = self.followers.get(timing)
        return course.ends if course is not None else 0.0


@dataclass(frozen=True)
class Frame:
    """Layers of a control of ``size`` (width, height) px, and how all of it is placed about its
    middle: moved by ``shift`` px, turned by ``turn`` degrees, scaled, skewed by ``tilt`` degrees.
    """

    size: tuple[float, float]
    layers: tuple[PosedLayer, ...]
    outline: Any = None
    shift: tuple[float, float] = (0.0, 0.0)
    turn: float = 0.0
    scale: float = 1.0
    tilt: tuple[float, float] = (0.0, 0.0)

    def on_face(self, layer: PosedLayer) -> Frame:
        """With one more layer, beneath what stands on the face."""
        at = next((at for at, other in enumerate(self.layers) if other.values.kind in CONTENT),
                  len(self.layers))
        return replace(self, layers=(*self.layers[:at], layer, *self.layers[at:]))

    def shifted(self, x: float, y: float) -> Frame:
        return replace(self, shift=(self.shift[0] + x, self.shift[1] + y))

    def changed(self, part: str, change: Callable[[PosedLayer], dict[str, Any]]) -> Frame:
        """With other values of the layers of an id, those that fade out among them."""
        return replace(self, layers=tuple(
            replace(layer, values=layer.values.model_copy(update=change(layer)))
            if layer.values.id == part else layer for layer in self.layers))

    @property
    def matrix(self) -> tuple[float, ...] | None:
        """All of it about the middle, in the order of CSS Transforms 2: translate, rotate, scale,
        skew. x' = a·x + c·y + e, y' = b·x + d·y + f; None for as it is.
        """
        if (self.shift, self.turn, self.scale, self.tilt) == ((0, 0), 0, 1, (0, 0)):
            return None
        turn, scale = math.radians(self.turn), max(0.01, self.scale)
        cos, sin = scale * math.cos(turn), scale * math.sin(turn)
        across, down = (math.tan(math.radians(tilt)) for tilt in self.tilt)
        a, b = cos - sin * down, sin + cos * down
        c, d = cos * across - sin, sin * across + cos
        x, y = self.size[0] / 2, self.size[1] / 2
        return (a, b, c, d, x - a * x - c * y + self.shift[0], y - b * x - d * y + self.shift[1])
