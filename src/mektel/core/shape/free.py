"""Any outline: closed polygons, grown or shrunk by distance, and joined to others.

Growing and joining work on signed distances, so that they hold for every form: a union is the
smaller distance, an intersection the greater one, a difference the greater of one and the other's
opposite. A smooth union is the polynomial smooth minimum, which melts what lies nearer than
``softness``. What is ``between`` two outlines lies where both distances, mixed, are nothing; its
``softness`` is the share of the second.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mektel.core.remember import within_bytes
from mektel.core.shape.distance import signed_distance
from mektel.core.shape.forms import rounded_box
from mektel.core.shape.outline import Outline
from mektel.core.shape.polygon import polygon_coverage

# Pixels, each way, that one distance may answer for.
CELL = 4
# Edges up to which looking at each is quicker than a search tree.
FEW_EDGES = 48
# Rows times edges looked at together, so that memory stays small.
MOST_CROSSINGS = 4_000_000
# Points at which an outline's distance is asked for when its edge is traced.
MOST_TRACED = 1_500_000

Floats = NDArray[np.float32]
Contour = tuple[tuple[float, float], ...]
# The corners of a closed polygon, as the bytes of a float64 array (n, 2): quick to hash and small.
Ring = bytes


@dataclass(frozen=True)
class Joined:
    operation: str
    softness: float
    other: Outline | FreeOutline


@dataclass(frozen=True)
class FreeOutline:
    """Closed polygons in px (non-zero filling), then joins in turn, then grown by ``grow`` px."""

    rings: tuple[Ring, ...]
    grow: float = 0.0
    joins: tuple[Joined, ...] = ()

    def arrays(self) -> list[NDArray[np.float64]]:
        """The polygons, each of shape (n, 2)."""
        return [np.frombuffer(ring).reshape(-1, 2) for ring in self.rings]

    def moved(self, dx: float, dy: float) -> FreeOutline:
        if not dx and not dy:
            return self
        # Rounded: what is moved there and back is the same outline again (and -0 is 0).
        rings = tuple((np.round(np.add(ring, (dx, dy)), 9) + 0.0).tobytes()
                      for ring in self.arrays())
        joins = tuple(replace(j, other=j.other.moved(dx, dy)) for j in self.joins)
        return FreeOutline(rings, self.grow, joins)

    def scaled(self, scale: float) -> FreeOutline:
        rings = tuple((ring * scale).tobytes() for ring in self.arrays())
        joins = tuple(
            Joined(j.operation, j.softness if j.operation == "between" else j.softness * scale,
                   j.other.scaled(scale)) for j in self.joins
        )
        return FreeOutline(rings, self.grow * scale, joins)

    def grown(self, by: float) -> FreeOutline:
        return replace(self, grow=self.grow + by) if by else self

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, top, right, bottom; all 0 for an empty outline."""
        return _bounds(self)

    @property
    def x(self) -> float:
        return self.bounds[0]

    @property
    def y(self) -> float:
        return self.bounds[1]

    @property
    def width(self) -> float:
        return max(0.0, self.bounds[2] - self.bounds[0])

    @property
    def height(self) -> float:
        return max(0.0, self.bounds[3] - self.bounds[1])

    def contains(self, x: float, y: float) -> bool:
        if not self.grow and not self.joins:
            starts, ends = _edges(self.arrays())
            return bool(_inside(starts, ends, np.array([x]), np.array([y]))[0])
        return bool(distance_at(self, np.array([x]), np.array([y]))[0] <= 0)


AnyOutline = Outline | FreeOutline


def free(outline: AnyOutline) -> FreeOutline:
    """Any outline in its general form."""
    if isinstance(outline, FreeOutline):
        return outline
    if outline.width <= 0 or outline.height <= 0:
        return FreeOutline(())
    return from_points([rounded_box(outline)])


def from_points(contours: list[NDArray[np.float64]]) -> FreeOutline:
    return FreeOutline(tuple(np.asarray(ring, np.float64).tobytes() for ring in contours))


def _edges(
    contours: list[NDArray[np.float64]]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Where each edge of closed polygons starts and ends."""
    if not contours:
        return np.zeros((0, 2)), np.zeros((0, 2))
    return (np.concatenate(contours),
            np.concatenate([np.roll(ring, -1, axis=0) for ring in contours]))


@lru_cache(maxsize=1024)
def _bounds(outline: FreeOutline) -> tuple[float, float, float, float]:
    grow = outline.grow
    boxes = []
    if outline.rings:
        every = np.concatenate(outline.arrays())
        (x0, y0), (x1, y1) = every.min(axis=0), every.max(axis=0)
        boxes.append((x0, y0, x1, y1))
    for join in outline.joins:
        other = join.other
        box = (other.x, other.y, other.x + other.width, other.y + other.height)
        if join.operation in ("union", "smooth", "between"):
            more = join.softness / 4 if join.operation == "smooth" else 0.0
            boxes.append((box[0] - more, box[1] - more, box[2] + more, box[3] + more))
    if not boxes:
        return 0.0, 0.0, 0.0, 0.0
    low, high = np.array(boxes)[:, :2].min(axis=0), np.array(boxes)[:, 2:].max(axis=0)
    return (float(low[0] - grow), float(low[1] - grow),
            float(high[0] + grow), float(high[1] + grow))


def distance_at(
    outline: AnyOutline, x: NDArray[np.float64], y: NDArray[np.float64], reach: float = np.inf
) -> NDArray[np.float64]:
    """Signed distance in px at points of shape (n,): negative inside.

    Beyond ``reach`` from the edge only the sign and that it is farther are right.
    """
    if isinstance(outline, Outline):
        return signed_distance(outline, x, y)
    # What melts must be known farther out: as far as it melts.
    reach += abs(outline.grow) + max((j.softness for j in outline.joins), default=0.0)
    if any(join.operation == "between" for join in outline.joins):
        reach = np.inf
    distance = _polygon_distance(outline.arrays(), x, y, reach)
    for join in outline.joins:
        other = distance_at(join.other, x, y, reach)
        if join.operation == "union":
            distance = np.minimum(distance, other)
        elif join.operation == "intersection":
            distance = np.maximum(distance, other)
        elif join.operation == "difference":
            distance = np.maximum(distance, -other)
        elif join.operation == "between":
            distance = distance * (1 - join.softness) + other * join.softness
        else:
            distance = smooth_minimum(distance, other, join.softness)
    return distance - outline.grow


def smooth_minimum(
    first: NDArray[np.float64], second: NDArray[np.float64], softness: float
) -> NDArray[np.float64]:
    """The quadratic polynomial smooth minimum; equals the minimum where they differ by more."""
    if softness <= 0:
        return np.minimum(first, second)
    share = np.clip(0.5 + 0.5 * (second - first) / softness, 0, 1)
    return np.asarray(second + (first - second) * share - softness * share * (1 - share))


def _polygon_distance(
    contours: list[NDArray[np.float64]], x: NDArray[np.float64], y: NDArray[np.float64],
    reach: float,
) -> NDArray[np.float64]:
    """Distance to closed polygons: the nearest of points set along them, then its two edges."""
    if not contours:
        return np.full(len(x), 1e9)
    starts, ends = _edges(contours)
    measure = _to_each if len(starts) <= FEW_EDGES else _to_nearest
    distance = measure(starts, ends - starts, x, y, reach)
    return np.where(_inside(starts, ends, x, y), -distance, distance)


def _to_each(
    starts: NDArray[np.float64], edges: NDArray[np.float64], x: NDArray[np.float64],
    y: NDArray[np.float64], _reach: float,
) -> NDArray[np.float64]:
    """Distance to the nearest of a few edges, by looking at each."""
    best = np.full(len(x), np.inf)
    for (x0, y0), (ex, ey) in zip(starts.tolist(), edges.tolist(), strict=True):
        dx, dy = x - x0, y - y0
        share = np.clip((dx * ex + dy * ey) / max(ex * ex + ey * ey, 1e-12), 0, 1)
        dx -= share * ex
        dy -= share * ey
        np.minimum(best, dx * dx + dy * dy, out=best)
    return np.sqrt(best)


def _to_nearest(
    starts: NDArray[np.float64], edges: NDArray[np.float64], x: NDArray[np.float64],
    y: NDArray[np.float64], reach: float,
) -> NDArray[np.float64]:
    """Distance to many edges within ``reach``, by way of points set along them."""
    from scipy.spatial import cKDTree

    lengths = np.hypot(edges[:, 0], edges[:, 1])
    counts = np.maximum(1, np.ceil(lengths / 0.75)).astype(int)
    owner = np.repeat(np.arange(len(starts)), counts)
    step = np.arange(len(owner)) - np.repeat(np.cumsum(counts) - counts, counts)
    set_points = starts[owner] + edges[owner] * ((step + 0.5) / counts[owner])[:, None]
    spots = np.stack([x, y], axis=1)
    tree = cKDTree(set_points)
    limit = np.inf if not np.isfinite(reach) else reach + 1.5
    rough, nearest = tree.query(spots, distance_upper_bound=limit)
    distance = np.full(len(x), 1e9)
    near = np.isfinite(rough)
    best = np.full(int(near.sum()), np.inf)
    for shift in (-1, 0, 1):
        edge = owner[np.clip(nearest[near] + shift * 1, 0, len(owner) - 1)]
        along = ((spots[near] - starts[edge]) * edges[edge]).sum(axis=1)
        share = np.clip(along / np.maximum(lengths[edge] ** 2, 1e-12), 0, 1)
        foot = starts[edge] + edges[edge] * share[:, None]
        best = np.minimum(best, np.hypot(*(spots[near] - foot).T))
    distance[near] = best
    return distance


def _inside(
    starts: NDArray[np.float64], ends: NDArray[np.float64], x: NDArray[np.float64],
    y: NDArray[np.float64],
) -> NDArray[np.bool_]:
    """Winding number ≠ 0: crossings of every row of equal y, counted from the left."""
    rows, where = np.unique(y, return_inverse=True)
    at_once = max(1, MOST_CROSSINGS // len(starts))
    if len(rows) > at_once:
        inside = np.zeros(len(x), bool)
        for first in range(0, len(rows), at_once):
            mine = (where >= first) & (where < first + at_once)
            inside[mine] = _inside(starts, ends, x[mine], y[mine])
        return inside
    above = starts[:, 1] <= rows[:, None]
    row, edge = np.nonzero(above != (ends[:, 1] <= rows[:, None]))
    start, end = starts[edge], ends[edge]
    crossing = start[:, 0] + (rows[row] - start[:, 1]) / (end[:, 1] - start[:, 1]) * (
        end[:, 0] - start[:, 0])
    # One number that grows from row to row and, within a row, to the right.
    left, wide = starts[:, 0].min() - 1, np.ptp(starts[:, 0]) + 2
    along = row + (crossing - left) / wide
    order = np.argsort(along)
    # Closed lines cross a row as often up as down: each row begins at nothing again.
    turns = np.where(end[order, 1] > start[order, 1], 1, -1)
    winding = np.concatenate([[0], np.cumsum(turns)])
    spots = where + np.clip((x - left) / wide, 0, 1 - 1e-9)
    return np.asarray(winding[np.searchsorted(along[order], spots, side="right")] != 0)


def free_coverage(outline: FreeOutline, width: int, height: int) -> Floats:
    """Share of each pixel covered, shape ``(height, width)``.

    Plain polygons are exact areas, and so is a grown one; several grown or joined ones are looked
    at in four quarters of each pixel near the edge.
    """
    if not outline.grow and not outline.joins:
        return polygon_coverage(outline.arrays(), width, height)
    if not outline.joins and len(outline.rings) == 1:
        grown = _offset(outline)
        if grown is not None:
            return polygon_coverage(grown, width, height)
    cover, at = _sides(outline, width, height)
    x = (at % width).astype(np.float64) + 0.5
    y = (at // width).astype(np.float64) + 0.5
    distance = distance_at(outline, x, y, 2.0)
    cover[at] = distance < 0
    near = np.abs(distance) < 1.2
    share = np.zeros(int(near.sum()))
    for dx in (-0.25, 0.25):
        for dy in (-0.25, 0.25):
            part = distance_at(outline, x[near] + dx, y[near] + dy, 2.0)
            share += np.clip(0.5 - 2 * part, 0, 1)
    cover[at[near]] = share / 4
    return cover.reshape(height, width)


@lru_cache(maxsize=256)
def _offset(outline: FreeOutline) -> list[NDArray[np.float64]] | None:
    """The contours of one grown polygon; None for one that crosses itself."""
    import shapely

    (ring,) = outline.arrays()
    shape = shapely.Polygon(ring) if len(ring) > 2 else None
    if shape is None or not shape.is_valid or shape.area <= 0:
        return None
    # Arcs in lines that lie no more than a fiftieth of a pixel inside them.
    turn = 2 * math.acos(max(0.0, 1 - 0.02 / max(abs(outline.grow), 0.02)))
    grown = shape.buffer(outline.grow, quad_segs=max(2, math.ceil(math.pi / 2 / max(turn, 0.02))))
    faces = [shapely.geometry.polygon.orient(face) for face in getattr(grown, "geoms", [grown])]
    return [np.array(line.coords)[:-1] for face in faces if not face.is_empty
            for line in (face.exterior, *face.interiors)]


def _sides(outline: FreeOutline, width: int, height: int) -> tuple[Floats, NDArray[np.intp]]:
    """Flat cover, 0 or 1, of what lies clear of the edge, and the pixels still in question."""
    rough, at = _near_edge(outline, np.arange(0.5, width), np.arange(0.5, height), 1.2)
    return (rough < 0).astype(np.float32), at


def _near_edge(
    outline: AnyOutline, across: NDArray[np.float64], down: NDArray[np.float64], margin: float
) -> tuple[NDArray[np.float64], NDArray[np.intp]]:
    """Flat distances on an even grid that are right in sign, and the points that may lie within
    ``margin`` px of the edge.

    Distances change by no more than the way gone, or what lies beyond two outlines by so much more:
    the middle of a cell of points answers for every one of them, unless the edge is near.
    """
    step = across[1] - across[0] if len(across) > 1 else 1.0
    middle = (CELL - 1) / 2 * step
    clear = (middle * math.sqrt(2) + margin) * _steepness(outline)
    columns, rows = np.meshgrid(across[::CELL] + middle, down[::CELL] + middle)
    distance = distance_at(outline, columns.ravel(), rows.ravel(), clear + 0.3)

    def whole(cells: NDArray[Any]) -> NDArray[Any]:
        cells = cells.reshape(rows.shape).repeat(CELL, 0).repeat(CELL, 1)
        return cells[: len(down), : len(across)].ravel()

    return whole(distance), np.flatnonzero(whole(np.abs(distance) < clear))


def _steepness(outline: AnyOutline) -> float:
    """How much a distance can change at most for each px gone."""
    most = 1.0
    for join in outline.joins if isinstance(outline, FreeOutline) else ():
        other = _steepness(join.other)
        if join.operation == "between":
            most = abs(1 - join.softness) * most + abs(join.softness) * other
        most = max(most, other)
    return most


def distance_field(
    outline: AnyOutline, width: int, height: int, reach: float = np.inf
) -> NDArray[np.float64]:
    """Signed distance at every pixel's middle, (height, width); right within ``reach``."""
    rows, columns = np.mgrid[0:height, 0:width]
    distance = distance_at(outline, columns.ravel() + 0.5, rows.ravel() + 0.5, reach)
    return distance.reshape(height, width)


# Cells from an edge within which its distance must be right for it to be traced.
NEAR_EDGE = 1.5


# A point of two floats in tuples takes some 160 bytes.
@within_bytes(16 * 2**20, lambda contours: 160 * sum(map(len, contours)) + 1)
def polygons(outline: AnyOutline) -> tuple[Contour, ...]:
    """The edge of any outline as closed polygons in px: traced where it was grown or joined."""
    whole = free(outline)
    if not whole.grow and not whole.joins:
        return tuple(tuple((x, y) for x, y in ring.tolist()) for ring in whole.arrays())
    from contourpy import contour_generator

    x0, y0, x1, y1 = whole.bounds
    if x1 <= x0 or y1 <= y0:
        return ()
    fine = min(4.0, math.sqrt(MOST_TRACED / ((x1 - x0 + 2) * (y1 - y0 + 2))))
    across = np.arange(np.floor((x0 - 1) * fine), np.ceil((x1 + 1) * fine) + 1) / fine
    down = np.arange(np.floor((y0 - 1) * fine), np.ceil((y1 + 1) * fine) + 1) / fine
    # Only cells that the edge crosses matter: how far away the others are need not be known.
    field, at = _near_edge(whole, across, down, NEAR_EDGE / fine)
    field[at] = distance_at(
        whole, across[at % len(across)], down[at // len(across)], NEAR_EDGE / fine)
    field = field.reshape(len(down), len(across))
    lines = contour_generator(across, down, field).lines(0.0)
    thin = [thinned(np.asarray(line, float))[:-1] for line in lines]
    return tuple(tuple((float(x), float(y)) for x, y in line) for line in thin)


def thinned(line: NDArray[np.float64], most: float = 0.02) -> NDArray[np.float64]:
    """A polyline without the points that lie within ``most`` px of it (Ramer–Douglas–Peucker)."""
    keep = np.zeros(len(line), bool)
    keep[0] = keep[-1] = True
    # All pieces of one depth at once: chord by chord would take three times as long.
    first, last = np.array([0]), np.array([len(line) - 1])
    while True:
        longer = last - first > 1
        first, last = first[longer], last[longer]
        if not len(first):
            break
        counts = last - first - 1
        begins = np.cumsum(counts) - counts
        piece = np.repeat(np.arange(len(first)), counts)
        at = np.arange(len(piece)) + (first + 1 - begins)[piece]
        chords, inner = line[last] - line[first], line[at] - line[first[piece]]
        lengths, across = np.hypot(*chords.T)[piece], chords[piece]
        away = np.hypot(*inner.T)  # of a chord without length
        np.divide(np.abs(inner[:, 0] * across[:, 1] - inner[:, 1] * across[:, 0]), lengths,
                  out=away, where=lengths > 1e-9)
        farthest = np.maximum.reduceat(away, begins)
        peaks = np.flatnonzero(away == farthest[piece])
        peaks = peaks[np.unique(piece[peaks], return_index=True)[1]][farthest > most]
        keep[at[peaks]] = True
        first, last = (np.append(first[piece[peaks]], at[peaks]),
                       np.append(at[peaks], last[piece[peaks]]))
    return line[keep]
