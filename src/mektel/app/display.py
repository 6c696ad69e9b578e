"""A screen to open on: the desktop’s, or a virtual one where there is none."""

from __future__ import annotations

import atexit
import os
import shutil
import subprocess
import sys

from mektel.core.errors import MektelError


class NoDisplayError(MektelError):
    """No screen, and no way to make one."""


def ensure_display() -> None:
    """Starts Xvfb when neither X11 nor Wayland is there, and says so on standard error."""
    if os.environ.get("QT_QPA_PLATFORM"):
        return
    if os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"):
        return
    program = shutil.which("Xvfb")
    if not program:
        raise NoDisplayError(
            "There is no screen here, and Xvfb, which makes a virtual one, is not installed. "
            "On Debian: sudo apt-get install xvfb."
        )
    reading, writing = os.pipe()
    server = subprocess.Popen(
        [program, "-displayfd", str(writing), "-screen", "0", "1280x800x24", "-nolisten", "tcp"],
        pass_fds=[writing], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )
    os.close(writing)
    with os.fdopen(reading) as stream:
        number = stream.readline().strip()
    if not number:
        raise NoDisplayError("Xvfb did not start, so there is no screen to open on.")
    atexit.register(server.terminate)
    os.environ["DISPLAY"] = f":{number}"
    os.environ["QT_QPA_PLATFORM"] = "xcb"
    print(
        f"mektel: no screen here; opened on a virtual one, DISPLAY=:{number} (1280 × 800). "
        "Ctrl+C ends it.",
        file=sys.stderr, flush=True,
    )
