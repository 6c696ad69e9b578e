"""Motion as a function of time: easings, springs, and poses between poses."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from mektel.core.behaviour import Event
from mektel.core.easing import EasingError, css_text, easing_from_text
from mektel.core.kit import Control, Kit, edit
from mektel.core.kit.answers import Press, Ripple, Twist
from mektel.core.kit.timing import Timing
from mektel.core.kit.timing_edits import set_answers, set_timing
from mektel.core.look.pose import Pose
from mektel.core.look.resolve import look_of
from mektel.core.motion import change, motion_of, pose_at, spring_of
from mektel.core.motion.gestures import touch
from mektel.core.motion.trails import trails_of
from mektel.core.paint import render
from mektel.formats.kitfile import kit_from_text, kit_to_text, read_kit
from mektel.samples import DEMO
from mektel.targets import TARGETS
from tests.chromium import page_on

EASINGS = (
    "linear", "ease", "ease-in", "ease-out", "ease-in-out", "cubic-bezier(0.3, -0.6, 0.1, 1.7)",
    "cubic-bezier(0, 1, 1, 0)", "steps(4)", "steps(5, jump-none)", "steps(3, jump-both)",
    "steps(2, start)", "linear(0, 0.6 30%, 0.4 30% 50%, 1.2 80%, 1)", "linear(0 -20%, 0.3, 1 110%)")


def test_easings_are_those_of_the_browser(tmp_path: Path) -> None:
    with page_on("<div id=a></div>", tmp_path) as page:
        for text in EASINGS:
            theirs = page.evaluate("""(easing) => {
                const moving = document.getElementById("a").animate(
                  {marginLeft: ["0px", "100000px"]}, {duration: 1000, easing, fill: "both"});
                moving.pause();
                return Array.from({length: 1000}, (_, at) => { moving.currentTime = at;
                  return parseFloat(getComputedStyle(moving.effect.target).marginLeft) / 1e5; });
            }""", text)
            easing = easing_from_text(text)
            ours = [easing.at(at / 1000) for at in range(1000)]
            assert np.abs(np.subtract(ours, theirs)).max() < 1e-3, text


@pytest.mark.parametrize("text", EASINGS)
def test_an_easing_is_written_plainly(text: str) -> None:
    plain = css_text(f"{text} /* ` ${{x}} </style> */" if "(" in text else text)
    assert set(plain) <= set("abcdefghijklmnopqrstuvwxyz-.,()% 0123456789")
    for at in range(21):
        assert easing_from_text(plain).at(at / 20) == pytest.approx(
            easing_from_text(text).at(at / 20), abs=1e-5)


@pytest.mark.parametrize("text", [
    "", "fast", "cubic-bezier(2, 0, 0, 1)", "cubic-bezier(0, 0, 1)", "steps(0)", "steps(1.5)",
    "steps(1, jump-none)", "linear()", "linear(0)", "linear(0 1% 2% 3%, 1)", "linear(a, 1)",
    "cubic-bezier(0, 1e99, 1, 1)", "steps(3, sideways)", "ease ease"])
def test_what_is_no_easing_is_refused_in_words(text: str) -> None:
    with pytest.raises(EasingError, match="“"):
        easing_from_text(text)


@pytest.mark.parametrize("bounce", [0.0, 0.05, 0.38, 0.9])
def test_springs_solve_their_equation(bounce: float) -> None:
    spring = spring_of(bounce, 0.48)
    w, z = spring.frequency, spring.damping
    times = np.linspace(0, 1.5, 200)
    solved = solve_ivp(lambda _, y: (y[1], -2 * z * w * y[1] - w * w * y[0]), (0, 1.5), (1.0, -3.0),
                       t_eval=times, rtol=1e-11, atol=1e-12).y
    ours = np.array([spring.at(t, 1.0, -3.0) for t in times]).T
    assert np.abs(ours[0] - solved[0]).max() < 1e-6
    at_rest = np.array([spring.at(t, 1.0, 0.0)[0] for t in np.linspace(0, 1.0, 4001)])
    assert -at_rest.min() == pytest.approx(bounce, abs=2e-3)
    assert np.abs(at_rest[1921:]).max() < 0.0105


def changed(kit: Kit, control_id: str, state: str, part: str, values: dict[str, object]) -> Kit:
    for name, value in values.items():
        kit = edit.set_value(kit, control_id, state, part, name, value)
    return kit


def moving_kit(timing: Timing, **rest: object) -> tuple[Kit, Control]:
    kit = edit.add_control(Kit(name="Motion"), Control(id="key", name="Key"))
    control = kit.control("key")
    kit = edit.add_layer(kit, control.id, "fill", "Face", colour="#102030", **rest)
    kit = changed(kit, control.id, "hover", "face", {"move": (10.0, 0.0)})
    kit = changed(kit, control.id, "pressed", "face", {"colour": "#F0E0D0"})
    return (kit := set_timing(kit, control.id, "rest", timing)), kit.control(control.id)


ENTER, LEAVE = Event(0.0, "move", inside=True), Event(0.1, "move")


def shift(pose: Pose) -> float:
    return float(pose.layers[-1].values.move[0])


def test_an_interrupted_easing_turns_back_sooner_and_a_spring_keeps_its_speed() -> None:
    kit, control = moving_kit(Timing(seconds=0.2, easing="linear"))
    events = [ENTER, LEAVE]
    assert shift(pose_at(kit, control, events, 0.05)) == pytest.approx(2.5)
    assert shift(pose_at(kit, control, events, 0.15)) == pytest.approx(2.5)
    settled = pose_at(kit, control, events, 0.2)  # half way out, so half the time back
    assert look_of(settled) == look_of(pose_at(kit, control, (), 0.0))

    kit, control = moving_kit(Timing(kind="spring", seconds=0.5, bounce=0.4))
    before, at, after = (shift(pose_at(kit, control, events, t)) for t in (0.0999, 0.1, 0.1001))
    assert at - before == pytest.approx(after - at, rel=0.3)
    assert abs(at - before) > 1e-4


def test_a_timing_of_a_value_counts_before_its_layers_and_the_controls() -> None:
    kit, control = moving_kit(Timing(seconds=1.0, easing="linear"))
    kit = set_timing(kit, control.id, "hover", Timing(seconds=0.5, easing="linear"), "face")
    kit = set_timing(
        kit, control.id, "hover", Timing(seconds=0.1, delay=0.1, easing="linear"), "face", "move")
    control = kit.control(control.id)
    moved = [shift(pose_at(kit, control, [ENTER], t)) for t in (0.05, 0.15, 0.2)]
    assert moved == pytest.approx([0.0, 5.0, 10.0])
    assert control.timing_of("face", "colour", {"hover"}).seconds == 0.5
    assert control.timing_of("outline", "corners", {"hover"}).seconds == 1.0
    assert edit.remove_layer(kit, control.id, "face").control(control.id).timings.keys() == {"rest"}
    copied = edit.copy_layer(kit, control.id, "face").control(control.id)
    assert copied.timings["hover"]["face-copy"] == control.timings["hover"]["face"]


def test_colours_are_mixed_premultiplied_as_the_browser_does(tmp_path: Path) -> None:
    kit, control = moving_kit(Timing(seconds=1.0, easing="linear"))
    kit = changed(kit, control.id, "pressed", "face", {"colour": "#E0604020"})
    down = [ENTER, Event(0.0, "press", inside=True)]
    ours = pose_at(kit, kit.control(control.id), down, 0.4).layers[-1].values.colour
    with page_on("<div id=a></div>", tmp_path) as page:
        theirs = page.evaluate("""() => {
            const moving = document.getElementById("a").animate(
              {backgroundColor: ["#102030", "#E0604020"]}, 1000);
            moving.pause(); moving.currentTime = 400;
            return getComputedStyle(moving.effect.target).backgroundColor; }""")
    red, green, blue, alpha = (float(n) for n in theirs[5:-1].split(","))
    mine = [int(ours[at : at + 2], 16) for at in (1, 3, 5, 7)]
    assert mine == pytest.approx([red, green, blue, alpha * 255], abs=1.0)


def mean_of(pose: Pose) -> np.ndarray:
    return render(look_of(pose), 1).rgba.mean(axis=(0, 1))


UNLIKE = {
    "paint": ("face", {"style": "radial"}, {"style": "linear"}),
    "plain": ("face", {}, {"style": "linear"}),
    "form": ("outline", {}, {"form": "star"}),
    "hidden": ("face", {}, {"visible": False}),
    "count": ("face", {"style": "linear"}, {"stops": [
        {"position": p, "colour": c} for p, c in ((0, "#FF0000"), (0.2, "#00FF00"), (1, "#0000FF"))
    ]}),
}


@pytest.mark.parametrize("name", UNLIKE)
def test_between_unlike_values_nothing_jumps(name: str) -> None:
    part, before, after = UNLIKE[name]
    kit, control = moving_kit(Timing(seconds=0.3, easing="linear"), **{} if part == "outline"
                              else before)
    kit = changed(kit, control.id, "hover", part, after)
    kit = changed(kit, control.id, "hover", "face", {"move": (0.0, 0.0)})
    control = kit.control(control.id)
    # Turned round on the way, then settled.
    events = [ENTER, Event(0.2, "move"), Event(0.25, "move", inside=True)]
    frames = np.array([mean_of(pose_at(kit, control, events, t / 100)) for t in range(-1, 80)])
    steps = np.abs(np.diff(frames, axis=0)).max(axis=1)
    whole = np.abs(frames[-1] - frames[0]).max()
    assert whole > 0.02 and steps.max() < whole / 8 + 0.5
    situation = motion_of(kit, control).after(ENTER).situation
    assert look_of(pose_at(kit, control, events, 2.0)) == look_of(
        motion_of(kit, control, situation=situation).still)


def discs(pose: Pose) -> list[tuple[float, float]]:
    return [(layer.values.radius, layer.values.opacity) for layer in pose.layers
            if layer.values.kind == "disc"]


def test_trails_are_the_paths_of_what_moves(demo_kit: Kit) -> None:
    way = (frozenset[str](), frozenset({"checked"}))
    kit = set_timing(demo_kit, "ramp", "checked", Timing(seconds=0.4, easing="ease-in"))
    ramp = kit.control("ramp")
    trails = {trail.part: trail.spots for trail in trails_of(change(kit, ramp, *way), 0.0, 0.4)}
    (x0, y0), (x1, y1) = trails["thumb"][0], trails["thumb"][-1]
    assert x1 - x0 > 20 and y0 == pytest.approx(y1)
    eased = easing_from_text("ease-in")
    assert [(x - x0) / (x1 - x0) for x, _ in trails["thumb"]] == pytest.approx(
        [eased.at(at / 32) for at in range(33)], abs=1e-6)
    assert "face" not in trails and "control" not in trails, "they stay where they are"

    # Turned about its middle, a corner goes round on a circle; with it go its layers.
    kit = set_answers(demo_kit, "cargo", (Twist(degrees=20),))
    kit = set_timing(kit, "cargo", "pressed", Timing(seconds=0))
    hold = kit.control("cargo")
    whole, *_ = trails_of(change(kit, hold, frozenset(), frozenset({"pressed"})), 0.01, 0.6)
    middle = [side / 2 for side in hold.size]
    assert whole.part == "control"
    assert [math.dist(spot, middle) for spot in whole.spots] == pytest.approx(
        [math.hypot(*middle)] * 33)


def test_a_touch_sets_off_what_the_control_has(demo_kit: Kit) -> None:
    """Ripples from where it is touched past the farthest corner, several at once; a press that
    springs back; all of it gone when it has settled, and nothing of it in the calm form."""
    answers = (Ripple(seconds=0.3, fade=0.2, easing="linear"), Press(scale=0.9, sink=2.0))
    kit = set_answers(demo_kit, "board", answers)
    control = kit.control("board")
    motion = motion_of(kit, control)
    for event in (*touch((0.25, 0.5), 0.0, 0.1), *touch((0.75, 0.5), 0.2, 0.4)):
        before, motion = motion, motion.after(event)
        if event.at == 0.1 and event.kind == "release":
            (radius, opacity), = discs(before.at(0.09))
            assert radius == pytest.approx(0.3 * math.hypot(126, 24)) and opacity == 1
    assert len(discs(motion.at(0.25))) == 2 and motion.at(0.25).matrix is not None
    (radius, opacity), = discs(motion.at(0.55))
    assert radius == pytest.approx(math.hypot(126, 24)) and opacity == 1  # still held down
    (_, fading), = discs(motion.at(0.7))
    assert fading == pytest.approx(0.5)
    still = motion_of(kit, control, situation=motion.situation).still
    assert motion.at(motion.ends + 1e-6) is motion.still
    assert look_of(motion.still) == look_of(still)
    scales = [m[0] for t in range(60) if (m := motion.at(t / 60).matrix) is not None]
    assert min(scales) < 0.9 < 1.0 < max(scales)  # past its goal, and back beyond rest
    names = [layer.values.id for layer in motion.at(0.25).layers]
    assert names.index("line") < names.index("ripple-0") < names.index("label")
    render(look_of(motion.at(0.25)), 1)

    calm = motion_of(kit, control, calm=True)
    for event in touch((0.5, 0.5)):
        calm = calm.after(event)
    assert not discs(calm.at(0.12)) and calm.at(0.12).matrix is None and calm.ends == 0
    again = kit_from_text(kit_to_text(kit), "again")
    assert again == kit and again.control("board").answers == answers
    for target, how in (("qtwidgets", "native"), ("web", "native"), ("sprites", "lost")):
        plans = {plan.layer: plan.how for plan in TARGETS[target].plan(kit, control)}
        assert (plans["Ripple"], plans["Press"]) == (how, how)


KINDS = ("move", "press", "release", "cancel", "key-down", "key-up", "focus", "blur", "disable",
         "enable", "busy", "idle", "wait")
HAPPENINGS = st.lists(
    st.tuples(st.sampled_from(KINDS), st.booleans(), st.floats(0.001, 0.4),
              st.sampled_from(["", "space", "enter"])), min_size=1, max_size=12)


DEMO_KIT = read_kit(DEMO)
TIMINGS = (Timing(seconds=0.2), Timing(kind="spring", seconds=0.4, bounce=0.5),
           Timing(kind="follow", seconds=0.3), Timing(seconds=0.2, delay=0.1, easing="ease-in"))


@settings(max_examples=40, deadline=None)
@given(st.sampled_from([control.id for control in DEMO_KIT.controls]), st.integers(0, 3),
       HAPPENINGS)
def test_no_timeline_makes_a_value_jump_or_stay_away(
    control_id: str, timing: int, happenings: list[tuple[str, bool, float, str]],
) -> None:
    """Of every demo control: it settles in its still pose, and what moves by a spring or an
    easing is nowhere far from where it was a moment before."""
    plain = DEMO_KIT.control(control_id).model_copy(
        update={"transition": TIMINGS[timing], "timings": {}, "swings": ()})
    motion, moment = motion_of(DEMO_KIT, plain), 0.0
    for kind, inside, later, key in happenings:
        moment += later
        before = opacities(motion.at(moment))
        motion = motion.after(Event(moment, kind, inside=inside, key=key))
        after = opacities(motion.at(moment))
        for path in before.keys() & after.keys():
            assert after[path] == pytest.approx(before[path], abs=1e-6), (kind, path)
        look_of(motion.at(moment + later / 2))
    assert math.isfinite(motion.ends)
    still = motion_of(DEMO_KIT, plain, situation=motion.situation).still
    assert look_of(motion.at(motion.ends + 1e-6)) == look_of(still)


def opacities(pose: Pose) -> dict[object, object]:
    """Numbers of every layer that is there once, by its ids."""
    paths = [path for path, _ in pose.walk()]
    return {(path, name): getattr(layer.values, name) for path, layer in pose.walk()
            for name in ("opacity", "move", "rotate", "scale")
            if paths.count(path) == 1 and layer.values.visible and layer.values.opacity > 0}
