"""What a control is made of: the plain values that its module hands to the runtime."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, NamedTuple

# A layer's values, or the outline's, by name; and those of all parts.
Part = dict[str, Any]
Parts = dict[str, Part]
# The states that a change belongs to, in the order of ``Design.states``.
States = tuple[str, ...]
Area = tuple[float, float, float, float]


class Picture(NamedTuple):
    """What QPainter cannot draw, as PNG files for 1, 2 and 3 pixels per px.

    ``place`` (x, y, width, height) is where it lies at the designed size, ``follows`` what share
    of the control's growth these take, and ``slices`` (left, top, right, bottom) what of it keeps
    its form.
    """

    file: str
    place: tuple[int, int, int, int]
    follows: Area
    slices: tuple[int, int, int, int]


class Corner(NamedTuple):
    """What a blurred box loses at a rounded corner, as a PNG file; ``reach`` of the blur in px."""

    file: str
    reach: int


@dataclass(frozen=True)
class Design:
    """A control as designed. Lengths are in px."""

    name: str
    text: str
    # push, two-position, hold, group or busy
    behaviour: str
    # The folder of its module: fonts and pictures lie in folders beside it.
    folder: Path
    size: tuple[float, float]
    # Room round the box for what is drawn outside it: left, top, right, bottom.
    bleed: tuple[int, int, int, int]
    # The states there are; of several changes that hold, later ones win.
    states: States
    # Every value at rest; a state holds only what it changes, None for what it does not have.
    rest: Parts
    changes: dict[States, Parts]
    # A part has the number of the one that it shows.
    pictures: tuple[Picture, ...] = ()
    # By the radii and the blur.
    corners: dict[tuple[float, float, float], Corner] = field(default_factory=dict)
    # Whether its layers are blended among themselves before they are drawn.
    isolated: bool = False
    # Whether values follow parameters, the palette's scheme or the size.
    driven: bool = False
    follows_size: bool = False
    follows_parent: bool = False
    # What an instance may set: type, lowest, highest, choices.
    parameters: dict[str, tuple[Any, ...]] = field(default_factory=dict)
    schemes: tuple[str, ...] = ()
    # The content's width as designed: of the text, and of what stands beside it with the gaps.
    text_width: float = 0.0
    beside: float = 0.0
    # By how much of the text's growth what stands beside it moves.
    following: dict[str, float] = field(default_factory=dict)
