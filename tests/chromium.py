"""Headless Chromium as an independent painter, and as the place where elements run."""

from __future__ import annotations

import io
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image
from playwright.sync_api import sync_playwright

from mektel.targets.web.runner import FLAGS, browser_path


@contextmanager
def page_on(markup: str, folder: Path, scale: int = 1, size: tuple[int, int] = (400, 300)
            ) -> Iterator[Any]:
    """A page showing ``markup``, opened from a file in ``folder``."""
    file = folder / "page-under-test.html"
    file.write_text(markup, encoding="utf-8")
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=browser_path(), args=FLAGS)
        page = browser.new_page(
            device_scale_factor=scale, viewport={"width": size[0], "height": size[1]}
        )
        page.goto(file.as_uri())
        yield page
        browser.close()


def photograph(page: Any) -> np.ndarray:
    """What the page shows, opaque RGB (h, w, 3)."""
    return np.asarray(Image.open(io.BytesIO(page.screenshot())).convert("RGB"))
