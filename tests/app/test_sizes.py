"""Every view at every size, in both themes: nothing cut, overlapping, too small or too pale."""

from __future__ import annotations

import pytest

from tests.app.size_walk import faults_of

SELECTED = {"Build": ("night-watch", "hover", "wake"), "Feel": ("cast-off",)}
SIZES = ((1280, 800), (1024, 700), (2560, 1440))


@pytest.mark.parametrize("size", SIZES, ids=lambda size: f"{size[0]}x{size[1]}")
def test_every_view_fits(demo, size: tuple[int, int]) -> None:
    window, hand = demo
    bench = window.bench
    window.resize(*size)
    hand.settle()
    assert (window.width(), window.height()) == size
    assert window.minimumSizeHint().width() <= 1024
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
