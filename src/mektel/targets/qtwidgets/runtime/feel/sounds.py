"""Short sounds through Qt Multimedia, where that is installed; without it, or a device, nothing."""

from __future__ import annotations

import tempfile
import time
from importlib import import_module
from pathlib import Path
from typing import Any

from ..design import Files, asset
from ..qt import QtCore, QtGui

# A sound is not begun anew within so many seconds.
APART = 0.03
_players: dict[str, Any] = {}
_last: dict[str, float] = {}
# Qt plays files only: those of a single module are written into a folder that goes with it.
_folder: list[tempfile.TemporaryDirectory[str]] = []


def _multimedia() -> Any:
    package = QtGui.__name__.rsplit(".", 1)[0]
    try:
        return import_module(f"{package}.QtMultimedia")
    except ImportError:
        return None


def _file(files: Files, name: str) -> Path | None:
    if isinstance(files, Path):
        path = files / name
        return path if path.is_file() else None
    content = asset(files, name)
    if not content:
        return None
    if not _folder:
        _folder.append(tempfile.TemporaryDirectory(prefix="sounds-"))
    path = Path(_folder[0].name) / Path(name).name
    path.write_bytes(content)
    return path


def play(files: Files, name: str, gain: float) -> bool:
    """Plays a sound that is shipped beside the controls; whether it is begun."""
    now = time.monotonic()
    if now - _last.get(name, -APART) < APART:
        return False
    _last[name] = now
    if name not in _players:
        multimedia, path = _multimedia(), _file(files, name)
        _players[name] = None
        if multimedia is not None and path is not None:
            effect = multimedia.QSoundEffect(QtCore.QCoreApplication.instance())
            effect.setSource(QtCore.QUrl.fromLocalFile(str(path)))
            _players[name] = effect
    player = _players[name]
    if player is not None:
        player.setVolume(gain)
        player.play()
    return True
