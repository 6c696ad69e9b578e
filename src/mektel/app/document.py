"""The kit that is worked on: its history, and edits as named steps."""

from __future__ import annotations

import threading
from collections.abc import Callable

from pydantic import ValidationError
from PySide6.QtCore import QObject, Signal

from mektel.app.notices import Notice
from mektel.core.errors import MektelError
from mektel.core.kit import History, Kit
from mektel.core.kit.checking import checked
from mektel.core.kit.control import fault_of


class Document(QObject):
    """``changed`` is sent after every step, there and back; ``noticed`` of what was refused."""

    changed = Signal()
    noticed = Signal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.history = History(Kit())
        self.saved: Kit = self.history.kit

    @property
    def kit(self) -> Kit:
        return self.history.kit

    @property
    def unsaved(self) -> bool:
        return self.kit != self.saved

    def begin(self, kit: Kit) -> None:
        """Goes on with another kit and a fresh history."""
        before, self.history, self.saved = self.history, History(kit), kit
        # Freeing hundreds of kits takes longer than a frame.
        threading.Thread(target=before.clear, daemon=True, name="history").start()

    def edit(self, name: str, make: Callable[[Kit], Kit], merge: object = None) -> bool:
        """One named step. A refused edit is reported and changes nothing.

        What it makes is checked against every rule of the document: it can be saved and opened.
        """
        title = f"{name[0].upper()}{name[1:]}"
        try:
            kit = checked(make(self.kit), self.kit)
        except MektelError as error:
            self.noticed.emit(Notice(f"{title}: {error}", bad=True))
            return False
        except ValidationError as error:
            place, why = fault_of(error)
            self.noticed.emit(Notice(f"{title}: {place}: {why}" if place else f"{title}: {why}",
                                     bad=True))
            return False
        before = self.kit
        self.history.do(name, kit, merge)
        if self.kit is not before:
            self.changed.emit()
        return True

    def end_drag(self) -> None:
        self.history.close_step()

    def undo(self) -> None:
        self.history.undo()
        self.changed.emit()

    def redo(self) -> None:
        self.history.redo()
        self.changed.emit()
