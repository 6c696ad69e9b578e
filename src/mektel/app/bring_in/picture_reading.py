"""A flat picture being read as layers, beside the interface thread."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, Signal

from mektel.app.background import Background
from mektel.core.errors import MektelError
from mektel.core.fit import Reading, on_ground, read_picture
from mektel.core.fit.again import Compared, compared, read_again
from mektel.core.kit import Kit
from mektel.core.kit.bringing_in import Arrival
from mektel.core.look import propose_states
from mektel.formats.pictures import load

SLOT = "reading"


class PictureReading(QObject):
    """``changed`` is sent when there is another reading, ``went_on`` with a share while it is made.

    ``locked`` are the parts that a new fit leaves as they are.
    """

    changed = Signal()
    went_on = Signal(float)
    failed = Signal(str)

    def __init__(self, path: Path, background: Background, parent: QObject) -> None:
        super().__init__(parent)
        self.path = path
        self.reading: Reading | None = None
        self.result: Compared | None = None
        self.pixels: Any = None
        self.name, self.text, self.density = "Control", "", 1.0
        self.locked: set[str] = set()
        self.busy = True
        self.share = 0.0
        self._background = background
        background.ask(SLOT, self._read, self._take)

    def _read(self) -> tuple[Any, str, float, Reading, Compared] | str:
        try:
            file = load(self.path)
            pixels = on_ground(file.pixels)
            reading = read_picture(pixels, self.went_on.emit)
            name = file.guess.title
            density = file.guess.density
            return pixels, name, density, reading, compared(pixels, reading, name, density, "")
        except MektelError as error:
            return f"{self.path.name}: {error}"

    def _take(self, result: tuple[Any, str, float, Reading, Compared] | str) -> None:
        self.busy = False
        if isinstance(result, str):
            self.failed.emit(result)
            return
        self.pixels, self.name, self.density, self.reading, self.result = result
        self.changed.emit()

    # What the user does

    def fit_again(
        self, free: Collection[str], values: Mapping[str, float] | None = None,
        without: Collection[str] = (), added: Collection[str] = (),
    ) -> None:
        """Fits parts again, those that are locked left out."""
        if self.reading is None:
            return
        self.busy = True
        self.changed.emit()
        kept = [part for part in free if part not in self.locked]
        self._background.ask(SLOT, partial(
            self._again, self.pixels, self.reading, kept, dict(values or {}), without, added,
            self.name, self.density, self.text), self._take_again)

    @staticmethod
    def _again(
        pixels: Any, reading: Reading, free: Collection[str], values: dict[str, float],
        without: Collection[str], added: Collection[str], name: str, density: float, text: str,
    ) -> tuple[Reading, Compared] | str:
        try:
            made = read_again(pixels, reading, free, values, without, added)
            return made, compared(pixels, made, name, density, text)
        except MektelError as error:
            return str(error)

    def _take_again(self, result: tuple[Reading, Compared] | str) -> None:
        self.busy = False
        if isinstance(result, str):
            self.failed.emit(result)
            return
        self.reading, self.result = result
        self.changed.emit()

    def set_texts(self, name: str, text: str, density: float) -> None:
        """The control's name, what its label says, and pixels of the picture per px."""
        self.name, self.text, self.density = name.strip()[:80] or "Control", text[:200], density
        self.fit_again(())

    def stop(self) -> None:
        """Gives up what is being read."""
        self._background.ask(SLOT, lambda: None, lambda _: None)

    def arrival(self) -> Arrival:
        """The control as it is now, with the states that a picture does not show proposed."""
        assert self.result is not None
        return Arrival(propose_states(Kit(), self.result.control))
