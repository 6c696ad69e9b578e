"""Runs generated elements in headless Chromium, with real pointer and key input."""

from __future__ import annotations

import io
import os
import shutil
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from mektel.core.kit import Kit
from mektel.core.look import shared_margins
from mektel.targets.base import CancelledError, Progress, Shot, Taken, TargetError

BROWSERS = ("chromium", "chromium-browser", "google-chrome")
FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--no-first-run", "--force-color-profile=srgb",
]
EVENTS = ("pointerenter", "pointerleave", "pointerdown", "pointerup", "click")


def browser_path() -> str:
    found = os.environ.get("MEKTEL_BROWSER") or next(
        (path for name in BROWSERS if (path := shutil.which(name))), None
    )
    if not found:
        raise TargetError(
            "Running the web element needs Chromium, which is not installed. On Debian: "
            "sudo apt-get install chromium. Or set MEKTEL_BROWSER to its path."
        )
    return found


def shoot_in_chromium(
    kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress, target: Any
) -> list[Taken]:
    """One page load per shot, from the shipped files; no network is used."""
    from playwright.sync_api import Error, sync_playwright

    executable = browser_path()
    taken: list[Taken] = []
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=executable, args=FLAGS)
            pages: dict[int, Any] = {}
            for shot in shots:
                if not progress(len(taken), len(shots), f"{shot.control.name} in Chromium"):
                    raise CancelledError("Stopped; the run in Chromium was not finished.")
                if shot.scale not in pages:
                    context = browser.new_context(device_scale_factor=shot.scale)
                    pages[shot.scale] = context.new_page()
                taken.append(_shoot(pages[shot.scale], kit, shot, folder, backdrop, target))
            browser.close()
    except Error as error:
        first = str(error).strip().splitlines()[0]
        raise TargetError(f"The element did not run in Chromium: {first}") from None
    return taken


def _shoot(
    page: Any, kit: Kit, shot: Shot, folder: Path, backdrop: str, target: Any
) -> Taken:
    margins = shared_margins(kit, shot.control)
    width, height = shot.control.size
    tag = target.tag(shot.control)
    left, top = margins.left + 20, margins.top + 20
    page.set_viewport_size({
        "width": round(width + left + margins.right + 20),
        "height": round(height + top + margins.bottom + 20),
    })
    stage = folder / f".stage-{os.getpid()}.html"
    stage.write_text(
        f"<!doctype html><meta charset=utf-8><body style='margin:0;background:{backdrop}'>"
        f"<script src='{target.main_file(shot.control)}'></script>"
        f"<{tag} style='position:absolute;left:{left}px;top:{top}px'></{tag}>",
        encoding="utf-8",
    )
    try:
        page.goto(stage.as_uri())
        element = page.locator(tag)
        page.evaluate(
            """([tag, text, disabled, events]) => {
                const element = document.querySelector(tag);
                window.signals = [];
                for (const name of events)
                    element.addEventListener(name, () => window.signals.push(name));
                if (text !== null) element.label = text;
                element.disabled = disabled;
                return document.fonts.ready.then(() => true);
            }""",
            [tag, shot.text, shot.state == "disabled", list(EVENTS)],
        )
        at = element.bounding_box()
        middle = (at["x"] + at["width"] / 2, at["y"] + at["height"] / 2)
        page.mouse.move(1, 1)
        if shot.state in ("hover", "pressed", "disabled"):
            page.mouse.move(*middle)
        if shot.state in ("pressed", "disabled"):
            page.mouse.down()
        if shot.state == "focus":
            page.keyboard.press("Tab")
        content = page.screenshot(clip={
            "x": left - margins.left, "y": top - margins.top,
            "width": width + margins.left + margins.right,
            "height": height + margins.top + margins.bottom,
        })
        if shot.state in ("pressed", "disabled"):
            page.mouse.up()
        signals = tuple(page.evaluate("window.signals"))
    finally:
        stage.unlink(missing_ok=True)
    pixels = np.asarray(Image.open(io.BytesIO(content)).convert("RGBA"))
    box = (at["x"] - left + margins.left, at["y"] - top + margins.top, at["width"], at["height"])
    return Taken(shot, pixels, box, signals)
