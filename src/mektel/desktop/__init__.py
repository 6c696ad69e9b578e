"""Mektel in the menus of the user's desktop, as the freedesktop.org standards have it.

Desktop Entry, Shared MIME-info, Icon Theme and AppStream; all below the user's data folder
(XDG Base Directory), nothing of the system is touched.
"""

from __future__ import annotations

import contextlib
import os
import shutil
import subprocess
import sys
from pathlib import Path

import platformdirs

from mektel.core.errors import MektelError

FILES = Path(__file__).parent / "files"
# Where each file goes, below the user's data folder.
PLACES = {
    "mektel.desktop": "applications",
    "mektel.xml": "mime/packages",
    "mektel.metainfo.xml": "metainfo",
    "mektel.svg": "icons/hicolor/scalable/apps",
}
# What desktops keep of these folders, made anew where the tool is there.
CACHES = (("update-mime-database", "mime"), ("update-desktop-database", "applications"),
          ("gtk-update-icon-cache", "icons/hicolor"))
SECONDS = 30


class DesktopError(MektelError):
    """A file of the desktop that cannot be written or removed."""


def install() -> list[Path]:
    """Writes every file; the paths, all absolute. Raises :class:`DesktopError`."""
    paths = []
    for name, folder in PLACES.items():
        path = _data() / folder / name
        text = (FILES / name).read_text(encoding="utf-8").replace("@start@", _start())
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(text, encoding="utf-8")
        except OSError as error:
            raise DesktopError(f"{path}: not written: {error.strerror}.") from None
        paths.append(path)
    _refresh()
    return paths


def uninstall() -> list[Path]:
    """Removes what :func:`install` wrote, and nothing else; the paths that were there."""
    paths = [path for name, folder in PLACES.items() if (path := _data() / folder / name).exists()]
    for path in paths:
        try:
            path.unlink()
        except OSError as error:
            raise DesktopError(f"{path}: not removed: {error.strerror}.") from None
    _refresh()
    return paths


def _data() -> Path:
    return platformdirs.user_data_path()


def _start() -> str:
    """The command that starts Mektel, quoted as Desktop Entry (1.5, the Exec key) has it."""
    command = os.environ.get("MEKTEL_START") or shutil.which(sys.argv[0]) or sys.argv[0]
    path = str(Path(command).absolute())
    for letter in '\\"`$':
        path = path.replace(letter, f"\\{letter}")
    # The key is itself a string, in which a backslash is escaped, and % begins a field code.
    return '"' + path.replace("\\", "\\\\").replace("%", "%%") + '"'


def _refresh() -> None:
    for command, folder in CACHES:
        if shutil.which(command) and (_data() / folder).is_dir():
            with contextlib.suppress(OSError, subprocess.SubprocessError):
                subprocess.run([command, str(_data() / folder)], capture_output=True,
                               timeout=SECONDS, check=False)
