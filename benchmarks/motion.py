"""What frames of motion cost: in the try pad, in a film, in shipped Qt controls.

Run: .venv/bin/python benchmarks/motion.py
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from mektel.core.kit import edit
from mektel.core.look.resolve import look_of, resolve, shared_margins
from mektel.core.motion import change, motion_of, played
from mektel.core.motion.arrivals import Arrival
from mektel.core.motion.film import film, moments_of
from mektel.core.motion.frames import frame_of
from mektel.core.motion.gestures import gesture
from mektel.core.paint import render
from mektel.core.remember import passing, unkept
from mektel.formats.film import film_bytes
from mektel.formats.kitfile import read_kit
from mektel.samples import DEMO
from mektel.targets import TARGETS, write_files

MOVING = """
import sys, time
sys.path.insert(0, {folder!r})
from PySide6.QtCore import QEvent, QEventLoop, QObject
from PySide6.QtWidgets import QApplication, QWidget
import controls
from controls import runtime
application = QApplication([])
window = QWidget()
buttons = [getattr(controls, name)(parent=window) for name in {names!r}]
for at, button in enumerate(buttons):
    button.move(40 + at % 4 * 220, 40 + at // 4 * 110)
window.resize(940, 620)
window.show()
application.processEvents()
class Frames(QObject):
    # Each paints all that has moved since the one before.
    shown = 0
    def eventFilter(self, watched, event):
        self.shown += event.type() == QEvent.Type.UpdateRequest
        return False
frames = Frames()
window.installEventFilter(frames)
began, inside = time.perf_counter(), True
while time.perf_counter() - began < 4:
    for button in buttons:
        button._point_at(inside)
    inside = not inside
    until = time.perf_counter() + 0.2
    while time.perf_counter() < until:
        application.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents, 5)
took = time.perf_counter() - began
print(f"{{len(buttons)}} at once: {{frames.shown / took:.1f}} frames a second")
application.processEvents()
time.sleep(1)
for _ in range(5):
    application.processEvents()
before = time.process_time()
end = time.perf_counter() + 3
while time.perf_counter() < end:
    application.processEvents()
    time.sleep(0.05)
share = (time.process_time() - before) / 3 * 100
print(f"at rest: clock {{runtime.clock().runs}}, {{share:.1f}} % of a core")
"""


def milliseconds(values: list[float], share: float) -> str:
    return f"{sorted(values)[int(len(values) * share)] * 1000:.1f}"


def main() -> None:
    kit = read_kit(DEMO)
    print("control        frames  middle    p95   strip of 12  (ms)")
    for control in kit.controls:
        events = gesture("press")
        moments = moments_of(kit, control, events, 60)
        with unkept():
            made = film(kit, control, events, moments)
        # The still looks are there, as in the try pad; no frame was drawn before.
        for flags in ((), ("hover",), ("hover", "pressed")):
            render(resolve(kit, control, flags), 2, made.margins)
        steps, costs = played(motion_of(kit, control), events), []
        with passing():
            for at, moment in enumerate(moments):
                if not at or made.looks[at] is not made.looks[at - 1]:
                    motion = next(motion for begun, motion in steps[::-1] if begun <= moment)
                    began = time.perf_counter()
                    render(frame_of(motion, moment, 2), 2, made.margins)
                    costs.append(time.perf_counter() - began)
        with unkept():
            began = time.perf_counter()
            motion = change(kit, control, *Arrival("hover", "pressed").flags)
            for at in range(12):
                render(look_of(motion.at(motion.arrives * at / 11)), 0.5, made.margins)
            strip = (time.perf_counter() - began) * 1000
        print(f"{control.id:<14} {len(costs):6d} {milliseconds(costs, 0.5):>7} "
              f"{milliseconds(costs, 0.95):>6} {strip:10.0f}")

    wide = edit.set_field(kit, "board", "size", (240.0, 72.0))
    board = wide.control("board")
    motion, room = change(wide, board, *Arrival("rest", "hover").flags), shared_margins(wide, board)
    with unkept():
        began = time.perf_counter()
        frames = [render(look_of(motion.at(motion.arrives * at / 59)), 2, room).rgba
                  for at in range(60)]
        drawn = time.perf_counter()
        content = film_bytes(frames, [1 / 60] * 60, ".webp")
    print(f"60 frames of 240 × 72 at 2×: drawn in {drawn - began:.2f} s, written in "
          f"{time.perf_counter() - drawn:.2f} s, {len(content) / 1000:.0f} kB")

    for count in (1, 20):
        with tempfile.TemporaryDirectory() as made_in:
            target = TARGETS["qtwidgets"]
            write_files(target.files(kit, kit.controls), Path(made_in) / "controls")
            plain = [control for control in kit.controls if not control.parameters]
            names = [target.class_name(plain[at % len(plain)]) for at in range(count)]
            script = MOVING.format(folder=made_in, names=names)
            subprocess.run([sys.executable, "-c", script], check=True, env=os.environ | {
                "QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": "2"})


main()
