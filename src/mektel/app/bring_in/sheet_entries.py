"""What a style sheet holds, read beside the interface thread, entry by entry."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial

from PySide6.QtCore import QObject, Signal

from mektel.app.background import Background
from mektel.core.errors import MektelError
from mektel.core.finding import Finding
from mektel.core.kit import Kit
from mektel.core.kit.bringing_in import Arrival, with_arrivals
from mektel.formats.css import Pressable, bases_among, control_of, open_sheet, pressables
from mektel.formats.css.sheet import StyleSheet

SLOT = "style sheet"


@dataclass
class SheetEntry:
    """A selector, and once it was read its control, alone in a kit of its own."""

    pressable: Pressable
    arrival: Arrival | None = None
    kit: Kit | None = None
    skipped: tuple[Finding, ...] = ()
    error: str = ""

    @property
    def read(self) -> bool:
        return self.kit is not None or bool(self.error)


class SheetEntries(QObject):
    """``opened`` is sent once the sheet was read, ``entry_read`` for each control after it."""

    opened = Signal()
    entry_read = Signal(int)
    failed = Signal(str)

    def __init__(self, text: str, source: str, background: Background, parent: QObject) -> None:
        super().__init__(parent)
        self.text, self.source = text, source
        self.entries: list[SheetEntry] = []
        self._background = background
        self._sheet: StyleSheet | None = None
        self._wanted = True
        background.ask(SLOT, self._open, self._take)

    def _open(self) -> tuple[StyleSheet, list[Pressable]] | str:
        try:
            sheet = open_sheet(self.text, self.source)
            return sheet, pressables(sheet)
        except MektelError as error:
            return str(error)

    def _take(self, result: tuple[StyleSheet, list[Pressable]] | str) -> None:
        if isinstance(result, str):
            self.failed.emit(result)
            return
        self._sheet, listed = result
        if not listed:
            self.failed.emit(f"{self.source}: nothing in it describes something pressable.")
            return
        self.entries = [SheetEntry(pressable) for pressable in listed]
        self.opened.emit()
        self._read_next(0)

    def _read_next(self, at: int) -> None:
        if self._wanted and at < len(self.entries):
            self._background.ask(SLOT, partial(self._read, at), self._take_entry)

    def _read(self, at: int) -> tuple[int, SheetEntry]:
        pressable = self.entries[at].pressable
        assert self._sheet is not None
        try:
            control, skipped, palette = control_of(self._sheet, pressable.selector)
            arrival = Arrival(control, palette)
            kit = with_arrivals(Kit(), [arrival])
        except MektelError as error:
            return at, SheetEntry(pressable, error=str(error))
        return at, SheetEntry(pressable, arrival, kit, tuple(skipped))

    def _take_entry(self, result: tuple[int, SheetEntry]) -> None:
        at, entry = result
        if self._wanted:
            self.entries[at] = entry
            self.entry_read.emit(at)
            self._read_next(at + 1)

    @property
    def count_read(self) -> int:
        return sum(entry.read for entry in self.entries)

    def stop(self) -> None:
        """No more is read."""
        self._wanted = False

    def arrivals(self, chosen: list[int]) -> list[Arrival]:
        """Those that were read, each with its base if that is chosen, too."""
        read = [entry for at in chosen if (entry := self.entries[at]).arrival is not None]
        bases = bases_among([entry.pressable.selector for entry in read],
                            [entry.pressable for entry in read])
        return [replace(entry.arrival, base=base)
                for entry, base in zip(read, bases, strict=True) if entry.arrival is not None]
