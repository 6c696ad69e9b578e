"""A whole style sheet over Build: chosen from by thumbnail, with the mouse and with keys."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from mektel.targets import TARGETS
from mektel.targets.verify import verify
from tests.sheets import package_text


def test_controls_of_a_well_known_sheet_are_picked_by_thumbnail(demo, tmp_path: Path) -> None:
    window, hand = demo
    bench = window.bench
    path = tmp_path / "well-known.css"
    path.write_text(package_text("bootstrap"), encoding="utf-8")
    hand.keys("Ctrl+I")
    hand.name_file(path)
    hand.until(lambda: window.build.sheet is not None)
    sheet = window.build.sheet
    hand.until(lambda: bool(sheet.tiles) and not sheet.progress.isVisible())
    assert window.build.currentWidget() is sheet and len(sheet.tiles) > 20
    assert not sheet.add_button.isEnabled()
    hand.until(lambda: sheet.filter.hasFocus())
    QTest.keyClicks(QApplication.focusWidget(), "btn primary")
    shown = [tile for tile in sheet.tiles if tile.isVisible()]
    assert [tile.text() for tile in shown] == [".btn.btn-primary", ".btn.btn-outline-primary"]
    hand.settle()
    for tile in shown:
        hand.click(tile)
        assert tile.isChecked()
    hand.write(sheet.filter, "nothing like it", Qt.Key.Key_Tab)
    assert sheet.none.isVisible() and sheet.add_button.text() == "Add 2 controls"
    sheet.filter.clear()
    hand.settle()
    hand.click(next(tile for tile in sheet.tiles if tile.text() == ".btn"))
    before = len(bench.kit.controls)
    hand.click(sheet.add_button)
    assert window.build.sheet is None and bench.control is not None
    brought = bench.kit.controls[before:]
    assert [control.name for control in brought] == [
        "Btn", "Btn primary", "Btn outline primary"] and bench.control.id == brought[0].id
    assert [control.base for control in brought] == [None, brought[0].id, brought[0].id]
    assert brought[1].states["hover"] and "pressed" in brought[1].states
    for target in ("web", "qtwidgets"):
        matches = verify(bench.kit, [brought[1]], TARGETS[target])
        assert len(matches) > 4 and all(match.passes for match in matches), matches
    bench.undo()
    assert len(bench.kit.controls) == before


def test_a_pasted_sheet_is_chosen_from_with_keys(make, examples: Path) -> None:
    window, hand = make(demo=False)
    bench = window.bench
    QApplication.clipboard().setText((examples / "ferry-site.css").read_text())
    hand.keys("Ctrl+V")
    sheet = window.build.sheet
    hand.until(lambda: bool(sheet.tiles) and not sheet.progress.isVisible())
    hand.until(lambda: sheet.filter.hasFocus())
    for _ in range(30):
        if QApplication.focusWidget() is sheet.tiles[4]:
            break
        hand.key(Qt.Key.Key_Tab)
    hand.key(Qt.Key.Key_Space)
    assert sheet.chosen == [4] and sheet.add_button.text() == "Add 1 control"
    hand.key(Qt.Key.Key_Return)
    hand.until(lambda: window.build.sheet is None)
    assert [control.name for control in bench.kit.controls] == ["Deck key"]
    # Another time it is left without taking anything.
    bench.import_sheet((examples / "ferry-site.css").read_text() * 3, "again.css")
    hand.until(lambda: bool(window.build.sheet.tiles))
    hand.key(Qt.Key.Key_Escape)
    assert window.build.sheet is None and len(bench.kit.controls) == 1
    bench.import_sheet("body { margin: 0 } " * 900, "plain.css")
    hand.until(lambda: window.build.sheet is None)
    assert "plain.css" in window.notice.text.text() and window.notice.isVisible()
