"""The whole way in the real window: a drawing in, changed, pressed, saved, shipped, run."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from mektel.core.kit import OUTLINE
from mektel.formats.kitfile import read_kit

APPLICATION = """
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QVBoxLayout, QWidget
from qtwidgets.ticket_button import TicketButton
app = QApplication([])
window = QWidget()
button = TicketButton()
QVBoxLayout(window).addWidget(button)
button.clicked.connect(lambda: print("clicked", button.text()))
window.show()
QTest.qWaitForWindowActive(window)
QTest.mouseClick(window.windowHandle(), Qt.LeftButton,
                 pos=button.mapTo(window, button.box().center().toPoint()))
"""


def test_from_a_drawing_to_a_control_that_runs(make, examples: Path, tmp_path: Path) -> None:
    window, hand = make(demo=False)
    bench, card = window.bench, window.build.strip.card
    assert window.build.empty.isVisible() and not window.try_pad.isVisible()
    empty = bench.kit

    # In: by the file dialog.
    hand.keys("Ctrl+I")
    drawing = tmp_path / "ticket.svg"
    drawing.write_text((examples / "ticket.svg").read_text().replace(
        "</svg>", "  <foreignObject width='9' height='9'/>\n</svg>"))
    hand.name_file(drawing)
    hand.until(lambda: bench.control is not None)
    hand.until(lambda: "ticket" in window.shelf.items)
    assert "1 thing was skipped" in window.notice.text.text()
    hand.click(window.notice.more)
    assert "line 22" in window.notice.details.text()
    hand.click(window.notice.close_button)
    hand.settle()

    # Changed: in the pressed state, the face's first colour; and the corners of all states.
    rest = bench.control
    hand.click(window.build.wall.tiles["pressed"], QPoint(30, 30))
    assert bench.state == "pressed"
    hand.click(window.build.strip.row.cards["face"], QPoint(40, 60))
    hand.write(card.dials["=stop"].entry, "teal")
    assert bench.control.part_in("face", {"pressed"}).stops[0].colour == "#008080"
    assert bench.control.layer("face") == rest.layer("face")
    assert bench.history.undo_name == "face stops in pressed"
    hand.click(window.build.wall.tiles["rest"], QPoint(30, 30))
    hand.click(window.build.strip.row.cards[OUTLINE], QPoint(40, 60))
    for field in card.dials["corners"].fields:
        hand.write(field.entry, "22")
    assert bench.control.outline.corners == (22, 22, 22, 22)
    assert "unsaved" in window.route.saved.text()

    # Pressed: by pointer and by keys.
    pad = window.try_pad
    live = pad.area.control
    hand.until(lambda: live.isVisible())
    hand.move(live)
    assert pad.flags["pointer inside"].holds
    hand.press(live)
    assert live.flags() == {"hover", "pressed"} and pad.flags["pressed"].holds
    hand.release(live)
    assert pad.signal_names()[:4] == ["clicked", "released", "pressed", "entered"]
    hand.move(window.route, QPoint(400, 20))
    assert pad.signal_names()[0] == "left"
    pad.disable.setFocus()
    hand.key(Qt.Key.Key_Tab)
    assert live.flags() == {"focus"}
    before = pad.signal_names().count("clicked")
    QTest.keyPress(live, Qt.Key.Key_Space)
    assert live.flags() == {"focus", "pressed"}
    QTest.keyRelease(live, Qt.Key.Key_Space)
    QTest.keyClick(live, Qt.Key.Key_Return)
    assert pad.signal_names()[:2] == ["clicked", "released"]
    assert pad.signal_names().count("clicked") >= before + 1

    # Undone and done again, every step.
    changed, steps = bench.kit, 0
    while window.route.undo_button.isEnabled():
        hand.click(window.route.undo_button)
        steps += 1
    assert bench.kit == empty and steps >= 3 and window.build.empty.isVisible()
    while window.route.redo_button.isEnabled():
        hand.keys("Ctrl+Shift+Z")
    assert bench.kit == changed

    # Saved, and opened again from the file.
    file = tmp_path / "ferry.mektel"
    hand.keys("Ctrl+S")
    hand.name_file(file)
    hand.until(lambda: not bench.unsaved)
    assert read_kit(file) == changed and window.route.saved.text().startswith("saved")
    hand.keys("Ctrl+N")
    assert bench.control is None and bench.settings.recent == [file.resolve()]
    hand.keys("Ctrl+O")
    hand.name_file(file)
    hand.until(lambda: bench.kit == changed)

    # Shipped: written, run and measured.
    hand.click(window.route.track.stops["Ship"])
    ship = window.ship
    hand.until(lambda: not ship.working)
    for name in ("web", "sprites", "svg"):
        hand.click(ship.cards[name], ship.cards[name]._tick().center().toPoint())
    assert ship.what.text() == "1 control to 1 target, into"
    hand.write(ship.folder, str(tmp_path / "shipped"))
    hand.click(ship.run)
    hand.until(lambda: not ship.working, 60_000)
    matches = ship.cards["qtwidgets"].state.matches
    assert [match.state for match in matches] == [
        "rest", "hover", "pressed", "focus", "disabled", "focus+hover", "focus+pressed"]
    assert all(match.passes for match in matches)
    assert ship.match.rows.isVisible() and ship.match.evidence.height() > 0
    assert "files written" in window.notice.text.text()

    # And another process, which knows nothing of Mektel, uses it.
    env = {key: value for key, value in os.environ.items() if not key.startswith("PYTHON")}
    done = subprocess.run(
        [sys.executable, "-c", APPLICATION], cwd=tmp_path / "shipped", text=True,
        env=env | {"QT_QPA_PLATFORM": "offscreen"}, capture_output=True, check=False, timeout=60,
    )
    assert done.stdout == "clicked Ticket\n", done.stderr


def drop(window, *paths: Path) -> None:
    """A drop of files as the window system delivers it."""
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    action, none = Qt.DropAction.CopyAction, Qt.KeyboardModifier.NoModifier
    enter = QDragEnterEvent(QPoint(80, 300), action, data, Qt.MouseButton.LeftButton, none)
    QApplication.sendEvent(window, enter)
    assert enter.isAccepted()
    assert window.shelf.new_button._wanted
    QApplication.sendEvent(window, QDropEvent(
        QPointF(80, 300), action, data, Qt.MouseButton.LeftButton, none))
    assert not window.shelf.new_button._wanted


def test_drawings_and_kits_are_dropped_on_the_window(demo, examples: Path, tmp_path: Path) -> None:
    window, _ = demo
    drop(window, examples / "board.svg", examples / "ticket.svg")
    assert [control.id for control in window.bench.kit.controls][-2:] == ["board-2", "ticket"]
    assert window.bench.control_id == "ticket"
    note = tmp_path / "note.txt"
    note.write_text("a note")
    drop(window, note)
    assert "drop an SVG drawing" in window.notice.text.text()
    broken = tmp_path / "broken.svg"
    broken.write_text("<svg")
    before = window.bench.kit
    drop(window, broken)
    assert "line 1" in window.notice.text.text() and window.bench.kit == before
    kit = tmp_path / "broken.mektel"
    kit.write_text("{")
    window.bench.document.saved = window.bench.kit
    drop(window, kit)
    assert "Not opened" in window.notice.text.text() and window.bench.kit == before
