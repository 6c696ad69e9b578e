"""The pictures that stand on one sheet: apart from each other, in a grid, or cell by cell."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

Pixels = NDArray[np.uint8]
Box = tuple[int, int, int, int]
# Alpha below this, and colours as near to the backdrop as this, belong to no picture.
FAINT = 6
# Things nearer to each other than this many pixels are one picture: a lamp beside its glow.
NEAR = 2
SMALLEST = 6
MOST_CELLS, MOST_REGIONS = 12, 64
# How much less cells may differ from their neighbours than a sheet does from itself moved.
ALIKE = 0.6
# How far pictures may lie from the same place in their cells, of a cell.
OFF_CENTRE = 0.12


@dataclass(frozen=True)
class Regions:
    """Boxes (left, top, right, bottom) in reading order, in pixels.

    ``in_cells`` says that they are cells of one size, so that what is in them is in its place.
    """

    boxes: tuple[Box, ...]
    in_cells: bool


def regions_of(straight: Pixels) -> Regions:
    """The pictures of a sheet, (height, width, 4) with straight alpha.

    >>> sheet = np.zeros((10, 30, 4), np.uint8); sheet[1:9, 1:9] = sheet[2:8, 21:29] = 255
    >>> regions_of(sheet).boxes
    ((1, 1, 9, 9), (21, 2, 29, 8))
    """
    height, width = straight.shape[:2]
    boxes = _apart(_covered(straight))
    whole: Box = (0, 0, width, height)
    if not boxes:
        # Plain all over: it is one picture.
        return Regions((whole,), False)
    if len(boxes) == 1:
        cells = _repeats(straight, boxes[0])
        return Regions(tuple(cells), True) if cells else Regions((boxes[0],), False)
    cells = _grid(boxes, whole)
    return Regions(tuple(cells), True) if cells else Regions(tuple(_in_order(boxes)), False)


def _covered(straight: Pixels) -> NDArray[np.bool_]:
    alpha = straight[:, :, 3]
    if (alpha < 255 - FAINT).mean() > 0.01:
        return alpha >= FAINT
    # Without gaps that are clear, what has the colour of the border is the backdrop.
    edge = np.concatenate([straight[0], straight[-1], straight[:, 0], straight[:, -1]])[:, :3]
    colours, counts = np.unique(edge, axis=0, return_counts=True)
    backdrop = colours[counts.argmax()].astype(int)
    return np.asarray(np.abs(straight[:, :, :3].astype(int) - backdrop).max(axis=2) > 2 * FAINT)


def _apart(covered: NDArray[np.bool_]) -> list[Box]:
    """Boxes round what hangs together; those that meet are one."""
    near = ndimage.binary_dilation(covered, np.ones((2 * NEAR + 1, 2 * NEAR + 1), bool))
    labels, count = ndimage.label(near, np.ones((3, 3), int))
    if count > MOST_REGIONS * 8:
        return [_around(covered)]
    boxes = []
    for at, (rows, columns) in enumerate(ndimage.find_objects(labels), 1):
        inner = covered[rows, columns] & (labels[rows, columns] == at)
        y, x = np.flatnonzero(inner.any(axis=1)), np.flatnonzero(inner.any(axis=0))
        boxes.append((columns.start + int(x[0]), rows.start + int(y[0]),
                      columns.start + int(x[-1]) + 1, rows.start + int(y[-1]) + 1))
    merged = True
    while merged:
        merged = False
        for at, box in enumerate(boxes):
            other = next((index for index in range(at + 1, len(boxes))
                          if _meet(box, boxes[index])), None)
            if other is not None:
                boxes[at] = _union(box, boxes.pop(other))
                merged = True
                break
    large = [box for box in boxes if min(box[2] - box[0], box[3] - box[1]) >= SMALLEST]
    return large[:MOST_REGIONS] or ([_around(covered)] if covered.any() else [])


def _around(covered: NDArray[np.bool_]) -> Box:
    y, x = np.flatnonzero(covered.any(axis=1)), np.flatnonzero(covered.any(axis=0))
    return int(x[0]), int(y[0]), int(x[-1]) + 1, int(y[-1]) + 1


def _meet(one: Box, two: Box) -> bool:
    return one[0] < two[2] and two[0] < one[2] and one[1] < two[3] and two[1] < one[3]


def _union(one: Box, two: Box) -> Box:
    return (min(one[0], two[0]), min(one[1], two[1]), max(one[2], two[2]), max(one[3], two[3]))


def _in_order(boxes: list[Box]) -> list[Box]:
    """Row by row: what begins above the middle of a row's first belongs to that row."""
    left = sorted(boxes, key=lambda box: (box[1], box[0]))
    ordered: list[Box] = []
    while left:
        middle = (left[0][1] + left[0][3]) / 2
        row = [box for box in left if box[1] < middle]
        ordered += sorted(row, key=lambda box: box[0])
        left = [box for box in left if box not in row]
    return ordered


def _grid(boxes: list[Box], whole: Box) -> list[Box]:
    """Cells of one size that hold one picture each; empty where there are none."""
    _, _, width, height = whole
    for rows in range(1, MOST_CELLS + 1):
        for columns in range(1, MOST_CELLS + 1):
            if width % columns or height % rows or not len(boxes) <= rows * columns:
                continue
            wide, high = width // columns, height // rows
            cells = {(box[0] // wide, box[1] // high) for box in boxes
                     if (box[2] - 1) // wide == box[0] // wide
                     and (box[3] - 1) // high == box[1] // high}
            middles = np.array([((box[0] + box[2]) / 2 % wide, (box[1] + box[3]) / 2 % high)
                                for box in boxes])
            # Only the last cells of a sheet are left empty.
            first = {(at % columns, at // columns) for at in range(len(boxes))}
            if cells == first and (
                    np.ptp(middles, axis=0) <= OFF_CENTRE * np.array([wide, high])).all():
                return [(x * wide, y * high, (x + 1) * wide, (y + 1) * high)
                        for y, x in sorted((y, x) for x, y in cells)]
    return []


def _repeats(straight: Pixels, box: Box) -> list[Box]:
    """Cells that touch, where the same comes again and again along an axis."""
    left, top, right, bottom = box
    part = straight[top:bottom, left:right]
    for axis in (1, 0):
        length = part.shape[axis]
        edges = _edges(part, axis)
        if not edges.any():
            continue
        for count in range(MOST_CELLS, 1, -1):
            if length % count or length // count < 2 * SMALLEST:
                continue
            size = length // count
            if _unlike(edges, axis, size) < ALIKE * min(
                    _unlike(edges, axis, size - size // 3), _unlike(edges, axis, size // 2)):
                return [
                    (left + at * size, top, left + (at + 1) * size, bottom) if axis == 1
                    else (left, top + at * size, right, top + (at + 1) * size)
                    for at in range(count)]
    return []


def _edges(part: Pixels, axis: int) -> NDArray[np.int16]:
    """How much neighbours along an axis differ in any channel, 0 to 40.

    Edges are compared: states change colours, but their forms come again.
    """
    before, after = (part[:, :-1], part[:, 1:]) if axis == 1 else (part[:-1], part[1:])
    edges = np.zeros(before.shape[:2], np.uint8)
    for channel in range(4):
        one, other = before[:, :, channel], after[:, :, channel]
        np.maximum(edges, np.maximum(one, other) - np.minimum(one, other), out=edges)
    return np.minimum(edges, 40).astype(np.int16)


def _unlike(edges: NDArray[np.int16], axis: int, shift: int) -> float:
    """How much edges differ from the same moved along an axis, 0 to 40."""
    first, second = (edges[:, :-shift], edges[:, shift:]) if axis == 1 else (
        edges[:-shift], edges[shift:])
    return float(np.abs(first - second).mean())
