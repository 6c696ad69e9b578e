"""Flat pictures being read as layers, beside the interface thread."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, Signal

from mektel.app.background import Background
from mektel.core.errors import MektelError
from mektel.core.fit import Reading, on_ground
from mektel.core.fit.again import Compared, read_again
from mektel.core.fit.changes import (
    Change,
    compared_states,
    control_of_states,
    read_change,
    read_states,
)
from mektel.core.kit import Control, Kit
from mektel.core.kit.bringing_in import Arrival
from mektel.core.kit.conditions import REST
from mektel.core.look import propose_states
from mektel.core.pictures.layout import StatePicture, by_density
from mektel.formats.pictures import load

SLOT = "reading"


@dataclass(frozen=True)
class Texts:
    """The control's name, what its label says, and pixels of the pictures per px."""

    name: str = "Control"
    text: str = ""
    density: float = 1.0


@dataclass(frozen=True)
class States:
    """By condition the pictures, what was read in them, and ours beside them."""

    given: Mapping[str, Any]
    readings: Mapping[str, Reading]
    control: Control
    compared: Mapping[str, Compared]


class PictureReading(QObject):
    """``changed`` is sent when there is another reading, ``went_on`` with a share while it is made.

    ``locked`` are the parts that a new fit leaves as they are, ``discarded`` changes of states that
    are back to rest.
    """

    changed = Signal()
    went_on = Signal(float)
    failed = Signal(str)

    def __init__(
        self, paths: Mapping[str, Path], background: Background, parent: QObject
    ) -> None:
        super().__init__(parent)
        self.paths = dict(paths)
        self.states: States | None = None
        self.texts = Texts()
        self.locked: set[str] = set()
        self.discarded: set[Change] = set()
        self.busy = True
        self._background = background
        background.ask(SLOT, self._read, self._take)

    @property
    def reading(self) -> Reading | None:
        """That of the picture of rest."""
        return self.states.readings[REST] if self.states else None

    @property
    def result(self) -> Compared | None:
        return self.states.compared[REST] if self.states else None

    def _read(self) -> tuple[Texts, States] | str:
        try:
            files = {state: load(path) for state, path in self.paths.items()}
            first = files[REST].guess
            kept = by_density([StatePicture(state, file.pixels, file.guess.density)
                               for state, file in files.items()]).densest
            given = {picture.condition: on_ground(picture.pixels) for picture in kept}
            texts = Texts(first.title, "", kept[0].density)
            return texts, _states_of(given, read_states(given, self.went_on.emit), texts, ())
        except MektelError as error:
            return f"{self.paths[REST].name}: {error}"

    def _take(self, result: tuple[Texts, States] | str) -> None:
        self.busy = False
        if isinstance(result, str):
            self.failed.emit(result)
            return
        self.texts, self.states = result
        self.changed.emit()

    # What the user does

    def fit_again(
        self, free: Collection[str], values: Mapping[str, float] | None = None,
        without: Collection[str] = (), added: Collection[str] = (),
    ) -> None:
        """Fits parts of rest again, those that are locked left out; the other states follow."""
        kept = [part for part in free if part not in self.locked]
        self._go_on(partial(_read_again, free=kept, values=dict(values or {}), without=without,
                            added=added))

    def set_texts(self, name: str, text: str, density: float) -> None:
        self.texts = Texts(name.strip()[:80] or "Control", text[:200], density)
        self._go_on(lambda states: states.readings)

    def discard(self, state: str, part: str, value: str) -> None:
        """Leaves a value of a state as it is at rest."""
        self.discarded.add((state, part, value))
        self._go_on(lambda states: states.readings)

    def _go_on(self, read: Callable[[States], Mapping[str, Reading]]) -> None:
        before = self.states
        if before is None:
            return
        self.busy = True
        self.changed.emit()
        texts, discarded = self.texts, frozenset(self.discarded)

        def work() -> tuple[Texts, States] | str:
            try:
                return texts, _states_of(before.given, read(before), texts, discarded)
            except MektelError as error:
                return str(error)

        self._background.ask(SLOT, work, self._take)

    def stop(self) -> None:
        """Gives up what is being read."""
        self._background.ask(SLOT, lambda: None, lambda _: None)

    def arrival(self) -> Arrival:
        """The control as it is now, with the states that no picture shows proposed."""
        assert self.states is not None
        return Arrival(propose_states(Kit(), self.states.control))


def _read_again(states: States, **how: Any) -> Mapping[str, Reading]:
    first = read_again(states.given[REST], states.readings[REST], **how)
    return {REST: first} | {state: read_change(pixels, first)
                            for state, pixels in states.given.items() if state != REST}


def _states_of(
    given: Mapping[str, Any], readings: Mapping[str, Reading], texts: Texts,
    discarded: Collection[Change],
) -> States:
    control = control_of_states(readings, texts.name, texts.density, texts.text, discarded)
    return States(given, readings, control, compared_states(
        given, readings, control, texts.density, texts.text))
