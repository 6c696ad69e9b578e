"""Whole jobs in the real window: sets with states, extracted widgets, many controls at once."""

from __future__ import annotations

import importlib
import sys
from pathlib import Path
from types import ModuleType

import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QContextMenuEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QMenu, QWidget

from mektel.app.build.drive import set_formula
from mektel.app.build.formula_popover import FormulaPopover
from mektel.core.kit import edit, state_edits
from mektel.core.look import natural_size, resolve, settled
from mektel.formats.png import png_bytes
from mektel.targets import TARGETS
from mektel.targets.verify import verify
from mektel.targets.writing import write_files
from tests.app.test_jobs import Builder

LEFT = Qt.MouseButton.LeftButton


def menu_of(hand, widget: QWidget, at: QPoint | None = None) -> QMenu:
    """The menu that a right-click opens."""
    spot = widget.rect().center() if at is None else at
    event = QContextMenuEvent(QContextMenuEvent.Reason.Mouse, spot, widget.mapToGlobal(spot))
    QApplication.sendEvent(widget, event)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    return menu


def pick(hand, menu: QMenu, *words: str) -> None:
    """Picks an entry, through the menus within it, by their first words."""
    for word in words[:-1]:
        menu = next(a for a in menu.actions() if a.text().startswith(word)).menu()
    action = next(a for a in menu.actions() if a.text().split("\t")[0].startswith(words[-1]))
    while QApplication.activePopupWidget() is not None:
        QApplication.activePopupWidget().close()
    action.trigger()
    hand.settle()


def shipped(window, name: str, folder: Path):
    """The generated class of a control, imported as an application would."""
    kit = window.bench.kit
    control = kit.control(name)
    qt = TARGETS["qtwidgets"]
    write_files(qt.files(kit, [control]), folder)
    package = ModuleType(f"made{len(sys.modules)}")
    package.__path__ = [str(folder)]
    sys.modules[package.__name__] = package
    module = importlib.import_module(f"{package.__name__}.{qt.main_file(control).stem}")
    return getattr(module, qt.class_name(control))


def test_j05_a_set_with_every_state_and_a_derived_style(make, tmp_path: Path, qtbot) -> None:
    window, hand = make(demo=False)
    hand.click(window.build.empty.starters["slab"])
    hand.until(lambda: window.bench.control is not None)
    hand.settle()
    bench = window.bench
    # Two positions, with a look of its own when checked, and one for checked and hover.
    window.build.header.kind.menu().aboutToShow.emit()
    hand.choose(window.build.header.kind.menu(), "Two positions")
    hand.until(lambda: "checked+hover" in window.build.wall.tiles)
    build = Builder.__new__(Builder)
    build.window, build.hand, build.bench = window, hand, bench
    face = next(layer.id for layer in bench.control.layers if layer.kind == "fill")
    build.select("checked")
    build.open(face)
    build.write(colour="#B8472A")
    pick(hand, menu_of(hand, window.build.wall.tiles["checked+hover"]),
         "Suggest its face", "lighter")
    pick(hand, menu_of(hand, window.build.wall.tiles["pressed"]), "Suggest its face", "darker")
    pick(hand, menu_of(hand, window.build.wall.tiles["focus"]), "Copy the changes of", "hover")
    assert window.build.wall.tiles["checked+hover"].changes.text() == "1 derived"
    label = next(layer.id for layer in bench.control.layers if layer.kind == "label")
    build.select("disabled")
    build.open(label)
    build.write(colour="#5E6B67")
    assert bench.control.changes("disabled")[label]["colour"] == "#5E6B67"
    # A second style derives from the first, and follows it where it does not differ.
    pick(hand, menu_of(hand, window.shelf.items["slab"]), "Derive another")
    assert bench.control.base == "slab"
    build.select("rest")
    build.open(face)
    build.write(colour="#274C77")
    hand.click(window.shelf.items["slab"])
    build.open("outline")
    build.write(padding=(22, 9))
    other = next(control for control in bench.kit.controls if control.base == "slab")
    assert other.outline.padding == (22.0, 9.0) and other.part(face).colour == "#274C77"
    # In code: the change is heard, and nothing is while it is disabled.
    made = shipped(window, "slab", tmp_path)
    button, heard = made("Lights"), []
    qtbot.addWidget(button)
    button.toggled.connect(heard.append)
    button.clicked.connect(lambda: heard.append("clicked"))
    button.show()
    qtbot.waitExposed(button)
    QTest.mouseClick(button, LEFT)
    assert heard == [True, "clicked"] and button.states() >= {"checked"}
    button.setEnabled(False)
    QTest.mouseClick(button, LEFT)
    QTest.keyClick(button, Qt.Key.Key_Space)
    assert heard == [True, "clicked"] and button.states() == {"checked", "disabled"}
    button.setChecked(False)
    button.setText("Lamp")
    assert (button.text(), button.isChecked()) == ("Lamp", False)
    for match in verify(bench.kit, [bench.kit.control("slab")], TARGETS["qtwidgets"]):
        assert match.passes, match.state


def test_j14_a_styled_button_becomes_a_widget_with_parameters(make, tmp_path: Path, qtbot) -> None:
    window, hand = make(demo=False)
    hand.click(window.build.empty.starters["pill"])
    hand.until(lambda: window.bench.control is not None)
    hand.settle()
    bench, card = window.bench, window.build.strip.card
    build = Builder.__new__(Builder)
    build.window, build.hand, build.bench = window, hand, bench
    face = next(layer.id for layer in bench.control.layers if layer.kind == "fill")
    build.open(face)
    pick(hand, menu_of(hand, card.dials["=stop"].label), "Make it a parameter")
    name = bench.control.parameters[0].name
    assert card.dials["=stop"].formula == name and "1" in name
    pick(hand, menu_of(hand, card.dials["direction"].label), "Make it a parameter")
    label = next(layer.id for layer in bench.control.layers if layer.kind == "label")
    build.open(label)
    pick(hand, menu_of(hand, card.dials["=text"].label), "Make it a parameter")
    # The other stop follows the first by a formula, typed and checked on the way.
    build.open(face)
    bar = card.body.gradient
    hand.click(bar, bar._handle(bar._stops[1]).toPoint())
    pick(hand, menu_of(hand, card.dials["=stop"].label), "Compute by formula")
    popover = window.findChild(FormulaPopover)
    popover.entry.clear()
    QTest.keyClicks(popover.entry, "darken(nowhere, 0.2)")
    assert "there is no “nowhere” here" in popover.outcome.text() and not popover.done.isEnabled()
    assert popover.entry.fault == len("darken(")
    popover.entry.clear()
    # A function and a parameter are written by their first characters; the result is shown.
    QTest.keyClicks(popover.entry, "dar")
    QTest.keyClick(popover.entry, Qt.Key.Key_Tab)
    assert popover.entry.text() == "darken(" and popover.isVisible()
    QTest.keyClicks(popover.entry, name[:3])
    QTest.keyClick(popover.entry, Qt.Key.Key_Tab)
    QTest.keyClicks(popover.entry, ", 0.2")
    assert popover.entry.fault == len(f"darken({name}, 0.2") - len(f"({name}, 0.2")
    QTest.keyClicks(popover.entry, ")")
    assert popover.entry.text() == f"darken({name}, 0.2)" and popover.entry.fault is None
    assert popover.outcome.text().startswith("= #")
    QTest.keyClick(popover.entry, Qt.Key.Key_Return)
    assert bench.control.formulas["rest"][face]["stops.1.colour"] == f"darken({name}, 0.2)"
    # In Reuse it gets a better name, and the colour is asked for.
    window.go_to("Reuse")
    hand.settle()
    table = window.reuse.table
    hand.write(table.rows[name].entry, "tone")
    hand.click(table.rows["tone"].required)
    assert bench.control.parameters[0].name == "tone" and bench.control.parameters[0].required
    assert "Face" in table.rows["tone"].drives.text() or face in table.rows["tone"].drives.text()
    hand.write(table.rows["tone"].help, "The colour of its face.")
    hand.write(table.rows["tone"].example, "#B8472A")
    hand.click(window.reuse.variations.more)
    hand.write(window.reuse.arguments.text, "Cast off")
    hand.write(window.reuse.arguments.dials["tone"].entry, "#B8472A")
    variation = bench.control.variations[0]
    assert variation.arguments == {"tone": "#B8472A"} and variation.text == "Cast off"
    hand.write(table.rows["tone"].entry, "2 bad")
    assert bench.control.parameters[0].name == "tone" and window.notice.isVisible()
    hand.click(window.route.undo_button)
    assert bench.control.variations[0].arguments == {}
    turn = bench.control.parameters[1].name
    # Two instances, and one that lacks an argument.
    made = shipped(window, "pill", tmp_path)
    said = "The colour of its face. Example: #B8472A"
    assert made.tone.__doc__ == said
    (types,) = [file.text for file in TARGETS["web"].files(bench.kit, [bench.control])
                if file.path.name == "pill-button.d.mts"]
    assert f"/** {said} */\n  tone: string;" in types
    one, two = made("Board", tone="#2F8C93"), made("Cast off", tone="#B8472A", **{turn: 90})
    qtbot.addWidget(one)
    qtbot.addWidget(two)
    assert one.rest()[face]["stops"] != two.rest()[face]["stops"] and getattr(two, turn) == 90.0
    with pytest.raises(TypeError, match="tone"):
        made("Board")


def test_j21_many_controls_at_once_and_the_face_of_the_kit(demo) -> None:
    window, hand = demo
    bench, shelf = window.bench, window.shelf
    names = ("board", "cast-off", "cargo")
    hand.click(shelf.items["board"])
    for name in names[1:]:
        item = shelf.items[name]
        QTest.mouseClick(item, LEFT, Qt.KeyboardModifier.ControlModifier)
    assert [one.id for one in bench.selected_controls()] == list(names)
    build = Builder.__new__(Builder)
    build.window, build.hand, build.bench = window, hand, bench
    build.open("outline")
    card = window.build.strip.card
    assert card.dials["=size"] and card.dials["padding"].mixed
    build.write(padding=(20, 8))
    assert not card.dials["padding"].mixed
    assert all(bench.kit.control(name).outline.padding == (20.0, 8.0) for name in names)
    assert bench.history.undo_name.endswith("of 3 controls")
    build.choose("form", "ellipse")
    assert {bench.kit.control(name).outline.form for name in names} == {"ellipse"}
    label = next(layer.id for layer in bench.control.layers if layer.kind == "label")
    build.open(label)
    build.choose("style", "linear")
    build.page("Typography")
    build.choose("relief", "raised")
    assert all(
        one.style == "linear" and one.relief == "raised" for one in
        (next(la for la in bench.kit.control(name).layers if la.kind == "label")
         for name in names))
    hand.keys("Ctrl+Z")
    assert bench.kit.control("cargo").part("label").relief == "flat"
    # The whole kit is drawn another way in one step, and back.
    window.go_to("Reuse")
    hand.settle()
    before = bench.kit.controls
    hand.click(window.reuse.palette_side.finish_tiles["flat"])
    assert bench.kit.finish == "flat" and bench.kit.controls is before
    looks = [resolve(bench.kit, control) for control in bench.kit.controls]
    assert not any(type(layer).__name__ == "ShadowLook" for look in looks for layer in look.layers)
    for match in verify(bench.kit, [bench.kit.control(n) for n in ("ring-up", "deck-lamp")],
                        TARGETS["qtwidgets"], scale=1):
        assert match.passes, (match.control, match.state)
    hand.keys("Ctrl+Z")
    assert bench.kit.finish == ""


def test_the_palette_is_edited_beside_who_uses_it(demo) -> None:
    window, hand = demo
    bench = window.bench
    window.go_to("Reuse")
    hand.settle()
    side = window.reuse.palette_side
    side.rows["tide-deep"].entry.setFocus()
    hand.write(side.rows["tide-deep"].entry, "harbour")
    assert "harbour" in side.rows and bench.kit.colour("harbour") == "#175A66"
    assert bench.kit.control("board").part("face").stops[1].colour == "harbour"
    side.choose("harbour")
    count = len(bench.kit.palette)
    hand.click(side.family.itemAt(3).widget())
    assert len(bench.kit.palette) == count + 1
    pick(hand, _menu_by_click(hand, side.schemes), "Show night")
    assert bench.selection.scheme == "night" and bench.drawn.colour("passage") == "#274C77"
    window.go_to("Build")
    bench.select("passage")
    hand.settle()
    shown = settled(bench.drawn, bench.control).part("face").stops[0].colour
    assert shown == "#274C77"
    pick(hand, _menu_by_click(hand, window.build.header.schemes), "day")
    assert bench.selection.scheme == "day"


def _menu_by_click(hand, button: QWidget) -> QMenu:
    hand.click(button)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    return menu


def test_links_and_combinations_from_the_wall(demo) -> None:
    window, hand = demo
    bench, wall = window.bench, window.build.wall
    pick(hand, menu_of(hand, wall.tiles["focus"]), "Follow", "pressed")
    assert wall.tiles["focus"].changes.text() == "follows pressed"
    pick(hand, menu_of(hand, wall.tiles["focus"]), "Detach from")
    assert bench.control.changes("focus") == bench.control.changes("pressed")
    pick(hand, menu_of(hand, wall.tiles["hover"]), "Follow", "rest")
    assert wall.tiles["hover"].changes.text() == "same as rest"
    pick(hand, menu_of(hand, wall.tiles["rest"]), "Show a combination", "focus+hover")
    hand.until(lambda: "focus+hover" in wall.tiles)
    assert bench.state == "focus+hover" and wall.tiles["focus+hover"].changes.text() == (
        "inherited")
    assert state_edits.unreachable(bench.control) == []
    # A two-position control stays on when it is pressed on the try pad, and says so.
    window.shelf._scroll.ensureWidgetVisible(window.shelf.items["ramp"])
    hand.click(window.shelf.items["ramp"])
    live = window.try_pad.area.control
    hand.settle()
    hand.click(live)
    assert live.isChecked() and "checked" in window.try_pad.signal_names()
    assert window.try_pad.flags["checked"].isVisible()
    window.shelf._scroll.ensureWidgetVisible(window.shelf.items["cast-off"])
    hand.click(window.shelf.items["cast-off"])
    hand.settle()
    hand.click(window.try_pad.busy)
    heard = len(window.try_pad.signal_names())
    hand.click(live)
    assert "clicked" not in window.try_pad.signal_names()[: len(
        window.try_pad.signal_names()) - heard] and "busy" in live.flags()


def test_j16_a_component_of_picture_and_label(make, tmp_path: Path, qtbot) -> None:
    """One target, a border that wakes on hover inside the bounds; arguments for all the rest."""
    window, hand = make(demo=False)
    build = Builder(window, hand)
    bench, card = window.bench, window.build.strip.card
    pixels = np.zeros((60, 120, 4), np.uint8)
    pixels[:] = (40, 110, 120, 255)
    (tmp_path / "quay.png").write_bytes(png_bytes(pixels))
    pixels[:] = (200, 90, 40, 255)
    (tmp_path / "boat.png").write_bytes(png_bytes(pixels))
    build.open("outline")
    build.write(**{"=size": (180, 96)}, corners=(10, 10, 10, 10))
    bench.add_picture(tmp_path / "quay.png")
    hand.settle()
    picture = next(layer.id for layer in bench.control.layers if layer.kind == "picture")
    caption = build.layer("Label", "Caption")
    border = build.layer("Line", "Border")
    build.write(colour="#F3C25B", width=4)
    hand.click(window.build.strip.row.cards[border], QPoint(82, 65))  # its eye: hidden at rest
    build.select("hover")
    hand.click(window.build.strip.row.cards[border], QPoint(82, 65))
    assert bench.control.part(border).visible is False
    assert bench.control.changes("hover")[border] == {"visible": True}
    # Bounds and letters follow the size by a formula each.
    build.select("rest")
    assert set_formula(bench, ("outline", "corners"), "height / 8")
    assert set_formula(bench, (caption, "size"), "height / 6")
    assert not set_formula(bench, (caption, "size"), "height /") and window.notice.isVisible()
    assert settled(bench.kit, bench.control).outline.corners == (12.0,) * 4
    build.open(picture)
    pick(hand, menu_of(hand, card.dials["picture"].label), "Make it a parameter")
    build.open(caption)
    pick(hand, menu_of(hand, card.dials["=text"].label), "Make it a parameter")
    window.go_to("Reuse")
    hand.settle()
    hand.choose(window.reuse.table.add_button.menu(), "Action")
    hand.click(window.reuse.table.rows["on_press"].required)
    named = bench.control.parameters[0].name
    # The hover border lies within the box: nothing is drawn outside it in any state.
    for flags in ((), {"hover"}, {"hover", "pressed"}):
        margins = resolve(bench.kit, bench.control, flags).margins()
        assert (margins.left, margins.top, margins.right, margins.bottom) == (0, 0, 0, 0)
    made = shipped(window, bench.control_id, tmp_path / "made")
    pressed: list[str] = []
    one = made("Quay", on_press=lambda: pressed.append("quay"))
    two = made("Ferry", on_press=lambda: pressed.append("ferry"),
               **{named: str(tmp_path / "boat.png")})
    for button in (one, two):
        qtbot.addWidget(button)
        button.show()
        qtbot.waitExposed(button)
    middles = [button.grab().toImage().pixelColor(30, 20).getRgb()[:3] for button in (one, two)]
    assert middles == [(40, 110, 120), (200, 90, 40)]
    # Picture, label and border are one target.
    for button, spots in ((one, (QPoint(90, 48), QPoint(6, 40))), (two, (QPoint(90, 48),))):
        for spot in spots:
            QTest.mouseClick(button, LEFT, pos=spot)
    assert pressed == ["quay", "quay", "ferry"]
    with pytest.raises(TypeError, match="on_press"):
        made("Nothing to do")
    with pytest.raises(ValueError, match="path of a picture"):
        made("No picture", on_press=print, **{named: "nowhere.png"})
    for match in verify(bench.kit, [bench.control], TARGETS["web"], scale=1):
        assert match.passes, (match.state, match.with_text)


def test_figures_faces_and_longest_text_in_the_palette_side(demo, tmp_path: Path) -> None:
    window, hand = demo
    bench = window.bench
    hand.click(window.shelf.items["board"])
    window.go_to("Reuse")
    hand.settle()
    room, side = window.reuse, window.reuse.palette_side
    assert room.count.text() == "1 variation" and room.table.empty.isVisible()
    hand.choose(room.longest.menu(), "Longest text")
    assert bench.control.variations[0].text and room.variations.selected == 1
    assert len(room.variations.rows) == 2
    hand.settle()
    hand.click(room.variations.more)
    hand.write(room.arguments.name, "Night boat")
    assert bench.control.variations[1].name == "Night boat"
    room.variations.rows[2].setFocus()
    hand.key(Qt.Key.Key_Delete)
    assert len(bench.control.variations) == 1
    # A length by name, used by a formula, and what is not a number is told.
    hand.choose(side.values.more.menu(), "Length")
    assert any(entry.name == "length" for entry in bench.kit.values)
    assert set_formula(bench, ("outline", "padding.0"), "2 * length")
    field = next(w for w in side.inside.findChildren(QLineEdit)
                 if w.accessibleName() == "Value of length")
    hand.write(field, "11 px")
    assert settled(bench.kit, bench.control).outline.padding[0] == 22.0
    field = next(w for w in side.inside.findChildren(QLineEdit)
                 if w.accessibleName() == "Value of length")
    hand.write(field, "wide")
    assert window.notice.isVisible() and "not a number" in window.notice.text.text()
    # The colours of a picture come with its name.
    pixels = np.zeros((30, 30, 4), np.uint8)
    pixels[:15], pixels[15:] = (200, 60, 40, 255), (20, 60, 90, 255)
    (tmp_path / "sunset.png").write_bytes(png_bytes(pixels))
    count = len(bench.kit.palette)
    side.take_picture(tmp_path / "sunset.png")
    assert [one.name for one in bench.kit.palette[count:]] == ["sunset-1", "sunset-1-2"]
    (tmp_path / "no.png").write_bytes(b"nothing")
    side.take_picture(tmp_path / "no.png")
    assert "not read as a picture" in window.notice.text.text()
    # So is a base that is gone.
    bench.select("board-night")
    bench.edit("remove board", lambda kit: edit.remove_control(kit, "board"))
    assert room.count.text().endswith("“board”, which is not in this kit")
    # A face that is not installed is told, and all is drawn as it is.
    bench.edit("finish", lambda kit: kit.model_copy(update={"finish": "woven"}))
    assert side.finish_problem.isVisible() and "not installed" in side.finish_problem.text()


def test_a_choice_may_be_several_words(demo) -> None:
    window, hand = demo
    bench = window.bench
    window.go_to("Reuse")
    hand.settle()
    table = window.reuse.table
    hand.choose(table.add_button.menu(), "Choice")
    name = bench.control.parameters[-1].name
    hand.until(lambda: not table.rows[name].limits.visibleRegion().isEmpty())
    hand.write(table.rows[name].limits, "top, bottom, side to side")
    assert bench.control.parameters[-1].choices == ("top", "bottom", "side to side")
    hand.write(table.rows[name].limits, " , ")  # a choice of nothing is refused, and goes back
    assert window.notice.isVisible() and table.rows[name].limits.text().startswith("top, bottom")


def test_a_control_that_grows_is_handled_at_the_size_it_shows(make) -> None:
    window, hand = make(demo=False)
    build = Builder(window, hand)
    bench = window.bench
    build.layer("Fill", "Face")
    label = build.layer("Label", "Words")
    build.open("outline")
    hand.click(window.build.strip.card.body.pages["Content"])
    build.choose("=content-flow", "row")
    bench.edit("text", lambda kit: edit.set_field(
        kit, bench.control_id, "text", "A long way round the island, and back"))
    hand.settle()
    wide = bench.shown_size[0]
    assert wide > bench.control.size[0] + 50
    bench.view(loupe="rest")
    hand.settle()
    view = window.build.loupe.view
    bench.select(part_id=label)
    corners = [view.to_control(QPointF(view.spot_of(one.id))) for one in view.shown()]
    assert corners and all(-1 <= x <= wide + 1 for x, _ in corners)
    middle = next(x for x, _ in corners)
    assert middle > bench.control.size[0] / 2  # of what is shown, not of what is written
    tile = window.build.wall.tiles["rest"]
    assert tile.width() >= wide


def test_content_is_laid_out_from_the_outline_card(make) -> None:
    window, hand = make(demo=False)
    build = Builder(window, hand)
    bench, card = window.bench, window.build.strip.card
    build.layer("Icon", "Sign")
    label = build.layer("Label", "Words")
    build.open("outline")
    hand.click(card.body.pages["Content"])
    build.choose("=content-flow", "row")
    content = bench.control.content
    assert content.items == ("icon", label) or set(content.items) == {"icon", label}
    build.write(**{"=content-gap": 20})
    assert bench.control.content.gap == 20.0
    looks = {layer.id: layer.extent() for layer in resolve(bench.kit, bench.control).layers}
    assert looks["icon"][2] <= looks[label][0] + 1 and bench.history.undo_name == "content gap"
    build.choose("=content-place", "end")
    shifted = {layer.id: layer.extent() for layer in resolve(bench.kit, bench.control).layers}
    assert shifted["icon"][0] > looks["icon"][0]
    build.write(**{"=content-max": (90, 0)})
    assert bench.control.content.max == (90.0, 2000.0)
    assert natural_size(bench.control, "A long way round the island", bench.kit)[0] == 90
    build.write(**{"=content-max": (0, 0), "content_offset": (0, 3)})
    assert bench.control.content.max is None
    moved = {layer.id: layer.extent() for layer in resolve(bench.kit, bench.control).layers}
    assert all(moved[one][1] == pytest.approx(shifted[one][1] + 3) for one in ("icon", label))
    build.choose("=content-flow", "")
    assert bench.control.content is None
