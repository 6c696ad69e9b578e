"""What shipped Qt controls cost, beside Qt's own button. States change at once: what frames of
motion cost is measured by motion.py.

Run: .venv/bin/python benchmarks/shipped_qt.py PACKAGE [SCALE], with the folder that controls were
exported to; prints a table.
"""

from __future__ import annotations

import gc
import importlib
import os
import statistics
import sys
import time
import warnings
from collections.abc import Callable
from pathlib import Path
from typing import Any

PACKAGE = Path(sys.argv[1]).resolve()
os.environ |= {"QT_QPA_PLATFORM": "offscreen",
               "QT_SCALE_FACTOR": sys.argv[2] if sys.argv[2:] else "1"}
sys.path.insert(0, str(PACKAGE.parent))

from PySide6.QtWidgets import QApplication, QPushButton, QWidget  # noqa: E402

MANY, REPAINTS = 1000, 100
RESIZED = ((400, 300), (640, 400))
STEPS = 20


def milliseconds(act: Callable[[], object]) -> float:
    began = time.perf_counter()
    act()
    return (time.perf_counter() - began) * 1000


def megabytes() -> float:
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / 2**20


def row(application: QApplication, name: str, kind: Callable[[QWidget], Any]) -> list[float]:
    """Repaint of the same state, and of a QPushButton as large; first paints of a state; after a
    resize; a step of a drag, 2 px wider and 1 px higher; the longest event after that, until it is
    exact; 1000 made; shown; MB.
    """
    window = QWidget()
    window.resize(900, 700)
    control = kind(window)
    room = getattr(control, "bleed", None)
    at = (room().left(), room().top()) if room else (60, 60)
    control.move(*at)
    control.resize(control.sizeHint())
    window.show()
    application.processEvents()
    first = []
    for change in (lambda: control.setDown(True), lambda: control.setDown(False),
                   lambda: control.setEnabled(False)):
        change()
        first.append(milliseconds(control.repaint))
    control.setEnabled(True)
    control.repaint()
    again = statistics.median(milliseconds(control.repaint) for _ in range(REPAINTS))
    plain = QPushButton("Board", window)
    plain.setGeometry(at[0], 400, control.width(), control.height())
    plain.show()
    plain.repaint()
    as_large = statistics.median(milliseconds(plain.repaint) for _ in range(REPAINTS))
    steps = []
    for _ in range(STEPS):
        control.resize(control.width() + 2, control.height() + 1)
        steps.append(milliseconds(control.repaint))
    resized = []
    for size in RESIZED:
        control.resize(*size)
        resized.append(milliseconds(control.repaint))
    longest, until = 0.0, time.perf_counter() + 1
    while getattr(control, "resizing", None) is not None and time.perf_counter() < until:
        longest = max(longest, milliseconds(application.processEvents))
    window.close()
    gc.collect()  # the thousand of before
    before = megabytes()
    stage, made = QWidget(), []
    stage.resize(1200, 900)
    built = milliseconds(lambda: made.extend(kind(stage) for _ in range(MANY)))
    for at_, one in enumerate(made):
        one.move(at_ % 40 * 28, at_ // 40 * 34)
        one.resize(one.sizeHint())

    def show() -> None:
        stage.show()
        application.processEvents()
        stage.repaint()

    shown = milliseconds(show)
    return [again, as_large, max(first), *resized, longest, statistics.median(steps), built, shown,
            megabytes() - before]


def maker(kind: Any) -> Callable[[QWidget], Any]:
    """Makes a control for a parent, with what its kit requires where it has to be given."""
    def make(parent: QWidget) -> Any:
        for arguments, named in (((parent,), {}), (("One way", parent), {}),
                                 (("One way", parent), {"on_press": print})):
            try:
                return kind(*arguments, **named)
            except TypeError as error:
                refused = error
        raise refused

    return make


def main() -> None:
    warnings.simplefilter("ignore")
    application = QApplication([])
    columns = ("control", "again", "QPushButton as large", "new state", "400 × 300", "640 × 400",
               "then", "drag", "1000 made", "1000 shown", "MB")
    print(f"| {' | '.join(columns)} |\n|{'---|' * len(columns)}")
    controls = importlib.import_module(PACKAGE.name)
    runtime = importlib.import_module(f"{PACKAGE.name}.runtime")
    if hasattr(runtime, "set_reduced_motion"):
        runtime.set_reduced_motion(True)
    kinds: list[tuple[str, Any]] = [("QPushButton", lambda parent: QPushButton("Board", parent))]
    for name in sys.argv[3:] or controls.__all__:
        kinds.append((name.removesuffix("Button"), maker(getattr(controls, name))))
    for name, kind in kinds:
        values = row(application, name, kind)
        print(f"| {name} | " + " | ".join(
            f"{value:.2f}" if value < 1 else f"{value:.1f}" if value < 100 else f"{value:.0f}"
            for value in values) + " |", flush=True)


if __name__ == "__main__":
    main()
