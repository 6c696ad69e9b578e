"""What an attack on the window found: markup in names, files that go, stale views, faults."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLabel, QMessageBox, QWidget

from mektel.app.faults import faults
from mektel.app.garbage import GarbageCollection
from mektel.app.settings import Settings
from mektel.app.try_pad import TryPad
from mektel.core.kit import Kit, Parameter, edit, palette_edits, parameter_edits
from mektel.formats.kitfile import read_kit
from tests.app.random_use import RandomUse, inside_the_window, use_for
from tests.conftest import ROOT

MARKUP = '<img src="/proc/self/environ"><b>Board</b>'


def test_names_of_a_kit_are_never_markup(make) -> None:
    window, hand = make()
    bench = window.bench
    kit = edit.set_field(bench.kit, "board", "name", MARKUP)
    kit = edit.set_field(kit, "board", "text", MARKUP)
    kit = parameter_edits.add_parameter(kit, "board", Parameter(
        name="mark", type="text", default=MARKUP, help=MARKUP))
    kit = parameter_edits.set_formula(kit, "board", "rest", "control", "text", "mark")
    kit = palette_edits.set_swatch(kit, "tide-2", "#102030")
    bench.start(kit.model_copy(update={"name": MARKUP}), None)
    for view in ("Build", "Feel", "Reuse", "Ship"):
        bench.select("board")
        window.go_to(view)
        hand.settle()
        for label in window.findChildren(QLabel):
            plain = label.textFormat() == Qt.TextFormat.PlainText
            assert plain or "img" not in label.text(), (view, label.text())
        for widget in window.findChildren(QWidget):
            tip = widget.toolTip()
            assert "<img" not in tip, (view, tip)
    bench.edit("text", lambda kit: edit.set_field(kit, "horn", "text", "x"))
    window.close()
    (box,) = window.findChildren(QMessageBox)
    assert box.textFormat() == Qt.TextFormat.PlainText and "img" in box.text()
    hand.answer("Go back")


def test_labels_tips_and_questions_are_made_in_one_place() -> None:
    makers = ("QLabel(", ".setToolTip(", "QMessageBox(", "QToolTip.showText(")
    for path in (ROOT / "src/mektel/app").rglob("*.py"):
        if path.name != "plain.py":
            text = path.read_text(encoding="utf-8")
            assert not [maker for maker in makers if maker in text], path


def test_a_kit_whose_file_is_gone_is_told_and_saving_asks_where(make, tmp_path: Path) -> None:
    window, hand = make()
    bench = window.bench
    path, elsewhere = tmp_path / "ferry.mektel", tmp_path / "elsewhere.mektel"
    assert bench.save(path) and not bench.unsaved
    path.rename(tmp_path / "moved.mektel")
    hand.until(lambda: "was moved, renamed or deleted" in window.notice.text.text())
    assert bench.unsaved  # the only one there is
    path.mkdir()
    window.save()
    hand.name_file(elsewhere)
    assert read_kit(elsewhere) == bench.kit and not bench.unsaved
    assert bench.files.path == elsewhere and path.is_dir()


def test_cards_and_contrast_of_the_control_before_do_nothing(demo) -> None:
    window, hand = demo
    bench = window.bench
    bench.select("night-watch")  # its label fails in a state
    hand.until(lambda: window.try_pad.mend.isVisible())
    cards = list(window.build.strip.row.cards.values())
    kit = bench.kit
    bench.select("horn")  # and nothing is brought up to date yet
    for card in cards:
        if not card.stands:
            QTest.mouseClick(card, Qt.MouseButton.LeftButton, pos=QPoint(100, 64))
            QTest.keyClick(card, Qt.Key.Key_Delete)
    TryPad._open_mending(window.try_pad)
    assert bench.kit == kit and bench.control_id == "horn"
    hand.settle()
    assert not faults().places


def test_an_empty_kit_is_shown_in_ship(make) -> None:
    window, hand = make(demo=False)
    window.bench.start(Kit(), None)
    window.go_to("Ship")
    for name in window.ship.cards:
        window.ship.select(name)
        hand.until(lambda: not window.ship.working)
    assert not faults().places and not window.ship.write.isEnabled()


@pytest.mark.parametrize("content", ["[" * 100_000, "{", "[1]", '{"recent": 5}', "\x00"])
def test_broken_settings_are_as_none(content: str) -> None:
    settings = Settings()
    settings.theme = "dark"
    file = next(settings._folder.glob("settings.json"))
    file.write_text(content, encoding="utf-8")
    assert Settings().theme == "desktop" and Settings().recent == []


CRASH = """
import ctypes, sys, time
from PySide6.QtCore import QTimer
from mektel.app import main
from mektel.core.kit import edit
make = main.make_window
def make_window(*given):
    window = make(*given)
    if sys.argv[1] == "crash":
        QTimer.singleShot(300, lambda: window.bench.edit("text", lambda kit: edit.set_field(
            kit, "board", "text", "Lost")))
        QTimer.singleShot(600, lambda: time.sleep(2.4))
        QTimer.singleShot(4000, lambda: ctypes.string_at(0))
    else:
        QTimer.singleShot(800, lambda: (print(window.notice.text.text(),
                                              window.notice.details.text()), app.exit(0)))
    return window
main.make_window = make_window
app = main.make_application()
main.run(None, True)
"""


def test_a_native_fault_is_reported_and_the_work_offered(own_home: Path) -> None:
    def run(how: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run([sys.executable, "-c", CRASH, how], text=True, capture_output=True,
                              timeout=90, check=False, env=dict(os.environ))

    assert run("crash").returncode == -11
    told = run("again").stdout
    assert "unsaved changes in “Lantern Ferry”" in told and "Segmentation fault" in told
    assert "string_at" in (Settings().crash_folder / "last-crash.txt").read_text()
    stops = (Settings().crash_folder / "stops.log").read_text()
    assert "stood still for 2" in stops and "Timeout" in stops
    assert "Segmentation fault" not in run("again").stdout  # told once


def test_a_minute_of_random_use(make, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """More of it: tools/long_use.py."""
    monkeypatch.chdir(tmp_path)
    window, _ = make()
    collection = GarbageCollection(window)
    window.bench.kit_changed.connect(collection.edited)
    use = RandomUse(window, 7)
    with inside_the_window():
        steps = use_for(use, 20)
        widgets, threads = len(QApplication.allWidgets()), threading.active_count()
        steps += use_for(use, 25)
    assert not faults().places, (use.last, faults().places)
    assert steps > 100 and len(use.done) > 6
    assert len(QApplication.allWidgets()) < 2 * widgets + 600
    assert threading.active_count() <= threads + 4
