"""The room that answers to touch and endless motion need round a control."""

from __future__ import annotations

import math
from itertools import product

from mektel.core.kit import Control
from mektel.core.kit.control import CONTROL
from mektel.core.kit.moved_values import measure_at
from mektel.core.look import Margins
from mektel.core.motion.answers import lift
from mektel.core.motion.answers.frame import Frame

# A blurred edge is seen this many times its blur away: σ is half of that, three of them are drawn.
SEEN = 1.5


def moving_room(control: Control, still: Margins, size: tuple[float, float] | None = None
                ) -> Margins:
    """``still`` with the room that a control at ``size`` px may need besides while it moves."""
    if not control.answers and not control.swings:
        return still
    width, height = size or control.size
    x = y = turn = tilt = beyond = 0.0
    scale, far, lowest = 1.0, 0.0, 0.0
    for answer in control.answers:
        if answer.kind == "ripple" and not answer.within:
            far = math.hypot(width, height)
        elif answer.kind == "press":
            y += abs(answer.sink)
            scale = max(scale, answer.scale, 1 + answer.timing.bounce * (1 - answer.scale))
        elif answer.kind == "lift":
            high = answer.height * (1 + answer.timing.bounce)
            beyond += lift.SOFTER * high * SEEN
            lowest = max(lowest, lift.DOWN * high)
        elif answer.kind == "twist" or (answer.kind == "lean" and answer.by == "turn"):
            turn += abs(answer.degrees)
        elif answer.kind == "lean":
            tilt += abs(answer.degrees)
        elif answer.kind == "shake":
            x += abs(answer.distance)
        elif answer.kind == "follow":
            beyond += _reach(control, answer.part, answer.value,
                             answer.share * max(width, height) / 2)
    for swing in control.swings:
        by = abs(swing.amplitude)
        if swing.part != CONTROL:
            beyond += _reach(control, swing.part, swing.value, by)
        elif swing.value == "turn":
            turn += by
        elif swing.value == "size":
            scale *= 1 + by
        else:
            x, y = (x + by, y) if swing.value == "x" else (x, y + by)
    left, top = still.left + beyond, still.top + beyond
    right, bottom = still.right + beyond, still.bottom + beyond + lowest
    corners = [(-left, -top), (width + right, -top), (-left, height + bottom),
               (width + right, height + bottom)]
    reached = [(-left, -top), (width + right, height + bottom), (-far, -far),
               (width + far, height + far)] if far else corners
    for a, b in product((-turn, turn), (-tilt, tilt)):
        matrix = Frame((width, height), (), turn=a, scale=scale, tilt=(b, b)).matrix
        if matrix is not None:
            m = matrix
            reached = [*reached, *((m[0] * u + m[2] * v + m[4], m[1] * u + m[3] * v + m[5])
                                   for u, v in corners)]
    sides = (-min(u for u, _ in reached) + x, -min(v for _, v in reached) + y,
             max(u for u, _ in reached) - width + x, max(v for _, v in reached) - height + y)
    return still.union(Margins(*(max(0, math.ceil(side - 1e-6)) for side in sides)))


def _reach(control: Control, part_id: str, path: str, by: float) -> float:
    """How far beyond its place a value that moves by so much takes a layer, in px."""
    name = path.split(".")[0]
    if name in ("stops", "colour") or name.endswith("_colour"):
        return 0.0
    unit = measure_at(control.part(part_id), path).unit
    if unit == "px":
        return by * (SEEN if name == "blur" else 1)
    # Shares of the box for places; turned or scaled, a layer stays near its place.
    return by * max(control.size) if unit == "%" and name in ("position", "pivot") else 0.0
