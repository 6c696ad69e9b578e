"""Answers to touch, endless motion and the busy sequence as functions of time."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from mektel.core.behaviour import Event
from mektel.core.errors import MektelError
from mektel.core.kit import Control, Kit, edit
from mektel.core.kit.answers import Flash, Follow, Lean, Lift, Press, Shake, Swing, Twist
from mektel.core.kit.busy_sequence import lay_busy_sequence
from mektel.core.kit.timing import Timing
from mektel.core.kit.timing_edits import set_answers, set_swings
from mektel.core.look import Margins
from mektel.core.look.pose import Pose
from mektel.core.motion import Motion, motion_of, pose_at
from mektel.core.motion.answers import Cue, Frame
from mektel.core.motion.answers.iris import opened
from mektel.core.motion.answers.kick import swung
from mektel.core.motion.answers.sound import sounds_due
from mektel.core.motion.changes import brought
from mektel.core.motion.hands import causes
from mektel.core.motion.room import moving_room
from mektel.core.sounds import SOUNDS, sound_file
from mektel.formats.kitfile import kit_from_text, kit_to_text

ENTER = Event(0.0, "move", inside=True, place=(0.9, 0.25))
EVERY = (Press(), Lift(), Twist(cause="press"), Shake(cause="enter"), Lean(by="turn"),
         Lean(degrees=8, timing=Timing(kind="spring", seconds=0.5, bounce=0.3)),
         Follow(part="wake", value="centre"), Follow(part="shadow", value="offset", share=0.2),
         Flash(cause="release"))


@pytest.fixture
def watch(demo_kit: Kit) -> tuple[Kit, Control]:
    kit = set_answers(demo_kit, "night-watch", EVERY)
    return kit, kit.control("night-watch")


def value(pose: Pose, part: str, name: str) -> object:
    return next(getattr(layer.values, name) for layer in pose.layers if layer.values.id == part)


def test_a_control_is_placed_in_the_order_of_css() -> None:
    frame = Frame((120.0, 40.0), (), shift=(5.0, -3.0), turn=20.0, scale=1.2, tilt=(7.0, -4.0))

    def about(matrix: list[list[float]]) -> np.ndarray:
        middle = np.array([[1, 0, 60], [0, 1, 20], [0, 0, 1.0]])
        return middle @ np.array(matrix) @ np.linalg.inv(middle)

    turn, x, y = math.radians(20), math.tan(math.radians(7)), math.tan(math.radians(-4))
    wanted = np.array([[1, 0, 5], [0, 1, -3], [0, 0, 1.0]]) @ about(
        [[math.cos(turn), -math.sin(turn), 0], [math.sin(turn), math.cos(turn), 0], [0, 0, 1]]
    ) @ about([[1.2, 0, 0], [0, 1.2, 0], [0, 0, 1]]) @ about([[1, x, 0], [y, 1, 0], [0, 0, 1]])
    a, b, c, d, e, f = frame.matrix or ()
    assert np.allclose(wanted[:2], [[a, c, e], [b, d, f]])
    assert Frame((120.0, 40.0), ()).matrix is None


@pytest.mark.parametrize("bounce", [0.0, 0.3, 0.7])
def test_a_blow_comes_as_far_as_it_says_and_settles(bounce: float) -> None:
    twist = Twist(degrees=6, seconds=0.5, bounce=bounce)
    shares = [swung(twist, (Cue("press", 0.0),), at / 2000) for at in range(6000)]
    assert max(shares) == pytest.approx(1, abs=1e-3) and abs(shares[-1]) < 1e-3
    assert max(map(abs, shares[1200:])) < 0.02 and shares[0] == 0




def test_what_the_pointer_leads_goes_there_and_comes_back(watch: tuple[Kit, Control]) -> None:
    kit, control = watch
    rest = motion_of(kit, control)
    inside = rest.after(ENTER)
    there = inside.at(60.0)
    assert value(there, "wake", "centre") == pytest.approx((0.9, 0.25), abs=1e-3)
    assert inside.holds and there.matrix is not None
    x, y = value(rest.still, "shadow", "offset")  # type: ignore[misc]
    width, height = control.size
    assert value(there, "shadow", "offset") == pytest.approx(
        (x + 0.4 * width * 0.2, y - 0.25 * height * 0.2), abs=0.05)
    a, b, c, *_ = there.matrix
    turn = math.radians(0.8 * 5.0)  # turned to the right, and skewed
    assert (a, b) == pytest.approx((math.cos(turn), math.sin(turn)), abs=0.12) and b > 0 and c < 0.1
    left = inside.after(Event(1.0, "move"))
    assert not left.holds and left.at(60.0) is left.still
    assert value(left.at(1.02), "wake", "centre") != value(left.still, "wake", "centre")
    disabled = inside.after(Event(1.0, "disable"))
    assert disabled.at(60.0) is disabled.still


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.floats(0.001, 0.4), st.sampled_from(
    ["move", "press", "release", "leave", "disable", "enable", "focus", "blur", "key-down",
     "key-up"]), st.tuples(st.floats(0, 1), st.floats(0, 1))), max_size=14))
@example([(0.25, kind, (0.0, 0.0)) for kind in ("move", "press", "press", "release")])
def test_no_input_makes_answers_jump_or_stay(demo_kit: Kit, steps: list) -> None:
    kit = set_answers(demo_kit, "night-watch", tuple(
        answer for answer in EVERY if answer.kind != "flash"))
    kit = set_swings(kit, "night-watch", (
        Swing(value="turn", amplitude=3.0, during="hover"),
        Swing(part="wake", value="opacity", amplitude=0.3, wave="triangle", during="pressed")))
    motion, at = motion_of(kit, kit.control("night-watch")), 0.0
    for wait, kind, place in steps:
        at += wait
        before = motion.at(at)
        inside = kind != "leave"
        event = Event(at, "move" if kind == "leave" else kind, inside=inside,  # type: ignore[arg-type]
                      key="space" if kind.startswith("key") else "", place=place)
        motion = motion.after(event)
        now = motion.at(at)
        for one, other in ((before, now),):
            assert np.abs(np.subtract(one.matrix or SAME, other.matrix or SAME)).max() < 0.02
            assert value(one, "wake", "centre") == pytest.approx(
                value(other, "wake", "centre"), abs=1e-3)
    for kind in ("release", "key-up", "blur", "leave", "enable"):
        at += 0.01
        motion = motion.after(Event(at, "move" if kind == "leave" else kind,  # type: ignore[arg-type]
                                    key="space" if kind == "key-up" else ""))
    assert math.isfinite(motion.ends) and motion.at(motion.ends + 1e-6) is motion.still


SAME = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0)


def test_endless_motion_adds_up_and_begins_and_ends_without_a_jump(demo_kit: Kit) -> None:
    swings = (Swing(value="y", amplitude=4.0, period=2.0),
              Swing(value="y", amplitude=1.0, period=0.5, wave="triangle"),
              Swing(part="band", value="colour", colour="#000000", period=2.0, wave="saw"),
              Swing(part="label", value="size", amplitude=40.0, period=1.0, during="hover"),
              Swing(value="x", amplitude=-6.0, wave="triangle", period=1.0, sides="one"))
    kit = set_swings(demo_kit, "pennant", swings)
    control = kit.control("pennant")
    motion = motion_of(kit, control)
    assert motion.ends == math.inf and motion.arrives == 0
    assert motion.at(0.5).matrix == pytest.approx((1, 0, 0, 1, -6.0, 4.0))
    ways = [(motion.at(at / 20).matrix or SAME)[4] for at in range(40)]
    assert max(ways) == 0 and ways[5] == pytest.approx(-3.0)  # out to one side, and back
    assert motion.at(0.625).matrix[5] == pytest.approx(4 * math.sin(math.pi * 0.625) + 1)
    colours = [value(motion.at(at), "band", "colour")[:7] for at in (0.0, 1.0, 1.999)]  # type: ignore[index]
    assert colours[2] == "#000000" and colours[0] != colours[1] != colours[2]
    hover = brought(motion, frozenset({"hover"}), 3.0)
    sizes = [value(hover.at(3.0 + at / 200), "label", "size") for at in range(400)]
    base = value(motion.still, "label", "size")
    assert sizes[0] == base and max(sizes) > base + 30  # type: ignore[operator]
    assert min(sizes) >= 4 and max(np.abs(np.diff(sizes))) < 4  # within the value's limits
    rest = brought(hover, frozenset(), 5.2)
    assert value(rest.at(5.2), "label", "size") == pytest.approx(
        value(hover.at(5.2), "label", "size"))
    assert value(rest.at(5.6), "label", "size") == base
    calm = motion_of(kit, control, calm=True)
    assert calm.ends == 0 and calm.at(0.5) is calm.still


def test_an_opacity_swings_in_share_of_what_fades(demo_kit: Kit) -> None:
    """A lamp that blinks while it changes is never darker than its swing makes it."""
    control = demo_kit.control("deck-lamp")
    swing = control.swings[0]
    off = brought(motion_of(demo_kit, control), frozenset({"disabled"}), 1.0)
    # In a bright half of the pulse it has its own opacity times what the swing leaves.
    moment = 20 * swing.period + 1.0
    lit = brought(off, frozenset(), moment)
    for step in range(40):
        at = moment + step * 0.3 / 40
        shown = [layer.values.opacity for _, layer in lit.at(at).walk()
                 if layer.values.id == "lamp"]
        covered = 1 - math.prod(1 - opacity for opacity in shown)
        assert covered >= 1 + swing.amplitude - 0.02, (step, shown)
    assert value(lit.at(moment + 0.31), "lamp", "opacity") == 1
    # An opacity that moves while it swings, from nothing and back, is never elsewhere at once.
    kit = set_swings(demo_kit, "night-watch", (
        Swing(part="aura", value="opacity", amplitude=0.4, period=1.0, sides="one"),))
    glow = motion_of(kit, kit.control("night-watch"))
    assert value(glow.at(0.5), "aura", "opacity") == pytest.approx(0.4)
    over = brought(glow, frozenset({"hover"}), 0.5)
    away = brought(over, frozenset(), 0.6)
    for before, after, at in ((glow, over, 0.5), (over, away, 0.6)):
        assert value(after.at(at), "aura", "opacity") == pytest.approx(
            value(before.at(at), "aura", "opacity"), abs=1e-6)


def test_what_moves_has_to_be_there(demo_kit: Kit) -> None:
    for swing, why in ((Swing(part="gone", value="opacity"), "not a layer"),
                       (Swing(value="colour"), "the control has no “colour”"),
                       (Swing(part="label", value="text"), "no number or colour"),
                       (Swing(part="label", value="weight"), "no number or colour"),
                       (Swing(value="y", during="hover+busyy"), "busyy")):
        with pytest.raises(MektelError, match=why):
            set_swings(demo_kit, "board", (swing,))
    with pytest.raises(MektelError, match="no place or direction"):
        set_answers(demo_kit, "board", (Follow(part="label", value="text"),))
    kit = set_answers(demo_kit, "night-watch", (Follow(part="wake", value="centre"), Press()))
    kit = set_swings(kit, "night-watch", (
        Swing(part="sheen", value="stops.1.position", amplitude=0.1), Swing(part="wake",
                                                                          value="opacity")))
    assert kit_from_text(kit_to_text(kit)) == kit
    fewer = edit.set_value(kit, "night-watch", "rest", "sheen", "stops", tuple(
        kit.control("night-watch").layer("sheen").stops[:1]) * 2)  # type: ignore[union-attr]
    assert len(fewer.control("night-watch").swings) == 2
    gone = edit.remove_layer(kit, "night-watch", "wake").control("night-watch")
    assert [answer.kind for answer in gone.answers] == ["press"]
    assert [swing.part for swing in gone.swings] == ["sheen"]


def test_a_busy_sequence_narrows_turns_and_opens_over_the_whole_screen(demo_kit: Kit) -> None:
    kit = lay_busy_sequence(demo_kit, "board")
    control = kit.control("board")
    motion: Motion = brought(motion_of(kit, control), frozenset({"busy"}), 0.0)
    half, whole = motion.at(0.24), motion.at(1.0)
    high = control.size[1]
    assert high < value(half, "face", "outline").width[0] * control.size[0] + value(  # type: ignore[attr-defined]
        half, "face", "outline").width[1] < control.size[0]  # type: ignore[attr-defined]
    assert value(whole, "face", "outline").width == (0.0, high)  # type: ignore[attr-defined]
    assert value(whole, "label", "opacity") == 0 and value(whole, "spinner", "visible")
    assert value(motion.at(1.1), "spinner", "rotate") != value(whole, "spinner", "rotate")
    done = brought(motion, frozenset(), 2.0)
    iris = next(answer for answer in control.answers if answer.kind == "iris")
    place = (40.0, 60.0, *control.size)
    corners = [opened(iris, done.hand, 2.0 + at / 60, place, (640, 400)) for at in range(60)]
    grown = [entry[0] for entry in corners if entry is not None]
    assert grown[0] == high / 2 and grown == sorted(grown) and iris.next < 1
    assert grown[-1] > math.hypot(640 - 40 - control.size[0] / 2, 400 - 60 - high / 2)
    assert corners[-1] is None and opened(iris, motion.hand, 1.0, place, (640, 400)) is None
    # It stays a circle until it is covered.
    assert value(done.at(2.55), "face", "outline").width == (0.0, high)  # type: ignore[attr-defined]
    assert done.at(4.0) is done.still and done.still.layers[1].values.outline.width == (1.0, 0.0)


def test_sounds_are_due_to_what_happened_and_answers_have_room(demo_kit: Kit) -> None:
    from mektel.core.behaviour import Situation, step
    from mektel.core.kit.answers import Sound

    answers = (Sound(cause="press", sound="horn"), Sound(cause="refuse", sound="deny"))
    press = Event(1.0, "press", inside=True, place=(0.5, 0.5))
    for before, heard in ((Situation(inside=True), "horn"),
                          (Situation(inside=True, busy=True), "deny")):
        after, signals = step("busy", before, press)
        due = causes((before, after), press, signals)
        assert [sound.sound for sound in sounds_due(answers, due)] == [heard]
    for name in SOUNDS:
        assert sound_file(name)[:4] == b"RIFF" and len(sound_file(name)) < 50_000
    kit = set_answers(demo_kit, "night-watch", EVERY)
    control, still = kit.control("night-watch"), Margins(4, 4, 4, 4)
    room = moving_room(control, still)
    assert min(room.left, room.top, room.right, room.bottom) > 8
    assert moving_room(demo_kit.control("slow"), still) == still
    far = pose_at(kit, control, [ENTER, Event(0.2, "press", inside=True, place=(0.9, 0.2))], 0.4)
    a, b, c, d, e, f = far.matrix or SAME
    for x in (0, control.size[0]):
        for y in (0, control.size[1]):
            assert -room.left <= a * x + c * y + e <= control.size[0] + room.right
            assert -room.top <= b * x + d * y + f <= control.size[1] + room.bottom
