"""Every view at every size, in both themes: nothing cut, overlapping, too small or too pale."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable, Sequence

import pytest
from PySide6.QtWidgets import QWidget

from tests.app.conftest import Hand
from tests.app.size_walk import SIZES, VIEWS, faults_of, made_longer, views, wait
from tests.conftest import ROOT
from tests.slices import some_of


def walk(window: QWidget, hand: Hand, sizes: tuple[tuple[int, int], ...], colours: bool,
         changed: Callable[[QWidget], None] | None = None, names: Sequence[str] = VIEWS
         ) -> list[str]:
    """Every fault of these views, which are resized from one size to the next as by hand."""
    faults = []
    for view in views(window, names):
        hand.settle()
        if changed is not None:
            wait(lambda: not window.bench.background.busy)
            changed(window)
        for size in sizes:
            window.resize(*size)
            for _ in range(6):  # layouts within layouts follow one after the other
                hand.settle()
            assert (window.width(), window.height()) == size
            faults += [f"{view} at {size}: {fault}" for fault in faults_of(
                window, colours and size == sizes[0])]
        window.resize(*sizes[0])
    return faults


def test_every_view_fits(demo) -> None:
    window, hand = demo
    window.resize(*SIZES[0])
    faults = walk(window, hand, (SIZES[0], *some_of(SIZES[1:], 3)), True)
    assert not faults, "\n".join(faults)


def test_longer_texts_fit_and_can_be_read_in_the_dark(demo) -> None:
    window, hand = demo
    window.set_theme("dark")
    window.resize(*SIZES[0])
    hand.settle()
    assert window.minimumWidth() == 1024 and window.minimumSizeHint().width() <= 1024
    faults = walk(window, hand, some_of((SIZES[1], SIZES[0]), 2), True, made_longer,
                  some_of(VIEWS, 2))
    window.set_theme("desktop")
    assert not faults, "\n".join(faults)


@pytest.mark.every_case
def test_every_view_fits_where_the_screen_is_scaled() -> None:
    done = subprocess.run(
        [sys.executable, "tools/walk_sizes.py", "1024x700", "dark", "as-written"],
        cwd=ROOT, text=True, capture_output=True, timeout=240,
        env={**os.environ, "QT_SCALE_FACTOR": "1.5"})
    assert done.returncode == 0 and "1024x700 at 1.5, dark: 0" in done.stdout, (
        done.stdout + done.stderr[-1000:])
