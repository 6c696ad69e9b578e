"""The kit's file, and unsaved work that is kept for after a crash."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from mektel.app.document import Document
from mektel.app.kit_on_disk import KitOnDisk
from mektel.app.notices import Notice
from mektel.app.recovery import Leftover, Recovery
from mektel.app.settings import Settings
from mektel.core.errors import MektelError
from mektel.core.kit import Kit
from mektel.formats.kitfile import read_kit, write_kit


class Files(QObject):
    """``started`` is sent once another kit is there; ``changed`` when the file or its state is
    another.
    """

    started = Signal()
    changed = Signal()
    noticed = Signal(object)
    recovery_failed = Signal(str)
    # Another program has written the file, which is to be compared or saved over: its path.
    other_on_disk = Signal(object)

    def __init__(self, document: Document, settings: Settings, parent: QObject) -> None:
        super().__init__(parent)
        self._document, self._settings = document, settings
        self.path: Path | None = None
        self.saved_at = ""
        # Does something that would lose unsaved work; the window asks first.
        self.when_safe: Callable[[Callable[[], object]], object] = lambda act: act()
        self.recovery = Recovery(settings.recovery_folder, self.recovery_failed.emit)
        self.recovery_failed.connect(lambda why: self.noticed.emit(Notice(
            f"Unsaved work cannot be kept for after a crash. {why} Save soon.", bad=True)))
        self.disk = KitOnDisk(self)
        self.disk.changed.connect(self._tell_of_other)
        self.disk.gone.connect(self._tell_of_gone)

    def folder(self) -> Path:
        """Where a file dialog begins."""
        if self.path is not None:
            return self.path.resolve().parent
        recent = self._settings.recent
        return recent[0].parent if recent else Path.home()

    def start(self, kit: Kit, path: Path | None) -> None:
        """Begins with another document and a fresh history."""
        self._document.begin(kit)
        self.path = path
        self.saved_at = ""
        if path is not None:
            self._settings.remember(path)
        self.disk.know(path)
        self.recovery.drop()
        self.started.emit()
        self.changed.emit()

    def open(self, path: Path) -> bool:
        try:
            kit = read_kit(path)
        except MektelError as error:
            self.noticed.emit(Notice(f"Not opened. {error}", bad=True))
            return False
        self.start(kit, path)
        return True

    def save(self, path: Path, over: bool = False) -> bool:
        """Writes the kit; asks first where somebody else has written the file since, unless
        ``over``.
        """
        if not over and self.disk.is_other(path):
            self.other_on_disk.emit(path)
            return False
        try:
            write_kit(self._document.kit, path)
        except MektelError as error:
            self.noticed.emit(Notice(f"Not saved. {error}", bad=True))
            return False
        self.path = path
        self._document.saved = self._document.kit
        self.saved_at = datetime.now().strftime("%H:%M")
        self._settings.remember(path)
        self.disk.know(path)
        self.recovery.drop()
        self.changed.emit()
        return True

    def _tell_of_other(self) -> None:
        """The file was changed by another window or program: both versions are offered."""
        path = self.path
        if path is None:
            return
        text = f"{path.name} was changed by another program."
        if self._document.unsaved:
            text += " Your changes are still here; saving will ask which to keep."
        self.noticed.emit(Notice(
            text, action="Compare…", act=lambda: self.other_on_disk.emit(path)))

    def _tell_of_gone(self) -> None:
        """What the window has is the only one there is: it counts as unsaved."""
        path = self.path
        if path is None:
            return
        what = "is a folder now" if path.is_dir() else "was moved, renamed or deleted"
        self._document.saved = Kit()
        self.keep_unsaved()
        self.changed.emit()
        self.noticed.emit(Notice(
            f"{path.name} {what}. Your kit is still here; saving will ask where to put it.",
            bad=True))

    # Unsaved work, kept for after a crash

    def keep_unsaved(self) -> None:
        if self._document.unsaved:
            self.recovery.keep(self._document.kit, self.path)
        else:
            self.recovery.drop()

    def offer_recovery(self, report: Sequence[str] = (), file: Path | None = None) -> None:
        """Tells of work that a window left unsaved, which is kept until the user has decided; and
        of what ended it, the lines of ``report``, which are in ``file`` as well.
        """
        left = self.recovery.leftovers()
        if left:
            self._offer(left[0], left[1:], report, file)
        elif report:
            self.noticed.emit(Notice(
                f"Mektel was ended by a fault. No work was lost. The report is in {file}.",
                tuple(report), bad=True))

    def _offer(
        self, left: Leftover, more: list[Leftover], report: Sequence[str] = (),
        file: Path | None = None,
    ) -> None:
        when = datetime.fromtimestamp(left.written).strftime("%d %B, %H:%M")

        def go_on() -> None:
            if more:
                self._offer(more[0], more[1:])

        def restore() -> None:
            self.start(left.kit, left.path)
            self.recovery.adopt(left)
            self._document.saved = Kit()  # not what is on disk, whatever that holds
            self._document.changed.emit()
            self.changed.emit()
            go_on()

        def discard() -> None:
            self.recovery.forget(left.file)
            go_on()

        self.noticed.emit(Notice(
            f"Mektel ended with unsaved changes in “{left.kit.name}” ({when})."
            + (f" The report of the fault is in {file}." if report else ""), tuple(report),
            action="Bring them back", act=lambda: self.when_safe(restore),
            other="Discard them", act_other=discard))
