"""Headless Chromium, in which elements and drawings run: started, shown a page, photographed."""

from __future__ import annotations

import base64
import io
import os
import shutil
import threading
from collections.abc import Callable, Iterator, Sequence
from contextlib import ExitStack, contextmanager
from typing import Any

import numpy as np
from PIL import Image

from mektel.targets.base import CancelledError, Pixels, Progress, Shot, Taken, TargetError

# The one without a window of its own takes half the time.
BROWSERS = ("chromium-headless-shell", "chromium", "chromium-browser", "google-chrome")
# Drawn by the GPU path, as on people's screens, here on a software GPU, which takes ten times as
# long: the browser's older CPU path makes rounded shapes about a tenth of a pixel too small.
QUIET = (
    "--no-sandbox", "--disable-background-networking", "--disable-component-update",
    "--disable-sync", "--no-first-run", "--force-color-profile=srgb",
)
FLAGS = ("--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--enable-gpu-rasterization",
         "--ignore-gpu-blocklist", *QUIET)
# Milliseconds after which something that a page was asked for is given up; a busy machine needs
# half a minute for a large page.
PATIENCE = 120_000
# Empty ground round the photographed part, in px.
AROUND = 20
# Milliseconds after which a picture that could not be taken is tried again, and how often in all.
PAUSE, TRIES = 250, 4


def browser_path() -> str:
    browser = os.environ.get("MEKTEL_BROWSER") or next(
        (path for name in BROWSERS if (path := shutil.which(name))), None
    )
    if not browser:
        raise TargetError(
            "This needs Chromium to run, which is not installed. On Debian: "
            "sudo apt-get install chromium-headless-shell. Or set MEKTEL_BROWSER to its path."
        )
    return browser


class _Kept:
    """What is started once: the driver, and browsers by their flags."""

    def __init__(self, until: ExitStack) -> None:
        self._until = until
        self._driver: Any = None
        self._browsers: dict[Sequence[str], Any] = {}

    def browser(self, flags: Sequence[str]) -> Any:
        from playwright.sync_api import sync_playwright

        known = self._browsers.get(flags)
        if known is not None and known.is_connected():
            return known
        path = browser_path()
        self._driver = self._driver or self._until.enter_context(sync_playwright())
        browser = self._driver.chromium.launch(executable_path=path, args=list(flags))
        self._until.callback(browser.close)
        self._browsers[flags] = browser
        return browser


class _OfThread(threading.local):
    """What :func:`kept_running` has in this thread: a browser is used where it was started."""

    kept: _Kept | None = None


_here = _OfThread()


@contextmanager
def kept_running() -> Iterator[None]:
    """Within it Chromium is started once in this thread, when first wanted, for all runs."""
    with ExitStack() as until:
        _here.kept = _Kept(until)
        try:
            yield
        finally:
            _here.kept = None


@contextmanager
def chromium(flags: Sequence[str] = FLAGS) -> Iterator[Any]:
    """A running Chromium, as Playwright has it."""
    with ExitStack() as until:
        yield (_here.kept or _Kept(until)).browser(flags)


def shoot_pages(
    shots: list[Shot], progress: Progress, show: Callable[[Any, Shot], object],
    shoot: Callable[[Camera, Shot], Taken], what: str, **context: Any,
) -> list[Taken]:
    """Every shot, one page per control, which ``show`` fills; no network is used. Raises
    :class:`TargetError` where ``what`` is run does not run.
    """
    from playwright.sync_api import Error

    taken: list[Taken] = []
    try:
        with chromium() as browser:
            for scale in sorted({shot.scale for shot in shots}):
                with browser.new_context(device_scale_factor=scale, **context) as pages:
                    pages.set_default_timeout(PATIENCE)
                    page, shown = pages.new_page(), ""
                    camera = Camera(page, scale)
                    for shot in (shot for shot in shots if shot.scale == scale):
                        name = shot.control.name
                        if not progress(len(taken), len(shots), f"{name} in Chromium"):
                            raise CancelledError("Stopped; the run in Chromium was not finished.")
                        if shown != shot.control.id:
                            show(page, shot)
                            camera.fit()
                            shown = shot.control.id
                        taken.append(shoot(camera, shot))
    except Error as error:
        first = str(error).strip().splitlines()[0]
        raise TargetError(f"The {what} did not run in Chromium: {first}") from None
    return taken


class Camera:
    """Takes pictures of a page, several times as fast as the driver, which waits for fonts and
    frames: by a session of its own, which has to know the page's size and pixels as well.
    """

    def __init__(self, page: Any, scale: float) -> None:
        self.page, self.scale = page, scale
        self.client = page.context.new_cdp_session(page)
        self._size: dict[str, int] | None = None

    def fit(self) -> None:
        """After the page's size has changed: a picture would leave it with one pixel per px."""
        size = self.page.viewport_size
        if size != self._size:
            self.client.send("Emulation.setDeviceMetricsOverride", {
                **size, "deviceScaleFactor": self.scale, "mobile": False})
            self._size = dict(size)

    def take(self, area: tuple[float, float, float, float] | None = None) -> Pixels:
        """What the page shows in an area (x, y, width, height in px), or all of it, as RGBA."""
        self.fit()
        size = self.page.viewport_size
        x, y, width, height = area or (0, 0, size["width"], size["height"])
        clip = {"x": x, "y": y, "width": width, "height": height, "scale": 1}
        data = self._captured({"optimizeForSpeed": True, "clip": clip})
        return np.asarray(Image.open(io.BytesIO(base64.b64decode(data))).convert("RGBA"))

    def _captured(self, how: dict[str, Any], tries: int = TRIES) -> str:
        """The picture in base64. On a busy machine the browser may have no frame to take just then.
        """
        from playwright.sync_api import Error

        try:
            return str(self.client.send("Page.captureScreenshot", how)["data"])
        except Error:
            if tries <= 1 or self.page.is_closed():
                raise
        self.page.wait_for_timeout(PAUSE)
        return self._captured(how, tries - 1)


def photographed(camera: Camera, shot: Shot, middle: tuple[float, float]) -> Pixels:
    """A shot's picture, its states of pointer and keyboard brought about by real input; ``middle``
    is a place on the control, in px of the page.
    """
    page, margins, (width, height) = camera.page, shot.margins, shot.size
    pressing = bool(shot.flags & {"pressed", "disabled"})
    # Keys first: a press takes the focus, too, and then it is not the keyboard's.
    if "focus" in shot.flags:
        page.keyboard.press("Tab")
    if "hover" in shot.flags or pressing:
        page.mouse.move(*middle)
    if pressing:
        page.mouse.down()
    pixels = camera.take((AROUND, AROUND, width + margins.left + margins.right,
                          height + margins.top + margins.bottom))
    if pressing:
        page.mouse.up()
    return pixels
