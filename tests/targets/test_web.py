"""Generated elements, run in headless Chromium."""

from __future__ import annotations

import re
import subprocess
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from mektel.core.kit import (
    Control,
    ControlOutline,
    Fill,
    Kit,
    Label,
    Line,
    Shadow,
    Stop,
)
from mektel.targets import TARGETS, TargetError, write_files
from mektel.targets.sheet import sheet_of
from mektel.targets.shipping import ship
from mektel.targets.verify import verify
from tests.chromium import page_on
from tests.conftest import labelled_horn
from tests.slices import in_all, states_at
from tests.targets.test_qtwidgets import NASTY

WEB = TARGETS["web"]


@pytest.mark.parametrize("scale", [in_all(1), 2, 3])
def test_every_demo_control_runs_as_designed(demo_kit: Kit, scale: int) -> None:
    chosen, only = states_at(demo_kit, scale)
    for match in verify(demo_kit, chosen, WEB, scale=scale, only=only):
        assert match.passes, match.as_data()


STRANGE = Control(
    id="strange", name="Strange", text="Go", size=(150, 54),
    outline=ControlOutline(corners=(22, 6, 0, 14), padding=(18, 8)),
    layers=(
        Shadow(id="far", name="Far", colour="#0000AA80", offset=(5, -4), blur=9, spread=3),
        Shadow(id="hard", name="Hard", colour="#AA000060", offset=(0, 6), blur=0, spread=-2),
        Fill(id="back", name="Back", colour="#22334480", expand=3),
        Fill(id="face", name="Face", style="linear", direction=50, opacity=0.8, expand=-4, stops=(
            Stop(position=0.1, colour="#FFFFFF20"), Stop(position=0.5, colour="#E5A43B"),
            Stop(position=0.5, colour="#175A66"), Stop(position=1.2, colour="#B8472A"))),
        Line(id="thin", name="Thin", width=2, place="centre", colour="#101010C0"),
        Line(id="hair", name="Hair", width=1.5, place="inside", gap=-6, colour="#F8F5EEC0"),
        Line(id="ring", name="Ring", width=2, place="outside", gap=5, colour="#35703F"),
        Label(id="text", name="Text", weight=800, size=19, align="end", colour="#101010",
              move=(-2, 1)),
    ),
    states={
        "hover": {"face": {"style": "solid", "colour": "#7CC08A"}, "far": {"blur": 20.0}},
        "pressed": {"outline": {"offset": (1, 2), "corners": (4, 4, 4, 4)}, "thin": {"width": 4.0}},
        "focus": {"ring": {"opacity": 0.4, "width": 4.0}},
        "disabled": {"hard": {"visible": False}, "back": {"opacity": 0.3}},
    },
)


@pytest.mark.parametrize("name", ["qtwidgets", "web"])
def test_a_control_that_uses_everything_runs_as_designed(name: str) -> None:
    kit = Kit(controls=(STRANGE,))
    for match in verify(kit, kit.controls, TARGETS[name], scale=2):
        assert match.passes, match.as_data()


def test_it_behaves_as_a_button_does(demo_kit: Kit, tmp_path: Path) -> None:
    control = labelled_horn(demo_kit)
    write_files(WEB.files(demo_kit, [control]), tmp_path)
    markup = """<!doctype html><script src="runtime.js"></script>
        <script src="horn-button.js"></script>
      <body style="padding:60px"><input id=before><horn-button id=horn>Horn</horn-button>
      <horn-button id=off disabled label="Off"></horn-button><input id=after><script>
      const told = [];
      for (const one of document.querySelectorAll("horn-button"))
        one.addEventListener("click", () => told.push(one.id));
      </script>"""
    with page_on(markup, tmp_path) as page:
        def told() -> list[str]:
            return page.evaluate("told.splice(0)")

        at = page.locator("#horn").bounding_box()
        middle = (at["x"] + at["width"] / 2, at["y"] + at["height"] / 2)
        page.mouse.click(at["x"] + 3, at["y"] + 3)
        assert told() == []  # outside the circle, inside its box
        page.mouse.click(*middle)
        assert told() == ["horn"]
        page.locator("#before").focus()
        page.keyboard.press("Tab")
        assert page.evaluate("document.activeElement.id") == "horn"
        page.keyboard.press("Space")
        page.keyboard.press("Enter")
        assert told() == ["horn", "horn"]
        page.keyboard.press("Tab")
        assert page.evaluate("document.activeElement.id") == "after"
        off = page.locator("#off").bounding_box()
        page.mouse.click(off["x"] + off["width"] / 2, off["y"] + off["height"] / 2)
        page.evaluate("document.querySelector('#off').click()")
        assert told() == []
        page.evaluate("document.querySelector('#off').disabled = false")
        page.evaluate("document.querySelector('#off').click()")
        assert told() == ["off"]
        assert page.get_by_role("button", name="Off").count() == 1
        wide = page.evaluate("""() => { const e = document.querySelector('#horn');
            const before = e.offsetWidth; e.label = 'A much longer horn';
            return e.offsetWidth - before; }""")
        assert wide > 60


def test_a_control_with_nothing_in_it_can_be_pressed(tmp_path: Path) -> None:
    empty = Control(id="empty", name="Empty", text="", size=(90, 40))
    write_files(ship(WEB, Kit(controls=(empty,)), [empty]), tmp_path)
    with page_on("<!doctype html><script src=runtime.js></script>"
                 "<script src=empty-button.js></script>"
                 "<empty-button id=e></empty-button>"
                 "<script>pressed = 0; e.addEventListener('click', () => pressed += 1)</script>",
                 tmp_path) as page:
        assert page.evaluate("[e.offsetWidth, e.offsetHeight]") == [90, 40]
        page.click("#e")
        assert page.evaluate("pressed") == 1


def test_the_demo_page_shows_and_counts(demo_kit: Kit, tmp_path: Path) -> None:
    write_files(WEB.files(demo_kit, demo_kit.controls), tmp_path)
    with page_on((tmp_path / "index.html").read_text(), tmp_path, size=(900, 900)) as page:
        assert page.locator("section").count() == len(demo_kit.controls)
        page.get_by_role("button", name="Cast off").first.click()
        assert page.locator("output").nth(1).inner_text() == "pressed 1 ×"
        loaded = page.evaluate(
            "document.fonts.ready.then(f => [...f].filter(x => x.status == 'loaded').length)")
        assert loaded == len({  # one for a file
            layer.weight for control in demo_kit.controls
            for layer in (part.rest.values for part in sheet_of(demo_kit, control).layers)
            if layer.kind == "label"})


@pytest.mark.parametrize("text", NASTY)
def test_text_only_ever_becomes_text(text: str, tmp_path: Path) -> None:
    control = Control(id="x", name=text[:80], text=text, layers=(Label(id="l", name="L"),))
    kit = Kit(name=text[:80], controls=(control,))
    write_files(WEB.files(kit, kit.controls), tmp_path)
    checked = subprocess.run(["node", "--check", str(tmp_path / "x-button.js")], check=False,
                             capture_output=True) if _has_node() else None
    assert checked is None or checked.returncode == 0
    with page_on((tmp_path / "index.html").read_text(), tmp_path) as page:
        assert page.evaluate("window.alerted === undefined")
        assert page.evaluate("document.querySelector('x-button').label") == text
        assert page.evaluate("document.querySelector('x-button').textContent") == text
        assert page.evaluate("document.querySelectorAll('script').length") == 3
        assert page.evaluate("document.querySelectorAll('button').length") == 0


def _has_node() -> bool:
    from shutil import which

    return which("node") is not None


def test_the_style_is_short_and_says_only_what_differs(demo_kit: Kit) -> None:
    board = demo_kit.control("board").model_copy(update={"answers": ()})
    style, still = (
        WEB.files(demo_kit, [control])[0].text.split("style: `")[1].split("`,")[0]
        for control in (board, board.model_copy(update={"timings": {}})))
    hover = re.search(r'button:hover \[part="face"\] \{([^}]*)\}', style)
    assert hover and hover[1].split() == [
        "--mektel-stop-1:", "#328f96;", "--mektel-stop-2:", "#1a6370;"]
    assert "visibility: visible" not in style.split("button:focus-visible")[0]
    assert len(still.splitlines()) < 36 + 20 * len(board.layers)
    assert len(style.splitlines()) < len(still.splitlines()) + 60
    language = {file.path.suffix: file.language for file in WEB.files(demo_kit, demo_kit.controls)}
    assert language[".js"] == "javascript" and language[".ttf"] == ""


def test_without_a_browser_it_says_what_to_install(
    demo_kit: Kit, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("PATH", "")
    # In a thread of its own, since this one's browser runs already.
    with ThreadPoolExecutor(1) as thread, pytest.raises(
            TargetError, match="apt-get install chromium"):
        thread.submit(verify, demo_kit, demo_kit.controls[:1], WEB).result()
