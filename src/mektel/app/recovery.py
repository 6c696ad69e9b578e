"""Unsaved work, kept outside the kit's own file until it is saved or given up.

Every window keeps its own, written beside its work by a thread of its own; a lock says whether
that window still lives. What a window that is gone has left is offered by the next, and kept until
the user has decided.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import IO
from uuid import uuid4

from mektel.core.errors import MektelError
from mektel.core.kit import Kit
from mektel.formats.kitfile import kit_from_text, text_read_back, write_atomically

# Seconds from an edit until it is written, more edits or not.
WITHIN = 0.6
SUFFIX = ".unsaved"


@dataclass(frozen=True)
class Leftover:
    """Unsaved work of a window that is gone: its kit, and the file that it belongs to, or none."""

    file: Path
    kit: Kit
    path: Path | None
    written: float


class Recovery:
    """One window's unsaved work. ``keep`` returns at once; ``failed`` is called once, from the
    writing thread, with the message of an error when nothing can be kept.
    """

    def __init__(self, folder: Path, failed: Callable[[str], None]) -> None:
        self.folder, self._failed = folder, failed
        self._changed = threading.Condition()
        self._wanted: tuple[Kit, Path | None] | None = None
        self._due = 0.0
        self._given_up: list[Path] = []
        self._ended = self._failure_reported = False
        self._locks: dict[Path, IO[str]] = {}
        self._thread: threading.Thread | None = None
        self.file = self._new_file()

    def _new_file(self) -> Path:
        return self.folder / f"{os.getpid()}-{uuid4().hex[:8]}{SUFFIX}"

    def keep(self, kit: Kit, path: Path | None) -> None:
        """Writes this kit within ``WITHIN`` seconds, or a newer one that comes until then."""
        with self._changed:
            if self._wanted is None:
                self._due = time.monotonic() + WITHIN
            self._wanted = (kit, path)
            self._wake()

    def _wake(self) -> None:
        if self._thread is None:
            self._thread = threading.Thread(target=self._run, daemon=True, name="recovery")
            self._thread.start()
        self._changed.notify()

    def _run(self) -> None:
        while True:
            with self._changed:
                while self._wanted is None and not self._given_up and not self._ended:
                    self._changed.wait()
                while self._wanted is not None and not self._given_up and not self._ended and (
                        left := self._due - time.monotonic()) > 0:
                    self._changed.wait(left)
                given_up, self._given_up = self._given_up, []
                wanted, file = self._wanted, self.file
                if given_up or self._ended:
                    wanted = None  # not due yet
                else:
                    self._wanted = None
                ended = self._ended
            for path in given_up:
                self.forget(path)
            if ended:
                return
            if wanted is not None:
                self._write(*wanted, file)

    def _write(self, kit: Kit, path: Path | None, file: Path) -> None:
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            self._hold(file)
            content = {"path": str(path) if path else "", "kit": text_read_back(kit)}
            write_atomically(file, json.dumps(content).encode())
        except (MektelError, OSError, ValueError) as error:
            if not self._failure_reported:
                self._failure_reported = True
                self._failed(str(error))
        with self._changed:
            if file != self.file:
                self._given_up.append(file)  # while it was written

    def _hold(self, file: Path) -> bool:
        """Takes the lock of a file for as long as this process lives; False if another has it."""
        if file in self._locks:
            return True
        lock = file.with_suffix(".lock").open("w")
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            lock.close()
            return False
        self._locks[file] = lock
        return True

    def drop(self) -> None:
        """The work is saved or given up: what was kept of it goes, in a moment."""
        with self._changed:
            self._wanted = None
            if self.file in self._locks:
                self._given_up.append(self.file)
                self._wake()
            self.file = self._new_file()

    def forget(self, file: Path) -> None:
        """Deletes one piece of unsaved work, as the user decided."""
        with contextlib.suppress(OSError):
            file.unlink(missing_ok=True)
            file.with_suffix(".lock").unlink(missing_ok=True)
        if lock := self._locks.pop(file, None):
            lock.close()

    def adopt(self, left: Leftover) -> None:
        """Goes on with work that a window left: it is this window's own from now on."""
        with self._changed:
            self.file = left.file

    def leftovers(self) -> list[Leftover]:
        """What windows that are gone have left, the newest first; this window looks after it."""
        leftovers = []
        for file in self.folder.glob(f"*{SUFFIX}"):
            if file == self.file or file in self._locks:
                continue
            with contextlib.suppress(
                    OSError, ValueError, KeyError, TypeError, RecursionError, MektelError):
                if not self._hold(file):
                    continue
                content = json.loads(file.read_text(encoding="utf-8"))
                kit = kit_from_text(content["kit"], "the unsaved work")
                path = Path(content["path"]) if content["path"] else None
                leftovers.append(Leftover(file, kit, path, file.stat().st_mtime))
        return sorted(leftovers, key=lambda leftover: -leftover.written)

    def end(self) -> None:
        """The window closes. What was offered and not decided stays for the next one."""
        with self._changed:
            self._ended = True
            self._changed.notify()
        if self._thread is not None:
            self._thread.join()
        for lock in self._locks.values():
            lock.close()
        self._locks.clear()
