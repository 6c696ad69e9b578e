"""The Build room by pointer and keys: tiles, strip, dials, gradient, colours, try pad."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QDragEnterEvent, QDragMoveEvent, QDropEvent, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from mektel.app.build.strip import LAYER_MIME
from mektel.app.build.wall import ChangesPopover
from mektel.app.widgets.colour_popover import ColourPopover
from mektel.core.kit import OUTLINE, parameter_edits, shown_states
from mektel.core.look import resolve
from mektel.core.look.handles import handles


def pixel(window, tile, at: QPoint) -> QColor:
    return QColor(window.grab().toImage().pixel(tile.mapTo(window, at)))


def test_every_state_is_on_the_wall_and_follows_an_edit(demo) -> None:
    window, hand = demo
    bench, tiles = window.bench, window.build.wall.tiles
    assert list(tiles) == list(shown_states("push"))
    middle = tiles["rest"].rect().center() - QPoint(60, 6)
    before = {state: pixel(window, tile, middle) for state, tile in tiles.items()}
    assert before["hover"] != before["rest"] != before["disabled"]
    hand.click(tiles["hover"], QPoint(40, 30))
    hand.click(window.build.strip.row.cards["face"], QPoint(40, 60))
    hand.write(window.build.strip.card.dials["=stop"].entry, "#ff0000")
    hand.settle()
    after = {state: pixel(window, tile, middle) for state, tile in tiles.items()}
    assert after["rest"] == before["rest"] and after["disabled"] == before["disabled"]
    assert after["hover"].red() > before["hover"].red() + 60
    assert tiles["hover"].changes.text() == "1 change"
    hand.keys("Ctrl+Z")
    assert bench.kit == bench.document.saved


def test_tiles_and_cards_are_reached_by_keys(demo) -> None:
    window, hand = demo
    tiles = window.build.wall.tiles
    tiles["pressed"].setFocus()
    hand.key(Qt.Key.Key_Return)
    assert window.bench.state == "pressed"
    window.build.strip.row.cards["label"].setFocus()
    hand.key(Qt.Key.Key_Space)
    assert window.bench.part_id == "label"
    window.shelf.items["half"].setFocus()
    hand.key(Qt.Key.Key_Space)
    assert window.bench.control_id == "half" and window.bench.state == "rest"
    seen = set()
    for _ in range(90):
        hand.key(Qt.Key.Key_Tab)
        seen.add(type(QApplication.focusWidget()).__name__)
    assert {"StateTile", "StripCard", "ShelfItem", "LiveControl", "BackdropChip", "GradientBar",
            "StopButton"} <= seen


def test_what_differs_is_listed_and_goes_back_to_rest(demo) -> None:
    window, hand = demo
    bench, tile = window.bench, window.build.wall.tiles["pressed"]
    count = bench.control.count_changes("pressed")
    assert tile.changes.text() == f"{count} changes"
    hand.click(tile.changes)
    popover = tile.findChild(ChangesPopover)
    from PySide6.QtWidgets import QPushButton

    hand.click(popover.findChildren(QPushButton)[0])
    assert bench.control.count_changes("pressed") == count - 1
    assert bench.history.undo_name == "pressed back to rest"
    hand.click(tile.changes)
    hand.click(tile.findChildren(ChangesPopover)[-1].findChildren(QPushButton)[-2])
    hand.settle()
    assert tile.changes.text() == "same as rest"
    hand.keys("Ctrl+Z")
    bench.select(state="pressed", part_id=OUTLINE)
    dial = window.build.strip.card.dials["offset"]
    assert not dial._differs  # that one went back to rest
    bench.select(part_id="shadow")
    blur = window.build.strip.card.dials["blur"]
    assert blur._differs and "At rest: 14 px" in blur.label.toolTip()
    blur.back_to_rest.emit()
    assert bench.control.part_in("shadow", {"pressed"}).blur == 14


def test_dials_are_scrubbed_typed_stepped_and_refuse_nonsense(demo) -> None:
    window, hand = demo
    bench, card = window.bench, window.build.strip.card
    hand.click(window.build.strip.row.cards["line"], QPoint(40, 60))
    width = card.dials["width"]
    hand.drag(width.label, QPoint(5, 10), QPoint(17, 10))
    assert bench.control.layer("line").width == 7
    assert bench.history.undo_name == "line width"
    hand.keys("Ctrl+Z")
    assert bench.control.layer("line").width == 1  # the whole drag was one step
    width.field.entry.setFocus()
    hand.key(Qt.Key.Key_Up)
    hand.key(Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert bench.control.layer("line").width == 12
    for words, why in (("much", "Not a number"), ("-4", "From 0 to 2000")):
        hand.write(width.field.entry, words)
        assert width.field.entry.property("wrong") and why in width.field.entry.toolTip()
        assert bench.control.layer("line").width == 12
    hand.write(width.field.entry, "2,5 px")
    assert bench.control.layer("line").width == 2.5
    opacity = card.dials["opacity"]
    hand.write(opacity.field.entry, "40")
    assert bench.control.layer("line").opacity == 0.4
    place = card.dials["place"].button
    place.setFocus()
    hand.key(Qt.Key.Key_Down)
    assert bench.control.layer("line").place == "centre"
    hand.click(card.dials["visible"].switch)
    assert not bench.control.layer("line").visible
    colour = card.dials["colour"]
    hand.write(colour.entry, "greenish")
    assert colour.entry.property("wrong") and "not a colour" in colour.entry.toolTip()
    hand.write(colour.entry, "lamp")
    assert bench.control.layer("line").colour == "lamp"


def test_text_size_and_outline_are_the_controls_own(demo) -> None:
    window, hand = demo
    bench, strip = window.bench, window.build.strip
    hand.click(strip.row.cards["label"], QPoint(40, 60))
    hand.write(strip.card.dials["=text"].entry, "To the farther bank & back")
    assert bench.control.text == "To the farther bank & back"
    hand.keys("Ctrl+Z")
    assert bench.control.text == "Board"  # typing was one step
    hand.click(strip.row.cards[OUTLINE], QPoint(40, 60))
    size = strip.card.dials["=size"]
    hand.write(size.fields[0].entry, "220")
    assert bench.control.size == (220, 48)
    hand.choose(strip.card.dials["form"].button.menu(), "rounded box")
    assert bench.control.outline.form == "box" and "corners" in strip.card.dials
    hand.write(window.build.header.name, "Come aboard")
    assert bench.control.name == "Come aboard" and bench.control_id == "board"


def test_gradient_stops_are_added_dragged_and_pulled_off(demo) -> None:
    window, hand = demo
    bench, card = window.bench, window.build.strip.card
    bench.select(part_id="face")

    def stops() -> list[float]:
        return [round(stop.position, 2) for stop in bench.control.layer("face").stops]

    bar = card.body.gradient
    span = bar._bar()
    middle = QPoint(round(span.center().x()), 14)
    hand.click(bar, middle)
    assert stops() == [0, 0.5, 1] and bar.selected == 1
    hand.drag(bar, middle + QPoint(0, 15), middle + QPoint(round(span.width() * 0.2), 15))
    assert stops() == [0, 0.7, 1]
    hand.drag(bar, QPoint(round(span.x() + span.width() * 0.7), 29), QPoint(2000, 29))
    assert stops() == [0, 1, 1]  # up to its neighbour, not past it
    hand.keys("Ctrl+Z")
    bar.setFocus()
    hand.key(Qt.Key.Key_Left)
    assert stops() == [0, 0.69, 1]
    hand.write(card.dials["=at"].field.entry, "25")
    assert stops() == [0, 0.25, 1]
    at = QPoint(round(span.x() + span.width() * 0.25), 29)
    hand.drag(bar, at, at + QPoint(0, 90))
    assert stops() == [0, 1]
    bar.setFocus()
    hand.key(Qt.Key.Key_Delete)
    assert stops() == [0, 1]  # two always stay
    wheel = card.dials["direction"].wheel
    hand.drag(wheel, QPoint(12, 20), QPoint(22, 12))
    assert bench.control.layer("face").direction == 90


def test_a_colour_is_made_in_the_popover(demo) -> None:
    window, hand = demo
    bench, card = window.bench, window.build.strip.card
    bench.select(part_id="label")
    dial = card.dials["colour"]
    hand.until(dial.isVisible)
    hand.click(dial.swatch)
    popover = dial.findChild(ColourPopover)
    QTest.mouseClick(popover.swatches["lamp"], Qt.MouseButton.LeftButton)
    assert bench.control.layer("label").colour == "lamp"
    track = popover.tracks["light"]
    for x in (30, 60, 90):
        QTest.mousePress(track, Qt.MouseButton.LeftButton, pos=QPoint(x, 12))
    QTest.mouseRelease(track, Qt.MouseButton.LeftButton, pos=QPoint(90, 12))
    made = bench.control.layer("label").colour
    assert made.startswith("#") and popover.entry.text() == made
    QTest.keyClick(popover.tracks["alpha"], Qt.Key.Key_Left)
    assert len(bench.control.layer("label").colour) == 9
    popover.entry.setText("notacolour")
    QTest.keyClick(popover.entry, Qt.Key.Key_Return)
    assert popover.fault.isVisible() and "not a colour" in popover.fault.text()
    popover.close()
    for _ in range(3):
        hand.keys("Ctrl+Z")
    assert bench.control.layer("label").colour == "sail"


def test_a_control_holds_the_look_of_another(demo) -> None:
    """A lamp is laid into the ticket button: added, placed, followed, missed and brought back."""
    window, hand = demo
    bench, strip = window.bench, window.build.strip
    bench.select("fare")
    hand.settle()
    menu = strip.row.add_button.menu()
    hand.choose(menu, "Look of another", "Queue")
    assert bench.part_id == "queue" and bench.control.content.items == ("icon", "label", "queue")
    strip.row._offer_looks()
    assert "Fare" not in [one.text() for one in strip.row.looks.actions()]
    dials = strip.card.dials
    hand.focus(dials["control"].button)
    while bench.control.layer("queue").control != "deck-lamp":
        hand.key(Qt.Key.Key_Up)
        hand.focus(strip.card.dials["control"].button)
    dials = strip.card.dials
    hand.write(dials["text"].entry, "Lit")
    hand.write(dials["width"].field.entry, "90")
    hand.settle()
    layer = bench.control.layer("queue")
    assert (layer.text, layer.width) == ("Lit", 90.0) and dials["height"].field.entry.text() == "48"
    drawn = resolve(bench.kit, bench.control).primitives()
    assert [one.text for one in drawn if type(one).__name__ == "LabelLook"] == [
        "Lit", "Return fare"]
    # The loupe's handle moves it; its state follows the wall's, or stays.
    assert "move" in [one.id for one in handles(bench.kit, bench.control, "rest", "queue")]
    assert not dials["position"].isEnabled()  # the row says where it stands
    hand.focus(dials["shows"].button)
    hand.key(Qt.Key.Key_Down)
    assert bench.control.layer("queue").shows == "rest"
    # What it shows may be another instance of it: arguments of its own, and back again.
    bench.edit("lamp in colours", lambda kit: parameter_edits.lift(
        kit, "deck-lamp", "rest", "lamp", "colour")[0])
    hand.click(strip.card.body.pages["Arguments"])
    arguments = strip.card.body.arguments
    hand.write(arguments.dials["lamp"].entry, "#AA00AA")
    assert bench.control.layer("queue").arguments == {"lamp": "#AA00AA"}
    hand.click(arguments.resets["lamp"])
    assert not bench.control.layer("queue").arguments
    hand.click(strip.card.body.pages["Look"])
    before = bench.kit
    item = window.shelf.items["deck-lamp"]
    hand.focus(item)
    hand.key(Qt.Key.Key_Delete)
    assert "Fare" in window.notice.text.text()
    bench.select("fare", "rest", "queue")  # and so brings it into sight
    hand.until(lambda: "no control “deck-lamp”" in window.shelf.items["fare"].toolTip())
    assert "deck-lamp (not there)" in strip.card.dials["control"].button.text()
    hand.keys("Ctrl+Z")
    hand.until(lambda: not window.shelf.items["fare"].toolTip())
    assert bench.kit == before


def test_a_label_says_words_of_its_own_in_a_box_of_its_own(demo) -> None:
    window, hand = demo
    bench, card = window.bench, window.build.strip.card
    hand.click(window.build.strip.row.cards["label"], QPoint(40, 30))
    hand.click(card.body.pages["Content"])
    for name in ("=says", "=box"):
        hand.focus(card.dials[name].button)
        hand.key(Qt.Key.Key_Down)
    hand.write(card.dials["box.height"].share.entry, "50")
    hand.click(card.body.pages["Text"])
    hand.write(card.dials["=text"].entry, "All aboard")
    label = bench.control.layer("label")
    assert label.text == "All aboard" and bench.control.text == "Board"
    assert label.box.height == (0.5, 0.0)
    line = next(layer for layer in resolve(bench.kit, bench.control).layers if layer.id == "label")
    assert line.text == "All aboard" and line.extent()[3] < 26
    for _ in range(4):
        hand.keys("Ctrl+Z")
    assert bench.kit == bench.document.saved


def test_layers_are_added_moved_copied_renamed_and_removed(demo) -> None:
    window, hand = demo
    bench, strip = window.bench, window.build.strip

    def names() -> list[str]:
        return [layer.name for layer in bench.control.layers]

    hand.choose(strip.row.add_button.menu(), "Fill")
    assert names()[4:6] == ["Fill", "Label"] and bench.part_id == "fill"
    data = QMimeData()
    data.setData(LAYER_MIME, b"fill")
    row, move = strip.row, Qt.DropAction.MoveAction
    at, left = QPoint(110, 30), Qt.MouseButton.LeftButton
    none = Qt.KeyboardModifier.NoModifier
    QApplication.sendEvent(row, QDragEnterEvent(at, move, data, left, none))
    QApplication.sendEvent(row, QDragMoveEvent(at, move, data, left, none))
    assert row._landing == 0
    QApplication.sendEvent(row, QDropEvent(QPointF(at), move, data, left, none))
    assert names()[0] == "Fill" and bench.history.undo_name == "move fill"
    assert list(strip.row.cards)[1] == "fill"
    hand.write(strip.card.body.name, "Under face")
    assert names()[0] == "Under face"
    from mektel.app.build.layer_menu import layer_menu

    hand.choose(layer_menu(bench, "fill", strip), "Duplicate")
    hand.choose(layer_menu(bench, "fill", strip), "Move toward the front")
    assert names()[:3] == ["Under face copy", "Under face", "Shadow"]
    hand.focus(strip.row.cards["fill"])
    hand.key(Qt.Key.Key_Delete)
    assert "Under face" not in names() and bench.part_id != "fill"
    for _ in range(6):
        hand.keys("Ctrl+Z")
    assert bench.kit == bench.document.saved


def test_backdrops_densities_and_themes_change_only_the_looking(demo) -> None:
    window, hand = demo
    bench, header, wall = window.bench, window.build.header, window.build.wall
    kit = bench.kit
    tile = wall.tiles["rest"]
    for chip in header.chips._chips:
        hand.click(chip)
        hand.settle()
        assert bench.backdrop == chip.backdrop and chip.isChecked()
        if chip.backdrop.startswith("#"):
            assert pixel(window, tile, QPoint(14, 14)).name().upper() == chip.backdrop.upper()
    columns = []
    for density in (1, 2, 3):
        hand.click(header.densities.group.button(density))
        hand.settle()
        columns.append(len({tile.x() for tile in wall.tiles.values()}))
        assert wall.tiles["rest"].height() >= 48 * density
    assert columns[0] == 3 and columns[2] == 1
    ground = window.grab().toImage().pixel(600, 60)
    window.set_theme("dark")
    card = window.build.strip.card
    assert list(card._bodies) == [card._shown_key]  # only what is shown is styled anew
    assert window.bench.settings.theme == "dark"
    assert QColor(window.grab().toImage().pixel(600, 60)).lightness() < QColor(ground).lightness()
    assert bench.kit == kit and not bench.unsaved


def test_the_try_pad_resizes_disables_and_measures_contrast(demo) -> None:
    window, hand = demo
    pad = window.try_pad
    area, live = pad.area, pad.area.control
    hand.until(lambda: pad.ratio.text() not in ("", "–"))
    assert float(pad.ratio.text()) >= 4.5 and pad.verdict.text() == "AA in all 4 states"
    assert not pad.mend.isVisible()
    box = area.control.box
    edge = QPoint(round(box.right()), round(box.center().y()))
    hand.drag(area, edge, edge + QPoint(10, 0))
    assert live.box_size == (188, 48)
    hand.click(pad.reset)
    assert live.box_size == (168, 48)
    hand.until(lambda: area.control.box.width() == 168)
    hand.click(area, area.control.box.topLeft().toPoint())  # beside the capsule's round end
    hand.move(live)
    assert set(pad.signal_names()) <= {"entered"} and live.box_size == (168, 48)
    hand.click(pad.disable)
    hand.click(live)
    assert live.flags() == {"disabled"} and "clicked" not in pad.signal_names()
    assert pad.flags["disabled"].holds
    hand.click(pad.disable)
    hand.settle()  # what is said beneath it may take another line
    hand.click(live)
    hand.until(lambda: pad.signal_names()[0] == "clicked")
    window.bench.select("cargo")
    window.bench.set_value("label", "colour", "mist", "label colour")
    hand.until(lambda: "lowest in" in pad.exempt.text())


def test_layers_travel_and_pictures_and_css_come_in(demo, tmp_path: Path) -> None:
    window, hand = demo
    bench, row = window.bench, window.build.strip.row
    bench.select("ring-up")
    hand.until(lambda: "gloss" in row.cards)
    hand.focus(row.cards["gloss"])
    hand.key(Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    hand.click(window.shelf.items["cargo"])
    hand.focus(row.cards["face"])
    hand.key(Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert bench.control.layer("gloss").kind == "gloss"
    assert bench.control.states["pressed"]["gloss"] == {"opacity": 0.45}
    assert bench.history.undo_name == "paste layer"
    # Alone on the wall, then hidden by its dot.
    hand.focus(row.cards["gloss"])
    hand.key(Qt.Key.Key_S)
    assert bench.selection.solo == "gloss"
    hand.key(Qt.Key.Key_S)
    hand.click(row.cards["gloss"], row.cards["gloss"]._eye().center().toPoint())
    assert not bench.control.layer("gloss").visible and bench.selection.solo == ""
    # A picture, its slices found.
    art = tmp_path / "plate.png"
    picture = QImage(40, 30, QImage.Format.Format_ARGB32)
    picture.fill(QColor("#22302F"))
    for at in range(4):
        picture.setPixelColor(at, at, QColor("#F3C25B"))
    picture.save(str(art))
    bench.add_picture(art)
    layer = next(one for one in bench.control.layers if one.kind == "picture")
    assert layer.picture == "plate" and layer.slices == (4, 4, 0, 0)
    (tmp_path / "no.png").write_bytes(b"no picture")
    before = bench.kit
    bench.add_picture(tmp_path / "no.png")
    assert "not a PNG picture" in window.notice.text.text() and bench.kit == before
    # And CSS, from the clipboard.
    QApplication.clipboard().setText("nothing of the kind")
    window.paste()
    assert "no declaration that describes a button" in window.notice.text.text()
    QApplication.clipboard().setText(".bell{background:teal;width:90px;height:40px}")
    window.setFocus()
    hand.keys("Ctrl+V")
    assert bench.control.name == "Bell" and bench.control.size == (90, 40)
    # An icon is found by word and picked with the keys.
    hand.settle()
    window.shelf._scroll.ensureWidgetVisible(window.shelf.items["horn"])
    hand.click(window.shelf.items["horn"])
    hand.settle()
    hand.click(row.cards["icon"], QPoint(40, 30))
    dial = window.build.strip.card.dials["icon"]
    hand.click(dial.button)
    dial.popover.search.setText("lighthouse")
    assert dial.popover.grid.names[0] == "lighthouse"
    dial.popover.grid.setFocus()
    QTest.keyClick(dial.popover.grid, Qt.Key.Key_Right)
    assert bench.control.layer("icon").icon == dial.popover.grid.names[0]
    dial.popover.close()


def test_outlines_are_joined_and_zones_set_in_the_loupe(demo) -> None:
    window, hand = demo
    bench, card = window.bench, window.build.strip.card
    hand.click(window.shelf.items["half"])
    hand.click(window.build.strip.row.cards[OUTLINE], QPoint(40, 30))
    hand.click(card.body.pages["Joined"])
    hand.click(card.body.joins.add)
    assert bench.control.outline.joins[0].operation == "smooth"
    hand.write(card.body.joins.softness.field.entry, "14")
    assert bench.control.outline.joins[0].softness == 14
    hand.click(card.body.joins.remove)
    assert bench.control.outline.joins == ()
    # The loupe: corners by handle, zones by hand, keys to nudge and to leave.
    hand.focus(window.build.wall.tiles["rest"])
    hand.key(Qt.Key.Key_L)
    view, loupe = window.build.loupe.view, window.build.loupe
    hand.until(view.isVisible)
    corner = view.spot_of("radius-0")
    hand.drag(view, corner, corner + QPoint(4, 4) * view.scale)
    assert bench.control.outline.corners == (16, 16, 16, 16)
    hand.key(Qt.Key.Key_Right)
    assert bench.control.outline.corners == (16.5,) * 4
    hand.click(loupe.zones)
    assert "computed" in loupe.safe.text()
    edge = view.spot_of("zone-0")
    hand.drag(view, edge, edge + QPoint(8, 0) * view.scale)
    assert bench.control.slices is not None and "by hand" in loupe.safe.text()
    hand.click(loupe.compute)
    assert bench.control.slices is None
    hand.click(loupe.larger)
    for _ in range(12):
        view.zoom_by(1)
    assert loupe.percent.text() == "3200 %"
    hand.click(loupe.pixels)
    hand.settle()
    hand.click(loupe.close_button)
    hand.until(window.build.wall.isVisible)


def test_a_colour_is_picked_from_the_window(demo) -> None:
    window, hand = demo
    bench = window.bench
    hand.click(window.build.strip.row.cards["line"], QPoint(40, 30))
    dial = window.build.strip.card.dials["colour"]
    hand.click(dial.swatch)
    popover = dial.findChild(ColourPopover)
    assert "Contrast" in popover.contrast.text()
    hand.click(popover.dropper)
    tile = window.build.wall.tiles["rest"]
    spot = tile.mapToGlobal(QPoint(14, 14))
    QTest.mousePress(popover, Qt.MouseButton.LeftButton, pos=popover.mapFromGlobal(spot))
    assert bench.control.layer("line").colour == bench.backdrop
    popover.close()
