"""The outline every form comes down to: a box with an elliptical radius pair per corner."""

from __future__ import annotations

from dataclasses import dataclass, replace

Four = tuple[float, float, float, float]


@dataclass(frozen=True)
class Outline:
    """A rounded box in px. Corners run clockwise from the top left, as in CSS.

    A rounded box, a capsule and an ellipse are all of this form, so that one distance field,
    one blur and one way of growing serve them all.
    """

    x: float
    y: float
    width: float
    height: float
    rx: Four
    ry: Four

    def moved(self, dx: float, dy: float) -> Outline:
        return replace(self, x=self.x + dx, y=self.y + dy) if dx or dy else self

    def scaled(self, scale: float) -> Outline:
        rx, ry = _times(self.rx, scale), _times(self.ry, scale)
        return Outline(
            self.x * scale, self.y * scale, self.width * scale, self.height * scale, rx, ry
        )

    def grown(self, by: float) -> Outline:
        """Larger by ``by`` px on every side, or smaller if negative.

        Radii follow CSS Backgrounds and Borders 3: growing as for a shadow's spread (a sharp
        corner stays sharp, a corner rounder than the spread grows by all of it), shrinking as
        for the inner edge of a border. Never smaller than nothing.
        """
        if by == 0:
            return self
        width, height = max(0.0, self.width + 2 * by), max(0.0, self.height + 2 * by)
        x = self.x + (self.width - width) / 2
        y = self.y + (self.height - height) / 2
        rx, ry = zip(*(_grown_corner(a, b, by) for a, b in zip(self.rx, self.ry, strict=True)),
                     strict=True)
        return _fitted(x, y, width, height, rx, ry)

    def contains(self, x: float, y: float) -> bool:
        """Whether a point lies inside, edge included: the test behind every press."""
        dx, dy = x - self.x, y - self.y
        if not (0 <= dx <= self.width and 0 <= dy <= self.height):
            return False
        for at, (rx, ry) in enumerate(zip(self.rx, self.ry, strict=True)):
            from_side = dx if at in (0, 3) else self.width - dx
            from_top = dy if at in (0, 1) else self.height - dy
            if from_side < rx and from_top < ry:
                return ((rx - from_side) / rx) ** 2 + ((ry - from_top) / ry) ** 2 <= 1
        return True


def outline_for(
    form: str, radii: Four, width: float, height: float, radii_y: Four | None = None
) -> Outline:
    """A rounded box, capsule or ellipse at the origin, within ``width`` × ``height`` px.

    >>> outline_for("capsule", (0, 0, 0, 0), 160, 48).rx
    (24.0, 24.0, 24.0, 24.0)
    """
    if form == "capsule":
        r = min(width, height) / 2
        rx = ry = (r, r, r, r)
    elif form == "ellipse":
        rx, ry = (width / 2,) * 4, (height / 2,) * 4
    else:
        rx, ry = radii, radii_y or radii
    return _fitted(0.0, 0.0, width, height, rx, ry)


def _times(values: Four, scale: float) -> Four:
    a, b, c, d = values
    return a * scale, b * scale, c * scale, d * scale


def _grown_corner(rx: float, ry: float, by: float) -> tuple[float, float]:
    if rx <= 0 or ry <= 0:
        return 0.0, 0.0
    if by < 0:
        rx, ry = rx + by, ry + by
        return (rx, ry) if rx > 0 and ry > 0 else (0.0, 0.0)
    return rx + by * _spread_share(rx, by), ry + by * _spread_share(ry, by)


def _spread_share(radius: float, spread: float) -> float:
    return 1.0 if radius >= spread else 1 + (radius / spread - 1) ** 3


def _fitted(
    x: float, y: float, width: float, height: float, rx: tuple[float, ...], ry: tuple[float, ...]
) -> Outline:
    """Radii that overlap are all scaled down by one factor (CSS Backgrounds 3, 4.5)."""
    factor = 1.0
    for length, first, second in (
        (width, rx[0], rx[1]), (width, rx[3], rx[2]),
        (height, ry[0], ry[3]), (height, ry[1], ry[2]),
    ):
        if first + second > length:
            factor = min(factor, length / (first + second))
    a = (rx[0], rx[1], rx[2], rx[3])
    b = (ry[0], ry[1], ry[2], ry[3])
    return Outline(x, y, width, height, _times(a, factor), _times(b, factor))
