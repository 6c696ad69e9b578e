"""Runs generated elements in headless Chromium, with real pointer and key input."""

from __future__ import annotations

import base64
import io
import os
import shutil
import threading
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from mektel.core.kit import Kit
from mektel.core.look import parse_flags
from mektel.targets.base import CancelledError, Pixels, Progress, Shot, Taken, TargetError
from mektel.targets.sheet import sheet_of
from mektel.targets.web.element import required_attributes

BROWSERS = ("chromium", "chromium-browser", "google-chrome")
# Drawn by the GPU path, as on people's screens, here on a software GPU: the browser's older CPU
# path makes rounded shapes about a tenth of a pixel too small all round.
FLAGS = [
    "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--enable-gpu-rasterization",
    "--ignore-gpu-blocklist", "--no-sandbox", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--no-first-run", "--force-color-profile=srgb",
]
# Empty ground round the photographed part, in px.
AROUND = 20
# Milliseconds after which a picture that could not be taken is tried again, and how often in all.
PAUSE, TRIES = 250, 4
EVENTS = ("pointerenter", "pointerleave", "pointerdown", "pointerup", "click")


def browser_path() -> str:
    browser = os.environ.get("MEKTEL_BROWSER") or next(
        (path for name in BROWSERS if (path := shutil.which(name))), None
    )
    if not browser:
        raise TargetError(
            "Running the web element needs Chromium, which is not installed. On Debian: "
            "sudo apt-get install chromium. Or set MEKTEL_BROWSER to its path."
        )
    return browser


class _OfThread(threading.local):
    """What :func:`kept_running` has in this thread: a browser is used where it was started."""

    kept: ExitStack | None = None
    browser: Any = None


_here = _OfThread()


@contextmanager
def kept_running() -> Iterator[None]:
    """Within it Chromium is started once in this thread, when first wanted, for all runs."""
    with ExitStack() as kept:
        _here.kept = kept
        try:
            yield
        finally:
            _here.kept = _here.browser = None


@contextmanager
def chromium() -> Iterator[Any]:
    """A running Chromium, as Playwright has it."""
    if _here.kept is None:
        with _launched() as browser:
            yield browser
        return
    if _here.browser is None or not _here.browser.is_connected():
        _here.kept.close()
        _here.browser = _here.kept.enter_context(_launched())
    yield _here.browser


@contextmanager
def _launched() -> Iterator[Any]:
    from playwright.sync_api import sync_playwright

    executable = browser_path()
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=executable, args=FLAGS)
        yield browser
        browser.close()


def shoot_in_chromium(
    kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress, target: Any
) -> list[Taken]:
    """One page per control, from the shipped files; no network is used."""
    from playwright.sync_api import Error

    taken: list[Taken] = []
    try:
        with chromium() as browser:
            for scale in sorted({shot.scale for shot in shots}):
                # What moves without end, or while it is pressed, has no part in a look.
                with browser.new_context(
                        device_scale_factor=scale, reduced_motion="reduce") as context:
                    page, shown = context.new_page(), ""
                    camera = Camera(page, scale)
                    for shot in (shot for shot in shots if shot.scale == scale):
                        name = shot.control.name
                        if not progress(len(taken), len(shots), f"{name} in Chromium"):
                            raise CancelledError("Stopped; the run in Chromium was not finished.")
                        if shown != shot.control.id:
                            show(page, kit, shot, folder, backdrop, target)
                            camera.fit()
                            shown = shot.control.id
                        taken.append(_shoot(camera, shot, target))
    except Error as error:
        first = str(error).strip().splitlines()[0]
        raise TargetError(f"The element did not run in Chromium: {first}") from None
    return taken


def show(
    page: Any, kit: Kit, shot: Shot, folder: Path, backdrop: str, target: Any
) -> None:
    """Loads a page with the shipped element on it, after a field that takes the first focus."""
    control, margins = shot.control, shot.margins
    left, top = margins.left + AROUND, margins.top + AROUND
    page.set_viewport_size({
        "width": round(shot.size[0] + left + margins.right + AROUND),
        "height": round(shot.size[1] + top + margins.bottom + AROUND),
    })
    tag = target.tag(control)
    stage = folder / f".stage-{os.getpid()}.html"
    stage.write_text(
        f"<!doctype html><meta charset=utf-8><body style='margin:0;background:{backdrop}'>"
        "<script src='runtime.js'></script>"
        f"<script src='{target.main_file(control)}'></script>"
        "<input style='position:absolute;width:1px;height:1px;border:0;padding:0;opacity:0'>"
        f"<{tag} style='position:absolute;left:{left}px;top:{top}px'"
        f"{required_attributes(sheet_of(kit, control))}></{tag}>",
        encoding="utf-8",
    )
    try:
        page.goto(stage.as_uri())
        page.evaluate(
            """([tag, events]) => {
                const element = document.querySelector(tag);
                window.signals = [];
                for (const name of events)
                    element.addEventListener(name, () => window.signals.push(name));
                // A picture that a state shows for the first time would come a frame late.
                const root = element.shadowRoot, sheets = [
                    ...root.styleSheets, ...root.adoptedStyleSheets];
                const rules = sheets.flatMap((one) => [...one.cssRules]);
                const urls = rules.flatMap((one) => [
                    ...one.cssText.matchAll(/url\\("(data:[^"]+)"\\)/g)].map((match) => match[1]));
                window.pictures = [...new Set(urls)].map((url) => {
                    const picture = new Image();
                    picture.src = url;
                    return picture;
                });
                return Promise.all([document.fonts.ready,
                    ...window.pictures.map((one) => one.decode())]).then(() => urls.length);
            }""",
            [tag, list(EVENTS)],
        )
    finally:
        stage.unlink(missing_ok=True)


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


def _shoot(camera: Camera, shot: Shot, target: Any) -> Taken:
    page, margins, (width, height) = camera.page, shot.margins, shot.size
    tag = target.tag(shot.control)
    flags = parse_flags(shot.state)
    pressing = bool(flags & {"pressed", "disabled"})
    page.mouse.move(1, 1)
    x, y, w, h = page.evaluate(
        """([tag, text, disabled, checked, busy, given]) => {
            const element = document.querySelector(tag);
            Object.assign(element, given);
            document.querySelector("input").focus();
            window.signals.length = 0;
            if (text === null) element.removeAttribute("label");
            else element.label = text;
            element.disabled = disabled;
            element.checked = checked;
            element.busy = busy;
            const box = element.getBoundingClientRect();
            return [box.x, box.y, box.width, box.height];
        }""",
        [tag, shot.text, *(state in flags for state in ("disabled", "checked", "busy")),
         dict(shot.arguments)],
    )
    hits, said = page.evaluate(
        """([tag, places]) => {
            const element = document.querySelector(tag);
            return [places.map(([x, y]) => document.elementFromPoint(x, y) === element),
                    element.label];
        }""", [tag, [[x + px, y + py] for px, py in shot.places]])
    # Keys first: a press takes the focus, too, and then it is not the keyboard's.
    if "focus" in flags:
        page.keyboard.press("Tab")
    if "hover" in flags or pressing:
        page.mouse.move(x + w / 2, y + h / 2)
    if pressing:
        page.mouse.down()
    pixels = camera.take((AROUND, AROUND, width + margins.left + margins.right,
                          height + margins.top + margins.bottom))
    if pressing:
        page.mouse.up()
    signals = tuple(page.evaluate("window.signals"))
    return Taken(shot, pixels, (x - AROUND, y - AROUND, w, h), signals, tuple(hits),
                 said if shot.text is None else None)
