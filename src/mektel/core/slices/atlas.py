"""Packing pictures into one sheet."""

from __future__ import annotations

import math

import rectpack

Pair = tuple[int, int]


def pack(sizes: list[Pair], gap: int = 2) -> tuple[Pair, list[Pair]]:
    """Places rectangles (width, height) on one sheet with ``gap`` pixels between them.

    Returns the sheet's size and the top left of each, in the order given.
    """
    if not sizes:
        return (1, 1), []
    widest = max(width for width, _ in sizes) + gap
    area = sum((w + gap) * (h + gap) for w, h in sizes)
    side = max(widest, math.ceil(math.sqrt(area) * 1.1))
    tallest = sum(height + gap for _, height in sizes)
    packer = rectpack.newPacker(rotation=False, sort_algo=rectpack.SORT_AREA)
    packer.add_bin(side, tallest)
    for at, (width, height) in enumerate(sizes):
        packer.add_rect(width + gap, height + gap, rid=at)
    packer.pack()
    places: list[tuple[int, int]] = [(0, 0)] * len(sizes)
    right = bottom = 0
    for _, x, y, width, height, rid in packer.rect_list():
        places[rid] = (x, y)
        right, bottom = max(right, x + width - gap), max(bottom, y + height - gap)
    return (right, bottom), places
