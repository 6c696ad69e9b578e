"""Motion in the real window: the try pad plays it, the Feel room edits it."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QMenu, QPushButton

from mektel.app.faults import faults
from mektel.app.widgets.timing_popover import TimingPopover
from mektel.core.kit import Kit, edit
from mektel.core.kit.answers import Sound, Swing
from mektel.core.kit.state_edits import set_behaviour
from mektel.core.kit.timing import Timing
from mektel.core.kit.timing_edits import set_answers, set_swings, set_timing
from mektel.core.look import Margins, resolve, shared_margins
from mektel.core.motion.arrivals import Arrival
from mektel.core.motion.room import moving_room
from mektel.core.paint import render
from mektel.formats.gesture import read_gesture
from tests.core.test_motion import TIMINGS
from tests.formats.test_sound import tone


def pixels(image: QImage) -> np.ndarray:
    image = image.convertToFormat(QImage.Format.Format_RGBA8888_Premultiplied)
    raw = np.frombuffer(bytes(image.constBits()), np.uint8)
    return raw.reshape(image.height(), image.width(), 4).astype(int)


def room_of(kit: Kit, name: str) -> Margins:
    """The room that a control has in the try pad."""
    control = kit.control(name)
    return moving_room(control, shared_margins(kit, control))


def slowly(window, seconds: float = 0.4, state: str = "hover") -> None:
    window.bench.edit("slow", lambda kit: set_timing(
        kit, "board", state, Timing(seconds=seconds, easing="linear")))


def test_the_try_pad_moves_from_pose_to_pose_and_rests_without_a_clock(demo) -> None:
    window, hand = demo
    slowly(window, 1.0)
    hand.settle()
    live, shown = window.try_pad.area.control, []
    live.frames.ready.connect(lambda image: shown.append((live.clock.now(), pixels(image))))
    moves: list[int] = []

    def onto() -> bool:
        """The control may just have been laid out: a hand moves on until it is there."""
        moves.append(len(moves) % 3)
        hand.move(live, live.rect().center() + QPoint(moves[-1], 0))
        return live.flags() == {"hover"}

    for _ in range(3):  # a machine that stalls for a second shows no frame of it
        hand.move(window.shelf)
        hand.until(lambda: not live.flags() and not live.moving)
        hand.settle()
        shown.clear()
        began = live.clock.now()

        hand.until(onto)
        hand.until(lambda: not live.moving)
        hand.settle()
        if len(shown) >= 5:
            break
    kit, control = window.bench.kit, window.bench.kit.control("board")
    room, ratio = room_of(kit, "board"), live.devicePixelRatioF()
    first, last = (render(resolve(kit, control, flags), ratio, room).rgba.astype(int)
                   for flags in ((), ("hover",)))
    whole = np.abs(last - first).sum()
    gone = [np.abs(frame - first).sum() / whole for _, frame in shown]
    assert len(shown) >= 5 and gone == sorted(gone) and gone[-1] <= 1
    for (at, _), share in zip(shown, gone, strict=True):
        assert share <= (at - began) / 1.0 + 0.1  # never ahead of its time
    assert any(0.2 < share < 0.8 for share in gone)
    hand.until(lambda: not live.frames.busy and not live.frames._next.isActive())
    count = len(shown)
    QTest.qWait(120)
    assert len(shown) == count and not live.frames.busy and not live.frames._next.isActive()

    # An interrupted way back begins where it is; with less motion there is no way.
    hand.move(window.try_pad.area, QPoint(3, 3))
    slowly(window, 1.5)
    slowly(window, 1.5, "rest")
    hand.until(lambda: not live.moving)
    hand.move(live)
    QTest.qWait(500)
    middle = shown[-1][1]
    hand.move(window.try_pad.area, QPoint(3, 3))
    count = len(shown)
    hand.until(lambda: len(shown) > count)
    assert np.abs(shown[count][1] - middle).max() < 24 and live.moving
    window.go_to("Feel")
    hand.click(window.feel.calm)
    hand.until(lambda: not live.frames.busy)
    count = len(shown)
    hand.move(live)
    QTest.qWait(100)
    assert live.flags() == {"hover"} and not live.moving and len(shown) == count


def test_a_curve_is_chosen_on_the_map_dragged_typed_taken_over_and_undone(demo) -> None:
    window, hand = demo
    bench = window.bench
    window.go_to("Feel")
    feel = window.feel
    hand.until(lambda: bool(feel.strip.images) and bool(feel.figures.text()))
    assert not window.shelf.isHidden() and window.try_pad.isVisible()
    way = Arrival("hover", "rest")
    hand.click(feel.map, feel.map.path(way).pointAtPercent(0.4).toPoint())
    assert feel.map.arrival == way and "hover → rest" in feel.panel.title.text()
    hand.focus(feel.map)
    hand.key(Qt.Key.Key_Left)
    hand.key(Qt.Key.Key_Left)
    assert feel.map.arrival == Arrival("hover", "pressed")

    before = bench.kit.control("board").timings["pressed"]["control"]["all"]
    peak = feel.curve.handle_spots()["peak"].toPoint()
    hand.drag(feel.curve, peak, peak + QPoint(0, 24))
    after = bench.kit.control("board").timings["pressed"]["control"]["all"]
    assert 0 < after.bounce < before.bounce and after.seconds == before.seconds
    assert bench.history.undo_name == "timing of pressed"
    hand.keys("Ctrl+Z")
    assert bench.kit.control("board").timings["pressed"]["control"]["all"] == before

    feel.panel.dials.kind.button.chosen.emit("easing")
    hand.write(feel.panel.dials.easing.entry, "cubic-bezier(7, 0, 0, 1)")
    assert feel.panel.dials.wrong.isVisible() and "x must be" in feel.panel.dials.wrong.text()
    hand.write(feel.panel.dials.easing.entry, "cubic-bezier(0.2, -0.5, 0.1, 1.4)")
    hand.write(feel.panel.dials.seconds.field.entry, "250")
    end = feel.curve.handle_spots()["end"].toPoint()
    hand.drag(feel.curve, end, end - QPoint(40, 0))
    timing = bench.kit.control("board").timings["pressed"]["control"]["all"]
    assert timing.easing == "cubic-bezier(0.2, -0.5, 0.1, 1.4)" and 0.15 < timing.seconds < 0.25
    hand.until(lambda: "overshoots" in feel.figures.text() and not bench.background.busy)

    menu = feel.panel.named.menu()
    menu.aboutToShow.emit()
    hand.choose(menu, "Give it to all controls")
    assert all(c.timings["pressed"]["control"]["all"] == timing for c in bench.kit.controls)
    menu = feel.more.menu()
    menu.aboutToShow.emit()
    hand.choose(menu, "Label")
    hand.write(feel.panel.dials.delay.field.entry, "40")
    own = bench.kit.control("board").timings["pressed"]["label"]["all"]
    assert own.delay == 0.04 and own.easing == timing.easing
    assert ("label", "all") in feel.own.buttons
    feel.own.removed.emit(("label", "all"))
    assert "label" not in bench.kit.control("board").timings["pressed"]
    feel.panel.dials.kind.button.chosen.emit("none")
    assert feel.curve.timing is None and "at once" in feel.panel.dials.kind.button.text()


def test_a_named_timing_is_edited_once_for_all_that_follow_it(demo) -> None:
    window, hand = demo
    bench, feel = window.bench, window.feel

    def pressed(name):
        return bench.kit.control(name).timings["pressed"]["control"]["all"]

    window.go_to("Feel")
    for name in ("board", "horn"):
        bench.select(name, "pressed")
        hand.settle()
        feel.map.arrival = Arrival("hover", "pressed")
        feel.refresh()
        menu = feel.panel.named.menu()
        menu.aboutToShow.emit()
        hand.choose(menu, "Add to the palette" if name == "board" else "Follow spring")
    assert bench.history.undo_name == "timing of pressed"
    assert pressed("horn") == pressed("board") and pressed("board").named == "spring"
    assert feel.panel.named.accessibleName() == "Follows spring"

    feel.panel.edit_named()
    popover = next(w for w in window.findChildren(TimingPopover) if w.isVisible())
    hand.write(popover.dials.seconds.field.entry, "770")
    peak = popover.curve.handle_spots()["peak"].toPoint()
    hand.drag(popover.curve, peak, peak + QPoint(0, 12))
    popover.close()
    assert pressed("horn") == pressed("board") and pressed("board").seconds == 0.77
    window.go_to("Reuse")
    hand.settle()
    side = window.reuse.palette_side
    hand.write(side.values.rows["spring"][0], "Gentle one")
    assert pressed("horn").named == "gentle-one"
    assert "Board, Horn" in side.values.rows["gentle-one"][0].toolTip().replace(", night", "")
    hand.click(side.values.rows["gentle-one"][1])
    popover = next(w for w in window.findChildren(TimingPopover) if w.isVisible())
    popover.close()
    kept = pressed("board").unnamed
    gone = next(w for w in side.values.findChildren(QPushButton)
                if w.accessibleName() == "Remove gentle-one")
    hand.click(gone)
    assert pressed("board") == pressed("horn") == kept


def test_trails_are_drawn_over_the_try_pad(demo) -> None:
    window, hand = demo
    bench, feel, live = window.bench, window.feel, window.try_pad.area.control
    bench.select("ramp", "checked")
    window.go_to("Feel")
    feel.map.arrival = Arrival("rest", "checked")
    feel.refresh()
    hand.settle()
    plain = pixels(live.grab().toImage())
    hand.click(feel.trails)
    hand.until(lambda: any(trail.part == "thumb" for trail in live.trails))
    drawn = np.abs(pixels(live.grab().toImage()) - plain).max(2) > 30
    across = np.flatnonzero(drawn.any(0))
    assert np.ptp(across) > 30 and np.ptp(np.flatnonzero(drawn.any(1))) < 16
    hand.click(feel.trails)
    hand.until(lambda: not live.trails)
    assert (pixels(live.grab().toImage()) == plain).all()


def test_a_dial_gets_a_timing_of_its_own(demo) -> None:
    window, hand = demo
    bench = window.bench
    bench.select("night-watch", "hover", "wake")
    hand.settle()
    dial = window.build.strip.card.dials["opacity"]
    dial.menu_wanted.emit(dial.mapToGlobal(QPoint(4, 4)))
    menu = next(m for m in window.findChildren(QMenu) if m.isVisible())
    hand.choose(menu, "Give it a timing")
    menu.close()
    feel = window.feel
    assert feel.isVisible() and "Wake, " in feel.panel.title.text()
    hand.write(feel.panel.dials.seconds.field.entry, "600")
    own = bench.kit.control("night-watch").timings["hover"]["wake"]
    assert own["opacity"].seconds == 0.6 and own["all"].seconds == 0.25
    assert ("wake", "opacity") in feel.own.buttons


def test_a_sound_file_is_taken_in_heard_and_undone(demo, tmp_path) -> None:
    window, hand = demo
    bench = window.bench
    bench.edit("a sound", lambda kit: set_answers(kit, "board", (Sound(),)))
    window.go_to("Feel")
    answers, heard = window.feel.answers, []
    window.try_pad.sounds.played.connect(heard.append)
    hand.click(window.feel.turn.button(1))
    (tmp_path / "gull.ogg").write_bytes(tone("OGG"))
    (tmp_path / "no.wav").write_bytes(b"nothing")

    def choose(*names: str) -> None:
        for name in names:
            hand.choose(answers.dials["sound"].button.menu(), "From a file")
            hand.name_file(tmp_path / name)

    choose("no.wav")
    assert window.notice.isVisible() and "no.wav: not read" in window.notice.text.text()
    assert bench.history.undo_name == "a sound"
    choose("gull.ogg")
    assert bench.control.answers[0].sound == "gull" and bench.kit.sounds[0].name == "gull"
    assert "gull" in answers.dials["sound"].button.text()
    assert window.try_pad.signal_names()[-1] == "sound: gull"
    hand.choose(answers.dials["sound"].button.menu(), "pop")
    hand.choose(answers.dials["sound"].button.menu(), "Remove “gull” from the kit")
    assert not bench.kit.sounds and bench.history.undo_name == "remove sound gull"
    hand.keys("Ctrl+Z")
    hand.choose(answers.dials["sound"].button.menu(), "gull")
    hand.press(window.try_pad.area.control)
    hand.release(window.try_pad.area.control)
    assert heard == ["gull", "pop", "gull", "gull"]
    for _ in range(3):
        hand.keys("Ctrl+Z")
    assert not bench.kit.sounds and bench.control.answers == (Sound(),)


def test_answers_are_added_turned_and_felt(demo) -> None:
    window, hand = demo
    bench, live = window.bench, window.try_pad.area.control
    bench.edit("no answers", lambda kit: set_answers(kit, "board", ()))
    window.go_to("Feel")
    feel = window.feel
    hand.click(feel.turn.button(1))
    assert feel.add.isVisible() and not feel.more.isVisible()
    for title in ("Ripple", "Press"):
        menu = feel.add.menu()
        menu.aboutToShow.emit()
        hand.choose(menu, title)
    hand.until(lambda: len(feel.answers.buttons) == 2)
    hand.write(feel.answers.dials["scale"].field.entry, "0.8")
    hand.click(feel.answers.buttons[0])
    hand.write(feel.answers.dials["colour"].entry, "#FF0000")
    hand.write(feel.answers.dials["seconds"].field.entry, "200")
    ripple, press = bench.kit.control("board").answers
    assert (ripple.colour, ripple.seconds, press.scale) == ("#FF0000", 0.2, 0.8)

    # Held down, what it has set off stays; let go, the still picture comes back.
    shown = []
    live.frames.ready.connect(lambda image: shown.append(pixels(image)))
    hand.press(live)
    hand.until(lambda: not live.moving and bool(shown))
    hand.until(lambda: live._drawn_at >= live.motion.ends and not live.frames.busy)
    red = (shown[-1][..., 0] > 200) & (shown[-1][..., 1] < 60)
    assert red.mean() > 0.15 and live.motion.holds
    hand.release(live)
    hand.until(lambda: not live.moving)
    hand.until(lambda: live._frame is None)
    remove = next(button for button in feel.answers.findChildren(QPushButton)
                  if button.text() == "Remove" and button.isVisible())
    hand.click(remove)
    assert [answer.kind for answer in bench.kit.control("board").answers] == ["press"]
    hand.keys("Ctrl+Z")
    assert len(bench.kit.control("board").answers) == 2


def test_endless_motion_of_a_state_stays_when_the_behaviour_loses_that_state(demo) -> None:
    window, hand = demo
    bench = window.bench
    window.go_to("Feel")
    for behaviour, text in (("busy", "in busy"), ("push", "in busy, which never holds")):
        bench.edit("behaviour", lambda kit, to=behaviour: set_behaviour(kit, "board", to))
        bench.edit("swings", lambda kit: set_swings(kit, "board", (Swing(during="busy"),)))
        hand.settle()
        hand.click(window.feel.turn.button(2))
        when = window.feel.swings.dials["during"].button
        assert when.text().startswith(text) and not faults().places
        QTest.keyClick(when, Qt.Key.Key_Up)
        hand.settle()
        hand.keys("Ctrl+Z")
    hand.keys("Ctrl+Z")
    hand.settle()
    assert not faults().places


def test_a_moment_is_scrubbed_by_hand_and_keys_and_shown_at_full_size(demo) -> None:
    window, hand = demo
    slowly(window)
    window.go_to("Feel")
    feel, live, shown = window.feel, window.try_pad.area.control, []
    live.frames.ready.connect(lambda image: shown.append(pixels(image)))
    feel.map.choose(Arrival("rest", "hover"))
    hand.until(lambda: len(feel.strip.images) == 8)
    hand.press(feel.curve, QPoint(300, 20))
    hand.release(feel.curve, QPoint(300, 20))
    hand.until(lambda: bool(shown))
    moment = feel.curve.moment
    assert moment and 0.1 < moment < 0.4 and feel.strip.moment == moment
    hand.focus(feel.curve)
    hand.key(Qt.Key.Key_Right)
    assert feel.curve.moment == pytest.approx(moment + 1 / 60)
    hand.click(feel.strip, QPoint(5, 20))
    assert feel.curve.moment == 0
    hand.until(lambda: not live.frames.busy and live._asked is live._scrubbed)
    kit, control = window.bench.kit, window.bench.kit.control("board")
    first = render(resolve(kit, control), live.devicePixelRatioF(), room_of(kit, "board"))
    assert np.array_equal(shown[-1], first.rgba)
    hand.focus(feel.curve)
    hand.key(Qt.Key.Key_Escape)
    assert feel.curve.moment is None and live._scrubbed is None
    window.set_theme("dark")
    hand.settle()


def test_a_press_in_the_middle_of_everything_settles(demo) -> None:
    """Rapid input on a live control: it ends as the state machine says, in the still picture."""
    window, hand = demo
    for timing in TIMINGS:
        window.bench.edit("timing", lambda kit, timing=timing: set_timing(
            kit, "board", "rest", timing))
        live = window.try_pad.area.control
        for _ in range(6):
            hand.press(live)
            hand.release(live)
            hand.move(window.try_pad.area, QPoint(3, 3))
        assert window.try_pad.signal_names().count("clicked") >= 1
        hand.until(lambda live=live: not live.moving)
        hand.settle()
        hand.until(lambda live=live: live._frame is None)
        assert live.flags() == frozenset()


def test_what_the_hand_did_is_recorded_played_in_a_loop_and_saved(demo, tmp_path) -> None:
    window, hand = demo
    bar, live, pad = window.try_pad.gestures, window.try_pad.area.control, window.try_pad.area
    hand.click(bar.record)
    hand.press(live)
    QTest.qWait(60)
    hand.release(live)
    hand.move(pad, QPoint(3, 3))
    hand.click(bar.record)
    kinds = [event.kind for event in bar.events if event.kind != "focus"]
    assert kinds[:2] == ["move", "press"] and "release" in kinds and kinds[-1] != "press"
    press = next(event for event in bar.events if event.kind == "press")
    assert press.place == pytest.approx((0.5, 0.5), abs=0.15)
    assert all(a.at <= b.at for a, b in pairwise(bar.events)) and "events" in bar.told.text()

    clicks: list[str] = []
    live.signalled.connect(lambda name: clicks.append(name) if name == "clicked" else None)
    hand.click(bar.loop)
    hand.click(bar.play)
    hand.until(lambda: len(clicks) >= 2)
    window.bench.edit("corners", lambda kit: edit.set_value(
        kit, "board", "rest", "label", "colour", "#FFE0A0"))
    hand.until(lambda: len(clicks) >= 4)  # it goes on while values change
    hand.press(live)  # the hand ends it
    hand.release(live)
    assert not bar.play.isChecked() and not bar._next.isActive()
    hand.click(bar.save)
    hand.name_file(tmp_path / "hand.json")
    assert read_gesture(tmp_path / "hand.json") == bar.events


def test_the_pointer_can_be_a_finger(demo) -> None:
    window, hand = demo
    live, pad = window.try_pad.area.control, window.try_pad
    hand.click(pad.gestures.touch)
    hand.move(live)
    assert live.flags() == frozenset()  # nothing hovers
    hand.press(live, QPoint(40, 30))
    assert live.flags() == {"hover", "pressed"} and live.motion.hand.touches[-1].place[0] < 0.4
    hand.release(live, QPoint(40, 30))
    assert live.flags() == frozenset()
    assert pad.signal_names() == ["left", "clicked", "released", "pressed", "entered"]
    hand.click(pad.gestures.touch)
    hand.move(live)
    assert live.flags() == {"hover"}
