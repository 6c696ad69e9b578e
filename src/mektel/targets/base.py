"""What every target offers: a plan in words, files, how to use them, and a photographed run."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from types import MappingProxyType
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from mektel.core.errors import MektelError
from mektel.core.kit import Control, Kit
from mektel.core.look import Margins
from mektel.core.text import font_file, licence_file

Pixels = NDArray[np.uint8]
# Called between steps with (done, of, words); returning False asks to stop.
Progress = Callable[[int, int, str], bool]


class TargetError(MektelError):
    """Shipping or running failed; says at which control and what to do."""


class CancelledError(MektelError):
    """The user stopped a long piece of work."""


@dataclass(frozen=True)
class LayerPlan:
    """How a target draws one layer, and why: ``native``, ``baked``, ``partly`` or ``lost``.
    ``part`` is the layer's name in the state sheet.

    With ``differs`` it cannot look as designed, wherever it lies; with ``text_is_fixed`` it is a
    label that cannot say anything else.
    """

    layer: str
    how: str
    why: str = ""
    differs: bool = False
    text_is_fixed: bool = False
    part: str = ""


@dataclass(frozen=True)
class OutFile:
    """A generated file; ``path`` is relative and has no ``..``. ``language`` is for showing it."""

    path: PurePosixPath
    content: bytes
    language: str = ""

    @property
    def text(self) -> str:
        return self.content.decode("utf-8") if self.language else ""


@dataclass(frozen=True)
class Shot:
    """How a running control is to be photographed: which control, in which state.

    ``size`` (width, height) and ``margins`` round its box are as designed, in px.
    """

    control: Control
    size: tuple[float, float]
    margins: Margins
    state: str
    flags: frozenset[str]
    text: str | None
    scale: int
    # Where the pointer is tried, in px from the box's top left.
    places: tuple[tuple[float, float], ...] = ()
    # Arguments that are set once it stands there.
    arguments: tuple[tuple[str, Any], ...] = ()


@dataclass(frozen=True, eq=False)
class Taken:
    """The photograph of a :class:`Shot`: opaque RGBA (h, w, 4) of box and margins.

    ``box`` is where the running control says its box lies in it (x, y, width, height, px),
    ``signals`` what it sent on the way, ``hits`` which of the shot's places answered the pointer,
    and ``text`` what it says, where it can be asked.
    """

    shot: Shot
    pixels: Pixels
    box: tuple[float, ...]
    signals: tuple[str, ...] = ()
    hits: tuple[bool, ...] = ()
    text: str | None = None


# Where a target has no signals of its own.
NO_SIGNALS: Mapping[str, str] = MappingProxyType({})


class Target(Protocol):
    id: str
    title: str
    summary: str
    # Names that no parameter can have in shipped code: what every control has already.
    taken: frozenset[str]
    # Whether what ships has parameters that can be set while it runs.
    takes_arguments: bool
    # Whether what stands beside a text stays where it is when that is left out.
    keeps_places: bool

    @property
    def signals(self) -> Mapping[str, str]:
        """What the target calls a signal of the behaviour, where it has another name for it."""

    def own_files(self, control: Control) -> list[str]:
        """The paths of the files that are this control's alone, as far as names go."""

    def plan(self, kit: Kit, control: Control) -> list[LayerPlan]:
        """One entry per layer, in paint order."""

    def files(self, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
        """Every file that shipping these controls writes, main files first."""

    def main_file(self, control: Control) -> PurePosixPath:
        """The file to show first for a control."""

    def usage(self, kit: Kit, control: Control) -> tuple[str, str]:
        """How to use the control in about five lines, and the language of these lines."""

    def shoot(
        self, kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress
    ) -> list[Taken]:
        """Runs the files already written to ``folder`` and takes every shot on ``backdrop``.

        States that come from input are brought about by real input. Raises
        :class:`TargetError` when the toolkit is missing or the control does not run.
        """


def camel(identifier: str) -> str:
    """``cast-off`` as ``CastOff``."""
    return "".join(word.capitalize() for word in identifier.split("-"))


def font_files(fonts: Iterable[tuple[str, int]], folder: PurePosixPath) -> list[OutFile]:
    """Font files by family and weight, and their licences."""
    used = sorted(set(fonts))
    files = [
        OutFile(folder / font_file(*font).name, font_file(*font).read_bytes()) for font in used]
    for family in sorted({family for family, _ in used}):
        name = f"OFL-{family.replace(' ', '')}.txt"
        files.append(OutFile(folder / name, licence_file(family).read_bytes(), "text"))
    return files
