"""Where the window was, and how wide its panes, from one run to the next; more windows."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from PySide6.QtCore import QByteArray
from PySide6.QtWidgets import QMainWindow, QSplitter

from mektel.app.settings import Settings


def remember_place(window: QMainWindow, split: QSplitter, settings: Settings) -> None:
    settings.place = {"window": bytes(window.saveGeometry().toBase64().data()).decode("ascii"),
                      "panes": bytes(split.saveState().toBase64().data()).decode("ascii")}


def restore_place(window: QMainWindow, split: QSplitter, settings: Settings) -> None:
    """As it was, as far as the screens still have it; anything else is left as it is."""
    place = settings.place
    if window.restoreGeometry(_bytes(place.get("window", ""))):
        split.restoreState(_bytes(place.get("panes", "")))


def _bytes(text: str) -> QByteArray:
    return QByteArray.fromBase64(text.encode("ascii", "replace"))


def open_window(path: Path | None = None) -> None:
    """Another window, in a process of its own: what ends one does not end the other."""
    command = [sys.executable, "-m", "mektel", "open", *([str(path)] if path else [])]
    subprocess.Popen(command, start_new_session=True, env=os.environ.copy(),
                     stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
