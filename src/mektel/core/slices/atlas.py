"""Packing pictures into sheets."""

from __future__ import annotations

from dataclasses import dataclass

import rectpack

from mektel.core.errors import MektelError

Pair = tuple[int, int]
# Empty pixels between pictures, so that a scaled picture does not take in its neighbour.
GAP = 2


class SheetSizeError(MektelError):
    """A picture is larger than a sheet may be."""


@dataclass(frozen=True)
class Place:
    """Where a picture lies: the number of its sheet, and its top left there in pixels."""

    sheet: int
    x: int
    y: int


def pack(groups: list[list[Pair]], limit: int, width: int | None = None
         ) -> tuple[list[Pair], list[list[Place]]]:
    """Places pictures (width, height) on sheets of at most ``limit`` pixels a side, and no wider
    than ``width`` where no picture is.

    Pictures of a group lie side by side: those of one control repeat each other's rows, and the
    compression of PNG only looks back 32 KB. Returns the size of each sheet and, group by group in
    the order given, where each picture lies. Raises :class:`SheetSizeError` for one that fits on
    none.
    """
    widest = max((wide for group in groups for wide, _ in group), default=1)
    across = min(limit, max(width or limit, widest))
    packer = rectpack.newPacker(rotation=False, sort_algo=rectpack.SORT_AREA)
    packer.add_bin(across + GAP, limit + GAP, count=float("inf"))
    blocks = [(at, block) for at, group in enumerate(groups)
              for block in _blocks(group, across, limit)]
    for rid, (_, block) in enumerate(blocks):
        packer.add_rect(block.width + GAP, block.height + GAP, rid=rid)
    packer.pack()
    places: list[list[Place]] = [[Place(0, 0, 0)] * len(group) for group in groups]
    sizes: dict[int, Pair] = {}
    for sheet, x, y, _, _, rid in packer.rect_list():
        at, block = blocks[rid]
        right, bottom = sizes.get(sheet, (1, 1))
        sizes[sheet] = max(right, x + block.width), max(bottom, y + block.height)
        for number, (inner_x, inner_y) in block.places.items():
            places[at][number] = Place(sheet, x + inner_x, y + inner_y)
    return [sizes[sheet] for sheet in sorted(sizes)] or [(1, 1)], places


@dataclass
class _Block:
    places: dict[int, Pair]
    width: int = 0
    height: int = 0


def _blocks(sizes: list[Pair], across: int, limit: int) -> list[_Block]:
    """Pictures in rows from left to right, a new block where one grows too high."""
    blocks, block = [], _Block({})
    x = y = row = 0
    for number, (width, height) in enumerate(sizes):
        if max(width, height) > limit:
            raise SheetSizeError(
                f"a picture of {width} × {height} pixels does not fit on a sheet of {limit}")
        if x + width > across:
            x, y, row = 0, y + row + GAP, 0
        if y + height > limit:
            blocks.append(block)
            block, x, y, row = _Block({}), 0, 0, 0
        block.places[number] = (x, y)
        block.width, block.height = max(block.width, x + width), max(block.height, y + height)
        x, row = x + width + GAP, max(row, height)
    return [*blocks, block] if block.places else blocks
