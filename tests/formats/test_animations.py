"""Endless animations of a sheet as swings: at the same moments they look as in the browser."""

from __future__ import annotations

from pathlib import Path

import pytest

from mektel.core.behaviour import Event
from mektel.core.kit import Kit, edit
from mektel.core.look import Margins, look_of
from mektel.core.motion import motion_of, played
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.formats.css import control_from_css
from mektel.formats.css.described import describe
from mektel.formats.css.element import from_selector
from mektel.formats.css.keyframes import animations_of
from mektel.formats.css.sheet import parse_sheet
from tests.chromium import page_on, photograph

SHEET = """
@keyframes spin { to { transform: rotate(360deg) } }
@keyframes breathe { 0%, 100% { transform: scale(1) } 50% { transform: scale(1.06) } }
@-webkit-keyframes bob { 0%, to { top: 9px } }
@keyframes bob { from { translate: 0 -3px } to { translate: 0 3px } }
@keyframes glow { 50% { background-color: #ff8800; box-shadow: 0 0 12px 4px #ff880080 } }
@keyframes blink { 50% { opacity: .2 } }
@keyframes sink { from { border-radius: 4px } to { border-radius: 16px } }
.go, .glow, .lamp, .bob { width: 120px; height: 40px; background: #225566; border-radius: 8px }
.go { color: #fff; animation: breathe 2s infinite ease-in-out; position: relative }
.go.is-loading::after { content: ""; position: absolute; left: 50%; top: 50%; width: 16px;
  height: 16px; margin: -8px 0 0 -8px; border: 2px solid #fff; border-top-color: transparent;
  border-radius: 50%; animation: spin 600ms linear infinite }
.glow { box-shadow: 0 0 6px 1px #ff880020; animation: glow 1.5s -0.3s ease-in-out infinite }
.lamp { animation: blink 1s step-end infinite, sink 2s infinite alternate linear;
  border-radius: 4px }
.bob { animation-name: bob; animation-duration: 800ms; animation-iteration-count: infinite;
  animation-direction: alternate; animation-timing-function: linear }
.bob:hover { animation: none }
"""
SIDE, GROUND = 30, "#E9E2D3"
GROUND_RGBA = (0xE9 / 255, 0xE2 / 255, 0xD3 / 255, 1.0)


@pytest.mark.parametrize("name", ["go is-loading", "glow", "lamp", "bob"])
def test_what_moves_without_end_moves_as_in_the_browser(name: str, tmp_path: Path) -> None:
    control, left, palette = control_from_css(SHEET, selector=f".{name.split()[0]}")
    assert not [str(finding) for finding in left if "animation" in str(finding)]
    kit = edit.add_control(Kit(), control, palette)
    control = kit.controls[0]
    events = [Event(0.0, "busy")] if "is-loading" in name else []
    motion = played(motion_of(kit, control, text=""), events)[-1][1]
    page_text = (f"<!doctype html><style>{SHEET} body {{ margin: 0; background: {GROUND} }} button "
                 f"{{ border: 0; padding: 0; margin: {SIDE}px; display: block; box-sizing: "
                 f"border-box }}</style><button class='{name}'></button>")
    with page_on(page_text, tmp_path, 2, (120 + 2 * SIDE, 40 + 2 * SIDE), exact=True) as page:
        # From where a state that has just come about is wholly there.
        for moment in (3.0, 3.13, 3.4, 3.77, 4.0, 4.45, 5.2):
            page.evaluate("""ms => document.getAnimations().forEach(animation => {
                animation.pause(); animation.currentTime = ms; })""", 1000 * moment)
            rgba = render(look_of(motion.at(moment)), 2, Margins(*(SIDE,) * 4)).rgba
            ours = on_backdrop(rgba, GROUND_RGBA)[:, :, :3]
            apart = difference(ours, photograph(page)[: ours.shape[0], : ours.shape[1]])
            # A sine is not quite the browser’s easing.
            assert apart.mean <= 1.0, (moment, apart)


@pytest.mark.parametrize(("text", "why"), [
    ("a 1s", "it ends"), ("b 1s infinite", "no such keyframes"),
    ("c 1s infinite", "it does not go between two values and back"),
    ("d 1s infinite", "beside what the control has"), ("a 90s infinite", "a round of 90 s"),
    ("e 1s infinite", "it grows one way more"), ("f 1s infinite", "it is not a value"),
    ("h 1s infinite", "the control keeps its size"),
])
def test_what_no_swing_can_say_is_listed_with_its_line(text: str, why: str) -> None:
    sheet = (".b { width: 90px; height: 30px; background: teal;\n animation: " + text + "}"
             "@keyframes a { 50% { opacity: .5 } } @keyframes c { 20% { opacity: 0 } 60% { opacity"
             ": .7 } } @keyframes d { 0%, to { opacity: .5 } 50% { opacity: .2 } }"
             "@keyframes e { 50% { transform: scaleX(2) } } @keyframes f { 50% { z-index: 3 } }"
             "@keyframes h { 50% { width: 120px } }")
    control, left, _ = control_from_css(sheet)
    assert not control.swings
    assert any(why in finding.message and finding.place.line == 2 for finding in left), left


@pytest.mark.parametrize(("text", "expected"), [
    ("animation: spin 2s", {"name": "spin", "seconds": 2.0, "endless": False, "easing": "ease"}),
    ("animation: 1.5s linear -250ms infinite alternate-reverse both 'my spin'",
     {"name": "my spin", "seconds": 1.5, "delay": -0.25, "endless": True, "easing": "linear",
      "direction": "alternate-reverse"}),
    ("animation: a 1s cubic-bezier(.1, .2, .3, 1) 3 paused",
     {"name": "a", "easing": "cubic-bezier(.1, .2, .3, 1)", "endless": False}),
    ("animation: a 1s steps(4, jump-none) infinite", {"name": "a", "in_steps": True}),
    ("animation: a 1s; animation-iteration-count: infinite; animation-direction: reverse",
     {"name": "a", "endless": True, "reversed": True, "alternates": False}),
    ("animation-name: a, b; animation-duration: 1s, 200ms", {"name": "a", "seconds": 1.0}),
])
def test_an_animation_is_its_shorthand_with_its_parts(text: str, expected: dict) -> None:
    sheet = parse_sheet(f".b {{ width: 90px; {text} }}", "CSS")
    animation, *_ = animations_of(describe(sheet, from_selector(".b")).styles["rest"].values)
    assert {name: getattr(animation, name) for name in expected} == expected
