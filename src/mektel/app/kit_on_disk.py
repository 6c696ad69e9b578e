"""What is known of a kit's file: whether somebody else has written it since."""

from __future__ import annotations

import hashlib
from pathlib import Path

from PySide6.QtCore import QFileSystemWatcher, QObject, QTimer, Signal


class KitOnDisk(QObject):
    """Watches one file; ``changed`` is sent when its content is no longer what was read or written
    here, ``gone`` once when it is no longer there.
    """

    changed = Signal()
    gone = Signal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._path: Path | None = None
        self._known = self._reported = ""
        self._gone_reported = False
        self._watcher = QFileSystemWatcher(self)
        # A file that is replaced is gone for a moment; several changes come at once.
        self._settled = QTimer(self, singleShot=True, interval=250)
        self._settled.timeout.connect(self._look)
        self._watcher.fileChanged.connect(lambda _: self._settled.start())
        self._watcher.directoryChanged.connect(lambda _: self._settled.start())

    def know(self, path: Path | None) -> None:
        """The file's content is now what the window has."""
        watched = [*self._watcher.files(), *self._watcher.directories()]
        if watched:
            self._watcher.removePaths(watched)
        self._path = path
        self._gone_reported = False
        self._known = self._digest()
        if path is not None:
            # A file that is replaced is no longer the one that was watched: its folder tells.
            self._watcher.addPaths([str(path.resolve()), str(path.resolve().parent)])

    def is_other(self, path: Path) -> bool:
        """Whether the file holds something that this window neither read nor wrote."""
        return path == self._path and path.exists() and self._digest() != self._known

    @property
    def is_gone(self) -> bool:
        """Whether the file was moved, renamed, deleted, or is a folder now."""
        return self._path is not None and not self._path.is_file()

    def _look(self) -> None:
        if self._path is None:
            return
        if self.is_gone:
            if not self._gone_reported:
                self._gone_reported = True
                self.gone.emit()
            return
        self._gone_reported = False
        if str(self._path.resolve()) not in self._watcher.files() and self._path.exists():
            self._watcher.addPath(str(self._path.resolve()))
        if self.is_other(self._path) and self._digest() != self._reported:
            self._reported = self._digest()  # each version is reported once
            self.changed.emit()

    def _digest(self) -> str:
        if self._path is None:
            return ""
        try:
            with self._path.open("rb") as file:
                return hashlib.file_digest(file, "sha256").hexdigest()
        except OSError:
            return ""
