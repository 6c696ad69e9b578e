"""Remakes docs/screenshots from the demo kit, through the real window.

Run: .venv/bin/python tools/screenshots.py [FOLDER]
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
ROOT = Path(__file__).resolve().parents[1]
os.environ["XDG_CONFIG_HOME"] = os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
os.environ["HOME"] = "/home/ferry" if not sys.argv[1:] else os.environ.get("HOME", "/")

from PySide6.QtCore import QPoint, Qt  # noqa: E402
from PySide6.QtGui import QPainter  # noqa: E402
from PySide6.QtTest import QTest  # noqa: E402
from PySide6.QtWidgets import QApplication  # noqa: E402

from mektel.app.main import make_application, make_window  # noqa: E402
from mektel.app.window import Window  # noqa: E402
from mektel.core.motion.arrivals import Arrival  # noqa: E402


def settle(window: Window, seconds: float = 0.4) -> None:
    end, bench, idle = time.monotonic() + seconds, window.bench, 0
    # What has just come is laid out, and may want other pictures.
    while time.monotonic() < end or idle < 4:
        QApplication.processEvents()
        busy = bench.looks.busy or bench.pictures.busy or bench.background.busy
        idle = 0 if busy else idle + 1
        time.sleep(0.005)


def shoot(window: Window, folder: Path, name: str) -> None:
    settle(window)
    window.grab().save(str(folder / f"{name}.png"))
    print(folder / f"{name}.png")


def press_and_hold(window: Window) -> None:
    live = window.try_pad.area.control
    handle = window.windowHandle()
    at = live.mapTo(window, live.rect().center() - QPoint(0, 4))
    QTest.mouseMove(handle, at)
    QTest.mousePress(handle, Qt.MouseButton.LeftButton, pos=at)


def shoot_pictures(window: Window, folder: Path) -> None:
    window.bench.import_files([ROOT / "examples" / "anchor-sheet@2x.png"])
    settle(window, 1.0)
    shoot(window, folder, "pictures")
    assert window.build.pictures is not None
    window.build.pictures.close_view()
    settle(window)
    window.bench.reading_wanted.emit({"rest": ROOT / "examples" / "gate@2x.png"} | {
        state: ROOT / "examples" / f"gate-{state}@2x.png"
        for state in ("hover", "pressed", "focus")})
    view = window.build.reading
    assert view is not None
    while view.reading.busy:
        settle(window, 0.2)
    view.reading.set_texts("Gate", "Open the gate", 2.0)
    while view.reading.busy:
        settle(window, 0.2)
    shoot(window, folder, "reading")
    view.close_view()
    settle(window)


def main() -> None:
    folder = Path(sys.argv[1]) if sys.argv[1:] else ROOT / "docs" / "screenshots"
    folder.mkdir(parents=True, exist_ok=True)
    make_application()
    window = make_window(demo=True)
    window.resize(1280, 800)
    window.show()
    QTest.qWaitForWindowExposed(window)
    settle(window)
    press_and_hold(window)
    shoot(window, folder, "build")
    QTest.mouseRelease(window.windowHandle(), Qt.MouseButton.LeftButton, pos=QPoint(4, 4))
    window.set_theme("dark")
    window.bench.select("half", "pressed", "foot")
    window.bench.view(backdrop="#14201F")
    shoot(window, folder, "build-night")
    window.set_theme("light")
    window.bench.select("fog", "rest", "glass")
    window.bench.view(backdrop="deck")
    shoot(window, folder, "build-lens")
    window.bench.select("night-watch", "hover", "sheen")
    window.bench.view(backdrop="#14201F", loupe="hover")
    settle(window)
    window.build.loupe.view.selected = "stop-1"
    shoot(window, folder, "close-up")
    window.bench.view(backdrop="#E9E2D3", loupe="")
    window.bench.select("ramp", "checked", "thumb")
    shoot(window, folder, "build-switch")
    window.bench.select("night-watch", "hover", "sheen")
    for size, name in (((1024, 700), "build-small"), ((1920, 1080), "build-large")):
        window.resize(*size)
        shoot(window, folder, name)
    window.resize(1280, 800)
    settle(window)
    window.bench.select("queue", "rest", "tally")
    settle(window, 1.2)
    shoot(window, folder, "build-embedded-look")
    window.bench.select("cast-off")
    window.go_to("Feel")
    window.feel.map.choose(Arrival("rest", "busy"))
    settle(window)
    window.feel.curve.scrub_to(0.24)
    shoot(window, folder, "feel")
    window.bench.select("horn")
    window.feel.turn_to(1)
    window.feel.map.choose(Arrival("hover", "pressed"))
    settle(window)
    window.feel.curve.scrub_to(0.12)
    shoot(window, folder, "feel-answers")
    window.feel.turn_to(0)
    window.bench.select("passage")
    window.go_to("Reuse")
    settle(window)
    window.reuse.variations.select(1)
    window.reuse.palette_side.choose("passage")
    shoot(window, folder, "reuse")
    window.go_to("Build")
    window.bench.select("horn", "rest", "icon")
    settle(window)
    dial = window.build.strip.card.dials["icon"]
    dial.open()
    dial.popover.search.setText("boat")
    settle(window)
    both = window.grab()
    painter = QPainter(both)
    painter.drawPixmap(dial.popover.pos() - window.pos(), dial.popover.grab())
    painter.end()
    both.save(str(folder / "icons.png"))
    dial.popover.close()
    window.bench.import_drawing(ROOT / "examples" / "ferry-site.css")
    settle(window, 1.5)
    window.build.sheet.tiles[0].setChecked(True)
    window.build.sheet.tiles[1].setChecked(True)
    shoot(window, folder, "style-sheet")
    window.build.sheet.close_view()
    shoot_pictures(window, folder)
    window.bench.select("board", "rest")
    window.go_to("Ship")
    settle(window, 1.5)
    window.ship.folder.setText(tempfile.mkdtemp(prefix="ferry-controls-"))
    window.ship.start(True)
    while window.ship.working:
        settle(window, 0.1)
    window.ship.folder.setText("/home/ferry/controls")
    window.notice.hide()
    shoot(window, folder, "ship")
    window.ship.match.all.setChecked(True)
    settle(window, 0.5)
    shoot(window, folder, "ship-all")
    window.bench.document.saved = window.bench.kit
    window.go_to("Build")
    window.ask_new()
    shoot(window, folder, "start")
    window.close()


main()
