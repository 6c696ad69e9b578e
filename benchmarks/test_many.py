"""A kit of 200 controls: opening it, editing in it, the size of its file.

Run: .venv/bin/python -m pytest benchmarks/test_many.py -q -s
"""

from __future__ import annotations

import os
import statistics
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from benchmarks.test_window import settle
from PySide6.QtWidgets import QApplication

from mektel.app.main import make_application, make_window
from mektel.core.kit import deriving, edit, palette_edits
from mektel.formats.kitfile import read_kit, write_kit
from mektel.samples import DEMO


def large_kit(path: Path) -> None:
    """Copies of every demo control, and some that derive from others."""
    kit = read_kit(DEMO)
    first = [one.id for one in kit.controls]
    while len(kit.controls) < 200:
        name = first[len(kit.controls) % len(first)]
        if len(kit.controls) % 5:
            kit = edit.copy_control(kit, name)
        else:
            taken = [one.id for one in kit.controls]
            new = edit.identifier(f"{name} other", taken, "control")
            kit = deriving.derive(kit, name, f"{name} {len(kit.controls)}", new)
            kit = edit.set_value(kit, new, "rest", "outline", "padding", (20.0, 6.0))
    write_kit(kit, path)


def test_a_kit_of_two_hundred_controls(tmp_path: Path) -> None:
    """Bars: open in 2 s, edits within a frame (16.7 ms), file under 2 MB."""
    path = tmp_path / "large.mektel"
    large_kit(path)
    print(f"\nfile {path.stat().st_size / 1e6:.2f} MB")
    make_application()
    began = time.perf_counter()
    kit = read_kit(path)
    read = time.perf_counter() - began
    window = make_window(path)
    window.show()
    QApplication.processEvents()
    print(f"read in {read:.2f} s, window with its first frame in "
          f"{time.perf_counter() - began:.2f} s")
    settle(window)
    for title, make in (
        ("a value of one control", lambda kit, n: edit.set_value(
            kit, "cargo", "rest", "line", "width", 1.0 + n % 5)),
        ("a value of a control that 13 others derive from", lambda kit, n: edit.set_value(
            kit, "board", "rest", "line", "width", 1.0 + n % 5)),
        ("a palette colour", lambda kit, n: palette_edits.set_swatch(
            kit, "tide", f"#2F8C{n:02X}")),
        ("a new name for a palette colour", lambda kit, n: palette_edits.rename(
            kit, f"sail{n - 1 or ''}" if n else "sail", f"sail{n or 'z'}") if n == 0 else kit),
    ):
        took = []
        work = kit
        for number in range(12):
            began = time.perf_counter()
            work = make(work, number)
            took.append(time.perf_counter() - began)
        print(f"{title}: median {statistics.median(took) * 1e3:.1f} ms, "
              f"worst {max(took) * 1e3:.1f} ms")
    began = time.perf_counter()
    for number in range(10):
        window.bench.select("cargo")
        window.bench.set_value("line", "width", 1.0 + number % 5, "line width", True)
        QApplication.processEvents()
    print(f"an edit in the window, until the next frame: "
          f"{(time.perf_counter() - began) * 100:.1f} ms")
    window._closing = True
    window.close()
