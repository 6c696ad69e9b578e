"""Every view at every size, in both themes: nothing cut, overlapping, too small or too pale."""

from __future__ import annotations

import os
import subprocess
import sys

import pytest

from tests.app.size_walk import SIZES, faults_of, made_longer, views
from tests.conftest import ROOT


@pytest.mark.parametrize("size", SIZES, ids=lambda size: f"{size[0]}x{size[1]}")
def test_every_view_fits(demo, size: tuple[int, int]) -> None:
    window, hand = demo
    window.resize(*size)
    hand.settle()
    assert (window.width(), window.height()) == size
    assert window.minimumWidth() == 1024 and (
        size[0] > 1700 or window.minimumSizeHint().width() <= 1024)
    found = {}
    for theme in ("light", "dark") if size == SIZES[0] else ("light",):
        window.set_theme(theme)
        for view in views(window):
            hand.settle()
            found[theme, view] = faults_of(window, size == SIZES[0])
    window.set_theme("desktop")
    assert not any(found.values()), "\n".join(
        f"{where}: {fault}" for where, faults in found.items() for fault in faults)


@pytest.mark.parametrize("size", SIZES[:2], ids=lambda size: f"{size[0]}x{size[1]}")
def test_longer_texts_fit_as_well(demo, size: tuple[int, int]) -> None:
    window, hand = demo
    window.resize(*size)
    found = {}
    for view in views(window):
        hand.settle()
        hand.until(lambda: not window.bench.background.busy)
        made_longer(window)
        for _ in range(6):  # layouts within layouts follow one after the other
            hand.settle()
        found[view] = faults_of(window, False)
    assert not any(found.values()), "\n".join(
        f"{view}: {fault}" for view, faults in found.items() for fault in faults)


def test_every_view_fits_where_the_screen_is_scaled() -> None:
    done = subprocess.run(
        [sys.executable, "tools/walk_sizes.py", "1024x700", "dark", "as-written"],
        cwd=ROOT, text=True, capture_output=True, timeout=240,
        env={**os.environ, "QT_SCALE_FACTOR": "1.5"})
    assert done.returncode == 0 and "1024x700 at 1.5, dark: 0" in done.stdout, (
        done.stdout + done.stderr[-1000:])
