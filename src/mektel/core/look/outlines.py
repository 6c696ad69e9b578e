"""The document's outlines as shapes: forms in their boxes, joined in turn."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from mektel.core.kit.forms import Area, Join, Outlined, OwnOutline, Placed
from mektel.core.kit.layers import ControlOutline
from mektel.core.shape import (
    AnyOutline,
    FreeOutline,
    Joined,
    form_contours,
    free,
    from_points,
    outline_for,
)

ROUND = ("box", "capsule", "ellipse")


@dataclass(frozen=True)
class Blended:
    """A form on its way from one outline of the document to another: 0 is the first."""

    first: Any
    second: Any
    share: float

    @property
    def depth(self) -> int:
        """How many outlines were caught on their way to another."""
        return 1 + max(form.depth if isinstance(form, Blended) else 0
                       for form in (self.first, self.second))

    def at(self, vector: tuple[float, ...]) -> Blended:
        return replace(self, share=min(1.0, max(0.0, vector[0])))

    def outline(self, of: Callable[[Any], AnyOutline]) -> AnyOutline:
        """Where the distances to both, mixed, are nothing; ``of`` makes a form an outline."""
        first, second = free(of(self.first)), of(self.second)
        if first.grow:
            first = FreeOutline((), 0.0, (Joined("union", 0.0, first),))
        return FreeOutline(
            first.rings, 0.0, (*first.joins, Joined("between", self.share, second)))


def control_outline(
    body: ControlOutline | Blended, width: float, height: float, designed: tuple[float, float],
) -> AnyOutline:
    """The control's outline in its box, offset included.

    With ``fit`` keep it takes the largest box of the designed proportions, in the middle.
    """
    if isinstance(body, Blended):
        return body.outline(lambda form: control_outline(form, width, height, designed))
    across, down, dx, dy = width, height, *body.offset
    if body.fit == "keep":
        share = min(width / designed[0], height / designed[1])
        across, down = designed[0] * share, designed[1] * share
        dx, dy = dx + (width - across) / 2, dy + (height - down) / 2
    return _joined(_form(body, across, down), body.joins, across, down).moved(dx, dy)


def own_outline(own: OwnOutline | Blended, box: AnyOutline) -> AnyOutline:
    """A layer's own outline, placed in the control's."""
    if isinstance(own, Blended):
        return own.outline(lambda form: own_outline(form, box))
    outline = _placed(own, box.width, box.height)
    return _joined(outline, own.joins, box.width, box.height).moved(box.x, box.y)


def own_box(area: Area, box: AnyOutline) -> AnyOutline:
    """A layer's own box, placed in the control's."""
    x, y, across, down = box_of(area, box.width, box.height)
    return outline_for("box", (0, 0, 0, 0), across, down).moved(box.x + x, box.y + y)


def _joined(
    outline: AnyOutline, joins: tuple[Join, ...], width: float, height: float
) -> AnyOutline:
    if not joins:
        return outline
    base = free(outline)
    return FreeOutline(base.rings, base.grow, tuple(
        Joined(join.operation, join.softness, _placed(join, width, height)) for join in joins
    ))


def _placed(form: Placed, width: float, height: float) -> AnyOutline:
    x, y, across, down = box_of(form, width, height)
    return _form(form, across, down).moved(x, y)


def box_of(area: Area, width: float, height: float) -> tuple[float, float, float, float]:
    """x, y, width and height in px: shares of this size plus px, never less than nothing."""
    return (area.x[0] * width + area.x[1], area.y[0] * height + area.y[1],
            max(0.01, area.width[0] * width + area.width[1]),
            max(0.01, area.height[0] * height + area.height[1]))


@lru_cache(maxsize=1024)
def _form(form: Outlined, width: float, height: float) -> AnyOutline:
    if form.form in ROUND:
        return outline_for(form.form, form.corners, width, height, form.vertical_radii)
    return from_points(form_contours(
        form.form, (width, height), radii=form.corners, radii_y=form.vertical_radii,
        power=form.power, points=round(form.points), waist=form.inner_radius,
        rounding=form.rounding, path_data=form.path,
    ))
