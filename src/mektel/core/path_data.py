"""SVG path data as polylines and as cubic curves."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]
MOST_SEGMENTS = 5000
# ("M", (x, y)), ("L", (x, y)), ("C", (x1, y1), (x2, y2), (x, y)) or ("Z",)
Command = tuple[Any, ...]


def path_problem(text: str) -> str:
    """What is wrong with path data; empty if nothing is."""
    try:
        commands = path_commands(text)
    except (ValueError, IndexError, TypeError, ZeroDivisionError, KeyError) as error:
        return f"not SVG path data: {error}"
    if len(commands) > MOST_SEGMENTS:
        return f"more than {MOST_SEGMENTS} segments"
    if not any(command[0] in "LC" for command in commands):
        return "the path draws nothing; it must begin like M0 0 L10 0 …"
    spots = [spot for command in commands for spot in command[1:]]
    if not all(math.isfinite(value) and abs(value) < 1e6 for spot in spots for value in spot):
        return "a coordinate is too large"
    return ""


@lru_cache(maxsize=2048)
def path_commands(text: str) -> tuple[Command, ...]:
    """Path data as move, line, cubic and close commands, all absolute."""
    from svgelements import Arc, Close, CubicBezier, Line, Move, Path, QuadraticBezier

    commands: list[Command] = []
    for segment in Path(text):
        if isinstance(segment, Move):
            commands.append(("M", _spot(segment.end)))
        elif isinstance(segment, Close):
            commands.append(("Z",))
        elif isinstance(segment, Line):
            commands.append(("L", _spot(segment.end)))
        elif isinstance(segment, CubicBezier):
            commands.append(("C", _spot(segment.control1), _spot(segment.control2),
                          _spot(segment.end)))
        elif isinstance(segment, QuadraticBezier):
            start, middle, end = (_spot(p) for p in (segment.start, segment.control, segment.end))
            commands.append(("C", _between(start, middle), _between(end, middle), end))
        elif isinstance(segment, Arc):
            for curve in segment.as_cubic_curves():
                commands.append(("C", _spot(curve.control1), _spot(curve.control2),
                              _spot(curve.end)))
    return tuple(commands)


def _spot(point: Any) -> tuple[float, float]:
    return float(point.x), float(point.y)


def _between(end: tuple[float, float], control: tuple[float, float]) -> tuple[float, float]:
    return (end[0] + (control[0] - end[0]) * 2 / 3, end[1] + (control[1] - end[1]) * 2 / 3)


@lru_cache(maxsize=2048)
def polylines(text: str, chords: int = 16) -> tuple[tuple[Points, bool], ...]:
    """Path data as polylines of shape (n, 2), each with whether it is closed."""
    lines: list[tuple[Points, bool]] = []
    current: list[tuple[float, float]] = []

    def end(closed: bool) -> None:
        if len(current) > 1 or (closed and current):
            lines.append((np.array(current), closed))

    for command in path_commands(text):
        kind = command[0]
        if kind == "M":
            end(False)
            current = [command[1]]
        elif kind == "Z":
            end(True)
            current = current[:1]
        elif kind == "L":
            current.append(command[1])
        else:
            start, (control1, control2, last) = current[-1], command[1:]
            for step in range(1, chords + 1):
                t = step / chords
                a, b, c, d = (1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t**3
                current.append((
                    a * start[0] + b * control1[0] + c * control2[0] + d * last[0],
                    a * start[1] + b * control1[1] + c * control2[1] + d * last[1],
                ))
    end(False)
    return tuple(lines)
