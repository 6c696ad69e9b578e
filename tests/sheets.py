"""Elements of whole style sheets, as imported and as Chromium shows them, in every state that the
sheet has rules for; without text.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from mektel.core.kit import Kit
from mektel.core.kit.edit import add_control
from mektel.core.look import Margins, parse_flags, resolve
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.formats.css import control_of, open_sheet, pressables
from mektel.formats.css.described import describe
from mektel.formats.css.element import from_selector
from mektel.formats.css.selectors import MARK
from mektel.targets.chromium import Camera, chromium
from tests.conftest import ROOT

MODULES = ROOT / "tools" / "javascript" / "node_modules"
PACKAGES = {
    "bootstrap": "bootstrap/dist/css/bootstrap.css", "bulma": "bulma/css/bulma.css",
    "pico": "@picocss/pico/css/pico.css", "uikit": "uikit/dist/css/uikit.css",
    "milligram": "milligram/dist/milligram.css", "pure": "purecss/build/pure.css",
    "spectre": "spectre.css/dist/spectre.css",
}
MEAN, HIGH = 0.35, 12
AROUND, GROUND, SCALE = 40, "#E9E2D3", 2
GROUND_RGBA = (0xE9 / 255, 0xE2 / 255, 0xD3 / 255, 1.0)
FORCED = {"hover": ["hover"], "pressed": ["active"],
          "focus": ["focus", "focus-visible", "focus-within"]}
# What a button has by itself is left out, on both sides.
PLAIN = ("@layer mektel-ground{:where(button){border:0;background:none;font-size:16px;color:#000}"
         ":where(.mk):focus-visible{outline:none}}")
PLACED = (f"#holder{{position:fixed;inset:0;background:{GROUND}}}"
          "#holder>.mk,#holder>.mk::before,#holder>.mk::after{transition:none!important;"
          "animation:none!important}"
          f"#holder>.mk{{position:absolute!important;left:{AROUND}px;top:{AROUND}px;"
          "margin:0!important;box-sizing:border-box!important;min-width:0!important;"
          "max-width:none!important;display:block!important}")


@dataclass(frozen=True)
class Compared:
    """One element in one state: mean and 99.9th percentile of the difference, of 255."""

    selector: str
    state: str
    mean: float
    high: float

    @property
    def good(self) -> bool:
        return self.mean <= MEAN and self.high <= HIGH


def compared(
    text: str, name: str, selectors: list[str] | None = None, states: set[str] | None = None
) -> Iterator[Compared]:
    """Elements of a sheet in the states that it styles, or in some of these."""
    sheet = open_sheet(text, name)
    with chromium() as browser, browser.new_context(
            device_scale_factor=SCALE, viewport={"width": 1280, "height": 240}) as context:
        page = context.new_page()
        page.set_content(f"<!doctype html><style>{PLAIN}</style><style>{text}</style>"
                         f"<style>{PLACED}</style><div id=holder></div>")
        camera, client = Camera(page, SCALE), context.new_cdp_session(page)
        client.send("DOM.enable")
        client.send("CSS.enable")
        for selector in selectors or [entry.selector for entry in pressables(sheet)]:
            yield from _element(sheet, selector, states, page, camera, client)


def _element(sheet, selector, states, page, camera, client) -> Iterator[Compared]:  # type: ignore[no-untyped-def]
    subject = from_selector(selector)
    control, _, palette = control_of(sheet, selector, suggest=False)
    kit = add_control(Kit(), control, palette)
    control = kit.controls[0]
    width, height = control.size
    styled = [state for state in describe(sheet, subject).states
              if "checked" not in state or "checked" in control.states]
    for state in styled:
        flags = parse_flags(state)
        if states and state not in states:
            continue
        element = subject.in_state(flags, sheet.state_classes)[-1].etree_element
        given = {name: value for name, value in element.attrib.items()
                 if name not in ("class", MARK)}
        if element.tag == "input":
            given |= {"value": ""} | ({"checked": ""} if "checked" in flags else {})
        attributes = " ".join(f'{name}="{value}"' for name, value in given.items())
        page.evaluate("html => document.getElementById('holder').innerHTML = html",
                      f'<{element.tag} class="mk {element.get("class", "")}" {attributes} style='
                      f'"width:{width}px!important;height:{height}px!important"></{element.tag}>')
        root = client.send("DOM.getDocument")["root"]["nodeId"]
        node = client.send("DOM.querySelector", {"nodeId": root, "selector": "#holder>.mk"})
        client.send("CSS.forcePseudoState", {
            "nodeId": node["nodeId"], "forcedPseudoClasses": [
                name for flag in flags for name in FORCED.get(flag, [])]})
        shown = camera.take((0, 0, round(width) + 2 * AROUND, round(height) + 2 * AROUND))
        look = resolve(kit, control, flags, text="")
        laid = on_backdrop(render(look, SCALE, Margins(*(AROUND,) * 4)).rgba, GROUND_RGBA)
        rows, columns = (min(a, b) for a, b in zip(laid.shape[:2], shown.shape[:2], strict=True))
        found = difference(laid[:rows, :columns, :3], np.asarray(shown)[:rows, :columns, :3])
        yield Compared(selector, state, float(found.mean), float(found.high))


def package_text(name: str) -> str:
    return Path(MODULES / PACKAGES[name]).read_text(encoding="utf-8")
