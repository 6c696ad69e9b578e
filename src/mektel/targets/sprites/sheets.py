"""The sheets of one density: what lies where, and their files."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from mektel.core.slices import Place, pack
from mektel.formats.png import small_png_of_straight, webp_of_straight
from mektel.targets.sprites.description import Region
from mektel.targets.sprites.pictures import TEXT, Drawn, Picture

# So wide is a sheet per density: the rows of a control's faces lie near enough to each other for
# the compression of PNG to use what they have in common.
WIDTH = 1536
FORMATS = ("png", "webp")


@dataclass(frozen=True, eq=False)
class Sheets:
    """Sheets by file name: their sizes, and each picture's place by control and name."""

    sizes: dict[str, tuple[int, int]]
    placed: dict[str, list[tuple[Picture, Place]]]
    regions: dict[tuple[str, str], Region]

    def file(self, name: str) -> bytes:
        """A sheet as PNG or WebP, by its name."""
        width, height = self.sizes[name]
        sheet = np.zeros((height, width, 4), np.uint8)
        for picture, place in self.placed[name]:
            high, wide = picture.pixels.shape[:2]
            sheet[place.y : place.y + high, place.x : place.x + wide] = picture.pixels
        return (webp_of_straight(sheet) if name.endswith("webp")
                else small_png_of_straight(sheet))


def sheets_of(
    drawn: Mapping[str, Drawn], density: int, limit: int, form: str
) -> Sheets:
    """Packs the pictures of controls; those with the same pixels lie on a sheet once.

    Raises :class:`mektel.core.slices.SheetSizeError` for a picture larger than ``limit``.
    """
    kept: dict[tuple[tuple[int, ...], bytes], tuple[int, int]] = {}
    groups: list[list[Picture]] = []
    where: dict[tuple[str, str], tuple[int, int]] = {}
    for control_id, of_control in drawn.items():
        # Faces apart from texts: they have their size and rows in common.
        for are_texts in (False, True):
            group: list[Picture] = []
            for name, picture in of_control.pictures.items():
                if (TEXT in name) != are_texts:
                    continue
                key = picture.pixels.shape, picture.pixels.tobytes()
                if key not in kept:
                    kept[key] = (len(groups), len(group))
                    group.append(picture)
                where[control_id, name] = kept[key]
            groups.append(group)
    sizes, places = pack([[picture.pixels.shape[1::-1] for picture in group]
                          for group in groups], limit, WIDTH * density)
    names = [f"atlas@{density}x{f'-{number + 1}' if number else ''}.{form}"
             for number in range(len(sizes))]
    placed: dict[str, list[tuple[Picture, Place]]] = {name: [] for name in names}
    for pictures, theirs in zip(groups, places, strict=True):
        for picture, place in zip(pictures, theirs, strict=True):
            placed[names[place.sheet]].append((picture, place))
    regions = {}
    for (control_id, name), (group_at, at) in where.items():
        picture = drawn[control_id].pictures[name]
        place = places[group_at][at]
        high, wide = picture.pixels.shape[:2]
        regions[control_id, name] = Region(
            sheet=names[place.sheet], at=(place.x, place.y, wide, high),
            offset=(picture.left, picture.top))
    return Sheets(dict(zip(names, sizes, strict=True)), placed, regions)
