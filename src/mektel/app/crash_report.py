"""What is left of a run that a native fault ended, and where the event loop was while it stood
still. Python cannot catch either: its fault handler writes them from outside of the interpreter.
"""

from __future__ import annotations

import contextlib
import faulthandler
import os
import platform
import time
from datetime import datetime
from pathlib import Path

import PySide6

from mektel import __version__

# Seconds that the event loop may stand still before its stack is logged.
STILL = 2.0
LARGEST_LOG = 256 * 1024
SUFFIX = ".crash"


class CrashReport:
    """One run's report. ``beat`` is to be called a few times a second by the event loop."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.last = folder / "last-crash.txt"
        self.stops = folder / "stops.log"
        folder.mkdir(parents=True, exist_ok=True)
        if self.stops.exists() and self.stops.stat().st_size > LARGEST_LOG:
            self.stops.replace(self.stops.with_suffix(".old"))
        self._own = folder / f"{os.getpid()}{SUFFIX}"
        self._faults = self._own.open("w", encoding="utf-8")
        self._stops = self.stops.open("a", encoding="utf-8")
        self._beat = time.monotonic()
        faulthandler.enable(self._faults)
        self.beat()

    def beat(self) -> None:
        """The event loop runs; from now on it has ``STILL`` seconds until it is logged."""
        now, before = time.monotonic(), self._beat
        self._beat = now
        if now - before > STILL:
            self._stops.write(f"{datetime.now():%Y-%m-%d %H:%M:%S} the window stood still for "
                              f"{now - before:.1f} s; the stack is above\n\n")
            self._stops.flush()
        faulthandler.dump_traceback_later(STILL, file=self._stops)

    def take_last(self) -> list[str]:
        """The lines of the report of a run that a fault ended; none if none did. Each report is
        given once.
        """
        lines: list[str] = []
        for file in sorted(self.folder.glob(f"*{SUFFIX}")):
            if file == self._own or not file.stem.isdecimal() or _lives(int(file.stem[:9])):
                continue
            with contextlib.suppress(OSError):
                text = file.read_text(encoding="utf-8", errors="replace")
                if text.strip():
                    when = datetime.fromtimestamp(file.stat().st_mtime)
                    text = (f"{when:%Y-%m-%d %H:%M:%S}, Mektel {__version__}, Python "
                            f"{platform.python_version()}, PySide6 {PySide6.__version__}, "
                            f"{platform.platform()}\n{text}")
                    self.last.write_text(text, encoding="utf-8")
                    lines = text.splitlines()
                file.unlink()
        return lines

    def end(self) -> None:
        """The run ends as it should: nothing is left of it."""
        faulthandler.cancel_dump_traceback_later()
        faulthandler.disable()
        self._faults.close()
        self._stops.close()
        self._own.unlink(missing_ok=True)


def _lives(process: int) -> bool:
    return Path(f"/proc/{process}").exists()
