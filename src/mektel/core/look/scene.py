"""What a layer is turned into primitives against: colours, places and paint."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING, Any, Protocol

from mektel.core.kit.layers import Painted
from mektel.core.look.outlines import own_outline
from mektel.core.look.paints import RGBA, Gradient, Paint, css_line, in_oklab
from mektel.core.shape import AnyOutline

if TYPE_CHECKING:
    from mektel.core.look.pose import Pose


class Colours(Protocol):
    """What knows named colours: a kit, or a pose."""

    def colour(self, value: str) -> str:
        """A colour as #RRGGBB or #RRGGBBAA."""


def rgba(colours: Colours, colour: str, opacity: float = 1.0) -> RGBA:
    """A colour, or the name of one of ``colours`` (a kit or a pose), as straight sRGB."""
    red, green, blue, alpha = _from_hex(colours.colour(colour))
    return red, green, blue, alpha * opacity


@lru_cache(maxsize=4096)
def _from_hex(colour: str) -> RGBA:
    digits = colour.lstrip("#")
    red, green, blue = (int(digits[at : at + 2], 16) / 255 for at in (0, 2, 4))
    alpha = int(digits[6:8], 16) / 255 if len(digits) == 8 else 1.0
    return red, green, blue, alpha


class Scene:
    """What a layer is resolved against: the pose, the control's outline, and what lies in front."""

    def __init__(self, pose: Pose, box: AnyOutline, above: list[Any]) -> None:
        self.pose, self.box, self.above = pose, box, above

    def outline(self, part: Any) -> AnyOutline:
        own = getattr(part, "outline", None)
        return self.box if own is None else own_outline(own, self.box)

    def spot(self, at: tuple[float, float]) -> tuple[float, float]:
        return self.box.x + at[0] * self.box.width, self.box.y + at[1] * self.box.height

    def rgba(self, colour: str, opacity: float = 1.0) -> RGBA:
        return rgba(self.pose, colour, opacity)


def paint_of(
    scene: Scene, part: Painted, box: tuple[float, float, float, float], opacity: float
) -> Paint:
    """The colour or gradient of a layer over a box (x, y, width, height) in px."""
    if part.style == "solid":
        return scene.rgba(part.colour, opacity)
    x, y, width, height = box
    stops = tuple((s.position, scene.rgba(s.colour, opacity)) for s in part.stops)
    if part.mixing == "oklab":
        stops = in_oklab(stops)
    cx, cy = x + part.centre[0] * width, y + part.centre[1] * height
    geometry: tuple[float, ...]
    if part.style == "radial":
        geometry = (cx, cy, max(part.reach[0] * width, 1e-3), max(part.reach[1] * height, 1e-3))
    elif part.style == "conic":
        geometry = (cx, cy, part.direction)
    elif part.ends is not None:
        x0, y0, x1, y1 = part.ends
        geometry = (x + x0 * width, y + y0 * height, x + x1 * width, y + y1 * height)
    else:
        geometry = css_line(part.direction, x, y, width, height)
    return Gradient(part.style, stops, geometry, part.spread)
