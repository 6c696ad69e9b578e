"""Where the window was, and how wide its panes, from one run to the next; more windows."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from PySide6.QtCore import QByteArray, QTimer
from PySide6.QtWidgets import QMainWindow, QSplitter

from mektel.app.settings import Settings

# Px that a try pad may have.
WIDEST = 2000


def remember_place(window: QMainWindow, split: QSplitter, settings: Settings) -> None:
    settings.place = {"window": bytes(window.saveGeometry().toBase64().data()).decode("ascii"),
                      "try pad": str(split.sizes()[1])}


def restore_place(window: QMainWindow, split: QSplitter, settings: Settings) -> None:
    """As it was, as far as the screens still have it; anything else is left as it is."""
    place = settings.place
    known = place.get("window", "").encode("ascii", "replace")
    window.restoreGeometry(QByteArray.fromBase64(known))
    pad = place.get("try pad", "")
    if pad.isdecimal() and 0 < int(pad) < WIDEST:
        # Once the window has its size: until then the panes share what they get.
        QTimer.singleShot(0, split, lambda: split.setSizes([split.width() - int(pad), int(pad)]))


def open_window(path: Path | None = None) -> None:
    """Another window, in a process of its own: what ends one does not end the other."""
    command = [sys.executable, "-m", "mektel", "open", *([str(path)] if path else [])]
    subprocess.Popen(command, start_new_session=True, env=os.environ.copy(),
                     stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
