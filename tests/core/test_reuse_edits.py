"""Any sequence of the edits of Reuse: undone to the identical kit, written and read, looks kept."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mektel.core.errors import MektelError
from mektel.core.kit import (
    Control,
    Fill,
    History,
    Kit,
    Label,
    Line,
    PaletteValue,
    Parameter,
    Shadow,
    Stop,
    Swatch,
    Variation,
    deriving,
    edit,
    palette_edits,
    parameter_edits,
    state_edits,
    timing_edits,
)
from mektel.core.kit.answers import Press
from mektel.core.kit.checking import checked
from mektel.core.kit.timing import Timing
from mektel.core.look import resolve, settle
from mektel.formats.kitfile import kit_from_text, kit_to_text
from mektel.formats.tokens import tokens_from_text, tokens_to_text, with_tokens

STATES = ("hover", "pressed", "focus", "disabled", "checked", "checked+hover", "hover+pressed")
FORMULAS = ("darken(rest, 0.1)", "tide", "mix(tide, sail, 0.4)", "readable_on(tide)", "#", "nope")
KIT = Kit(
    palette=(Swatch(name="tide", colour="#237A82"), Swatch(name="sail", colour="#FFFDF7")),
    controls=(Control(
        id="ramp", name="Ramp", behaviour="two-position", text="Ramp", layers=(
            Shadow(id="shadow", name="Shadow"), Line(id="line", name="Line", colour="tide"),
            Fill(id="face", name="Face", style="linear", stops=(
                Stop(position=0, colour="tide"), Stop(position=1, colour="#101010"))),
            Label(id="label", name="Label", colour="sail"))),))
states, others = st.sampled_from(STATES), st.sampled_from(("rest", *STATES))
Step = Callable[[Kit], Kit]


def steps() -> st.SearchStrategy[Step]:
    """One edit of any kind; some of them will be refused."""
    ids = st.sampled_from(["ramp", "ramp-2"])
    colours = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06X}")
    names = st.sampled_from(["brisk", "gentle"])
    timings = st.builds(Timing, kind=st.sampled_from(["spring", "follow"]),
                        seconds=st.sampled_from([0.1, 0.4]))
    return st.one_of(
        st.builds(lambda i, s, c: lambda kit: edit.set_value(kit, i, s, "line", "colour", c),
                  ids, others, colours),
        st.builds(lambda i, s, o: lambda kit: state_edits.link_state(kit, i, s, o),
                  ids, states, others),
        st.builds(lambda i, s: lambda kit: state_edits.unlink_state(kit, i, s), ids, states),
        st.builds(lambda i, s, o: lambda kit: state_edits.copy_state(kit, i, s, o),
                  ids, states, states),
        st.builds(lambda i, s, h: lambda kit: state_edits.derive_state(kit, i, s, h), ids, states,
                  st.sampled_from(list(state_edits.DERIVATIONS))),
        st.builds(lambda i, s: lambda kit: edit.clear_changes(kit, i, s), ids, states),
        st.builds(lambda i, s, f: lambda kit: parameter_edits.set_formula(
            kit, i, s, "line", "colour", f), ids, others, st.sampled_from(FORMULAS)),
        st.builds(lambda i, s, p: lambda kit: parameter_edits.lift(kit, i, s, *p)[0], ids, others,
                  st.sampled_from([("line", "width"), ("face", "stops.0.colour"),
                                   ("outline", "corners"), ("label", "size"), ("face", "stops")])),
        st.builds(lambda i: lambda kit: parameter_edits.remove_parameter(
            kit, i, kit.control(i).parameters[0].name if kit.control(i).parameters else "x"), ids),
        st.builds(lambda a, b: lambda kit: palette_edits.rename(kit, a, b),
                  st.sampled_from(["tide", "sail", "buoy"]), st.sampled_from(["buoy", "tide"])),
        st.builds(lambda c: lambda kit: palette_edits.set_swatch(kit, "tide", c), colours),
        st.just(lambda kit: deriving.derive(kit, "ramp", "Ramp 2", "ramp-2")
                if len(kit.controls) < 2 else edit.remove_layer(kit, "ramp", "shadow")),
        st.builds(lambda k: lambda kit: state_edits.set_behaviour(kit, "ramp", k),
                  st.sampled_from(["push", "two-position", "busy"])),
        # Looks held in either way, so in rings, too; by states; and lost again.
        st.builds(lambda i, j: lambda kit: edit.add_layer(kit, i, "look", "Held", control=j),
                  ids, ids),
        st.builds(lambda i, s, v: lambda kit: edit.set_value(kit, i, s, "held", *v), ids, others,
                  st.sampled_from([("position", (0.9, 0.1)), ("control", "ramp"), ("rotate", 30.0),
                                   ("shows", "pressed"), ("opacity", 0.5), ("visible", False)])),
        st.builds(lambda i, s, n: lambda kit: edit.set_value(
            kit, i, s, "outline", "content_offset", (0.0, n)), ids, others, st.floats(-4, 4)),
        st.just(lambda kit: edit.remove_control(kit, "ramp-2")),
        # Timings that follow the palette, by names that come, change and go.
        st.builds(lambda n, t: lambda kit: palette_edits.set_palette_value(
            kit, PaletteValue(name=n, type="timing", value=t)), names, timings),
        st.builds(lambda i, s, n: lambda kit: checked(
            timing_edits.set_timing(kit, i, s, Timing(named=n)), kit), ids, others, names),
        st.builds(lambda i, n: lambda kit: checked(timing_edits.set_answers(
            kit, i, (Press(timing=Timing(named=n)),)), kit), ids, names),
        st.builds(lambda a, b: lambda kit: palette_edits.rename(kit, a, b), names, names),
        st.builds(lambda n: lambda kit: palette_edits.remove(kit, n), names),
    )


@given(st.lists(steps(), max_size=14))
@settings(max_examples=70, deadline=None)
def test_undo_returns_the_identical_kit_and_files_keep_it(edits: list[Step]) -> None:
    history, seen = History(KIT), [KIT]
    for number, step in enumerate(edits):
        try:
            kit = step(history.kit)
        except MektelError:
            continue
        if kit != history.kit:
            seen.append(kit)
        history.do(f"step {number}", kit)
        text = kit_to_text(kit)
        assert kit_from_text(text) == kit and kit_to_text(kit_from_text(text)) == text
        for control in kit.controls:
            for flags in ((), {"checked", "hover"}, {"disabled"}):
                resolve(kit, control, flags)  # whatever was done, it can be drawn
    for kit in reversed(seen):
        assert history.kit == kit
        history.undo()
    for kit in seen:
        assert history.kit == kit
        history.redo()


@given(st.lists(steps(), max_size=8), st.sampled_from(["harbour", "deep-water"]))
@settings(max_examples=40, deadline=None)
def test_a_new_name_changes_no_look(edits: list[Step], name: str) -> None:
    kit = KIT
    for step in edits:
        try:
            kit = step(kit)
        except MektelError:
            continue
    old = kit.palette[0].name
    if palette_edits.users_of(kit, old):
        new = palette_edits.rename(kit, old, name)
        assert not palette_edits.users_of(new, old)
        for one, other in zip(kit.controls, new.controls, strict=True):
            for flags in ((), {"hover"}, {"pressed", "hover"}, {"checked"}, {"disabled"}):
                assert resolve(kit, one, flags) == resolve(new, other, flags)


def test_named_timings_go_with_their_control_into_another_kit(demo_kit: Kit) -> None:
    spring = PaletteValue(name="brisk", type="timing", value=Timing(kind="spring", seconds=0.3))
    kit = palette_edits.set_palette_value(demo_kit, spring)
    kit = timing_edits.set_timing(kit, "board", "pressed", Timing(named="brisk"))
    kit = timing_edits.set_answers(kit, "board", (Press(timing=Timing(named="brisk")),))
    board = checked(kit, demo_kit).control("board")
    assert board.answers[0].timing == spring.value.model_copy(update={"named": "brisk"})
    moved = edit.add_control(Kit(), board, kit.palette, kit.values)
    assert moved.values == (spring,), "and nothing else that it does not need"
    assert moved.controls[0].answers == board.answers
    other = palette_edits.set_palette_value(Kit(), spring.model_copy(
        update={"value": Timing(seconds=2.0)}))
    moved = edit.add_control(other, board, kit.palette, kit.values)
    assert moved.controls[0].answers[0].timing == spring.value and moved.values == other.values
    again = with_tokens(Kit(), tokens_from_text(tokens_to_text(moved)))
    assert [entry.value for entry in again.values] == [Timing(seconds=2.0)]
    tokens = tokens_from_text(tokens_to_text(Kit(values=(spring,))))
    assert tokens.values[0].value == spring.value and not tokens.leftovers
    with pytest.raises(MektelError, match="no palette timing “gone”"):
        kit_from_text(kit_to_text(kit).replace('"named": "brisk"', '"named": "gone"'))


def test_variations_keep_their_arguments_through_names_and_removals() -> None:
    kit, name = parameter_edits.lift(KIT, "ramp", "rest", "line", "width")
    kit = parameter_edits.set_variations(kit, "ramp", (
        Variation(name="Bold", arguments={name: 6.0}), Variation(name="Said", text="Down")))
    kit = parameter_edits.set_parameter(kit, "ramp", name, name="thickness", min=0.0, max=9.0)
    assert kit.control("ramp").variations[0].arguments == {"thickness": 6.0}
    control = kit.control("ramp")
    bold = settle(kit, control, arguments=control.variations[0].arguments).control
    assert bold.part("line").width == 6.0
    kit = parameter_edits.set_argument(kit, "ramp", 1, "text", "Up")
    kit = parameter_edits.set_argument(kit, "ramp", 0, "thickness", None)
    assert [(v.text, v.arguments) for v in kit.control("ramp").variations] == [
        (None, {}), ("Up", {})]
    kit = parameter_edits.add_parameter(kit, "ramp", Parameter(name="tone", default="tide"))
    kit = palette_edits.rename(kit, "tide", "harbour")
    assert kit.control("ramp").parameters[1].default == "harbour"
    kit = parameter_edits.remove_parameter(kit, "ramp", "thickness")
    assert [parameter.name for parameter in kit.control("ramp").parameters] == ["tone"]
