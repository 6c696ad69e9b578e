"""Still controls that are made to move in the real window, and then move as shipped code."""

from __future__ import annotations

import math

import numpy as np
import pytest
from PySide6.QtCore import QPoint

from mektel.core.motion.arrivals import Arrival
from mektel.targets import TARGETS
from mektel.targets.motion import verify_motion
from tests.app.test_feel import pixels

PRESS, ENTER = Arrival("hover", "pressed"), Arrival("rest", "hover")


class Mover:
    """What a person does in the Feel room."""

    def __init__(self, window, hand, starter: str) -> None:
        self.window, self.hand, self.bench = window, hand, window.bench
        hand.choose(window.shelf.new_button.menu(), starter)
        hand.until(lambda: self.bench.control is not None)
        window.go_to("Feel")
        hand.settle()
        self.feel, self.live = window.feel, window.try_pad.area.control
        self.pad = window.try_pad.area

    def add(self, page: int, *titles: str) -> None:
        self.hand.click(self.feel.turn.button(page))
        menu = self.feel.by_page[page].menu()
        menu.aboutToShow.emit()
        self.hand.choose(menu, *titles)

    def write(self, page: int, **values: object) -> None:
        dials = (self.feel.answers, self.feel.swings)[page - 1].dials
        for name, given in values.items():
            dial = dials[name]
            self.hand.write(dial.entry if hasattr(dial, "entry") else dial.field.entry, str(given))

    def leave(self) -> None:
        self.hand.move(self.pad, QPoint(3, 3))

    def ships(self, target: str, *ways: Arrival) -> None:
        kit = self.bench.kit
        matches = verify_motion(kit, [self.bench.control], TARGETS[target], ways=ways)
        assert len(matches) == len(ways) and all(match.passes for match in matches), [
            (match.way, match.means) for match in matches]


@pytest.fixture
def moving(make):
    return lambda starter: Mover(*make(demo=False), starter)


def test_a_press_becomes_progress_and_opens_over_the_screen(moving) -> None:
    person = moving("Pill")
    hand, feel, pad, live = person.hand, person.feel, person.pad, person.live
    hand.click(feel.busy)
    assert person.bench.history.undo_name == "busy sequence" and not feel.busy.isVisible()
    feel.map.choose(Arrival("rest", "busy"))
    # The figures come late, and take a second line.
    hand.until(lambda: "settled after" in feel.figures.text() and not feel._late.isActive()
               and not person.bench.background.busy)
    hand.settle()
    # The steps lie on one ruler, and are dragged and stretched.
    track = feel.own.tracks["label", "opacity"]
    feel.pages.currentWidget().ensureWidgetVisible(track)
    hand.until(lambda: track.visibleRegion().contains(track.bar().center().toPoint()))
    bar = track.bar().center().toPoint()
    hand.drag(track, bar, bar + QPoint(60, 0))
    timing = person.bench.control.timings["busy"]["label"]["opacity"]
    assert timing.delay > 0.03 and timing.seconds == 0.12
    assert person.bench.history.undo_name == "times of busy"
    hand.keys("Ctrl+Z")
    assert person.bench.control.timings["busy"]["label"]["opacity"].delay == 0

    widths: list[int] = []
    live.frames.ready.connect(lambda image: widths.append(
        int((pixels(image)[:, :, 3] > 200).any(axis=0).sum())))
    hand.click(person.window.try_pad.busy)
    hand.until(lambda: live.motion.arrives < live.clock.now())
    hand.until(lambda: len(widths) > 4 and widths[-1] < 0.5 * widths[0])
    assert live.moving  # the spinner turns for as long as it is busy
    covered: list[float] = []
    pad.iris.clock.timeout.connect(lambda: covered.append((pad.iris.opened() or (0.0,))[0]))
    hand.click(person.window.try_pad.busy)
    far = math.hypot(pad.width() / 2, pad.height() / 2)
    hand.until(lambda: bool(covered) and max(covered) > far)
    assert pad.iris.isVisible() and not live.busy
    hand.until(lambda: not pad.iris.isVisible() and not live.moving)
    person.ships("qtwidgets", Arrival("rest", "busy"), Arrival("busy", "rest"))


def test_a_lively_game_button_leans_bobs_and_is_heard(moving) -> None:
    person = moving("Slab")
    hand, live = person.hand, person.live
    person.add(2, "Bob")
    person.add(2, "Sway")
    assert not person.live.calm and [swing.value for swing in person.bench.control.swings] == [
        "y", "turn"]
    person.write(2, period=600, amplitude=5)
    person.add(1, "Lean")
    person.add(1, "Twist")
    person.write(1, degrees=8)
    person.add(1, "Sound")
    person.feel.answers.dials["cause"].button.chosen.emit("enter")
    shown: list[np.ndarray] = []
    live.frames.ready.connect(lambda image: shown.append(pixels(image)))
    hand.move(live)
    hand.until(lambda: len(shown) > 3)
    assert person.window.try_pad.signal_names().count("sound: tap") == 1
    assert len({frame.tobytes() for frame in shown}) > 2
    hand.press(live)
    blow = next(cue.at for cue in live.motion.hand.cues if cue.cause == "press")
    turns = [(live.motion.at(blow + at / 100).matrix or (1.0, 0.0))[1] for at in range(60)]
    assert max(map(abs, turns)) > 0.1 and min(turns) < 0 < max(turns)
    hand.release(live)
    person.leave()
    hand.click(person.feel.calm)  # less motion: the still picture, and no clock
    hand.until(lambda: not live.moving and live._frame is None)
    hand.click(person.feel.calm)
    person.ships("qtwidgets", PRESS)


def test_a_template_glows_slowly_and_shrinks_a_little(moving) -> None:
    person = moving("Pane")
    feel, hand = person.feel, person.hand
    feel.map.choose(ENTER)
    feel.panel.dials.kind.button.chosen.emit("easing")
    hand.write(feel.panel.dials.seconds.field.entry, "400")
    person.add(1, "Press")
    person.write(1, scale=0.94)
    control = person.bench.control
    assert control.timings["hover"]["control"]["all"].seconds == 0.4
    hand.until(lambda: "settled after" in feel.figures.text())
    person.ships("qtwidgets", ENTER)


def test_a_round_control_lifts_with_a_ripple_from_the_touch(moving) -> None:
    person = moving("Puck")
    hand, live = person.hand, person.live
    person.add(1, "Lift")
    person.add(1, "Ripple")
    person.write(1, colour="#00000066", seconds=250)
    place = QPoint(round(live.box.center().x() - 14), round(live.box.center().y()))
    hand.press(person.pad, place)
    hand.until(lambda: bool(live.motion.hand.touches))
    touched = live.motion.hand.touches[-1].place
    assert touched[0] < 0.4 and live.motion.hand.touches[-1].ended is None
    hand.until(lambda: live.clock.now() > live.motion.arrives)
    pose = live.motion.at(live.clock.now())
    kinds = [layer.values.kind for layer in pose.layers]
    assert "disc" in kinds and kinds.index("disc") < kinds.index("icon")
    lifted = next(layer.values for layer in pose.layers if layer.values.kind == "shadow")
    rest = live.motion.still.layers[0].values
    assert lifted.offset[1] == pytest.approx(rest.offset[1] + 4) and lifted.blur > rest.blur
    hand.release(person.pad, place)
    hand.until(lambda: not live.moving)
    person.ships("qtwidgets", PRESS, Arrival("pressed", "hover"))
    assert ("Lift", "partly") in [(plan.layer, plan.how) for plan in TARGETS["web"].plan(
        person.bench.kit, person.bench.control)]
