"""What all targets share: plans, names, writing safely, progress and cancel, keeping results."""

from __future__ import annotations

import os
import subprocess
import threading
from pathlib import Path, PurePosixPath

import numpy as np
import pytest

from mektel.core.errors import NotFoundError
from mektel.core.kit import Control, ControlOutline, Fill, Kit, Label, Line, Shadow, edit
from mektel.core.look import resolve, shared_margins
from mektel.core.paint import render
from mektel.core.paint.line import bands
from mektel.core.paint.masks import Masks, covered, masks, ring
from mektel.core.shape import outline_for
from mektel.formats.kitfile import kit_from_text, kit_to_text
from mektel.targets import (
    TARGETS,
    CancelledError,
    ForeignFilesError,
    OutFile,
    TargetError,
    ship,
    shipping,
    target_named,
    write_files,
)
from mektel.targets.sheet import sheet_of
from mektel.targets.verify import verify


@pytest.mark.parametrize("name", TARGETS)
def test_every_target_says_how_each_layer_is_drawn(name: str, demo_kit: Kit) -> None:
    target = target_named(name)
    # Pictures of every state take their time: a third of them will do.
    for control in demo_kit.controls[:: 3 if name == "sprites" else 1]:
        plans = target.plan(demo_kit, control)
        layers = [part.title for part in sheet_of(demo_kit, control).layers]
        assert [plan.layer for plan in plans][:len(layers)] == layers
        own = len(layers) + len(control.answers) + len(control.swings)
        assert {plan.layer for plan in plans[own:]} <= {"Springs", "Moving edges"}
        assert len(plans) == own or name == "web"
        assert {plan.how for plan in plans} <= {"native", "baked", "partly", "lost"}
        files = target.files(demo_kit, [control])
        assert target.main_file(control) in [file.path for file in files]
        assert len({file.path for file in files}) == len(files)
        assert all(not file.path.is_absolute() and ".." not in file.path.parts for file in files)
        words, language = target.usage(demo_kit, control)
        assert 3 <= len(words.strip().splitlines()) <= 7 and language
    with pytest.raises(NotFoundError, match="qtwidgets, web, sprites"):
        target_named("granite")


def test_names_are_those_of_the_language() -> None:
    kit = Kit()
    for title in ("class", "2nd gate", "Ünder way!", "Fog button", "  ", "None"):
        control = Control(id="x", name=title if title.strip() else "?", layers=())
        kit = edit.add_control(kit, control)
    modules = [str(TARGETS["qtwidgets"].main_file(control)) for control in kit.controls]
    assert modules == [
        "class_button.py", "control_2nd_gate_button.py", "nder_way_button.py", "fog_button.py",
        "control_button.py", "none_button.py",
    ]
    for control in kit.controls:
        (module, *_) = TARGETS["qtwidgets"].files(kit, [control])
        compile(module.text, str(module.path), "exec")


def test_nothing_is_written_outside_the_folder(tmp_path: Path) -> None:
    root = tmp_path / "out"
    for path in ("../out.txt", "a/../../out.txt"):
        with pytest.raises(TargetError, match="outside"):
            write_files([OutFile(PurePosixPath(path), b"x")], root)
    (tmp_path / "elsewhere").mkdir()
    root.mkdir(exist_ok=True)
    (root / "link").symlink_to(tmp_path / "elsewhere")
    with pytest.raises(TargetError, match="outside"):
        write_files([OutFile(PurePosixPath("link/a.txt"), b"x")], root)
    assert list((tmp_path / "elsewhere").iterdir()) == []
    (root / "sub").mkdir(exist_ok=True)
    gone = subprocess.Popen(["true"])
    gone.wait()
    left, writing, own = (root / "sub" / name for name in (
        f".a.txt.{gone.pid}-1.half-written", f".a.txt.{os.getpid()}-7.half-written",
        ".keep.half-written"))
    for file in (left, writing, own):
        file.write_bytes(b"x")
    (written,) = write_files([OutFile(PurePosixPath("sub/a.txt"), b"x")], root)
    # What a process that has ended left is gone, and nothing else.
    assert not left.exists() and writing.exists() and own.exists()
    assert written.read_bytes() == b"x"


def test_writing_and_running_can_be_stopped(demo_kit: Kit, tmp_path: Path) -> None:
    files = TARGETS["sprites"].files(demo_kit, demo_kit.controls[:1])
    with pytest.raises(CancelledError, match="3 of"):
        write_files(files, tmp_path, lambda done, of, words: done < 3)
    assert len([path for path in tmp_path.rglob("*") if path.is_file()]) == 3 + 1  # and the list
    assert len(write_files(files, tmp_path)) == len(files)  # half of it is Mektel's own
    told: list[tuple[int, int]] = []

    def twice(done: int, of: int, words: str) -> bool:
        told.append((done, of))
        return len(told) < 4

    for name in TARGETS:
        told.clear()
        with pytest.raises(CancelledError, match="Stopped"):
            verify(demo_kit, demo_kit.controls[:3], TARGETS[name], twice, scale=1)
        assert told[-1][1] >= 15


def test_files_that_no_export_wrote_are_never_replaced(demo_kit: Kit, tmp_path: Path) -> None:
    target, board = TARGETS["web"], [demo_kit.control("board")]
    files = ship(target, demo_kit, board)
    own = tmp_path / "package.json"
    own.write_text('{"name": "my-app"}')
    (tmp_path / "index.html").mkdir()
    with pytest.raises(ForeignFilesError, match=r"index\.html\. Nothing was") as told:
        write_files(files, tmp_path)
    assert set(told.value.paths) == {"package.json", "index.html"}
    assert {path.name for path in tmp_path.iterdir()} == {"package.json", "index.html"}
    (tmp_path / "index.html").rmdir()
    write_files(files, tmp_path, replacing=["package.json"])
    # What was written is replaced without being asked for; what was changed since is not.
    other = edit.set_field(demo_kit, "board", "text", "Aboard")
    write_files(ship(target, other, [other.control("board")]), tmp_path)
    element = tmp_path / "board-button.js"
    mine = element.read_text() + "// mine"
    element.write_text(mine)
    with pytest.raises(ForeignFilesError, match=r"board-button\.js"):
        write_files(files, tmp_path)
    assert element.read_text() == mine
    (tmp_path / "mektel-files.json").write_text("[]")
    with pytest.raises(TargetError, match="not the list of files of an export"):
        write_files(files, tmp_path)


def test_what_is_kept_is_what_would_be_made(demo_kit: Kit) -> None:
    """Masks kept by value change no pixel, may not be written to, and are bounded."""
    control = demo_kit.control("fog-bell")
    look, room = resolve(demo_kit, control), shared_margins(demo_kit, control)
    masks.forget()
    cold = render(look, 2, room).rgba
    warm = render(look, 2, room).rgba
    assert np.array_equal(cold, warm)
    with pytest.raises(ValueError, match="read-only"):
        covered(look.outline, 40, 40)[0, 0] = 1
    small = Masks()
    for size in range(300):
        small.get(size, lambda: np.ones((500, 500), np.float32))
    assert small._kept.currsize <= 96 * 1024 * 1024 and 299 in small._kept and 0 not in small._kept


def test_many_threads_draw_the_same_pictures(demo_kit: Kit) -> None:
    jobs = [(control, scale) for control in demo_kit.controls for scale in (1, 2)]
    alone = [render(resolve(demo_kit, c), s, shared_margins(demo_kit, c)).rgba for c, s in jobs]
    masks.forget()
    found: dict[int, np.ndarray] = {}

    def work(start: int) -> None:
        for at in range(start, len(jobs), 2):
            control, scale = jobs[at]
            made = render(resolve(demo_kit, control), scale, shared_margins(demo_kit, control))
            found[at] = made.rgba

    threads = [threading.Thread(target=work, args=(start,)) for start in (0, 1, 0, 1)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    for at, expected in enumerate(alone):
        assert np.array_equal(found[at], expected)


@pytest.mark.parametrize(("form", "size"), [
    ("box", (120, 40)), ("capsule", (120, 40)), ("capsule", (30, 90)), ("ellipse", (70, 50)),
    ("box", (9, 9)),
])
@pytest.mark.parametrize("width", [1, 4, 30])
def test_bands_hold_every_pixel_of_a_ring_once(
    form: str, size: tuple[int, int], width: float
) -> None:
    outer = outline_for(form, (3, 14, 9, 0), *size).moved(2.5, 1.25)
    inner = outer.grown(-width)
    w, h = size[0] + 6, size[1] + 6
    taken = np.zeros((h, w), int)
    for rows, columns in bands(inner, w, h):
        taken[rows, columns] += 1
    mask = ring(outer, inner, w, h)
    assert taken.max() == 1
    assert not mask[taken == 0].any()


def test_a_fill_ends_under_the_line_on_it_and_only_then() -> None:
    face = Fill(id="f", name="F", colour="#FFFFFF")
    line = Line(id="l", name="L", width=4, colour="#000000")

    def grown(*layers: object) -> float:
        control = Control(id="x", name="X", size=(80, 40),
                          outline=ControlOutline(corners=(10,) * 4),
                          layers=layers)  # type: ignore[arg-type]
        fill = resolve(Kit(controls=(control,)), control).layers[0]
        return (fill.outline.width - 80) / 2  # type: ignore[union-attr]

    assert grown(face) == 0
    assert grown(face, line) == -2
    assert grown(face, line.model_copy(update={"place": "outside"})) == 2
    assert grown(face, line.model_copy(update={"gap": 6.0})) == 0
    assert grown(face, line.model_copy(update={"colour": "#00000080"})) == 0
    assert grown(face, line.model_copy(update={"visible": False})) == 0
    assert grown(face, Shadow(id="s", name="S"), Label(id="t", name="T"), line) == -2


def test_what_is_as_it_was_is_made_once(demo_kit: Kit, monkeypatch: pytest.MonkeyPatch) -> None:
    """Files follow from what a kit holds, not from which object it is."""
    web, made = TARGETS["web"], []
    files = type(web).files
    monkeypatch.setattr(type(web), "files", lambda *what: (made.append(what), files(*what))[1])
    shipping.forget()
    board = [demo_kit.control("board")]
    first = ship(web, demo_kit, board)
    again = kit_from_text(kit_to_text(demo_kit))
    assert ship(web, again, [again.control("board")]) == first and len(made) == 1
    other = edit.set_field(demo_kit, "board", "text", "Sail")
    assert ship(web, other, [other.control("board")]) != first and len(made) == 2
    assert len(ship(web, demo_kit, [*board, demo_kit.control("cargo")])) > len(first)
    first.clear()  # what is handed out is the caller's
    assert len(ship(web, demo_kit, board)) > 5 and len(made) == 3
    shipping.forget()
    ship(web, demo_kit, board)
    assert len(made) == 4
