"""What shapes cover, as paths and as polygons: filled, stroked, dashed, clipped.

Shapely (GEOS) unites, cuts and buffers polygons; curves stay curves where nothing is cut.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LinearRing, LineString, MultiPolygon, Point, Polygon
from shapely.geometry.polygon import orient
from svgelements import Matrix

from mektel.core.path_data import Command, path_commands
from mektel.formats.svg.drawing import Node
from mektel.formats.svg.shapes import NotAShapeError, number, to_number

Points = NDArray[np.float64]
# A polyline and whether it is closed.
Course = tuple[Points, bool]
# Curves are written in pieces of at most this many px; a curve of a px is drawn by this many
# chords, a longer one by more as its square root grows, so that none is off by 0.01 px.
LONGEST_PIECE, CHORDS = 40.0, 5.0
MOST_PIECES, MOST_DASHES, MOST_POINTS, MOST_CROSSINGS = 4000, 1500, 60_000, 600_000
LONGEST_TEXT = 20_000
# Turns below this (rad) come from chords of a curve, not from corners.
SMOOTH = 0.2
# How far a polygon may be simplified, in px, until its text is short enough.
SIMPLER = (0.003, 0.01, 0.03, 0.08, 0.2)


def path_of(node: Node) -> str:
    """The path data of any basic shape, in its own units; empty where it draws nothing."""
    if node.tag == "path":
        return node.get("d")
    if node.tag == "rect":
        return _rect(node)
    if node.tag in ("circle", "ellipse"):
        rx = number(node, "r") if node.tag == "circle" else number(node, "rx")
        ry = number(node, "r") if node.tag == "circle" else number(node, "ry", rx)
        rx = rx if node.get("rx") or node.tag == "circle" else ry
        if rx <= 0 or ry <= 0:
            return ""
        x, y = number(node, "cx"), number(node, "cy")
        return (f"M{x + rx} {y}A{rx} {ry} 0 0 1 {x} {y + ry}A{rx} {ry} 0 0 1 {x - rx} {y}"
                f"A{rx} {ry} 0 0 1 {x} {y - ry}A{rx} {ry} 0 0 1 {x + rx} {y}Z")
    if node.tag == "line":
        return (f"M{number(node, 'x1')} {number(node, 'y1')}"
                f"L{number(node, 'x2')} {number(node, 'y2')}")
    spots = node.get("points").replace(",", " ").split()
    spots = spots[: len(spots) // 2 * 2]
    if len(spots) < 4:
        return ""
    return f"M{' '.join(spots)}" + ("Z" if node.tag == "polygon" else "")


def _rect(node: Node) -> str:
    x, y, width, height = (number(node, name) for name in ("x", "y", "width", "height"))
    if width <= 0 or height <= 0:
        return ""
    rx, ry = number(node, "rx", -1), number(node, "ry", -1)
    rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
    rx, ry = min(max(rx, 0), width / 2), min(max(ry, 0), height / 2)
    if rx <= 0 or ry <= 0:
        return f"M{x} {y}h{width}v{height}h{-width}Z"
    across, down = width - 2 * rx, height - 2 * ry
    return (f"M{x + rx} {y}h{across}a{rx} {ry} 0 0 1 {rx} {ry}v{down}a{rx} {ry} 0 0 1 {-rx} {ry}"
            f"h{-across}a{rx} {ry} 0 0 1 {-rx} {-ry}v{-down}a{rx} {ry} 0 0 1 {rx} {-ry}Z")


def commands_of(node: Node) -> tuple[Command, ...]:
    """A shape's path as absolute commands. Raises :class:`NotAShapeError`."""
    text = path_of(node)
    if not text.strip():
        return ()
    try:
        commands = path_commands(text)
    except Exception:
        raise NotAShapeError("its path data cannot be read") from None
    spots = [spot for command in commands for spot in command[1:]]
    if not all(math.isfinite(value) and abs(value) < 1e6 for spot in spots for value in spot):
        raise NotAShapeError("its path leads too far away")
    if len(commands) > MOST_PIECES:
        raise NotAShapeError(f"its path has more than {MOST_PIECES} pieces")
    return commands


def placed(commands: Iterable[Command], matrix: Matrix) -> list[Command]:
    """The same path moved by a matrix, with long curves cut into pieces."""
    made: list[Command] = []
    here, start = np.zeros(2), np.zeros(2)
    for command in commands:
        spots = [_moved(spot, matrix) for spot in command[1:]]
        if command[0] == "C":
            curve = np.array([here, *spots])
            length = np.hypot(*np.diff(curve, axis=0).T).sum()
            count = min(64, max(1, math.ceil(length / LONGEST_PIECE)))
            made += [("C", *part[1:]) for part in _cut(curve, count)]
        else:
            made.append((command[0], *spots))
        here = start if command[0] == "Z" else spots[-1]
        start = spots[0] if command[0] == "M" else start
    return made


def _moved(spot: Sequence[float], matrix: Matrix) -> Points:
    x, y = spot
    return np.array([float(matrix.a * x + matrix.c * y + matrix.e),
                     float(matrix.b * x + matrix.d * y + matrix.f)])


def _cut(curve: Points, count: int) -> list[Points]:
    """A cubic Bézier curve (4, 2) in ``count`` pieces, by de Casteljau's construction."""
    parts = []
    for left in range(count, 1, -1):
        share = 1 / left
        ab, bc, cd = (curve[at] + (curve[at + 1] - curve[at]) * share for at in range(3))
        abc, bcd = ab + (bc - ab) * share, bc + (cd - bc) * share
        middle = abc + (bcd - abc) * share
        parts.append(np.array([curve[0], ab, abc, middle]))
        curve = np.array([middle, bcd, cd, curve[3]])
    return [*parts, curve]


def text_of(commands: Iterable[Command]) -> str:
    """Path data, to a thousandth of a px."""
    return " ".join(
        command[0] + " ".join(f"{x:.3f} {y:.3f}" for x, y in command[1:])
        for command in commands)


def courses(commands: Iterable[Command], scale: float = 1.0) -> list[Course]:
    """Polylines along the curves, where a unit is ``scale`` px."""
    lines: list[Course] = []
    current: list[Points] = []
    count = 0

    def end(closed: bool) -> None:
        if current and (len(current) > 1 or closed):
            lines.append((np.array(current), closed))

    for command in commands:
        kind, spots = command[0], [np.asarray(spot, float) for spot in command[1:]]
        if kind == "M":
            end(False)
            current = [spots[0]]
        elif kind == "Z":
            end(True)
            current = current[:1]
        elif kind == "L":
            current.append(spots[0])
        else:
            curve = np.array([current[-1], *spots])
            length = np.hypot(*np.diff(curve, axis=0).T).sum() * scale
            steps = min(128, max(8, math.ceil(CHORDS * math.sqrt(length))))
            t = np.linspace(0, 1, steps + 1)[1:, None]
            a, b, c, d = curve
            current += list(a * (1 - t) ** 3 + b * 3 * t * (1 - t) ** 2 + c * 3 * t * t * (1 - t)
                            + d * t**3)
        count += len(spots)
    end(False)
    if sum(len(points) for points, _ in lines) > MOST_POINTS:
        raise NotAShapeError(f"its path has more than {MOST_POINTS} points")
    return lines


def filled(lines: Sequence[Course], even_odd: bool = False) -> Any:
    """The polygons that closed polylines fill by the non-zero or the even-odd rule."""
    rings = [points for points, _ in lines if len(points) >= 3 and np.ptp(points, axis=0).all()]
    if not rings:
        return MultiPolygon()
    if len(rings) == 1:
        whole = Polygon(rings[0])
        if whole.is_valid:
            return whole
    _check_crossings([np.vstack([ring, ring[:1]]) for ring in rings])
    faces = list(shapely.polygonize([shapely.unary_union(
        [LinearRing(ring) for ring in rings])]).geoms)
    kept = []
    for face in faces:
        at = face.representative_point()
        winding = sum(_winding(ring, at.x, at.y) for ring in rings)
        if winding % 2 if even_odd else winding:
            kept.append(face)
    return shapely.unary_union(kept)


def nested(commands: Sequence[Command], cover: Any) -> list[Command] | None:
    """The same path for the non-zero rule, its parts turned by how deep they lie in each other.

    None where parts cross, so that only polygons can say what is covered.
    """
    parts: list[list[Command]] = []
    for command in commands:
        if command[0] == "M":
            parts.append([])
        if not parts:
            return None
        parts[-1].append(command)
    rings = [Polygon(courses(part)[0][0]) for part in parts if len(courses(part)[0][0]) > 2]
    if len(rings) != len(parts) or not all(ring.is_valid for ring in rings) or len(rings) > 200:
        return None
    made: list[Command] = []
    whole = 0.0
    for at, (part, ring) in enumerate(zip(parts, rings, strict=True)):
        depth = sum(other.contains(ring) for index, other in enumerate(rings) if index != at)
        clockwise = not ring.exterior.is_ccw
        whole += ring.area * (-1 if depth % 2 else 1)
        made += part if clockwise == (depth % 2 == 0) else _reversed(part)
    return made if abs(whole - cover.area) < 1e-3 * max(1.0, cover.area) else None


def _reversed(part: list[Command]) -> list[Command]:
    spots = [command[-1] for command in part if command[0] != "Z"]
    made: list[Command] = [("M", spots[-1])]
    for at in range(len(spots) - 1, 0, -1):
        command = part[at]
        made.append(("C", command[2], command[1], spots[at - 1]) if command[0] == "C"
                    else ("L", spots[at - 1]))
    return [*made, ("Z",)]


def bounds_of(lines: Sequence[Course]) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of polylines; all 0 where there are none."""
    if not lines:
        return 0.0, 0.0, 0.0, 0.0
    every = np.concatenate([points for points, _ in lines])
    (x0, y0), (x1, y1) = every.min(axis=0), every.max(axis=0)
    return float(x0), float(y0), float(x1), float(y1)


def _check_crossings(lines: Sequence[Points]) -> None:
    """Raises :class:`NotAShapeError` where so many edges lie across each other that it takes long.

    How many is estimated from some edges that are spread over all.
    """
    edges = np.concatenate([np.stack([line[:-1], line[1:]], axis=1) for line in lines])
    low, high = edges.min(axis=1), edges.max(axis=1)
    chosen = np.linspace(0, len(edges) - 1, min(len(edges), 200)).astype(int)
    met = [np.count_nonzero((low <= high[at]).all(axis=1) & (high >= low[at]).all(axis=1))
           for at in chosen]
    if np.mean(met) * len(edges) > MOST_CROSSINGS:
        raise NotAShapeError("its path lies across itself too often")


def _winding(ring: Points, x: float, y: float) -> int:
    """How often a closed polyline goes round a point."""
    start, end = ring, np.roll(ring, -1, axis=0)
    side = ((end[:, 0] - start[:, 0]) * (y - start[:, 1])
            - (x - start[:, 0]) * (end[:, 1] - start[:, 1]))
    up = (start[:, 1] <= y) & (end[:, 1] > y) & (side > 0)
    down = (start[:, 1] > y) & (end[:, 1] <= y) & (side < 0)
    return int(up.sum()) - int(down.sum())


def polygons(area: Any) -> list[Polygon]:
    """The polygons in whatever an operation gave."""
    if area.is_empty:
        return []
    if isinstance(area, Polygon):
        return [area]
    return [part for part in getattr(area, "geoms", ()) for part in polygons(part)]


def text_of_area(area: Any) -> str:
    """Path data of polygons, outer rings one way and holes the other.

    Raises :class:`NotAShapeError` if even a simpler form has too many points for a layer.
    """
    for tolerance in SIMPLER:
        text = ""
        for polygon in polygons(area.simplify(tolerance)):
            turned = orient(polygon)
            for ring in (turned.exterior, *turned.interiors):
                points = np.asarray(ring.coords)[:-1]
                text += "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in points) + "Z"
        if len(text) <= LONGEST_TEXT and text.count("L") < MOST_PIECES:
            return text
    raise NotAShapeError("its edge has more points than a layer can have")


def stroked(node: Node, lines: Sequence[Course], width: float, scale: float) -> Any:
    """What a stroke of ``width`` units covers, in the units of its lines (SVG 2, ch. 13.4)."""
    dashes = _dashes(node)
    if dashes:
        lines = _dashed(lines, dashes, number_of(node, "stroke-dashoffset"))
    cap = {"round": "round", "square": "square"}.get(node.inherited("stroke-linecap"), "flat")
    join = node.inherited("stroke-linejoin", "miter")
    segments = int(np.clip(math.ceil(math.sqrt(width * scale) * 6), 10, 64))
    parts = []
    limit = number_of(node, "stroke-miterlimit", 4.0)
    _check_crossings([points for points, _ in lines])
    for points, closed in lines:
        keep = np.concatenate([[True], np.abs(np.diff(points, axis=0)).sum(axis=1) > 1e-9])
        if closed and np.allclose(points[0], points[-1]):
            keep[-1] = len(points) == 1
        line = points[keep]
        if len(line) < 2:
            if cap != "flat":
                parts.append(Point(points[0]).buffer(
                    width / 2, quad_segs=segments, cap_style=cap))
            continue
        ring = closed and len(line) > 2
        parts.append((LinearRing if ring else LineString)(line).buffer(
            width / 2, quad_segs=segments, cap_style=cap,
            join_style="round" if join == "round" else "bevel"))
        if join not in ("round", "bevel"):
            parts += _mitres(line, ring, width / 2, limit)
    return shapely.unary_union(parts)


def number_of(node: Node, name: str, default: float = 0.0) -> float:
    return to_number(node.inherited(name), default)


def _mitres(line: Points, closed: bool, half: float, limit: float) -> list[Polygon]:
    """The pointed corners of a stroke, which a bevelled one lacks."""
    before = np.roll(line, 1, axis=0) if closed else line[:-2]
    here = line if closed else line[1:-1]
    after = np.roll(line, -1, axis=0) if closed else line[2:]
    made = []
    for a, b, c in zip(before, here, after, strict=True):
        one, two = (b - a) / np.hypot(*(b - a)), (c - b) / np.hypot(*(c - b))
        turn = math.atan2(one[0] * two[1] - one[1] * two[0], float(one @ two))
        reach = 1 / max(1e-9, math.cos(turn / 2))
        # Chords of a curve are so close to each other that a bevel is as good.
        if abs(turn) < SMOOTH / 8 or reach > limit:
            continue
        side = -1.0 if turn > 0 else 1.0
        first = np.array([-one[1], one[0]]) * half * side
        second = np.array([-two[1], two[0]]) * half * side
        tip = (first + second) / np.hypot(*(first + second)) * half * reach
        made.append(Polygon([b, b + first, b + tip, b + second]))
    return made


def _dashes(node: Node) -> list[float]:
    text = node.inherited("stroke-dasharray", "none")
    if text == "none":
        return []
    lengths = [to_number(word, -1.0) for word in text.replace(",", " ").split()]
    if not lengths or min(lengths) < 0 or sum(lengths) <= 0:
        return []
    return lengths * 2 if len(lengths) % 2 else lengths


def _dashed(lines: Sequence[Course], dashes: list[float], offset: float) -> list[Course]:
    made: list[Course] = []
    ends = np.cumsum(dashes)
    whole = float(ends[-1])
    for points, closed in lines:
        course = np.vstack([points, points[:1]]) if closed else points
        along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(course, axis=0).T))])
        if along[-1] / whole * len(dashes) > MOST_DASHES:
            raise NotAShapeError(f"it has more than {MOST_DASHES} dashes")
        at = -(offset % whole)
        while at < along[-1]:
            for index in range(0, len(dashes), 2):
                begin = at + (float(ends[index - 1]) if index else 0.0)
                end = min(at + float(ends[index]), float(along[-1]))
                begin = max(begin, 0.0)
                if end > begin or (end == begin and dashes[index] == 0):
                    inner = along[(along > begin) & (along < end)]
                    spots = np.concatenate([[begin], inner, [end]])
                    made.append((np.stack([np.interp(spots, along, course[:, axis])
                                           for axis in (0, 1)], axis=1), False))
            at += whole
    return made


def transformed(area: Any, matrix: Matrix) -> Any:
    """Polygons moved by a matrix."""
    from shapely.affinity import affine_transform

    return affine_transform(area, [float(part) for part in (
        matrix.a, matrix.c, matrix.b, matrix.d, matrix.e, matrix.f)])
