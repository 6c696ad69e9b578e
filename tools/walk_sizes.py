"""Walks every view at every size, in both themes, with texts as written and 40 % longer, and looks
for what is cut, lies on something else, is too small to hit or too pale to read.

The scale of the screen is the one that Qt is told: QT_SCALE_FACTOR=1.5 for one and a half.

Run: .venv/bin/python tools/walk_sizes.py [WIDTHxHEIGHT …] [light|dark] [as-written]
"""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_CONFIG_HOME"] = os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from PySide6.QtTest import QTest
from tests.app.size_walk import SIZES, faults_of, made_longer, views, wait

from mektel.app.main import make_application, make_window
from mektel.app.window import Window

THEMES = ("light", "dark")


def walk(window: Window, where: str, longer: bool) -> int:
    count = 0
    for view in views(window):
        faults: list[str] = []
        for _ in range(30):  # layouts within layouts follow one after the other
            wait(lambda: False, 0.05)
            bench = window.bench
            wait(lambda bench=bench: not (bench.background.busy or bench.pictures.busy), 5)
            if longer:
                made_longer(window)
            faults = faults_of(window, not longer)
            if not faults:
                break
        for fault in faults:
            print(f"{where}, {view}: {fault}")
        count += len(faults)
    return count


def main() -> None:
    words = sys.argv[1:]
    sizes = [tuple(map(int, word.split("x"))) for word in words if word[0].isdigit()] or SIZES
    themes = [theme for theme in THEMES if theme in words] or THEMES
    make_application()
    count = 0
    for longer in (False,) if "as-written" in words else (False, True):
        for theme in themes:
            for width, height in sizes:
                # Texts that were made longer stay so: each walk has a window of its own.
                window = make_window(demo=True)
                window.set_theme(theme)
                window.resize(width, height)
                window.show()
                QTest.qWaitForWindowExposed(window)
                where = (f"{width}x{height} at {window.devicePixelRatioF():g}, {theme}"
                         + (", longer texts" if longer else ""))
                got = walk(window, where, longer)
                print(f"{where}: {got} faults", flush=True)
                count += got
                window.set_theme("desktop")
                window.close()
                window.deleteLater()
    sys.exit(1 if count else 0)


if __name__ == "__main__":
    main()
