"""Opening, saving, unsaved work, recovery; shipping with progress, cancel and stale figures."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication, QMessageBox

from mektel.core.kit import edit
from mektel.formats.kitfile import read_kit, write_kit
from mektel.samples import DEMO
from mektel.targets import TARGETS


def change_something(window) -> None:
    window.bench.edit("text", lambda kit: edit.set_field(kit, "board", "text", "Come aboard"))


def test_an_empty_shelf_offers_starters_and_the_demo(make) -> None:
    window, hand = make(demo=False)
    empty = window.build.empty
    hand.click(empty.starters["pebble"])
    assert [control.name for control in window.bench.kit.controls] == ["Pebble"]
    assert not empty.isVisible() and window.try_pad.isVisible()
    hand.choose(window.shelf.new_button.menu(), "Keycap")
    assert window.bench.control.name == "Keycap"
    hand.settle()
    hand.focus(window.shelf.items["keycap"])
    hand.key(Qt.Key.Key_Delete)
    assert [control.id for control in window.bench.kit.controls] == ["pebble"]
    for _ in range(3):
        hand.keys("Ctrl+Z")
    hand.until(empty.isVisible)
    # The other ways to begin stand among them, in as many columns as there is room for.
    assert list(empty.starters)[:2] == ["pill", "slab"]
    rows = []
    for size in ((1024, 700), (1400, 800)):
        window.resize(*size)
        hand.settle()
        rows.append(len({tile.y() for tile in empty._tiles}))
    assert rows == [4, 3]
    QApplication.clipboard().setText("background: teal; border-radius: 8px; padding: 8px 20px")
    hand.click(empty.css_tile)
    hand.keys("Ctrl+Z")
    hand.until(empty.isVisible)
    hand.click(empty.empty_tile)
    assert [control.name for control in window.bench.kit.controls] == ["Control"]
    hand.keys("Ctrl+Z")
    hand.until(empty.isVisible)
    hand.click(empty.demo_button)
    assert window.bench.kit == read_kit(DEMO)


def test_unsaved_work_is_asked_about_before_it_would_go(demo, tmp_path: Path) -> None:
    window, hand = demo
    other = tmp_path / "other.mektel"
    write_kit(edit.rename_kit(read_kit(DEMO), "Other"), other)
    change_something(window)
    window.open(other)
    hand.answer("Go back")
    assert window.bench.kit.name == "Lantern Ferry" and window.bench.unsaved
    window.close()
    assert window.isVisible()
    hand.answer("Go back")
    assert window.isVisible()
    window.open(other)
    hand.answer("Save")
    mine = tmp_path / "mine.mektel"
    hand.name_file(mine)
    hand.until(lambda: window.bench.kit.name == "Other")
    assert read_kit(mine).control("board").text == "Come aboard"
    change_something(window)
    window.open(mine)
    hand.answer("Discard them")
    assert window.bench.files.path == mine and not window.bench.unsaved
    assert read_kit(other).control("board").text == "Board"
    window._fill_kit_menu()
    recent = next(a for a in window.route.kit_menu.actions() if a.text() == "Recent kits").menu()
    assert [action.text() for action in recent.actions()] == ["mine", "other"]
    hand.choose(recent, "other")
    assert window.bench.files.path == other.resolve()
    assert not window.findChildren(QMessageBox) or window.isVisible()


def test_a_kit_that_cannot_be_opened_leaves_the_present_one(demo, tmp_path: Path) -> None:
    window, _ = demo
    bad = tmp_path / "bad.mektel"
    bad.write_text('{"format": 9}')
    window.open(bad)
    assert "newer Mektel" in window.notice.text.text()
    assert window.bench.kit.name == "Lantern Ferry"
    assert not window.bench.save(tmp_path / "no" / "where.mektel")
    assert "Not saved" in window.notice.text.text()


def test_the_ship_room_shows_files_plans_and_use(demo) -> None:
    window, hand = demo
    kit = window.bench.kit
    some = tuple(control for control in kit.controls if control.id in ("board", "half", "fog"))
    window.bench.start(kit.model_copy(update={"controls": some}), None)
    ship = window.ship
    hand.keys("Ctrl+4")
    hand.until(lambda: not ship.working and ship.files.count() > 0, 60_000)
    assert not window.try_pad.isVisible()
    assert ship.files.currentItem().text() == "board_button.py"
    assert "class BoardButton(runtime.Control)" in ship.code.toPlainText()
    assert "BoardButton(\"Board\")" in ship.usage.toPlainText()
    hand.click(ship.copy_usage)
    assert QGuiApplication.clipboard().text() == ship.usage.whole
    hand.click(window.shelf.items["half"])
    assert ship.files.currentItem().text() == "half_button.py"
    hand.click(ship.cards["web"], QPoint(40, 60))
    assert ship.files.currentItem().text() == "half-button.js"
    assert "<half-button" in ship.usage.toPlainText()
    kit = window.bench.kit
    planned = sum(len(TARGETS["web"].plan(kit, control)) for control in kit.controls)
    counted = " · ".join(text for text, _ in ship.cards["web"].lines()[:2]).split(" · ")
    assert counted[0].endswith("native") and sum(int(n.split()[0]) for n in counted) == planned
    hand.click(ship.cards["sprites"], QPoint(40, 60))
    names = [ship.files.item(at).text() for at in range(ship.files.count())]
    ship.files.setCurrentRow(names.index("atlas@1x.png"))
    assert ship.view.currentWidget() is ship.picture and not ship.picture.pixmap().isNull()
    ship.cards["sprites"].setFocus()
    hand.key(Qt.Key.Key_Space)
    assert not ship.cards["sprites"].state.chosen and "3 targets" in ship.what.text()


def test_shipping_can_be_stopped_and_figures_grow_old(demo, tmp_path: Path) -> None:
    window, hand = demo
    kit = window.bench.kit
    window.bench.start(kit.model_copy(update={"controls": kit.controls[:2]}), None)
    ship = window.ship
    hand.keys("Ctrl+4")
    hand.until(lambda: not ship.working, 90_000)
    hand.write(ship.folder, "")
    hand.click(ship.run)
    assert "Name a folder" in window.notice.text.text()
    hand.write(ship.folder, str(tmp_path / "out"))
    hand.click(ship.run)
    hand.until(lambda: ship.cancel.isVisible() and ship.doing.text() != "")
    hand.click(ship.cancel)
    hand.until(lambda: not ship.working, 90_000)
    assert "Stopped" in window.notice.text.text() and ship.run.isVisible()
    for name in ("web", "sprites", "svg"):
        ship._choose(name, False)
    hand.click(ship.run)
    hand.until(lambda: not ship.working, 60_000)
    card = ship.cards["qtwidgets"]
    assert card.lines()[-1][1] == "good" and (tmp_path / "out/qtwidgets/board_button.py").exists()
    ship.match.rows.setFocus()
    hand.key(Qt.Key.Key_Down)
    assert ship.match.rows.at == 1
    # All controls at once, the worst first; a stripe leads to its state.
    assert ship.open_folder.isEnabled()
    hand.click(ship.match.all)
    matrix = ship.match.matrix
    hand.until(lambda: len(matrix.rows) == 2)
    assert matrix.rows[0].severity >= matrix.rows[1].severity
    other = next(at for at, row in enumerate(matrix.rows, 1) if row.control == "cast-off")
    stripe = matrix._stripe(matrix.cell(other, 0), 2, len(matrix.rows[other - 1].targets[
        "qtwidgets"]))
    hand.click(matrix, stripe.center().toPoint())
    assert window.bench.control_id == "cast-off" and ship.match.one.isChecked()
    assert ship.match.rows.matches[ship.match.rows.at].state == "pressed"
    change_something(window)
    assert card.lines()[-1] == ("out of date", "warn")
    assert "has changed since" in ship.match.text.text()
    blocked = tmp_path / "file"
    blocked.write_text("")
    hand.write(ship.folder, str(blocked))
    hand.click(ship.write)
    hand.until(lambda: not ship.working, 90_000)
    assert card.lines()[-1] == ("did not run", "bad") and "cannot be used" in card.state.fault


def test_signals_and_kinds_bear_the_names_of_the_target(demo) -> None:
    window, hand = demo
    kit = window.bench.kit
    window.bench.start(kit.model_copy(update={"controls": (kit.control("ramp"),)}), None)
    window.bench.select("ramp")
    pad, live = window.try_pad, window.try_pad.area.control

    def heard() -> list[str]:
        return [name.text() for name, _ in pad._lines if name.text()]

    for target, names in (
            ("web", {"click", "change", "pointerup", "pointerdown", "pointerenter"}),
            ("qtwidgets", {"clicked", "toggled(False)", "released", "pressed", "entered"})):
        window.go_to("Ship")
        hand.click(window.ship.cards[target], QPoint(30, 60))
        window.go_to("Build")
        hand.move(window.shelf)
        hand.settle()
        hand.click(live)
        hand.until(lambda names=names: names <= set(heard()))
        main = TARGETS[target].main_file(window.bench.control)
        files = {file.path: file.text for file in TARGETS[target].files(
            window.bench.kit, [window.bench.control]) if file.path.name == main.name}
        assert all("Ramp: a switch of the kit Lantern Ferry" in text for text in files.values())
