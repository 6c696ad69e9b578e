"""Shipped elements in pages, forms and bundles."""

from __future__ import annotations

import gzip
import json
import os
import subprocess
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from functools import partial
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

import pytest

from mektel.core.kit import Kit, edit
from mektel.core.look import resolve
from mektel.core.look.scene import rgba
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.formats.png import pixels_from_png
from mektel.targets import TARGETS, write_files
from mektel.targets.chromium import Camera
from tests.chromium import PATIENCE, QUICK, chromium
from tests.conftest import ROOT
from tests.firefox import Firefox
from tests.slices import some_of

WEB = TARGETS["web"]
TOOLS = ROOT / "tools" / "javascript" / "node_modules"
NODE = str(ROOT / ".venv" / "bin")
STRICT = ("default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; "
          "img-src 'self' data:; require-trusted-types-for 'script'")


class Quiet(SimpleHTTPRequestHandler):
    extensions_map = SimpleHTTPRequestHandler.extensions_map | {".mjs": "text/javascript"}
    policy = ""

    def log_message(self, *_: object) -> None:
        pass

    def do_GET(self) -> None:
        if self.path == "/favicon.ico":
            self.send_response(204)
            self.end_headers()
        else:
            super().do_GET()

    def end_headers(self) -> None:
        if self.policy:
            self.send_header("Content-Security-Policy", self.policy)
        super().end_headers()


@contextmanager
def page_at(
    folder: Path, name: str, policy: str = "", flags: tuple[str, ...] = QUICK, scale: int = 1
) -> Iterator[tuple[Any, list[str]]]:
    """A page of a server on this machine, and the errors that it reports."""
    handler = type("Handler", (Quiet,), {"policy": policy})
    with ThreadingHTTPServer(("127.0.0.1", 0), partial(handler, directory=str(folder))) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        with chromium(flags) as browser, browser.new_context(
                device_scale_factor=scale) as context:
            context.set_default_timeout(PATIENCE)
            page, errors = context.new_page(), []
            page.on("pageerror", lambda error: errors.append(str(error)))
            page.on("console", lambda said: errors.append(said.text) if said.type in (
                "error", "warning") else None)
            page.goto(f"http://127.0.0.1:{server.server_port}/{name}")
            page.wait_for_load_state("networkidle")
            yield page, errors
        server.shutdown()


@pytest.fixture(scope="module")
def kit(demo_kit: Kit, tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("web") / "kit"
    write_files(WEB.files(demo_kit, demo_kit.controls), folder)
    return folder


def written(folder: Path, **files: str) -> None:
    for name, text in files.items():
        (folder / name.replace("_", ".", 1)).write_text(text)


def test_modules_work_under_a_strict_policy_and_load_once(kit: Path) -> None:
    written(kit, strict_html="<!doctype html><script src=runtime.js></script>"
            "<script src=board-button.js></script><script type=module src=strict.mjs></script>"
            "<board-button id=early></board-button>",
            strict_mjs="""
import BoardButton, { BoardButton as named } from "./board-button.mjs";
import FogButton from "./fog-button.mjs";
document.body.append(new FogButton());
window.same = named === BoardButton && BoardButton === customElements.get("board-button")
  && early instanceof BoardButton;
""")
    with page_at(kit, "strict.html", STRICT) as (page, errors):
        page.wait_for_function("window.same !== undefined")
        assert page.evaluate("window.same") and not errors, errors
        width = page.evaluate("document.querySelector('fog-button').getBoundingClientRect().width")
        assert width == 168
        page.wait_for_function("document.fonts.check('16px \"Mektel-Hanken-Grotesk\"')")


FORM = """<!doctype html><script src=runtime.js></script><script src=board-button.js></script>
<script src=ramp-button.js></script>
<form id=form><fieldset id=set><label for=ramp>Ramp down</label>
<ramp-button id=ramp name=ramp value=down required></ramp-button>
<board-button id=send type=submit name=way value=board>Send</board-button>
<board-button id=back type=reset>Back</board-button></fieldset></form>
<board-button id=named aria-label="Go on board"></board-button>
<script>sent = []; form.addEventListener("submit", (event) => {
  event.preventDefault(); sent.push([...new FormData(form)].flat().join(" ")); });</script>"""


def test_they_take_part_in_forms(kit: Path) -> None:
    written(kit, form_html=FORM)
    with page_at(kit, "form.html") as (page, errors):
        page.click("#send")
        page.wait_for_timeout(50)
        assert page.evaluate("[sent, ramp.matches(':invalid')]") == [[], True]
        page.click("label")  # switches it on
        assert page.evaluate("[ramp.checked, ramp.matches(':valid')]") == [True, True]
        page.click("#send")
        page.wait_for_function("sent.length === 1")
        assert page.evaluate("sent[0]") == "ramp down way board"
        page.click("#back")
        page.wait_for_function("!ramp.checked")
        page.evaluate("set.disabled = true")
        pressed = page.evaluate(
            "(() => { let n = 0; send.addEventListener('click', () => n++); send.click();"
            " ramp.click(); return [n, ramp.checked, ramp.matches(':disabled')]; })()")
        assert pressed == [0, False, True]
        assert page.get_by_role("switch", name="Ramp down").count() == 1
        assert page.get_by_role("button", name="Go on board").count() == 1
        assert not errors, errors


def test_properties_set_early_and_many_moves(kit: Path) -> None:
    """What is set before the element is defined holds, and nothing is left behind by moving."""
    written(kit, early_html="""<!doctype html><div id=a></div><div id=b></div>
<queue-button id=queue></queue-button><passage-button id=passage></passage-button><script>
queue.waiting = 7; passage.face = "#8A3B5C"; passage.on_press = () => {}; passage.label = "Go";
watched = new Set(); const { observe, unobserve } = ResizeObserver.prototype;
ResizeObserver.prototype.observe = function (on) { watched.add(on); observe.call(this, on); };
ResizeObserver.prototype.unobserve = function (on) {
  watched.delete(on); unobserve.call(this, on); };
</script><script src=runtime.js></script><script src=queue-button.js></script>
<script src=passage-button.js></script>""")
    with page_at(kit, "early.html") as (page, errors):
        assert page.evaluate("[queue.waiting, passage.face, passage.label]") == [
            7, "#8A3B5C", "Go"]
        page.evaluate("passage.remove()")
        page.evaluate("for (let n = 0; n < 50; n++) (n % 2 ? a : b).append(queue)")
        assert page.evaluate("watched.size") <= 2
        page.evaluate("queue.remove()")
        assert page.evaluate("watched.size") == 0 and not errors, errors


@pytest.mark.parametrize("bundler", ["esbuild", "vite"])
def test_bundlers_find_what_they_need(kit: Path, bundler: str, tmp_path: Path) -> None:
    source = tmp_path / "page"
    source.mkdir()
    (source / "kit").symlink_to(kit)
    written(source, main_js="import './kit/board-button.mjs';\nimport './kit/ramp-button.mjs';\n",
            index_html="<!doctype html><script type=module src=./main.js></script>"
            "<board-button></board-button><ramp-button></ramp-button>")
    out = tmp_path / "out"
    tools = TOOLS / ".bin"
    commands = {
        "esbuild": [tools / "esbuild", "main.js", "--bundle", "--format=esm",
                    f"--outfile={out}/main.js"],
        "vite": [tools / "vite", "build", "--outDir", str(out), "--base", "./"]}
    subprocess.run(list(map(str, commands[bundler])), cwd=source, check=True, capture_output=True,
                   env=os.environ | {"PATH": f"{NODE}:{os.environ['PATH']}"})
    if bundler == "esbuild":  # leaves addresses as they are: fonts go beside the bundle
        (out / "index.html").write_text((source / "index.html").read_text())
        (out / "fonts").symlink_to(kit / "fonts")
    with page_at(out, "index.html") as (page, errors):
        page.wait_for_function("document.querySelector('board-button').shadowRoot")
        page.wait_for_function(
            "[...document.fonts].some((face) => face.status === 'loaded')", timeout=10_000)
        assert not errors, errors


USER = """
import BoardButton from "./board-button.mjs";
import { PassageButton } from "./passage-button.mjs";
const board: BoardButton = document.createElement("board-button");
board.label = "Sail";
board.disabled = true;
const passage = new PassageButton();
passage.thickness = 3;
passage.on_press = (event) => event.preventDefault();
// @ts-expect-error: a length is a number
passage.thickness = "wide";
"""


def test_types_and_manifest_say_what_there_is(kit: Path) -> None:
    (kit / "user.mts").write_text(USER)
    done = subprocess.run(
        [str(TOOLS / ".bin" / "tsc"), "--strict", "--noEmit", "--module", "esnext", "--target",
         "es2022", "--moduleResolution", "bundler", "user.mts"], cwd=kit, capture_output=True,
        text=True, env=os.environ | {"PATH": f"{NODE}:{os.environ['PATH']}"}, check=False)
    assert done.returncode == 0, done.stdout
    manifest = json.loads((kit / "custom-elements.json").read_text())
    tags = {declared["tagName"] for module in manifest["modules"]
            for declared in module["declarations"]}
    entries = json.loads((kit / "package.json").read_text())["exports"]
    assert len(tags) == 19 and {f"./{tag}" for tag in tags} == set(entries)


def test_the_page_of_all_has_no_barriers(kit: Path) -> None:
    with page_at(kit, "index.html") as (page, errors):
        page.add_script_tag(path=str(TOOLS / "axe-core" / "axe.min.js"))
        found = page.evaluate("axe.run().then((result) => result.violations.map("
                              "(one) => [one.id, ...one.nodes.map((node) => node.html)]))")
        assert not errors and found == [], (errors, found)


def test_the_page_says_how_large_they_are(kit: Path) -> None:
    """In blocks, flex and grid, wider and narrower than designed, in either mode of a page."""
    for doctype in ("<!doctype html>", ""):
        written(kit, sizes_html=f"""{doctype}<script src=runtime.js></script>
<script src=board-button.js></script><script src=ramp-button.js></script>
<board-button style="width:300px;height:80px"></board-button>
<div style="display:flex;width:500px"><board-button style="flex:1"></board-button></div>
<div style="display:grid;width:400px;grid-template-columns:1fr 1fr">
<board-button></board-button></div>
<div><board-button style="min-width:0;width:60px"></board-button></div>
<div><board-button>
   Board
</board-button></div>
<div><ramp-button style="width:200px"></ramp-button></div>""")
        with page_at(kit, "sizes.html") as (page, errors):
            boxes = page.evaluate(
                "[...document.querySelectorAll('board-button, ramp-button')].map((host) => {"
                " const box = host.getBoundingClientRect(), inner = host.shadowRoot.querySelector("
                "'.layers').getBoundingClientRect(); return [box.width, box.height,"
                " inner.width, inner.height]; })")
        assert boxes == [[300, 80] * 2, [500, 48] * 2, [200, 48] * 2, [60, 48] * 2, [168, 48] * 2,
                         [200, 36] * 2] and not errors, (doctype, boxes)


LETTERS_ABOVE = """() => [...document.querySelectorAll("p")].map((line) => {
  const bottom = (mark) => mark.getBoundingClientRect().bottom;
  const host = line.lastElementChild, mark = line.querySelector("i"), own = mark.cloneNode();
  const walk = document.createTreeWalker(
    host.shadowRoot.querySelector("[part=label]"), NodeFilter.SHOW_TEXT);
  walk.nextNode().after(own);
  return bottom(mark) - bottom(own);
})"""


def test_letters_stand_on_the_line_of_the_text_beside_them(kit: Path, demo_kit: Kit) -> None:
    """In a paragraph, and in a flexible row that lines up by baselines."""
    names = ["board", "cargo", "fare", "fog", "night-watch", "ring-up", "half", "passage"]
    mark = "Text<i style='display:inline-block;width:1px;height:0'></i>"
    scripts = "".join(f"<script src={name}-button.js></script>" for name in names)
    for style in ("", "display:flex;align-items:baseline"):
        lines = (f"<p style='{style}'>{mark}<{name}-button></{name}-button></p>" for name in names)
        written(kit, line_html="<!doctype html><script src=runtime.js></script>" + scripts
                + "".join(lines))
        with page_at(kit, "line.html") as (page, _):
            assert page.evaluate(LETTERS_ABOVE) == [0] * len(names)


def test_colours_of_the_platform_and_less_motion(kit: Path) -> None:
    written(kit, media_html="<!doctype html><script src=runtime.js></script><script src="
            "board-button.js></script><board-button id=board></board-button>")
    look = ("(() => { const button = board.shadowRoot.querySelector('button');"
            " const style = getComputedStyle(button); return [style.outlineWidth,"
            " getComputedStyle(button.firstElementChild).transitionDuration]; })()")
    with page_at(kit, "media.html") as (page, errors):
        plain = page.evaluate(look)
        usual = page.screenshot()
        page.emulate_media(forced_colors="active", reduced_motion="reduce")
        forced = page.evaluate(look)
        assert forced == ["2px", "0s"] and plain[0] != "2px" and not errors
        assert page.screenshot() != usual


def test_firefox_draws_every_control_as_designed(kit: Path, demo_kit: Kit, tmp_path: Path) -> None:
    """The other engine has no masks in nine slices, and its own way with all else."""
    scripts, elements, step = ["<script src=runtime.js></script>"], [], 150
    chosen = some_of(demo_kit.controls, 2)
    for at, control in enumerate(chosen):
        tag = WEB.tag(control)
        scripts.append(f"<script src={tag}.js></script>")
        top = 60 + step * at
        elements += [f"<{tag} {state} style='position:absolute;left:{left}px;top:{top}px' label=''>"
                     f"</{tag}>" for left, state in ((60, ""), (360, "disabled"))]
    (kit / "firefox.html").write_text(
        f"<!doctype html><body style='margin:0;background:#E9E2D3'>{''.join(scripts + elements)}")
    with Firefox(tmp_path / "profile") as firefox:
        shot = firefox.picture(kit / "firefox.html", 640, step * len(chosen))
    taken = pixels_from_png(shot)[:, :, :3]
    means = {}
    for at, control in enumerate(chosen):
        for left, flags in ((60, frozenset()), (360, frozenset({"disabled"}))):
            look = resolve(demo_kit, control, flags, text="")
            room = look.margins()
            ours = on_backdrop(render(look, 1, room).rgba, rgba(demo_kit, "#E9E2D3"))[:, :, :3]
            y, x = 60 + step * at - room.top, left - room.left
            theirs = taken[y : y + ours.shape[0], x : x + ours.shape[1]]
            means[f"{control.id} {sorted(flags)}"] = difference(ours, theirs).mean
    print(f"worst {max(means.values()):.2f}, mean {sum(means.values()) / len(means):.2f}")
    assert max(means.values()) <= 1.5, means


RECTS = """[...document.querySelectorAll("#kit > *")].map((host) => {
  const box = host.getBoundingClientRect();
  return [host.tagName, [...host.shadowRoot.querySelectorAll(".layer")].map((layer) => {
    const own = layer.getBoundingClientRect();
    return [layer.part.value, own.left - box.left, box.right - own.right, own.width]; })]; })"""


def test_right_to_left_every_layer_stands_on_the_other_side(kit: Path, demo_kit: Kit) -> None:
    tags = [WEB.tag(control) for control in demo_kit.controls]
    scripts = "".join(f"<script src={tag}.js></script>" for tag in ("runtime", *tags))
    elements = "".join(f"<div id=kit_><{tag} checked></{tag}></div>" for tag in tags)
    written(kit, sides_html=f"<!doctype html>{scripts}<div id=kit>" + elements.replace(
        "<div id=kit_>", "").replace("</div>", "") + "</div>")
    with page_at(kit, "sides.html") as (page, _):
        page.emulate_media(reduced_motion="reduce")
        usual = dict(page.evaluate(RECTS))
        page.evaluate("document.documentElement.dir = 'rtl'")
        mirrored = dict(page.evaluate(RECTS))
    moved = 0
    for tag, layers in usual.items():
        for (name, left, right, wide), (_, start, end, other) in zip(
                layers, mirrored[tag], strict=True):
            assert abs(wide - other) < 0.1, (tag, name)
            assert abs(left - end) < 0.6 and abs(right - start) < 0.6, (tag, name, left, end)
            moved += abs(left - right) > 1
    assert moved > 10


def test_a_text_without_room_ends_in_dots_and_is_told_whole(kit: Path) -> None:
    written(kit, dots_html="<!doctype html><script src=runtime.js></script>"
            "<script src=board-button.js></script><script src=fare-button.js></script>"
            "<board-button id=a style='width:150px;min-width:0'>Crossing to the other bank"
            "</board-button><board-button id=b>Crossing to the other bank</board-button>")
    with page_at(kit, "dots.html") as (page, errors):
        ends = ("(id) => { const text = document.getElementById(id).shadowRoot.querySelector("
                "'[part=label]'); return [text.scrollWidth > text.clientWidth,"
                " getComputedStyle(text).textOverflow, text.getBoundingClientRect().width]; }")
        assert page.evaluate(ends, "a") == [True, "ellipsis", 150]
        assert page.evaluate(ends, "b")[0] is False
        page.hover("#a")
        assert page.get_by_title("Crossing to the other bank").count() == 1
        # Letters four times as large, and a page that is: nothing lies outside the element.
        page.set_viewport_size({"width": 320, "height": 256})
        assert page.evaluate("document.documentElement.scrollWidth") <= 320 and not errors


def test_a_style_sheet_sets_what_a_property_sets(kit: Path) -> None:
    """The same picture in every state, whichever way a colour or a length comes, and later on."""
    written(kit, styled_html="""<!doctype html><style>
#a { --face: rgb(138 59 92); --thickness: 2px; } body { margin: 40px }
div { width: 260px; height: 120px; padding: 20px }</style>
<script src=runtime.js></script><script src=passage-button.js></script>
<div><passage-button id=a label=Go></passage-button></div>
<div><passage-button id=b label=Go></passage-button></div>
<script>a.on_press = b.on_press = () => {}; b.face = "#8A3B5C"; b.thickness = 2;</script>""")
    with page_at(kit, "styled.html") as (page, errors):
        page.set_viewport_size({"width": 420, "height": 440})
        camera = Camera(page, 1)
        boxes = [tuple(one.bounding_box().values()) for one in page.locator("div").all()]

        def alike() -> None:
            for state in ("rest", "hover", "pressed", "disabled"):
                shots = []
                for name, area in zip("ab", boxes, strict=True):
                    page.mouse.move(1, 1)
                    page.evaluate(f"{name}.disabled = {str(state == 'disabled').lower()}")
                    if state in ("hover", "pressed"):
                        page.mouse.move(area[0] + 40, area[1] + 40)
                    if state == "pressed":
                        page.mouse.down()
                    page.wait_for_timeout(300)  # all has settled
                    shots.append(camera.take(area)[:, :, :3])
                    page.mouse.up()
                    page.evaluate(f"{name}.disabled = false")
                # A gradient is dithered by its place on the page.
                assert difference(*shots).worst <= 3, (state, difference(*shots))

        alike()
        page.add_style_tag(content="#a { --face: oklch(0.55 0.12 140) }")
        page.wait_for_function("a.face !== '#8A3B5CFF'")
        page.evaluate("b.face = a.face")
        alike()
        assert not errors


def test_one_font_face_for_a_file_and_the_scheme_of_the_platform(
    kit: Path, demo_kit: Kit, tmp_path: Path
) -> None:
    with page_at(kit, "index.html") as (page, errors):
        faces = page.evaluate("[...document.fonts].map((face) => face.weight).sort()")
        assert faces == ["600", "700"] and not errors
    assert max(len(gzip.compress(path.read_bytes())) for path in kit.glob("*-button.js")) < 20_000
    night = edit.set_value(demo_kit, "board", "rest", "line", "colour", "passage")
    write_files(WEB.files(night, [night.control("board")]), tmp_path)
    written(tmp_path, auto_html="<!doctype html><script src=runtime.js></script>"
            "<script src=board-button.js></script><board-button id=board scheme=auto>")
    with page_at(tmp_path, "auto.html") as (page, _):
        assert page.evaluate("board.scheme") == night.schemes[0]
        page.emulate_media(color_scheme="dark")
        assert page.evaluate("board.scheme") == "night"
        page.evaluate("board.remove()")
