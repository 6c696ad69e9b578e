"""Whole style sheets: the cascade, what of them is pressable, and pages, against Chromium."""

from __future__ import annotations

from pathlib import Path

import pytest

from mektel.core.kit import Kit
from mektel.core.kit.bringing_in import Arrival, with_arrivals
from mektel.core.kit.checking import checked
from mektel.formats.css import CssError, control_from_css, control_of, open_sheet, pressables
from mektel.formats.kitfile import kit_from_text, kit_to_text
from tests.sheets import PACKAGES, compared, package_text

# Each holds something that is decided by the cascade alone: a rule that must win or lose.
BOX = "width:120px;height:44px;"
CASCADES = {
    "layers": "@layer low, high; .b{border-radius:4px}"
              "@layer high{.b{background:teal}} @layer low{.b.b.b{background:red}}",
    "important in layers": "@layer low, high; @layer low{.b{background:teal!important}}"
                           "@layer high{.b{background:red!important}} .b{background:red}",
    "specificity": ":where(#x, .b.b){background:red} .b{background:teal} *{background:red}",
    "functions": ".b:is(.b, #none){background:teal} .b:not(.c){border:3px solid navy}"
                 "button.b{border-color:gold}",
    "nesting": ".b{background:red; &{background:teal} .b &{background:red} &:hover{color:red;"
               "background:navy; @media (hover:hover){border-radius:12px}}}",
    "inherited properties": ":root{--a:teal;--c:var(--a)} body{--a:red} .b{--w:8px;"
                            "background:var(--c);border:var(--w) solid var(--none, gold)}",
    "no value": "body{--x:initial} .b{background:red;background:var(--x);"
                "border:2px solid navy;border-color:var(--x);color:teal}",
    "media and supports": "@media (min-width:600px) and (not (prefers-color-scheme:dark)){"
                          ".b{background:teal}} @media print, (max-width:300px){.b{background:red}}"
                          "@supports (display:grid){.b{border-radius:50%/30%}}",
    "sums": ".b{--n:3;background:hsl(calc(var(--n)*60) 60% 40%);border-radius:min(2em,14px);"
            "border:clamp(1px,calc(1rem/4),9px) solid rgb(0 0 0/calc(1/3))}",
    "colours": ".b{background:color-mix(in oklch,teal 70%,gold);border:4px solid "
               "color-mix(in srgb,currentcolor 40%,transparent);color:oklch(.4 .1 20)}",
    "sides": ".b{border:3px solid teal;border-width:1px 2px 9px 4px;border-radius:12px 2px;"
             "background:gold}",
    "sides of colours": ".b{border:4px solid teal;border-block-start:7px solid navy;"
                        "border-inline-end-color:transparent;background:gold}",
    "tiles": ".b{background:linear-gradient(gold,navy) right 8px/40px 50% no-repeat,"
             "radial-gradient(white,teal) padding-box;border:6px solid #0003;border-radius:9px}",
    "parts": ".b{position:relative;background:gold}.b::after{content:'';position:absolute;"
             "inset:25% 10% auto;height:8px;border-radius:4px;background:teal;"
             "transform:rotate(-4deg)}.b:hover::after{background:navy;left:30%}",
    "states by class": ".b{background:gold}.b.is-disabled{opacity:.5}.b.active{background:teal}"
                       ".b:active{background:navy}.b:hover{background:orange}"
                       ".b.active:hover{border:3px solid red}",
}


@pytest.mark.parametrize("name", CASCADES)
def test_the_cascade_is_that_of_the_browser(name: str) -> None:
    text = f".b{{{BOX}}}{CASCADES[name]}"
    found = list(compared(text, name, [".b"]))
    assert found and all(entry.good for entry in found), found


def test_elements_of_well_known_sheets_look_as_in_the_browser() -> None:
    """Five of each; tools/sheets.py has them all."""
    elements: dict[tuple[str, str], bool] = {}
    for name in PACKAGES:
        text = package_text(name)
        listed = [entry.selector for entry in pressables(open_sheet(text, name))]
        for entry in compared(text, name, listed[:: max(1, len(listed) // 5)][:5],
                              {"rest", "hover", "disabled"}):
            key = name, entry.selector
            elements[key] = elements.get(key, True) and entry.good
    over = [key for key, good in elements.items() if not good]
    assert len(elements) >= 30 and len({name for name, _ in elements}) >= 6
    assert len(over) <= len(elements) / 8, over


def test_what_is_pressable_is_listed_with_what_it_builds_on(examples: Path) -> None:
    text = (examples / "ferry-site.css").read_text()
    sheet = open_sheet(text, "ferry-site.css")
    listed = {entry.selector: entry.base for entry in pressables(sheet)}
    assert listed == {
        ".ticket": "", ".ticket.ticket--lamp": ".ticket", ".ticket.ticket--quiet": ".ticket",
        ".ticket.ticket--small": ".ticket", ".deck-key": "", ".pier-tab": "", ".buoy-switch": ""}
    brought = [control_of(sheet, selector) for selector in (".ticket", ".ticket.ticket--lamp")]
    assert not any(leftovers for _, leftovers, _ in brought)
    kit = Kit()
    kit = checked(with_arrivals(kit, [
        Arrival(brought[0][0], brought[0][2]), Arrival(brought[1][0], brought[1][2], 0)]), kit)
    assert kit_from_text(kit_to_text(kit)) == kit
    base, derived = kit.controls
    assert derived.base == base.id and derived.name == "Ticket lamp"
    # What the sheet changes for a dark page is a scheme of the palette.
    assert kit.schemes == ("light", "dark")
    assert {s.name: s.schemes for s in kit.palette}["ink"] == {"dark": "#F2EDDF"}
    assert base.transition and base.transition.easing == "cubic-bezier(0.2, 0.7, 0.3, 1)"
    switch, _, _ = control_of(sheet, ".buoy-switch")
    assert switch.behaviour == "two-position" and switch.text == ""
    thumb = switch.part_in("before-gradient-1", {"checked"})
    assert thumb.outline.x == pytest.approx((1, -31)) and thumb.outline.width == (0, 28)


def test_an_element_of_a_page_has_what_surrounds_it(examples: Path) -> None:
    text = (examples / "ferry-site.css").read_text()
    page = ("<body><p>Tickets<div class=ticket-bar><button class='ticket ticket--lamp' id=buy "
            "style='padding-left:40px'>Buy</button></div>")
    control, _, _ = control_from_css(text, selector="#buy", html=page)
    assert control.outline.corners == (0, 0, 0, 0) and control.outline.padding[0] == 33
    with pytest.raises(CssError, match=r"no element in it matches \.none"):
        control_from_css(text, selector=".none", html=page)
    with pytest.raises(CssError, match="is not a selector"):
        control_from_css(text, selector="..")
