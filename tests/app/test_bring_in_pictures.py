"""Pictures over Build, from files to a control that runs: with the mouse and with keys."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from PIL import Image
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QApplication

from mektel.core.kit import Kit, edit
from mektel.core.kit.parameter_edits import set_formula
from mektel.core.look import Margins, resolve
from mektel.core.paint import render
from mektel.core.paint.render import render_layer
from mektel.core.pictures.encoding import straight_of
from mektel.targets import TARGETS
from mektel.targets.verify import verify

LEFT = Qt.MouseButton.LeftButton


def opened(window, hand):
    hand.until(lambda: window.build.pictures is not None)
    view = window.build.pictures
    hand.until(lambda: view.pictures.result is not None)
    hand.settle()
    return view


def carry(window, hand, view, region: int, state: str) -> None:
    """Drags a picture of the sheet to a state."""
    start = view.canvas.shown_rect(region).center()
    slot = view.slots[state]
    end = view.canvas.mapFromGlobal(slot.mapToGlobal(QPoint(60, 60)))
    hand.press(view.canvas, start)
    for step in (1, 2, 3, 4):
        hand.move(view.canvas, start + (end - start) * (step / 4))
    assert slot.wanted
    hand.release(view.canvas, end)
    settle(hand, view)


def settle(hand, view) -> None:
    hand.until(lambda: not view.bench.background.busy)
    hand.settle()


def save(art: np.ndarray, path: Path) -> Path:
    Image.fromarray(straight_of(art)).save(path)
    return path


def test_a_sheet_becomes_a_control_that_never_jumps(demo, examples: Path) -> None:
    """Regions, equal bounds, states put by hand, derived states, zones, shipped and run."""
    window, hand = demo
    bench = window.bench
    hand.keys("Ctrl+I")
    hand.name_file(examples / "anchor-sheet@2x.png")
    view = opened(window, hand)
    pictures = view.pictures
    assert pictures.placed == {"rest": 0, "hover": 1, "pressed": 2} and pictures.density == 2
    assert view.status.text().startswith("132 × 48 px, never smaller than 51 ×")
    # The outlined picture is larger, and yet its face lies on that of rest.
    rest, hover = (state.pixels for state in pictures.result.canvas.states[:2])
    assert rest.shape == hover.shape and (rest[56, 100] == hover[56, 100]).all()
    assert view.slots["disabled"].caption == "derived from rest"
    carry(window, hand, view, 1, "focus")
    assert pictures.placed["focus"] == 1 and view.slots["focus"].caption == "picture 2"
    hand.key(Qt.Key.Key_Right)
    settle(hand, view)
    assert view.slots["focus"].caption == "picture 2, nudged 1, 0"
    hand.key(Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    settle(hand, view)
    focus = pictures.result.arrival.control.changes("focus")["picture"]
    assert focus["picture"] and focus["move"] == (-0.125, 0.0)
    hand.key(Qt.Key.Key_Delete)
    settle(hand, view)
    assert "focus" not in pictures.placed
    # Blinking shows rest and the state by turns.
    hand.click(view.blink_button)
    hand.until(lambda: view.slots["pressed"].blink_rest)
    hand.click(view.blink_button)
    assert not view.slots["pressed"].blink_rest
    # An edge is dragged and goes back to the art that is near; a guide is dragged and taken back.
    box = pictures.regions[0].box
    area = view.canvas.shown_rect(0)
    hand.click(view.canvas, area.center())
    hand.drag(view.canvas, QPoint(area.left() + 1, area.center().y()),
              QPoint(area.left() + 31, area.center().y()))
    settle(hand, view)
    assert pictures.regions[0].box[0] > box[0] + 20
    area = view.canvas.shown_rect(0)
    hand.drag(view.canvas, QPoint(area.left() + 1, area.center().y()),
              QPoint(area.left() - 27, area.center().y()))
    settle(hand, view)
    assert pictures.regions[0].box == box
    slot, zones = view.slots["rest"], pictures.result.zones.insets
    guide = round(slot.guides()[0])
    hand.drag(slot, QPoint(guide, 20), QPoint(guide + 12, 20))
    settle(hand, view)
    assert pictures.insets is not None and pictures.insets[0] > zones[0] + 10
    assert pictures.insets[1:] == zones[1:] and view.zones_button.isVisible()
    hand.click(view.zones_button)
    settle(hand, view)
    assert pictures.insets is None
    before = len(bench.kit.controls)
    # A name counts that was typed last, without Enter.
    hand.write(view.name_entry, "Drop anchor", Qt.Key.Key_Shift)
    hand.click(view.add_button)
    hand.until(lambda: window.build.pictures is None)
    assert window.build.pictures is None and bench.control.name == "Drop anchor"
    control = bench.control
    assert set(control.states) == {"hover", "pressed", "focus", "disabled"}
    assert len(bench.kit.assets) >= 3 and control.layer("picture").density == 2
    wide = control.model_copy(update={"id": "wide", "size": (260.0, 48.0)})
    kit = bench.kit.model_copy(update={"controls": (control, wide)})
    only = {control.id: ["rest", "hover", "disabled"], "wide": ["rest", "pressed"]}
    for target in ("qtwidgets", "web"):
        matches = verify(kit, kit.controls, TARGETS[target], only=only)
        assert len(matches) == 5 and all(match.passes for match in matches), [
            match for match in matches if not match.passes]
    bench.undo()
    assert len(bench.kit.controls) == before


def test_dropped_pictures_of_states_become_a_switch(make, tmp_path: Path, demo_kit: Kit) -> None:
    """Files named after states; the face and the icon stay apart; keys alone place a picture."""
    window, hand = make(demo=False)
    bench, ramp = window.bench, demo_kit.control("ramp")
    paths = []
    for state in ("", "hover", "checked", "checked+hover"):
        art = render(resolve(demo_kit, ramp, tuple(state.split("+")) if state else ()), 2,
                     Margins(6, 6, 6, 6)).rgba
        paths.append(save(art, tmp_path / f"ramp-{state.replace('+', '-')}@2x.png"))
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    window.dropEvent(QDropEvent(QPointF(600, 400), Qt.DropAction.CopyAction, mime, LEFT,
                                Qt.KeyboardModifier.NoModifier))
    view = opened(window, hand)
    assert set(view.pictures.placed) == {"rest", "hover", "checked", "checked+hover"}
    assert view.slots["checked+pressed"].isVisible() and view.density_entry.currentText() == "2×"
    view.slots["checked+pressed"].setFocus()
    hand.key(Qt.Key.Key_Space)
    menu = view.slots["checked+pressed"].findChildren(type(view.slots["rest"].menu()))[-1]
    hand.choose(menu, "Picture 3")
    menu.close()
    settle(hand, view)
    assert view.pictures.placed["checked+pressed"] == 2
    hand.until(view.add_button.isEnabled)
    hand.click(view.add_button)
    control = bench.control
    assert control.behaviour == "two-position" and control.size == (68, 36)
    assert "picture" in control.changes("checked")["picture"]
    matches = verify(bench.kit, [control], TARGETS["qtwidgets"])
    assert all(match.passes for match in matches), matches
    # Another picture, dropped on the design, is a layer of it and leaves its face alone.
    icon = save(np.full((20, 20, 4), 255, np.uint8), tmp_path / "lamp.png")
    mime.setUrls([QUrl.fromLocalFile(str(icon))])
    window.dropEvent(QDropEvent(QPointF(600, 300), Qt.DropAction.CopyAction, mime, LEFT,
                                Qt.KeyboardModifier.NoModifier))
    assert [layer.name for layer in bench.control.layers if layer.kind == "picture"] == [
        "Picture", "lamp"]
    assert bench.control.layer("picture") == control.layer("picture")


def test_round_art_stretches_or_says_that_it_cannot(make, tmp_path: Path, demo_kit: Kit) -> None:
    """A capsule cropped at one side is noticed; whole, it runs at three widths as it was drawn."""
    window, hand = make(demo=False)
    bench, board = window.bench, demo_kit.control("board")
    art = render(resolve(demo_kit, board, text=""), 2).rgba
    bench.import_files([save(art[:, 60:], tmp_path / "capsule.png")])
    view = opened(window, hand)
    assert "1 thing to check" in view.status.text()
    assert "cut off at the left" in view.status.toolTip() and view.slots["rest"].doubtful
    hand.key(Qt.Key.Key_Escape)
    assert window.build.pictures is None and not bench.kit.controls
    bench.import_files([save(art, tmp_path / "capsule@2x.png")])
    view = opened(window, hand)
    assert view.status.text() == "168 × 48 px, never smaller than 51 × 48"
    hand.click(view.add_button)
    widths = [bench.control.model_copy(update={
        "id": f"capsule-{at}", "size": (width, 48.0), "text": "Aye" if at else ""})
        for at, width in enumerate((51.0, 168.0, 300.0))]
    kit = bench.kit.model_copy(update={"controls": tuple(widths)})
    corner = render(resolve(kit, widths[1], text=""), 2, Margins()).rgba[:, :48]
    for control in widths:
        drawn = render(resolve(kit, control, text=""), 2, Margins()).rgba
        assert np.abs(drawn[:, :48].astype(int) - corner).max() <= 1
    only = {control.id: ["rest"] for control in widths}
    for target in ("qtwidgets", "web"):
        matches = verify(kit, widths, TARGETS[target], only=only)
        assert len(matches) == 3 and all(match.passes for match in matches), matches
    # A picture that cannot be read is refused in words, and nothing is lost.
    (tmp_path / "odd.jpg").write_bytes(b"nothing")
    bench.import_files([tmp_path / "odd.jpg"])
    hand.until(lambda: window.build.pictures is None)
    assert "odd.jpg" in window.notice.text.text() and len(bench.kit.controls) == 1


def test_pictures_are_put_on_states_with_keys_alone(make, examples: Path) -> None:
    window, hand = make(demo=False)
    bench = window.bench
    bench.import_files([examples / "anchor-sheet@2x.png"])
    view = opened(window, hand)
    view.canvas.setFocus()
    hand.key(Qt.Key.Key_N)
    hand.key(Qt.Key.Key_N)
    assert view.canvas.selected == 1
    before = view.pictures.regions[1].box
    hand.key(Qt.Key.Key_Right)
    hand.key(Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    settle(hand, view)
    left, top, right, bottom = view.pictures.regions[1].box
    assert (left, top, right, bottom) == (
        before[0] + 1, before[1], before[2] + 1, before[3] + 1)
    zoom = view.canvas.zoom
    hand.key(Qt.Key.Key_Plus)
    assert view.canvas.zoom > zoom and view.canvas.width() > 0
    hand.key(Qt.Key.Key_Minus)
    # Each state is reached by Tab; what is on it is taken off, and another put there.
    slot = view.slots["pressed"]
    for _ in range(30):
        if QApplication.focusWidget() is slot:
            break
        hand.key(Qt.Key.Key_Tab)
    assert slot.selected and view.canvas.selected == 2
    hand.key(Qt.Key.Key_Delete)
    settle(hand, view)
    assert "pressed" not in view.pictures.placed and slot.caption == "derived from rest"
    derived = view.pictures.result.arrival.control.changes("pressed")["picture"]
    assert derived == {"brightness": 0.86}
    view.slots["rest"].setFocus()
    hand.key(Qt.Key.Key_Delete)
    settle(hand, view)
    assert not view.add_button.isEnabled() and "Rest" in view.status.text()
    view.pictures.place("rest", 0)
    settle(hand, view)
    assert view.add_button.isEnabled()
    # A region that is drawn is one more to choose from, also outside of what was found.
    count = len(view.pictures.regions)
    view.canvas.select(-1)
    area = view.canvas.file_rect(0).toRect()
    hand.drag(view.canvas, QPoint(area.left() + 1, area.top() + 1),
              QPoint(area.left() + 40, area.top() + 2))
    assert len(view.pictures.regions) == count  # too small to be one
    view.pictures.add_region(0, (0, 0, 60, 60))
    settle(hand, view)
    assert [action.text() for action in slot.menu().actions()][:4] == [
        "Picture 1", "Picture 2", "Picture 3", "Picture 4"]
    view.pictures.set_density(1.0)
    settle(hand, view)
    assert view.pictures.result.arrival.control.size == (264, 96)
    hand.key(Qt.Key.Key_Escape)
    assert window.build.over is None and not bench.kit.controls


def test_a_component_of_picture_and_label(make, tmp_path: Path, demo_kit: Kit) -> None:
    """One target whose border wakes on hover within its bounds; text, picture and size are its
    instances' own.
    """
    window, hand = make(demo=False)
    bench = window.bench
    art = render(resolve(demo_kit, demo_kit.control("slow"), text=""), 2, Margins()).rgba
    bench.import_files([save(art, tmp_path / "berth@2x.png")])
    view = opened(window, hand)
    hand.click(view.add_button)
    control_id = bench.control.id
    bench.edit("add line", lambda kit: edit.add_layer(kit, control_id, "line", "Border"))
    border = next(layer.id for layer in bench.control.layers if layer.name == "Border")

    def shape(kit: Kit) -> Kit:
        for state, name, value in (
                ("rest", "visible", False), ("hover", "visible", True), ("rest", "width", 3.0),
                ("rest", "colour", "#F3C25B"), ("rest", "place", "inside")):
            kit = edit.set_value(kit, control_id, state, border, name, value)
        return set_formula(kit, control_id, "rest", border, "width", "min(width, height) / 16")

    bench.edit("border", shape)
    kit, control = bench.kit, bench.kit.control(control_id)
    for size in ((72.0, 52.0), (160.0, 120.0)):
        looks = [resolve(kit, control, flags, size=size) for flags in ((), ("hover",))]
        lines = [at for at in looks[1].layers if at.id == border]
        assert len(lines) == 1 and not [at for at in looks[0].layers if at.id == border]
        # The border stays inside the bounds, and grows with them.
        alone = render_layer(looks[1], border, 2, Margins(8, 8, 8, 8)).rgba[:, :, 3]
        rows, columns = (np.flatnonzero((alone > 0).any(axis=axis)) for axis in (1, 0))
        assert (rows[0], columns[0]) == (16, 16)
        assert (rows[-1] + 1, columns[-1] + 1) == (16 + 2 * size[1], 16 + 2 * size[0])
    matches = verify(kit, [control], TARGETS["qtwidgets"], only={control_id: ["rest", "hover"]})
    # All of it answers the pointer: picture, label and border are one target.
    assert len(matches) == 2 and all(match.passes for match in matches), matches
    assert sum(match.tried for match in matches) > 50
