"""Changes of state in Chromium, by real input, frame by frame with the page's clock held."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from mektel.core.kit import Kit
from mektel.targets.base import CancelledError, Pixels, Progress, Shot, TargetError
from mektel.targets.chromium import AROUND, PATIENCE, Camera, chromium
from mektel.targets.motion import SETTLES, MotionShot
from mektel.targets.web.runner import show

# Endless motion runs on; it is remembered when (ms) it was first there.
FINISH = """tag => document.querySelector(tag).shadowRoot.getAnimations()
    .filter(one => one.effect.getComputedTiming().iterations !== Infinity)
    .forEach(one => one.finish())"""
MARK = """([tag, moment]) => { window.begun ??= new Map();
    for (const one of document.querySelector(tag).shadowRoot.getAnimations()) {
      if (!window.begun.has(one)) {
        window.begun.set(one, moment + one.effect.getComputedTiming().delay);
      }
    } }"""
# What came with an event after it was looked for began with the change.
AT = """([tag, moment, change]) => document.querySelector(tag).shadowRoot.getAnimations()
    .forEach(one => { one.pause();
      const { delay } = one.effect.getComputedTiming();
      one.currentTime = moment - (window.begun.get(one) ?? change + delay) + delay; })"""
UNCOVER = "document.querySelector('body > div[aria-hidden]')?.remove()"
# Properties and what the page's script would set.
SET = """([tag, name, on]) => { document.querySelector(tag)[name] = on; }"""


def film_in_chromium(
    kit: Kit, shots: list[MotionShot], folder: Path, backdrop: str, progress: Progress, target: Any
) -> list[list[Pixels]]:
    """Every shot's frames, from the shipped files."""
    from playwright.sync_api import Error

    films: list[list[Pixels]] = []
    try:
        with chromium() as browser:
            for at, shot in enumerate(shots):
                if not progress(at, len(shots), f"{shot.control.name} in Chromium"):
                    raise CancelledError("Stopped; the run in Chromium was not finished.")
                room, (width, height) = shot.margins, shot.size
                # No more than is looked at: every frame is drawn in software.
                viewport = {"width": round(width + room.left + room.right) + 2 * AROUND,
                            "height": round(height + room.top + room.bottom) + 2 * AROUND}
                with browser.new_context(
                        device_scale_factor=shot.scale, viewport=viewport) as context:
                    context.set_default_timeout(PATIENCE)
                    page = context.new_page()
                    still = Shot(shot.control, shot.size, shot.margins, "rest", frozenset(),
                                 shot.text, shot.scale)
                    show(page, kit, still, folder, backdrop, target)
                    films.append(_film(page, shot, target.tag(shot.control)))
    except Error as error:
        first = str(error).strip().splitlines()[0]
        raise TargetError(f"The element did not run in Chromium: {first}") from None
    return films


def _film(page: Any, shot: MotionShot, tag: str) -> list[Pixels]:
    if shot.text is not None:
        page.evaluate(SET, [tag, "label", shot.text])
    before, after = shot.way.flags
    page.evaluate(MARK, [tag, 0])
    _bring(page, shot, tag, frozenset(), before)
    page.screenshot()  # what begins does so with a frame
    page.evaluate(MARK, [tag, SETTLES * 1000])
    page.evaluate(FINISH, tag)
    # Nothing moves by itself: a short transition would be over before it was looked at.
    camera = Camera(page, shot.scale)
    client = camera.client
    client.send("Animation.enable")
    client.send("Animation.setPlaybackRate", {"playbackRate": 0})
    _bring(page, shot, tag, before, after)
    page.evaluate(MARK, [tag, 2000 * SETTLES])
    page.evaluate(UNCOVER)  # what lies beneath an iris is compared
    frames = []
    margins, (width, height) = shot.margins, shot.size
    change, turns_at = 2 * SETTLES * 1000, shot.turns_at
    begun = change
    for moment in shot.moments:
        if turns_at is not None and moment >= turns_at:
            begun, turns_at = change + turns_at * 1000, None
            page.evaluate(AT, [tag, begun, change])
            _bring(page, shot, tag, after, before)
            page.evaluate(MARK, [tag, begun])
        page.evaluate(AT, [tag, change + moment * 1000, begun])
        frames.append(camera.take((AROUND, AROUND, width + margins.left + margins.right,
                                   height + margins.top + margins.bottom)))
    return frames


def _bring(
    page: Any, shot: MotionShot, tag: str, before: frozenset[str], after: frozenset[str]
) -> None:
    """From some states to others, by what a person or the page does."""
    if "pressed" in before - after:
        page.mouse.up()
    for state in ("disabled", "checked", "busy"):
        if (state in before) != (state in after):
            page.evaluate(SET, [tag, state, state in after])
    if "focus" in after - before:
        page.evaluate("document.querySelector('input').focus()")
        page.keyboard.press("Tab")
    elif "focus" in before - after:
        page.evaluate("document.querySelector('input').focus()")
    if ("hover" in before) != ("hover" in after):
        x, y = page.evaluate(
            "tag => { const box = document.querySelector(tag).getBoundingClientRect();"
            " return [box.x, box.y]; }", tag)
        at = (x + shot.place[0], y + shot.place[1]) if "hover" in after else (1, 1)
        page.mouse.move(*at)
    if "pressed" in after - before:
        page.mouse.down()
