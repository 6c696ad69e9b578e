"""The whole window used at random with pointer, wheel and keys: memory, widgets and threads, what
holds it up, and that all reopens.

A hold-up is a step in which the interface thread works for more than 100 ms without a turn of its
loop. The same seed does the same things, as far as the machine is as fast.

Run: .venv/bin/python tools/long_use.py [MINUTES] [SEED]
"""

from __future__ import annotations

import faulthandler
import os
import sys
import tempfile
import threading
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_CONFIG_HOME"] = os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from PySide6.QtWidgets import QApplication  # noqa: E402
from tests.app.random_use import RandomUse, inside_the_window, use_for  # noqa: E402
from tests.app.watchdog import Watchdog  # noqa: E402

from mektel.app.faults import faults  # noqa: E402
from mektel.app.garbage import GarbageCollection  # noqa: E402
from mektel.app.main import load_ahead, make_application, make_window  # noqa: E402
from mektel.formats.kitfile import kit_from_text, kit_to_text  # noqa: E402

LIMIT, SHOWN = 0.1, 12


def resident() -> float:
    """Megabytes that this process has in memory."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / 2**20


def main() -> None:
    minutes = float(sys.argv[1]) if sys.argv[1:] else 30
    seed = int(sys.argv[2]) if sys.argv[2:] else 1
    faulthandler.enable()
    os.chdir(tempfile.mkdtemp())
    make_application()
    window = make_window(demo=True)
    window.show()
    window.bench.kit_changed.connect(GarbageCollection(window).edited)
    load_ahead()
    use, steps = RandomUse(window, seed), 0
    with inside_the_window(), Watchdog(limit=LIMIT) as watch:
        for minute in range(1, max(1, round(minutes)) + 1):
            steps += use_for(use, 60 * min(1.0, minutes), watch)
            kit = window.bench.kit
            with watch.excused():
                if kit_from_text(kit_to_text(kit)) != kit:
                    sys.exit(f"minute {minute}: what is saved is not what is reopened")
            seconds, _ = watch.longest
            print(f"minute {minute:2d}: {steps:6d} steps, {resident():5.0f} MB, "
                  f"{len(QApplication.allWidgets()):5d} widgets, {threading.active_count()} "
                  f"threads, held up {len(watch.held)} times, {seconds * 1000:.0f} ms at most, "
                  f"{len(faults().places)} faults", flush=True)
    for place in faults().places:
        print(place)
    for seconds, stack in sorted(watch.held, reverse=True)[:SHOWN]:
        print(f"\n{seconds * 1000:.0f} ms\n{stack}")
    window._closing = True
    window.close()


if __name__ == "__main__":
    main()
