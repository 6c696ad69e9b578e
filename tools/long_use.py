"""Thousands of random edits in a real window: memory, what holds it up, and that all reopens.

A hold-up is an edit, or a turn of the event loop, in which the interface thread works for more than
50 ms. After every twenty edits comes a pause, as when a user looks at what was done.
The same seed makes the same edits: a hold-up that is Mektel's comes at the same edit again, one
that the machine makes does not.

Run: .venv/bin/python tools/long_use.py [COUNT] [SEED]
"""

from __future__ import annotations

import os
import random
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_CONFIG_HOME"] = os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from PySide6.QtCore import QEvent  # noqa: E402
from PySide6.QtWidgets import QApplication  # noqa: E402
from tests.app.watchdog import Watchdog  # noqa: E402
from tests.random_edits import raw_edit  # noqa: E402

from mektel.app.faults import faults  # noqa: E402
from mektel.app.garbage import PAUSE, GarbageCollection  # noqa: E402
from mektel.app.main import make_application, make_window  # noqa: E402
from mektel.formats.kitfile import kit_from_text, kit_to_text, read_kit  # noqa: E402
from mektel.samples import DEMO  # noqa: E402

EVERY, SHOWN, RUN = 500, 12, 20


def resident() -> float:
    """Megabytes that this process has in memory."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGE_SIZE") / 2**20


def main() -> None:
    count = int(sys.argv[1]) if sys.argv[1:] else 5000
    dice = random.Random(int(sys.argv[2]) if sys.argv[2:] else 1)
    make_application()
    window = make_window(demo=True)
    window.show()
    window.bench.kit_changed.connect(GarbageCollection(window).edited)
    print(f"{0:6d} edits {resident():6.0f} MB")
    reopened = 0
    with Watchdog(limit=0.05) as watch:
        for at in range(1, count + 1):
            watch.doing = f"edit {at}"
            window.bench.edit(watch.doing, lambda kit: raw_edit(kit, dice))
            watch.take_beat()
            kit = window.bench.kit
            if at % 20 == 0:
                with watch.excused():
                    if kit_from_text(kit_to_text(kit)) != kit:
                        sys.exit(f"edit {at}: what was saved is not what is reopened")
                reopened += 1
                window.bench.select(dice.choice(kit.controls).id)
                if len(kit.controls) > 20 or not kit.palette:
                    with watch.excused():
                        demo = read_kit(DEMO)
                    window.bench.start(demo, None)
            watch.take_beat()
            until = time.monotonic() + (0.01 if at % RUN else 0.1 + PAUSE / 1000)
            while time.monotonic() < until:
                QApplication.processEvents()
                watch.take_beat()
            # As an event loop does, and this one does not by itself.
            QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
            if at % EVERY == 0:
                seconds, _ = watch.longest
                print(f"{at:6d} edits {resident():6.0f} MB, held up {len(watch.held)} times, "
                      f"{seconds * 1000:.0f} ms at most, {len(faults().places)} faults", flush=True)
    print(f"{reopened} kits reopened identical")
    for place in faults().places:
        print(place)
    for seconds, stack in sorted(watch.held, reverse=True)[:SHOWN]:
        print(f"\n{seconds * 1000:.0f} ms\n{stack}")
    window._closing = True
    window.close()


if __name__ == "__main__":
    main()
