"""Drawings that answer, in a page of headless Chromium, with real input."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path, PurePosixPath
from typing import Any

from mektel.core.kit import Control
from mektel.targets.base import Progress, Shot, Taken, TargetError
from mektel.targets.chromium import AROUND, Camera, photographed, shoot_pages

STATES = ("disabled", "checked", "busy")


def shoot_drawings(
    shots: list[Shot], folder: Path, backdrop: str, progress: Progress,
    file_of: Callable[[Control], PurePosixPath],
) -> list[Taken]:
    """Every shot from the drawing that answers. Raises :class:`TargetError` where it cannot be
    shown.
    """
    def show(page: Any, shot: Shot) -> None:
        path = folder / file_of(shot.control)
        try:
            _show(page, shot, path.read_text(encoding="utf-8"), backdrop)
        except OSError as error:
            raise TargetError(f"{path}: {error.strerror}") from None

    return shoot_pages(shots, progress, show, _shoot, "drawing")


def _show(page: Any, shot: Shot, drawing: str, backdrop: str) -> None:
    """The drawing in a page, after a field that takes the first focus."""
    margins, (width, height) = shot.margins, shot.size
    page.set_viewport_size({
        "width": round(width + margins.left + margins.right + 2 * AROUND),
        "height": round(height + margins.top + margins.bottom + 2 * AROUND)})
    page.set_content(
        f"<!doctype html><meta charset=utf-8><body style='margin:0;background:{backdrop}'>"
        "<input style='position:absolute;width:1px;height:1px;border:0;padding:0;opacity:0'>"
        f"<div style='position:absolute;left:{AROUND}px;top:{AROUND}px'>{drawing}</div>")


def _shoot(camera: Camera, shot: Shot) -> Taken:
    page, margins, (width, height) = camera.page, shot.margins, shot.size
    page.mouse.move(1, 1)
    page.evaluate(
        """(holding) => {
            document.querySelector("input").focus();
            const drawing = document.querySelector("svg");
            for (const [state, holds] of Object.entries(holding))
                drawing.setAttribute(`aria-${state}`, String(holds));
        }""", {state: state in shot.flags for state in STATES})
    left, top = AROUND + margins.left, AROUND + margins.top
    hits = page.evaluate(
        """(places) => places.map(([x, y]) =>
            document.querySelector("svg").contains(document.elementFromPoint(x, y)))""",
        [[left + x, top + y] for x, y in shot.places])
    pixels = photographed(camera, shot, (left + width / 2, top + height / 2))
    return Taken(shot, pixels, (margins.left, margins.top, width, height), (), tuple(hits))
