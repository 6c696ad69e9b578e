"""Every dial of every kind of layer, in the real window: shown, turned by keys, undone."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from mektel.app.build.names import KIND_TITLES, as_text
from mektel.app.build.pages import EVERY_FORM_VALUE, FIRST, pages_of
from mektel.app.build.wall import CAPTION
from mektel.app.widgets.dials import ChoiceDial, YesNoDial
from mektel.app.widgets.number_dials import NumberDial, NumbersDial, SpanDial
from mektel.app.window import Window
from mektel.core.kit import (
    KINDS,
    OUTLINE,
    ControlOutline,
    Fill,
    Kit,
    OwnOutline,
    Variation,
    edit,
    parameter_edits,
    value_names,
)
from tests.app.conftest import Hand
from tests.slices import some_of

NOT_DIALS = {"joins", "stops"}  # a list and a bar of their own


def test_every_kind_and_value_has_its_words_and_its_place() -> None:
    assert set(KIND_TITLES) == set(KINDS) and set(FIRST) == {*KINDS, "outline"}
    for kind, model in {**KINDS, "outline": ControlOutline}.items():
        full = {"id": "x", "name": "X"} if kind != "outline" else {}
        part = model.model_validate(full)
        shown = {name for title, columns in FIRST[kind] for _, names in columns for name in names}
        common = {"move", "rotate", "scale", "pivot", "outline"}
        for name in value_names(part):
            assert as_text(name, getattr(part, name)), (kind, name)
            assert name in shown | common | NOT_DIALS or f"={name}" in shown, (kind, name)
        assert pages_of(part, kind)[0][0] == FIRST[kind][0][0]


def test_dials_that_do_not_apply_are_not_there() -> None:
    def names(**values: object) -> set[str]:
        part = Fill(id="f", name="F", **values)  # type: ignore[arg-type]
        return {n for _, columns in pages_of(part, "fill") for _, found in columns for n in found}

    assert "colour" in names() and not {"=gradient", "centre", "ends", "direction"} & names()
    assert {"direction", "=line"} <= names(style="linear") and "centre" not in names(style="linear")
    free = names(style="linear", ends=(0, 0, 1, 1))
    assert "ends" in free and "direction" not in free
    assert {"centre", "reach"} <= names(style="radial") and "direction" in names(style="conic")
    own = names(outline=OwnOutline(form="star"))
    assert {"outline.form", "outline.inner_radius", "outline.x"} <= own
    assert "outline.corners" not in own


def turn(hand, bench, name: str, dial) -> bool:
    """Turns a dial by its keys; whether it has one to turn."""
    if isinstance(dial, ChoiceDial | YesNoDial):
        widget = dial.button if isinstance(dial, ChoiceDial) else dial.switch
        hand.focus(widget)
        if isinstance(dial, YesNoDial):
            QTest.keyClick(widget, Qt.Key.Key_Space)
            return True
        before = bench.kit
        QTest.keyClick(widget, Qt.Key.Key_Down)
        if bench.kit is before:
            QTest.keyClick(widget, Qt.Key.Key_Up)
        return len(dial.button.choices) > 1
    if isinstance(dial, NumberDial | NumbersDial | SpanDial):
        field = (dial.field if isinstance(dial, NumberDial) else dial.fields[0]
                 if isinstance(dial, NumbersDial) else dial.more)
        entry, before = field.entry, bench.kit
        entry.setFocus()
        QTest.keyClick(entry, Qt.Key.Key_Up)
        if bench.kit is before:  # already at its highest
            QTest.keyClick(entry, Qt.Key.Key_Down)
        return True
    return False


def test_each_dial_changes_its_value_and_is_undone(make) -> None:
    window, hand = make(demo=False)
    for kind in some_of(list(KINDS), 2):
        window.bench.start(Kit(), None)
        turn_all(window, hand, kind)


def turn_all(window: Window, hand: Hand, kind: str) -> None:
    bench, strip = window.bench, window.build.strip
    if kind == "look":
        bench.add_starter("slab")
        bench.edit("vary it", lambda kit: parameter_edits.set_variations(
            kit, bench.control_id, (Variation(name="Other"),)))
    bench.add_empty()
    hand.until(lambda: strip.isVisible())
    way = (KIND_TITLES[kind], "Slab") if kind == "look" else (KIND_TITLES[kind],)
    hand.choose(strip.row.add_button.menu(), *way)
    layer_id = bench.part_id
    assert bench.control.layer(layer_id).kind == kind
    if kind in ("fill", "line", "symbol", "icon", "label"):
        bench.set_value(layer_id, "style", "linear", "style")
    if kind == "picture":
        bench.set_value(layer_id, "fit", "slices", "fit")
    turned = 0
    for page, columns in pages_of(bench.control.layer(layer_id), kind):
        strip.card.turn_to(kind, page)
        names = [name for _, found in columns for name in found]
        assert set(strip.card.dials) >= {n for n in names if not n.startswith("=")}
        for name in names:
            dial = strip.card.dials.get(name)
            if dial is None or name == "=text":
                continue
            hand.until(dial.isVisible)
            assert dial.width() >= 90, (page, name)
            before = bench.kit
            if not turn(hand, bench, name, dial):
                continue
            assert bench.kit != before, (page, name)
            bench.end_drag()
            bench.undo()
            assert bench.kit == before, (page, name)
            strip.card.turn_to(kind, page)
            turned += 1
    assert turned >= 8, kind


def test_changes_in_a_state_are_marked_and_taken_back(demo) -> None:
    window, hand = demo
    bench, card = window.bench, window.build.strip.card
    hand.click(window.build.wall.tiles["hover"], QPoint(30, 30))
    bench.select(part_id="line")
    hand.settle()
    bench.set_value("line", "blend", "multiply", "line blend")
    dial = card.dials["blend"]
    assert dial._differs and "normal" in dial.label.toolTip()
    dial.back_to_rest.emit()
    assert "line" not in bench.control.changes("hover") and not card.dials["blend"]._differs


def test_an_outline_of_its_own_is_made_shaped_and_given_back(demo) -> None:
    window, hand = demo
    bench, card = window.bench, window.build.strip.card
    hand.click(window.build.strip.row.cards["face"], QPoint(40, 30))
    hand.click(card.body.pages["Outline"])
    hand.focus(card.dials["=own"].button)
    hand.key(Qt.Key.Key_Down)
    assert bench.control.layer("face").outline == OwnOutline()
    hand.write(card.dials["outline.width"].share.entry, "50")
    assert bench.control.layer("face").outline.width == (0.5, 0.0)
    hand.focus(card.dials["outline.form"].button)
    for _ in range(8):
        hand.key(Qt.Key.Key_Down)
        hand.focus(card.dials["outline.form"].button)
    assert bench.control.layer("face").outline.form == "path"
    before = bench.kit
    hand.write(card.dials["outline.path"].entry, "no path at all")
    assert bench.kit == before and "Path" in window.notice.text.text()
    hand.write(card.dials["outline.path"].entry, "M0 0 L10 0 L5 10 Z")
    assert bench.control.layer("face").outline.path == "M0 0 L10 0 L5 10 Z"
    hand.focus(card.dials["=own"].button)
    hand.key(Qt.Key.Key_Up)
    assert bench.control.layer("face").outline is None


@pytest.mark.parametrize(("values", "handle"), [
    ({"style": "radial"}, "centre"), ({"style": "radial"}, "reach-x"),
    ({"style": "conic"}, "direction"), ({"rotate": 15.0}, "pivot"), ({"rotate": 15.0}, "rotate"),
])
def test_handles_are_dragged_in_the_loupe(demo, values: dict, handle: str) -> None:
    window, hand = demo
    bench, view = window.bench, window.build.loupe.view
    bench.edit("set up", lambda kit: kit_with(kit, values))
    bench.select("board", "rest", "face")
    bench.view(loupe="rest")
    hand.until(view.isVisible)
    hand.settle()
    before = {one.id: (one.x, one.y) for one in view.shown()}
    spot = view.spot_of(handle)
    hand.drag(view, spot, spot + QPoint(9, 7) * view.scale)
    after = {one.id: (one.x, one.y) for one in view.shown()}
    assert after[handle] != before[handle]
    if handle in ("centre", "pivot"):
        moved = [b - a for a, b in zip(before[handle], after[handle], strict=True)]
        assert moved == pytest.approx([9, 7], abs=0.6)
    view.setFocus()
    hand.key(Qt.Key.Key_Tab)
    assert view.selected in after or handle == "rotate"  # the last one: Tab goes on
    assert bench.history.undo_name.startswith("face ")
    hand.keys("Ctrl+Z")
    assert {one.id: (one.x, one.y) for one in view.shown()} == before


def kit_with(kit, values: dict):
    for name, value in values.items():
        kit = edit.set_value(kit, "board", "rest", "face", name, value)
    return kit


def test_the_outlines_dials_follow_its_form(demo) -> None:
    window, hand = demo
    bench, card = window.bench, window.build.strip.card
    bench.select("cargo", "rest", OUTLINE)
    hand.settle()
    for form, names in (("box", {"corners", "vertical_radii"}),
                        ("star", {"points", "inner_radius", "rounding"}),
                        ("superellipse", {"power"}), ("path", {"path"}), ("ellipse", set())):
        bench.set_value(OUTLINE, "form", form, "form")
        shown = set(EVERY_FORM_VALUE) & set(card.dials)
        assert shown == names, form


def test_pages_stand_side_by_side_where_there_is_room(demo) -> None:
    """In a large window every value of a layer is there at once, whole, and works; in a smaller one
    the pages are back, the one turned to last in front.
    """
    window, hand = demo
    bench, card = window.bench, window.build.strip.card
    bench.select("board", "rest", "label")
    hand.settle()
    card.turn_to("label", "Place")
    narrow = set(card.dials)
    window.resize(1920, 1080)
    hand.until(lambda: not card.body.pages)
    hand.settle()
    part = bench.control.layer("label")
    every = {name for _, columns in pages_of(part, "label") for _, names in columns
             for name in names if name != "=gradient"}
    assert narrow < set(card.dials) == every
    seen = card.rect()
    for dial in card.dials.values():
        assert seen.contains(dial.rect().translated(dial.mapTo(card, QPoint(0, 0)))), dial.name
    hand.write(card.dials["rotate"].field.entry, "12")
    assert bench.control.layer("label").rotate == 12
    hand.write(card.dials["spacing"].field.entry, "2")
    assert bench.control.layer("label").spacing == 2
    hand.keys("Ctrl+Z")
    assert bench.control.layer("label").spacing == 0
    window.resize(1280, 800)
    hand.until(lambda: bool(card.body.pages))
    assert card.body.pages["Place"].isChecked() and set(card.dials) == narrow
    assert card.height() < 200


def test_a_text_is_typed_where_it_is_double_clicked(demo) -> None:
    """On the wall and in the close-up, turned and in a state; elsewhere the wall shows it large."""
    window, hand = demo
    bench, build = window.bench, window.build
    hand.click(window.shelf.items["half"])
    hand.settle()
    tile = build.wall.tiles["hover"]
    middle = tile.area().adjusted(0, 0, 0, -CAPTION + 8).center().toPoint()
    bench.set_value("label", "rotate", 90, "turn")
    hand.settle()
    hand.double_click(tile, middle + QPoint(0, 14))  # on the last letter of the turned text
    entry = build.strip.card.dials["=text"].entry
    assert (bench.state, bench.part_id, bench.selection.loupe) == ("hover", "label", "")
    hand.until(entry.hasFocus)
    QTest.keyClicks(entry, "Sail")
    assert bench.control.text == "Sail"
    hand.double_click(tile, middle + QPoint(30, 0))  # on the face, beside it
    view = build.loupe.view
    hand.until(view.isVisible)
    hand.settle()
    bench.select(part_id="line")
    hand.settle()
    hand.double_click(view, view.to_screen(58, 40).toPoint())
    hand.until(entry.hasFocus)
    assert bench.part_id == "label" and entry.selectedText() == "Sail"
