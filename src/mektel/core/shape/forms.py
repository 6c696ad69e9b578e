"""The forms as closed polygons within a box: superellipse, polygon, star, cut, notch, path."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from mektel.core.path_data import polylines
from mektel.core.shape.outline import Outline, outline_for

Points = NDArray[np.float64]
AROUND = 256
CORNER = 14


def superellipse(width: float, height: float, power: float) -> Points:
    """|x/a|ⁿ + |y/b|ⁿ = 1 within a box, shape (n, 2): Lamé's curve; power 2 is the ellipse."""
    turn = np.linspace(0, 2 * np.pi, AROUND, endpoint=False)
    cos, sin = np.cos(turn), np.sin(turn)
    share = 2 / max(power, 1e-3)
    x = np.sign(cos) * np.abs(cos) ** share
    y = np.sign(sin) * np.abs(sin) ** share
    return np.stack([(x + 1) * width / 2, (y + 1) * height / 2], axis=1)


def polygon(width: float, height: float, points: int, rounding: float) -> Points:
    """A regular polygon, its first corner at the top, stretched to fill the box."""
    turn = np.arange(points) * 2 * np.pi / points
    return rounded(_filling(np.stack([np.sin(turn), -np.cos(turn)], axis=1), width, height),
                   rounding)


def star(width: float, height: float, points: int, waist: float, rounding: float) -> Points:
    """A star; ``waist`` is the inner corners' distance from the centre, of the outer ones'."""
    turn = np.arange(2 * points) * np.pi / points
    reach = np.where(np.arange(2 * points) % 2 == 0, 1.0, max(waist, 0.02))
    return rounded(
        _filling(np.stack([np.sin(turn) * reach, -np.cos(turn) * reach], axis=1), width, height),
        rounding,
    )


def cut(box: Outline) -> Points:
    """A box whose corners are cut off straight, by its radii."""
    return _with_corners(box, lambda t: (1 - t, t), 1)


def notch(box: Outline) -> Points:
    """A box whose corners are scooped out by quarter ellipses."""
    return _with_corners(
        box, lambda t: (math.cos(t * math.pi / 2), math.sin(t * math.pi / 2)), CORNER
    )


def path(text: str, width: float, height: float) -> list[Points]:
    """SVG path data stretched over the box."""
    lines = [line for line, _ in polylines(text)]
    if not lines:
        return []
    every = np.concatenate(lines)
    low, size = every.min(axis=0), np.maximum(np.ptp(every, axis=0), 1e-9)
    return [(line - low) / size * (width, height) for line in lines]


def rounded_box(box: Outline) -> Points:
    """A rounded box as a polygon: elliptical arcs in steps well below a tenth of a pixel."""
    corners = []
    for at, (rx, ry) in enumerate(zip(box.rx, box.ry, strict=True)):
        sharp = rx <= 0 or ry <= 0
        rx, ry = (0.0, 0.0) if sharp else (rx, ry)
        cx = box.x + (rx if at in (0, 3) else box.width - rx)
        cy = box.y + (ry if at in (0, 1) else box.height - ry)
        if sharp:
            corners.append(np.array([[cx, cy]]))
            continue
        turn = np.pi * (1 + at / 2) + np.linspace(0, np.pi / 2, 4 + 2 * math.ceil(
            math.sqrt(max(rx, ry) * 4)))
        corners.append(np.stack([cx + rx * np.cos(turn), cy + ry * np.sin(turn)], axis=1))
    return np.concatenate(corners)


def rounded(corners: Points, radius: float) -> Points:
    """A polygon with circular fillets, each as large as its edges allow at most."""
    if radius <= 0:
        return corners
    points: list[tuple[float, float]] = []
    count = len(corners)
    for at in range(count):
        before, here, after = corners[at - 1], corners[at], corners[(at + 1) % count]
        back_along, onward = before - here, after - here
        length = min(np.hypot(*back_along), np.hypot(*onward))
        back_along /= np.hypot(*back_along)
        onward /= np.hypot(*onward)
        angle = math.acos(float(np.clip(back_along @ onward, -1, 1)))
        if angle < 1e-3 or angle > math.pi - 1e-3:
            points.append((float(here[0]), float(here[1])))
            continue
        back = min(radius / math.tan(angle / 2), length / 2)
        start, end = here + back_along * back, here + onward * back
        reach = back * math.tan(angle / 2)
        between = back_along + onward
        centre = here + between / np.hypot(*between) * math.hypot(back, reach)
        first = math.atan2(start[1] - centre[1], start[0] - centre[0])
        sweep = math.atan2(end[1] - centre[1], end[0] - centre[0]) - first
        sweep = (sweep + math.pi) % (2 * math.pi) - math.pi
        for step in range(CORNER + 1):
            turn = first + sweep * step / CORNER
            points.append((centre[0] + reach * math.cos(turn), centre[1] + reach * math.sin(turn)))
    return np.array(points)


def _filling(points: Points, width: float, height: float) -> Points:
    low, size = points.min(axis=0), np.ptp(points, axis=0)
    return np.asarray((points - low) / size * (width, height))


def _with_corners(box: Outline, bend: object, steps: int) -> Points:
    """Walks the box clockwise; ``bend(t)`` is (share across, share down) from its corner."""
    corners = []
    right, bottom = box.x + box.width, box.y + box.height
    places = [(box.x, box.y, 1, 1), (right, box.y, -1, 1), (right, bottom, -1, -1),
              (box.x, bottom, 1, -1)]
    for at, (x, y, across, down) in enumerate(places):
        rx, ry = box.rx[at], box.ry[at]
        spots = [bend(step / steps) for step in range(steps + 1)]  # type: ignore[operator]
        # From the vertical side to the horizontal one, or back, so that the walk is clockwise.
        spots = [(b, a) for a, b in spots] if at in (0, 2) else spots
        corners += [(x + across * rx * a, y + down * ry * b) for a, b in spots]
    return np.array(corners)


def form_contours(
    form: str, box: tuple[float, float], *, radii: tuple[float, ...],
    radii_y: tuple[float, ...] | None, power: float, points: int, waist: float, rounding: float,
    path_data: str,
) -> list[Points]:
    """Closed polygons of a form in a box (width, height) at the origin."""
    width, height = box
    if form == "superellipse":
        return [superellipse(width, height, power)]
    if form == "polygon":
        return [polygon(width, height, points, rounding)]
    if form == "star":
        return [star(width, height, points, waist, rounding)]
    if form == "path":
        return path(path_data, width, height)
    frame = outline_for("box", (*radii[:4],), width, height, radii_y)  # type: ignore[arg-type]
    return [cut(frame) if form == "cut" else notch(frame)]
