"""Every view at every size, in both themes: nothing cut, overlapping, too small or too pale."""

from __future__ import annotations

import math
import os
import subprocess
import sys

import pytest
from PySide6.QtWidgets import QLabel, QPushButton, QWidget

from tests.app.size_walk import faults_of
from tests.conftest import ROOT

SELECTED = {"Build": ("night-watch", "hover", "wake"), "Feel": ("cast-off",)}
SIZES = ((1280, 800), (1024, 700), (1920, 1080), (2560, 1440))


@pytest.mark.parametrize("size", SIZES, ids=lambda size: f"{size[0]}x{size[1]}")
def test_every_view_fits(demo, size: tuple[int, int]) -> None:
    window, hand = demo
    bench = window.bench
    window.resize(*size)
    hand.settle()
    assert (window.width(), window.height()) == size
    assert window.minimumWidth() == 1024 and (
        size[0] > 1700 or window.minimumSizeHint().width() <= 1024)
    found = {}
    for theme in ("light", "dark") if size == SIZES[0] else ("light",):
        window.set_theme(theme)
        for view in ("Build", "Feel", "Reuse", "Ship"):
            bench.select(*SELECTED.get(view, ("queue",)))
            window.go_to(view)
            hand.settle()
            found[theme, view] = faults_of(window, size == SIZES[0])
    window.set_theme("desktop")
    assert not any(found.values()), "\n".join(
        f"{where}: {fault}" for where, faults in found.items() for fault in faults)


def _made_longer(window: QWidget, more: float = 0.4) -> None:
    """Every text of ours as long as other languages have it; names and figures as they are."""
    kit, control = window.bench.kit, window.bench.control
    own = {kit.name, control.name, control.text, *(layer.name for layer in control.layers)}
    for widget in (*window.findChildren(QLabel), *window.findChildren(QPushButton)):
        text = widget.text()
        ours = sum(letter.isalpha() for letter in text) > 2 and not any(
            name and text.startswith(name) for name in own)
        if ours and "<" not in text and not widget.property("longer"):
            widget.setProperty("longer", True)
            widget.setText(f"{text} {'n' * math.ceil(more * len(text))}")


@pytest.mark.parametrize("size", SIZES[:2], ids=lambda size: f"{size[0]}x{size[1]}")
def test_longer_texts_fit_as_well(demo, size: tuple[int, int]) -> None:
    window, hand = demo
    window.resize(*size)
    found = {}
    for view in ("Build", "Feel", "Reuse", "Ship"):
        window.bench.select(*SELECTED.get(view, ("queue",)))
        window.go_to(view)
        hand.settle()
        hand.until(lambda: not window.bench.background.busy)
        _made_longer(window)
        for _ in range(6):  # layouts within layouts follow one after the other
            hand.settle()
        found[view] = faults_of(window, False)
    assert not any(found.values()), "\n".join(
        f"{view}: {fault}" for view, faults in found.items() for fault in faults)


AT_ONE_AND_A_HALF = """
import sys
from PySide6.QtTest import QTest
from mektel.app.main import make_application, make_window
from tests.app.size_walk import faults_of
make_application()
window = make_window(demo=True)
window.resize(1024, 700)
window.show()
QTest.qWaitForWindowExposed(window)
assert window.devicePixelRatioF() == 1.5
for view in ("Build", "Feel", "Reuse", "Ship"):
    window.go_to(view)
    for _ in range(20):  # layouts within layouts follow one after the other
        QTest.qWait(100)
        faults = faults_of(window, False)
        if not faults:
            break
    for fault in faults:
        print(view, fault)
window.close()
"""


def test_every_view_fits_where_the_screen_is_scaled() -> None:
    done = subprocess.run(
        [sys.executable, "-c", AT_ONE_AND_A_HALF], cwd=ROOT, text=True, capture_output=True,
        timeout=120, env={**os.environ, "QT_SCALE_FACTOR": "1.5"})
    assert done.returncode == 0 and done.stdout == "", done.stdout + done.stderr[-1000:]
