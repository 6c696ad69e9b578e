"""Headless Chromium as an independent painter, and as the place where elements run."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from weakref import WeakKeyDictionary

import numpy as np

from mektel.targets.chromium import FLAGS, PATIENCE, QUIET, Camera, chromium

# Where no pixel is counted the browser draws on the CPU, which takes a tenth of the time.
QUICK = ("--disable-gpu", *QUIET)
_cameras: WeakKeyDictionary[Any, Camera] = WeakKeyDictionary()


@contextmanager
def page_on(markup: str, folder: Path, scale: int = 1, size: tuple[int, int] = (400, 300),
            exact: bool = False) -> Iterator[Any]:
    """A page showing ``markup``, opened from a file in ``folder``; drawn as on people's screens if
    ``exact``.
    """
    file = folder / "page-under-test.html"
    file.write_text(markup, encoding="utf-8")
    viewport = {"width": size[0], "height": size[1]}
    with chromium(FLAGS if exact else QUICK) as browser, browser.new_context(
            device_scale_factor=scale, viewport=viewport) as context:
        context.set_default_timeout(PATIENCE)
        page = context.new_page()
        page.goto(file.as_uri())
        yield page


def photograph(page: Any) -> np.ndarray:
    """What the page shows, opaque RGB (h, w, 3)."""
    camera = _cameras.get(page)
    if camera is None:
        camera = _cameras[page] = Camera(page, page.evaluate("devicePixelRatio"))
    return camera.take()[:, :, :3]
