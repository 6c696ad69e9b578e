"""What a control is made of: the plain values that its module hands to the runtime."""

from __future__ import annotations

import base64
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple, Protocol

from .qt import QtCore, QtGui

if TYPE_CHECKING:
    from .control import Control
    from .drawing import Drawing

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


class AnyFrame(Protocol):
    """A control at a moment on its way."""

    def placing(self, box: QtCore.QRectF) -> QtGui.QTransform | None:
        """How all of it is placed; None for as it is."""

    def drawing(
        self, at_rest: Drawing, key: Hashable, start: tuple[float, float] | None
    ) -> Drawing:
        """What paints it; ``at_rest`` is what does when it stands still."""


class AnyPlayer(Protocol):
    """Plays what moves in a control."""

    def begin(self) -> None:
        """It is shown."""

    def end(self) -> None:
        """It is hidden."""

    def is_calm(self) -> bool:
        """Whether what moves without end stands still."""

    def frame(self) -> AnyFrame | None:
        """The frame of this moment; None while nothing moves."""


# The folder beside a module, or the content of each file in base64.
Files = Path | dict[str, str]


def asset(files: Files, name: str) -> bytes:
    """The content of a file that is shipped with controls; nothing where it is missing."""
    if isinstance(files, dict):
        return base64.b64decode(files.get(name, ""))
    path = files / name
    return path.read_bytes() if path.is_file() else b""


@dataclass(frozen=True, eq=False)
class Design:
    """A control as designed. Lengths are in px."""

    name: str
    text: str
    # push, two-position, long-press, group or busy
    behaviour: str
    # Fonts and pictures.
    files: Files
    size: tuple[float, float]
    # Room round the box for what is drawn outside it: left, top, right, bottom.
    bleed: tuple[int, int, int, int]
    # How far the outline itself reaches beyond the box: that answers the pointer, too.
    overhang: tuple[int, int, int, int] = field(default=(0, 0, 0, 0), kw_only=True)
    # The states there are; of several changes that hold, later ones win.
    states: States
    # Every value at rest; a state holds only what it changes, None for what it does not have.
    rest: Parts
    changes: dict[States, Parts]
    # A part has the number of the one that it shows.
    pictures: tuple[Picture, ...] = ()
    # Whether a layout may make it wider than it asks for.
    stretches: bool = True
    # Whether its layers are blended among themselves before they are drawn.
    isolated: bool = False
    # Whether values follow parameters, the palette's scheme or the size.
    driven: bool = False
    follows_size: bool = False
    follows_parent: bool = False
    # What makes a control's player, where something moves.
    feel: Callable[[Control], AnyPlayer] | None = None
    # What an instance may set: type, lowest, highest, choices.
    parameters: dict[str, tuple[Any, ...]] = field(default_factory=dict)
    schemes: tuple[str, ...] = ()
    # What an instance has to be given.
    required: tuple[str, ...] = ()
    # The content's width as designed: of the text, and of what stands beside it with the gaps.
    text_width: float = 0.0
    beside: float = 0.0
    # By how much of the text's growth what stands beside it moves.
    following: dict[str, float] = field(default_factory=dict)

    @cached_property
    def beyond(self) -> tuple[int, ...]:
        """How far it is painted beyond its geometry: left, top, right, bottom, in px."""
        return tuple(max(0, room - over) for room, over in zip(
            self.bleed, self.overhang, strict=True))
