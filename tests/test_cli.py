"""The command line, as its own process or in this one; every failure is one clear message."""

from __future__ import annotations

import json
import os
import re
import shlex
import signal
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from mektel.cli import main
from mektel.core.kit import Kit, edit
from mektel.core.look import resolve
from mektel.core.paint import render
from mektel.formats.kitfile import kit_to_text, read_kit
from mektel.formats.png import pixels_from_png, png_bytes
from mektel.samples import DEMO

ROOT = Path(__file__).resolve().parents[1]


class Ran:
    def __init__(self, code: int, out: str, err: str) -> None:
        self.code, self.out, self.err = code, out, err


@pytest.fixture
def mektel(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str], tmp_path: Path
):
    monkeypatch.chdir(tmp_path)

    def run(*words: str) -> Ran:
        monkeypatch.setattr(sys, "argv", ["mektel", *map(str, words)])
        with pytest.raises(SystemExit) as left:
            main()
        out, err = capsys.readouterr()
        code = left.value.code
        assert "Traceback" not in err
        return Ran(code if isinstance(code, int) else 0, out, err)

    return run


def test_from_a_drawing_to_a_web_element_in_the_shell(tmp_path: Path) -> None:
    kit, out = tmp_path / "x.mektel", tmp_path / "out"
    program = str(Path(sys.executable).parent / "mektel")
    drawing = ROOT / "examples" / "board.svg"
    line = (f"{program} import {drawing} --kit {kit} && "
            f"{program} export {kit} --target web --out {out}")
    done = subprocess.run(line, shell=True, capture_output=True, text=True, check=False)
    assert done.returncode == 0 and done.stderr == ""
    assert read_kit(kit).control("board").text == "Board"
    assert {path.name for path in out.iterdir()} == {
        "board-button.js", "board-button.mjs", "board-button.d.mts", "runtime.js", "runtime.mjs",
        "package.json", "custom-elements.json", "index.html", "fonts", "mektel-files.json"}


def test_rendering_says_where_the_box_lies(mektel, tmp_path: Path) -> None:
    done = mektel("render", DEMO, "board", "--state", "hover", "--scale", "2", "--out", "a.png")
    assert done.code == 0 and done.out.count("\n") == 1
    told = json.loads(done.out)
    assert list(told) == ["scale", "size", "box"] and told["box"][2:] == [336, 96]
    pixels = pixels_from_png((tmp_path / "a.png").read_bytes())
    assert list(pixels.shape[1::-1]) == told["size"]
    done = mektel("render", DEMO, "Cast off", "--margin", "5", "--size", "240x72", "--backdrop",
                  "white", "--state", "focus+hover", "--set", "text=Go",
                  "--set", "face.style=solid", "--set", "face.colour=teal", "--out", "b.png")
    assert json.loads(done.out) == {"scale": 1, "size": [250, 82], "box": [5, 5, 240, 72]}
    pixels = pixels_from_png((tmp_path / "b.png").read_bytes())
    assert (pixels[:, :, 3] == 255).all() and pixels[0, 0].tolist() != [0, 0, 0, 255]
    again = mektel("render", DEMO, "cast-off", "--margin", "5", "--size", "240x72",
                   "--set", "shadow.visible=false", "--out", "c.png")
    assert again.code == 0
    assert not np.array_equal(pixels, pixels_from_png((tmp_path / "c.png").read_bytes()))


def test_the_small_commands(mektel, tmp_path: Path) -> None:
    assert [line.split()[0] for line in mektel("targets").out.splitlines()] == [
        "qtwidgets", "web", "sprites", "svg"]
    assert json.loads(mektel("schema").out)["title"] == "Mektel kit"
    assert mektel("new", "half.mektel", "--starter", "keycap").code == 0
    assert read_kit(tmp_path / "half.mektel").controls[0].name == "Keycap"
    assert "Usage" in mektel("--help").out and re.match(r"mektel, version", mektel("--version").out)
    done = mektel("import", ROOT / "examples" / "ticket.svg", "--kit", "half.mektel")
    assert "ticket, 6 layers, 4 states" in done.out and "skipped" not in done.out
    (tmp_path / "odd.svg").write_text(
        "<svg><rect width='90' height='30'/>\n<image href='a.png'/></svg>")
    assert "skipped: line 2: <image>" in mektel("import", "odd.svg", "--kit", "half.mektel").out
    assert [control.id for control in read_kit(tmp_path / "half.mektel").controls] == [
        "keycap", "ticket", "odd"]
    sheet = ROOT / "examples" / "anchor-sheet@2x.png"
    assert mektel("import", sheet, "--list").out.count(" × ") == 3
    done = mektel("import", sheet, "--kit", "half.mektel", "--name", "Anchor")
    assert "anchor, 132 × 48 px, 3 states from pictures, never smaller than 51 ×" in done.out
    assert "--states" in mektel("import", sheet, "odd.svg", "--kit", "half.mektel").err or (
        mektel("import", sheet, "odd.svg", "--kit", "half.mektel").code == 2)
    assert "several files" in mektel("import", "odd.svg", sheet, "--kit", "half.mektel").err
    done = mektel("export", "half.mektel", "ticket", "--target", "qtwidgets", "--out", "q")
    assert "q/ticket_button.py" in done.out and "baked" not in done.err
    done = mektel("export", "half.mektel", "--target", "qtwidgets", "--out", "one", "--single")
    assert done.out == "one/controls.py\n"
    assert "--single is for Qt" in mektel(
        "export", "half.mektel", "--target", "web", "--out", "one", "--single").err


def test_check_tells_what_leads_nowhere(mektel, demo_kit: Kit, tmp_path: Path) -> None:
    done = mektel("check", DEMO)
    assert done.code == 0 and "19 controls, nothing wrong" in done.out
    kit = demo_kit
    for name in ("tally", "board"):
        kit = edit.remove_control(kit, name)
    kit = kit.model_copy(update={"finish": "woven"})
    (tmp_path / "broken.mektel").write_text(kit_to_text(kit), encoding="utf-8")
    done = mektel("check", "broken.mektel")
    told = done.out.splitlines()
    assert done.code == 1 and len(told) == 4
    assert told[0].startswith("Board, night: It derives from “board”, which is not in this kit.")
    assert "Queue: tally.control: There is no control “tally”." in told[2]
    assert told[3].startswith("Lantern Ferry: The finish “woven” is not installed")


def test_verify_passes_and_fails_by_its_exit_code(mektel, monkeypatch: pytest.MonkeyPatch) -> None:
    done = mektel("verify", DEMO, "cargo", "--target", "qtwidgets", "--json")
    told = json.loads(done.out)
    assert done.code == 0 and told["target"] == "qtwidgets"
    assert [match["state"] for match in told["matches"]] == [
        "rest", "hover", "pressed", "focus", "disabled", "focus+hover", "focus+pressed"]
    assert all(match["without_text"]["mean"] < 1 for match in told["matches"])
    done = mektel("verify", DEMO, "cargo", "--target", "sprites", "--scale", "1")
    assert done.code == 0 and "same" in done.out and len(done.out.splitlines()) == 9
    monkeypatch.setattr("mektel.targets.match.BAR", -1.0)
    done = mektel("verify", DEMO, "cargo", "--target", "sprites")
    assert done.code == 1 and "is the most" in done.out


@pytest.mark.parametrize(("words", "message"), [
    (["frobnicate"], "no command or kit “frobnicate”"),
    (["render", "none.mektel", "x", "--out", "a.png"], "No such file"),
    (["render", DEMO, "bored", "--out", "a.png"], "Available: board, cast-off"),
    (["render", DEMO, "board", "--state", "asleep", "--out", "a.png"], "no state “asleep”"),
    (["render", DEMO, "board", "--size", "big", "--out", "a.png"], "such as 240x72"),
    (["render", DEMO, "board", "--size", "9x99999", "--out", "a.png"], "from 4 to 2000"),
    (["render", DEMO, "board", "--backdrop", "mauvey", "--out", "a.png"], "is not a colour"),
    (["render", DEMO, "board", "--set", "nonsense", "--out", "a.png"], "NAME=VALUE"),
    (["render", DEMO, "board", "--set", "face.nose=1", "--out", "a.png"], "no value of face"),
    (["render", DEMO, "board", "--set", "line.width=-1", "--out", "a.png"], "greater than"),
    (["render", DEMO, "board", "--scale", "99", "--out", "a.png"], "--scale"),
    (["render", DEMO, "board", "--out", "no/such/folder.png"], "not written"),
    (["render", DEMO, "board"], "--out"),
    (["new", "x.mektel", "--starter", "anvil"], "Available: pill, slab, frame"),
    (["new", DEMO, "--starter", "pill"], "exists already"),
    (["import", "none.svg", "--kit", "x.mektel"], "no such file"),
    (["import", DEMO, "--kit", "x.mektel"], "SVG drawings, CSS"),
    (["export", DEMO, "--target", "granite", "--out", "o"], "web, sprites, svg"),
    (["export", DEMO, "--target", "web", "--out", DEMO], "must be a folder"),
])
def test_bad_input_gets_one_clear_message(mektel, words: list, message: str) -> None:
    done = mektel(*words)
    assert done.code == 2 and done.out == ""
    assert message in done.err and len(done.err.strip().splitlines()) == 1


def test_a_failed_import_leaves_the_kit_alone(mektel, tmp_path: Path) -> None:
    kit = tmp_path / "kit.mektel"
    kit.write_text("{}")
    (tmp_path / "bad.svg").write_text("<svg>")
    done = mektel("import", "bad.svg", "--kit", "kit.mektel")
    assert done.code == 2 and kit.read_text() == "{}"
    (tmp_path / "empty.mektel").write_text('{"format": 1}')
    assert "no controls" in mektel("export", "empty.mektel", "--target", "web", "--out", "o").err


def test_without_a_screen_it_opens_on_a_virtual_one_and_says_so(tmp_path: Path) -> None:
    env = {key: value for key, value in os.environ.items()
           if key not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    process = subprocess.Popen(
        [sys.executable, "-m", "mektel", "demo"], env=env, stderr=subprocess.PIPE, text=True,
    )
    assert process.stderr
    said = process.stderr.readline()
    display = re.search(r"DISPLAY=(:\d+)", said)
    assert "opened on a virtual one" in said and display
    program = (
        "import time\nfrom PySide6.QtGui import QGuiApplication\n"
        "app = QGuiApplication([])\nscreen = app.primaryScreen()\nend = time.monotonic() + 60\n"
        "while time.monotonic() < end:\n"
        "    image = screen.grabWindow(0).toImage()\n"
        "    shades = {image.pixel(x, y) for x in range(0, 1280, 40) for y in range(0, 800, 40)}\n"
        "    if len(shades) > 12: print('seen'); break\n    time.sleep(0.2)\n"
    )
    try:
        seen = subprocess.run(
            [sys.executable, "-c", program], capture_output=True, text=True, timeout=120,
            env=env | {"DISPLAY": display[1], "QT_QPA_PLATFORM": "xcb"}, check=False,
        )
        assert seen.stdout.strip() == "seen", seen.stderr
    finally:
        process.terminate()
        process.wait(timeout=10)


def test_a_gesture_becomes_a_film_and_shipped_motion_is_measured(
    mektel, demo_kit: Kit, tmp_path: Path,
) -> None:
    ran = mektel("play", DEMO, "board", "--gesture", "press", "--fps", "20", "--out", "film.webp")
    told = json.loads(ran.out)
    with Image.open(tmp_path / "film.webp") as film:
        assert film.n_frames > 10 and film.size == tuple(told["size"])
        length = 0
        for at in range(film.n_frames):
            film.seek(at)
            film.load()
            length += film.info["duration"]
    assert length == pytest.approx(told["seconds"] * 1000, abs=2)
    events = [{"at": 0.1, "kind": "move", "inside": True}, {"at": 0.5, "kind": "move"}]
    (tmp_path / "hand.json").write_text(json.dumps({"gesture": 1, "events": events}))
    mektel("play", DEMO, "ramp", "--gesture", "hand.json", "--fps", "10", "--out", "frames")
    assert len(list((tmp_path / "frames").glob("frame-*.png"))) >= 6
    mektel("play", DEMO, "ramp", "--gesture", "tap@0.2,0.5", "--fps", "10", "--strip",
           "--out", "strip.png")
    with Image.open(tmp_path / "strip.png") as strip:
        assert strip.width > 400
    for gesture, out, message in (
            ("wave", "a.webp", "There is no gesture “wave”"), ("press", "a.gif", "ends in .webp"),
            ("late.json", "a.webp", "order of their times"),
            ("odd.json", "a.webp", "events[0].kind"), ("none.json", "a.webp", "cannot be read"),
            ("endless.json", "a.webp", "20 s at most")):
        for name, told in (("late", [*reversed(events)]), ("odd", [{"at": 0, "kind": "sing"}]),
                           ("endless", [{"at": 500, "kind": "move"}])):
            (tmp_path / f"{name}.json").write_text(json.dumps({"events": told}))
        ran = mektel("play", DEMO, "board", "--gesture", gesture, "--out", out)
        assert ran.code == 2 and message in ran.err and "Traceback" not in ran.err

    kit = demo_kit.model_copy(update={"controls": (demo_kit.control("cargo"),)})
    (tmp_path / "one.mektel").write_text(kit_to_text(kit))
    ran = mektel("verify", "one.mektel", "--target", "qtwidgets", "--motion", "--json")
    films = json.loads(ran.out)["motion"]
    assert ran.code == 0 and len(films) == 10 and all(film["passes"] for film in films)


@pytest.mark.parametrize(("line", "said"), [
    ("render KIT board --scale nan --out a.png", "nan is not a number"),
    ("export KIT --target sprites --film press --fps nan --out a", "nan is not a number"),
    ("export KIT --target web --out ''", "it is empty"),
    ("export KIT --target web --out ring", "links lead in a ring"),
    ("export KIT --target tokens --out ring", "links lead in a ring"),
    ("export KIT --target web --out /proc/x", "cannot be used"),
    ("export KIT --target web --out file", "must be a folder"),
    (f"render KIT board --out a.png --set face.colour={'[' * 5000}", "[[[…"),
])
def test_odd_paths_and_numbers_are_refused_in_words(
    mektel, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, line: str, said: str
) -> None:
    monkeypatch.chdir(tmp_path)
    (tmp_path / "ring").symlink_to("ring")
    (tmp_path / "file").write_text("mine")
    ran = mektel(*(str(DEMO) if word == "KIT" else word for word in shlex.split(line)))
    assert ran.code == 2 and said in ran.err and len(ran.err) < 2100
    assert {path.name for path in tmp_path.iterdir()} == {"ring", "file"}


def test_ctrl_c_ends_in_one_line_and_no_browser_is_left() -> None:
    program = str(Path(sys.executable).parent / "mektel")
    with subprocess.Popen([program, "verify", str(DEMO), "board", "--target", "web"], text=True,
                          stderr=subprocess.PIPE, stdout=subprocess.DEVNULL,
                          start_new_session=True) as process:
        end = time.monotonic() + 60
        while time.monotonic() < end and not _children(process.pid):
            time.sleep(0.05)
        browsers = _children(process.pid)
        os.killpg(process.pid, signal.SIGINT)  # as the key does
        _, err = process.communicate(timeout=30)
    assert browsers and process.returncode == 130 and err == "mektel: stopped.\n"
    while time.monotonic() < end and any(Path(f"/proc/{child}/exe").exists() for child in browsers):
        time.sleep(0.05)
    assert not any(Path(f"/proc/{child}/exe").exists() for child in browsers)


def test_ctrl_c_ends_reading_a_picture_in_one_line(tmp_path: Path, demo_kit: Kit) -> None:
    picture, kit = tmp_path / "board.png", tmp_path / "read.mektel"
    picture.write_bytes(png_bytes(render(resolve(demo_kit, demo_kit.control("board"))).rgba))
    program = str(Path(sys.executable).parent / "mektel")
    with subprocess.Popen([program, "read", str(picture), "--kit", str(kit)], text=True,
                          stderr=subprocess.PIPE, stdout=subprocess.DEVNULL,
                          start_new_session=True) as process:
        while process.poll() is None and _worked(process.pid) < 1.0:  # in the middle of it
            time.sleep(0.02)
        os.killpg(process.pid, signal.SIGINT)
        _, err = process.communicate(timeout=30)
    assert process.returncode == 130 and err == "mektel: stopped.\n"
    assert [path.name for path in tmp_path.iterdir()] == ["board.png"]


def _worked(process: int) -> float:
    """Seconds of processor time that it took."""
    user, system = Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[11:13]
    return (int(user) + int(system)) / os.sysconf("SC_CLK_TCK")


def _children(process: int) -> list[str]:
    return Path(f"/proc/{process}/task/{process}/children").read_text().split()
