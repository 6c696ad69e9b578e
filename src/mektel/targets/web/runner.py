"""Runs generated elements in headless Chromium, with real pointer and key input."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

from mektel.core.kit import Kit
from mektel.core.look import parse_flags
from mektel.targets.base import Progress, Shot, Taken
from mektel.targets.chromium import AROUND, Camera, photographed, shoot_pages
from mektel.targets.sheet import sheet_of
from mektel.targets.web.element import required_attributes

EVENTS = ("pointerenter", "pointerleave", "pointerdown", "pointerup", "click")


def shoot_in_chromium(
    kit: Kit, shots: list[Shot], folder: Path, backdrop: str, progress: Progress, target: Any
) -> list[Taken]:
    """Every shot from the shipped files."""
    # What moves without end, or while it is pressed, has no part in a look.
    return shoot_pages(
        shots, progress, lambda page, shot: show(page, kit, shot, folder, backdrop, target),
        lambda camera, shot: _shoot(camera, shot, target), "element", reduced_motion="reduce")


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


def _shoot(camera: Camera, shot: Shot, target: Any) -> Taken:
    page, tag, flags = camera.page, target.tag(shot.control), parse_flags(shot.state)
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
    pixels = photographed(camera, shot, (x + w / 2, y + h / 2))
    signals = tuple(page.evaluate("window.signals"))
    return Taken(shot, pixels, (x - AROUND, y - AROUND, w, h), signals, tuple(hits),
                 said if shot.text is None else None)
