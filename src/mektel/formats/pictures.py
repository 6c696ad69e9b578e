"""Picture files of a control: one for each state and density, or a sheet of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from mektel.core.errors import MektelError, reading
from mektel.core.kit.assets import AssetError
from mektel.core.kit.conditions import REST
from mektel.core.pictures.encoding import pixels_from_file, straight_of
from mektel.core.pictures.file_names import Guess, guess
from mektel.core.pictures.layout import StatePicture
from mektel.core.pictures.regions import Box, Regions, regions_of
from mektel.formats.kitfile import read_limited

SUFFIXES = (".png", ".webp", ".jpg", ".jpeg")
LARGEST_FILE = 16 * 1024 * 1024
# In what order the states stand on a sheet, by how many there are.
ORDERS = {
    1: ("rest",), 2: ("rest", "hover"), 3: ("rest", "hover", "pressed"),
    4: ("rest", "hover", "pressed", "disabled"),
    5: ("rest", "hover", "pressed", "focus", "disabled"),
    8: ("rest", "hover", "pressed", "disabled", "checked", "checked+hover", "checked+pressed",
        "checked+disabled"),
}


class PictureError(MektelError):
    """A picture file that cannot be taken; says why."""


@dataclass(frozen=True)
class Loaded:
    """A picture file: premultiplied pixels (height, width, 4), and what its name says."""

    path: Path
    guess: Guess
    pixels: NDArray[np.uint8] = field(repr=False, compare=False)
    regions: Regions

    @cached_property
    def is_opaque(self) -> bool:
        return bool((self.pixels[:, :, 3] == 255).all())


def load(path: Path) -> Loaded:
    """Raises :class:`PictureError`."""
    with reading(str(path), PictureError):
        content = read_limited(path, LARGEST_FILE)
        try:
            pixels = pixels_from_file(content)
        except AssetError as error:
            raise PictureError(f"{path}: {error}") from None
        if not pixels[:, :, 3].any():
            raise PictureError(f"{path}: nothing in this picture is visible.")
        return Loaded(path, guess(path.stem), pixels, regions_of(straight_of(pixels)))


def is_sheet(files: Sequence[Loaded]) -> bool:
    """Whether this is one sheet, and not one picture for each state."""
    return len(files) == 1 and len(files[0].regions.boxes) > 1


def of_files(files: Sequence[Loaded]) -> list[StatePicture]:
    """A picture for each state and density; of two that say the same, the later one counts.

    Raises :class:`PictureError` for files that seem to be of several controls.
    """
    stems = {file.guess.stem.casefold() for file in files}
    if len(stems) > 1:
        names = ", ".join(sorted(file.path.name for file in files)[:4])
        raise PictureError(
            f"{names}: these seem to be of {len(stems)} controls. Name each file by its control "
            "and state, such as horn-hover.png, and import one control at a time.")
    made = {(file.guess.condition, file.guess.density): StatePicture(
        file.guess.condition, file.pixels, file.guess.density, name=file.path.name)
        for file in files}
    if not any(condition == REST for condition, _ in made):
        first = next(iter(made.values()))
        raise PictureError(f"{first.name}: there is no picture of rest among these; name it "
                           f"{files[0].guess.stem or 'control'}.png or …-rest.png.")
    return list(made.values())


def of_sheet(file: Loaded, states: Sequence[str] = ()) -> list[StatePicture]:
    """The pictures of a sheet in reading order, each of a state.

    Without ``states`` their number says which they are. Raises :class:`PictureError`.
    """
    boxes = file.regions.boxes
    order = tuple(states) or ORDERS.get(len(boxes))
    if order is None:
        raise PictureError(f"{file.path}: {len(boxes)} pictures stand on it; say which states they "
                           "are, in reading order, with --states rest,hover,…")
    if len(order) > len(boxes):
        raise PictureError(f"{file.path}: {len(order)} states are named, and "
                           f"{len(boxes)} pictures stand on it.")
    return [StatePicture(state, cut(file.pixels, box), file.guess.density,
                         placed=file.regions.in_cells, name=f"{file.path.name}, {state}")
            for state, box in zip(order, boxes, strict=False)]


def cut(pixels: NDArray[np.uint8], box: Box) -> NDArray[np.uint8]:
    """What lies in a box (left, top, right, bottom); clear where that is outside."""
    left, top, right, bottom = box
    height, width = pixels.shape[:2]
    made = np.zeros((bottom - top, right - left, 4), np.uint8)
    part = pixels[max(0, top) : min(height, bottom), max(0, left) : min(width, right)]
    y, x = max(0, -top), max(0, -left)
    made[y : y + part.shape[0], x : x + part.shape[1]] = part
    return made
