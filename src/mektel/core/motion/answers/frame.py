"""What answers work on: the layers of a moment, and the matrix that all of them go through."""

from __future__ import annotations

from dataclasses import dataclass, replace

from mektel.core.look.pose import PosedLayer

# What stands on a control's face, above what answers draw on it.
CONTENT = ("label", "icon", "symbol", "light", "look", "progress")


@dataclass(frozen=True)
class Touch:
    """A press: when (s) and where (shares of the box) it began, and when it was let go."""

    began: float
    place: tuple[float, float] = (0.5, 0.5)
    ended: float | None = None


@dataclass(frozen=True)
class Frame:
    """Layers of a control of ``size`` (width, height) px. ``matrix`` maps all of it: x' = a·x + c·y
    + e, y' = b·x + d·y + f; None for as it is.
    """

    size: tuple[float, float]
    layers: tuple[PosedLayer, ...]
    matrix: tuple[float, ...] | None = None

    def on_face(self, layer: PosedLayer) -> Frame:
        """With one more layer, beneath what stands on the face."""
        at = next((at for at, other in enumerate(self.layers) if other.values.kind in CONTENT),
                  len(self.layers))
        return replace(self, layers=(*self.layers[:at], layer, *self.layers[at:]))
