"""The real window: how long to a usable window, to new tiles after an edit, and a dial's frames.

Run: .venv/bin/python -m pytest benchmarks -q -s
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QEventLoop, QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from mektel.app.main import make_application, make_window
from mektel.core.kit import Stop
from mektel.formats.kitfile import read_kit
from mektel.samples import DEMO
from mektel.targets import TARGETS

START = """
import time; began = time.perf_counter()
from mektel.app.main import make_application, make_window
application = make_application()
window = make_window(demo=True)
window.show()
while window.bench.pictures.busy:
    application.processEvents()
application.processEvents()
took = time.perf_counter() - began
# Its own peak: what getrusage tells goes on from whoever started it.
print(took, next(int(line.split()[1]) for line in open("/proc/self/status")
                 if line.startswith("VmHWM")) / 1024)
"""


def settle(window) -> None:
    QApplication.processEvents()
    # Waits as the application's own loop does: turning round and round would take the
    # interpreter from those who draw.
    while window.bench.pictures.busy:
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
    QApplication.processEvents()


def test_start_to_a_usable_window(tmp_path) -> None:
    """Bar: 1.5 s warm, 300 MB. Warm is: the first start has compiled the modules, as for anyone."""
    env = {**os.environ, "PYTHONPYCACHEPREFIX": str(tmp_path)}
    env.pop("PYTHONDONTWRITEBYTECODE", None)
    runs = [
        subprocess.run([sys.executable, "-c", START], capture_output=True, text=True, check=True,
                       env=env)
        for _ in range(6)
    ]
    starts = [tuple(map(float, run.stdout.split())) for run in runs[1:]]
    print(f"\nstart {statistics.median(f[0] for f in starts):.2f} s, "
          f"{max(f[1] for f in starts):.0f} MB resident")


def test_all_tiles_after_a_colour_change() -> None:
    """Bar: 33 ms. Five states at 2×, with the shelf, the strip and the try pad."""
    make_application()
    window = make_window(demo=True)
    window.show()
    window.bench.view(density=2)
    window.bench.select(part_id="face")
    settle(window)
    times = []
    for step in range(40):
        stops = (Stop(position=0, colour=f"#2F8C{step * 6:02X}"),
                 Stop(position=1, colour="tide-deep"))
        began = time.perf_counter()
        window.bench.set_value("face", "stops", stops, "face gradient", True)
        settle(window)
        times.append(time.perf_counter() - began)
    print(f"\ncolour change to all tiles new: median {statistics.median(times) * 1e3:.0f} ms, "
          f"worst {max(times) * 1e3:.0f} ms")
    window._closing = True
    window.close()


def test_eight_tiles_after_a_colour_change() -> None:
    """Bar: 33 ms for eight tiles at 2×, in the real window: every state and three combinations."""
    make_application()
    window = make_window(demo=True)
    window.show()
    window.bench.view(density=2)
    for name, part in (("board", "face"), ("ring-up", "face"), ("pennant", "line")):
        window.bench.selection.more_states[name] = ("hover+pressed", "focus+hover", "focus+pressed")
        window.bench.select(name, "rest", part)
        settle(window)
        assert len(window.build.wall.tiles) == 8
        times = []
        for step in range(30):
            colour = f"#2F8C{step * 6:02X}"
            value = colour if part == "line" else (
                Stop(position=0, colour=colour), Stop(position=1, colour="#175A66"))
            began = time.perf_counter()
            window.bench.set_value(
                part, "colour" if part == "line" else "stops", value, "colour", True)
            settle(window)
            times.append(time.perf_counter() - began)
        window.bench.end_drag()
        print(f"\neight tiles of {name} at 2×: median {statistics.median(times[4:]) * 1e3:.0f} ms")
    window._closing = True
    window.close()


def test_pictures_of_twelve_controls() -> None:
    """Bar: 5 s for 12 controls × 8 states × 3 densities."""
    kit = read_kit(DEMO)
    chosen = kit.controls[:12]
    began = time.perf_counter()
    files = TARGETS["sprites"].files(kit, chosen)
    took = time.perf_counter() - began
    count = sum(file.path.name.count("x.png") for file in files)
    print(f"\n{count} pictures of {len(chosen)} controls: {took:.1f} s, "
          f"{took / count * 288:.1f} s for 288")


def test_frames_while_a_dial_is_dragged() -> None:
    """Bar: 30 frames a second. Each step of a real drag is followed by a whole repaint."""
    make_application()
    window = make_window(demo=True)
    window.show()
    for name, part, dial_name in (("board", "line", "width"), ("board", "shadow", "blur"),
                                  ("ring-up", "edge", "depth"), ("fog", "glass", "bend")):
        window.bench.select(name, "rest", part)
        settle(window)
        label = window.build.strip.card.dials[dial_name].label
        handle, start = window.windowHandle(), label.mapTo(window, QPoint(4, 10))
        QTest.mousePress(handle, Qt.MouseButton.LeftButton, pos=start)
        began, frames = time.perf_counter(), 40
        for step in range(frames):
            QTest.mouseMove(handle, start + QPoint(2 * (step % 20), 0))
            settle(window)
        took = time.perf_counter() - began
        QTest.mouseRelease(handle, Qt.MouseButton.LeftButton, pos=start)
        print(f"\ndragging {name} {part} {dial_name}: {frames / took:.0f} frames a second, "
              "every tile new")
    window._closing = True
    window.close()
