"""Rows, columns and stacks. Lengths are in px, y downward."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

Box = tuple[float, float, float, float]
SHARE = {"start": 0.0, "centre": 0.5, "end": 1.0}


@dataclass(frozen=True)
class Item:
    """Something with a size; ``baseline`` is where its text stands, from its top."""

    width: float
    height: float
    baseline: float = 0.0


@dataclass(frozen=True)
class Flow:
    """How items stand to each other: along the flow with a ``gap``, across it by ``align``; and by
    ``place`` where all of them stand along it. ``mirrored`` rows run from right to left.
    """

    direction: Literal["row", "column", "stack"] = "row"
    gap: float = 0.0
    align: Literal["start", "centre", "end", "baseline"] = "centre"
    place: Literal["start", "centre", "end"] = "centre"
    mirrored: bool = False

    @property
    def anchor(self) -> tuple[float, float]:
        """The share of a box's width and height that the whole is held to."""
        place, align = SHARE[self.place], SHARE.get(self.align, 0.5)
        if self.direction == "column":
            return align, place
        return (1 - place if self.mirrored and self.direction == "row" else place), 0.5


def extent(items: Sequence[Item], flow: Flow) -> tuple[float, float]:
    """Width and height that the items take together.

    >>> extent([Item(30, 10), Item(20, 16)], Flow(gap=4))
    (54.0, 16.0)
    """
    if not items:
        return 0.0, 0.0
    wide, high = [float(item.width) for item in items], [float(item.height) for item in items]
    gaps = flow.gap * (len(items) - 1)
    if flow.direction == "row":
        return sum(wide) + gaps, max(high)
    if flow.direction == "column":
        return max(wide), sum(high) + gaps
    return max(wide), max(high)


def arrange(items: Sequence[Item], flow: Flow, box: Box) -> list[Box]:
    """Where each item stands (x, y, width, height) in ``box``, in the order given.

    >>> arrange([Item(30, 10), Item(20, 16)], Flow(gap=4), (0, 0, 100, 40))
    [(23.0, 15.0, 30, 10), (57.0, 12.0, 20, 16)]
    """
    across, down = extent(items, flow)
    along_x, along_y = flow.anchor
    left = box[0] + (box[2] - across) * along_x
    top = box[1] + (box[3] - down) * along_y
    base = max((item.baseline for item in items), default=0.0)
    cross = SHARE.get(flow.align, 0.5)
    order = range(len(items))
    boxes: dict[int, Box] = {}
    at = left if flow.direction == "row" else top
    for number in reversed(order) if flow.mirrored and flow.direction == "row" else order:
        item = items[number]
        if flow.direction == "row":
            x, y = at, top + (down - item.height) * cross
            if flow.align == "baseline":
                y = top + base - item.baseline
            at += item.width + flow.gap
        elif flow.direction == "column":
            x, y = left + (across - item.width) * cross, at
            at += item.height + flow.gap
        else:
            x, y = left + (across - item.width) * 0.5, top + (down - item.height) * 0.5
        boxes[number] = (x, y, item.width, item.height)
    return [boxes[number] for number in order]
