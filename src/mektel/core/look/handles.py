"""Handles on the picture: where a part's values lie on it, and what dragging one means.

Points are in px of the control's box at its designed size, y downward.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from mektel.core.kit import OUTLINE, Control, EmbeddedLook, Kit, Stop, parse_flags
from mektel.core.kit.layers import Drawn, Light, Painted
from mektel.core.look.outlines import control_outline, own_outline
from mektel.core.look.paints import free_ends
from mektel.core.look.primitives import is_turned
from mektel.core.look.resolve import resolve
from mektel.core.look.settle import settled

Point = tuple[float, float]
STOP = "stop-"
LIGHT_SHARE = 0.4


@dataclass(frozen=True)
class Handle:
    """``kind`` says how it is drawn: corner, stop, end, centre, spot, light or edge."""

    id: str
    kind: str
    x: float
    y: float
    caption: str
    colour: str = ""


@dataclass(frozen=True)
class Dragged:
    """The value a drag gives; the control's own field where ``part_value`` is False."""

    name: str
    value: Any
    part_value: bool = True


@dataclass(frozen=True)
class Box:
    x: float
    y: float
    width: float
    height: float

    def at(self, across: float, down: float) -> Point:
        return self.x + across * self.width, self.y + down * self.height

    def share(self, x: float, y: float) -> Point:
        return (round((x - self.x) / self.width, 4), round((y - self.y) / self.height, 4))

    @property
    def middle(self) -> Point:
        return self.at(0.5, 0.5)

    @property
    def arm(self) -> float:
        """How far from the middle a direction's handle stands."""
        return LIGHT_SHARE * min(self.width, self.height)


def paint_box(control: Control, state: str, part_id: str) -> Box:
    """The box that a part's places are shares of."""
    flags = parse_flags(state)
    body = control.part_in(OUTLINE, flags)
    outline = control_outline(body, *control.size, control.size)
    if part_id != OUTLINE:
        part = control.part_in(part_id, flags)
        own = getattr(part, "outline", None)
        if own is not None:
            outline = own_outline(own, outline)
        outline = outline.grown(getattr(part, "expand", 0.0))
    return Box(outline.x, outline.y, max(outline.width, 1.0), max(outline.height, 1.0))


def handles(
    kit: Kit, control: Control, state: str, part_id: str, turning: bool = False
) -> list[Handle]:
    """What of a part can be dragged in a state; ``turning`` keeps the handle of an upright one."""
    part = control.part_in(part_id, parse_flags(state))
    box = paint_box(settled(kit, control), state, part_id)
    if part_id == OUTLINE:
        return _of_body(part, box)
    shown: list[Handle] = []
    laid = laid_at(kit, control, state, part_id)
    if laid is not None:
        shown.append(Handle("move", "spot", *laid, "move"))
    elif isinstance(part, Drawn | Light | EmbeddedLook):
        shown.append(Handle("position", "spot", *box.at(*part.position), "place"))
    elif part.kind in ("fill", "line") and part.style != "solid":
        shown += _of_gradient(kit, part, box)
    if hasattr(part, "offset"):
        x, y = box.middle
        shown.append(Handle("offset", "spot", x + part.offset[0], y + part.offset[1], "offset"))
    if part.kind in ("bevel", "lens"):
        shown.append(Handle("light", "light", *_around(box.middle, part.light, box.arm),
                            "light from here"))
    if part.kind == "label" and laid is None:
        x, y = box.middle
        shown.append(Handle("move", "spot", x + part.move[0], y + part.move[1], "move"))
    if is_turned(part) or turning:
        pivot = box.at(*part.pivot)
        shown.append(Handle("pivot", "centre", *pivot, "pivot"))
        shown.append(Handle("rotate", "light", *_around(pivot, part.rotate, box.arm), "rotation"))
    return shown


def laid_at(kit: Kit, control: Control, state: str, part_id: str) -> Point | None:
    """The middle of what the content lays out; None for what stands by itself, or is hidden."""
    if control.content is None or part_id not in control.content.items:
        return None
    look = resolve(kit, control, parse_flags(state))
    boxes = [layer.extent() for layer in look.layers if layer.id == part_id]
    if not boxes:
        return None
    return ((min(b[0] for b in boxes) + max(b[2] for b in boxes)) / 2,
            (min(b[1] for b in boxes) + max(b[3] for b in boxes)) / 2)


def _of_body(body: Any, box: Box) -> list[Handle]:
    shown = []
    if body.form in ("box", "cut", "notch"):
        for at, radius in enumerate(body.corners):
            inset = min(radius, box.width / 2, box.height / 2)
            x = box.x + inset if at in (0, 3) else box.x + box.width - inset
            y = box.y + inset if at in (0, 1) else box.y + box.height - inset
            shown.append(Handle(f"radius-{at}", "corner", x, y, "corner radius"))
    across, down = body.padding
    shown.append(Handle("padding-x", "edge", box.x + across, box.y + box.height / 2, "padding"))
    shown.append(Handle("padding-y", "edge", box.x + box.width / 2, box.y + down, "padding"))
    return shown


def _of_gradient(kit: Kit, part: Painted, box: Box) -> list[Handle]:
    shown = []
    start, end = gradient_line(part, box)
    if part.style == "linear":
        shown += [Handle("start", "end", *start, "gradient starts"),
                  Handle("end", "end", *end, "gradient ends")]
    else:
        centre = box.at(*part.centre)
        shown.append(Handle("centre", "centre", *centre, "centre"))
        if part.style == "radial":
            rx, ry = part.reach[0] * box.width, part.reach[1] * box.height
            shown += [Handle("reach-x", "end", centre[0] + rx, centre[1], "radius across"),
                      Handle("reach-y", "end", centre[0], centre[1] + ry, "radius down")]
        else:
            spot = _around(centre, part.direction, box.arm * 1.35)
            shown.append(Handle("direction", "light", *spot, "gradient starts"))
    for at, stop in enumerate(part.stops):
        shown.append(Handle(f"{STOP}{at}", "stop", *_on_line(part, box, stop.position),
                            f"stop at {stop.position * 100:.4g} %", kit.colour(stop.colour)))
    return shown


def gradient_line(part: Painted, box: Box) -> tuple[Point, Point]:
    """The line that stops lie on: a linear gradient's own, or the radius across."""
    if part.style == "radial":
        centre = box.at(*part.centre)
        return centre, (centre[0] + part.reach[0] * box.width, centre[1])
    x0, y0, x1, y1 = part.ends or free_ends(part.direction, box.width, box.height)
    return box.at(x0, y0), box.at(x1, y1)


def _on_line(part: Painted, box: Box, position: float) -> Point:
    if part.style == "conic":
        return _around(box.at(*part.centre), part.direction + position * 360, box.arm)
    (x0, y0), (x1, y1) = gradient_line(part, box)
    return x0 + (x1 - x0) * position, y0 + (y1 - y0) * position


def position_on_line(part: Painted, box: Box, x: float, y: float) -> tuple[float, float]:
    """The nearest place on the stops' line, 0 to 1, and how far in px the point lies from it."""
    if part.style == "conic":
        cx, cy = box.at(*part.centre)
        turn = (math.degrees(math.atan2(x - cx, cy - y)) - part.direction) % 360
        return round(turn / 360, 3), abs(math.hypot(x - cx, y - cy) - box.arm)
    (x0, y0), (x1, y1) = gradient_line(part, box)
    dx, dy = x1 - x0, y1 - y0
    share = ((x - x0) * dx + (y - y0) * dy) / max(dx * dx + dy * dy, 1e-9)
    limited = min(1.0, max(0.0, share))
    return round(limited, 3), math.hypot(x - x0 - dx * limited, y - y0 - dy * limited)


def _around(centre: Point, degrees: float, reach: float) -> Point:
    turn = math.radians(degrees)
    return centre[0] + math.sin(turn) * reach, centre[1] - math.cos(turn) * reach


def _direction(centre: Point, x: float, y: float, step: float) -> float:
    degrees = math.degrees(math.atan2(x - centre[0], centre[1] - y)) % 360
    return round(degrees / step) * step % 360


def dragged(
    kit: Kit, control: Control, state: str, part_id: str, handle: str, x: float, y: float,
    alone: bool = False, coarse: bool = False,
) -> Dragged:
    """What dragging a handle to (x, y) gives.

    ``alone`` moves one corner only; ``coarse`` turns in steps of 15°.
    """
    part = control.part_in(part_id, parse_flags(state))
    box = paint_box(settled(kit, control), state, part_id)
    step = 15.0 if coarse else 1.0
    if handle.startswith("radius-"):
        return _radius(part, box, int(handle[-1]), x, y, alone)
    if handle == "padding-x":
        return Dragged("padding", (_limited(x - box.x, box.width / 2), part.padding[1]))
    if handle == "padding-y":
        return Dragged("padding", (part.padding[0], _limited(y - box.y, box.height / 2)))
    if handle.startswith(STOP):
        at = int(handle.removeprefix(STOP))
        place, _ = position_on_line(part, box, x, y)
        low = part.stops[at - 1].position if at else min(0.0, place)
        high = part.stops[at + 1].position if at + 1 < len(part.stops) else max(1.0, place)
        stops = list(part.stops)
        stops[at] = Stop(position=min(high, max(low, place)), colour=stops[at].colour)
        return Dragged("stops", tuple(stops))
    if handle in ("start", "end"):
        ends = list(part.ends or free_ends(part.direction, box.width, box.height))
        first = 0 if handle == "start" else 2
        ends[first : first + 2] = [_within(v) for v in box.share(x, y)]
        return Dragged("ends", tuple(ends))
    if handle == "reach-x":
        return Dragged("reach", (_reach(abs(x - box.at(*part.centre)[0]) / box.width),
                                 part.reach[1]))
    if handle == "reach-y":
        return Dragged("reach", (part.reach[0],
                                 _reach(abs(y - box.at(*part.centre)[1]) / box.height)))
    if handle in ("centre", "pivot", "position"):
        across, down = box.share(x, y)
        return Dragged(handle, (_within(across), _within(down)))
    laid = laid_at(kit, control, state, part_id) if handle == "move" else None
    if laid is not None:
        return Dragged("move", (round(part.move[0] + x - laid[0], 1),
                                round(part.move[1] + y - laid[1], 1)))
    if handle in ("offset", "move"):
        cx, cy = box.middle
        return Dragged(handle, (round(x - cx, 1), round(y - cy, 1)))
    centre = box.middle
    if handle == "rotate":
        centre = box.at(*part.pivot)
    elif handle == "direction":
        centre = box.at(*part.centre)
    return Dragged(handle, _direction(centre, x, y, step))


def _radius(body: Any, box: Box, at: int, x: float, y: float, alone: bool) -> Dragged:
    across = x - box.x if at in (0, 3) else box.x + box.width - x
    down = y - box.y if at in (0, 1) else box.y + box.height - y
    radius = _limited((across + down) / 2, min(box.width, box.height) / 2)
    together = len(set(body.corners)) == 1 and not alone
    radii = tuple(radius if together or n == at else old for n, old in enumerate(body.corners))
    return Dragged("corners", radii)


def _limited(value: float, most: float) -> float:
    return round(min(most, max(0.0, value)), 1)


def _within(share: float) -> float:
    return min(3.0, max(-2.0, share))


def _reach(share: float) -> float:
    return min(2.0, max(0.01, round(share, 3)))


def snapped(x: float, y: float, box: Box, reach: float) -> tuple[Point, list[tuple[str, float]]]:
    """A point drawn to the box's edges and middle, else to whole px; and the guides it met."""
    guides: list[tuple[str, float]] = []
    snapped_to = []
    for axis, value, lines in (
        ("x", x, (box.x, box.x + box.width / 2, box.x + box.width)),
        ("y", y, (box.y, box.y + box.height / 2, box.y + box.height)),
    ):
        near = min(lines, key=lambda line: abs(line - value))
        if abs(near - value) <= reach:
            guides.append((axis, near))
            snapped_to.append(near)
        else:
            snapped_to.append(round(value))
    return (snapped_to[0], snapped_to[1]), guides
