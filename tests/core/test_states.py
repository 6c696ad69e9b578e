"""States: which condition wins, following and copying, deriving, and how a control behaves."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mektel.core.errors import DocumentError
from mektel.core.kit import (
    STATES,
    Control,
    Fill,
    Kit,
    Label,
    Shadow,
    Swatch,
    combined_states,
    condition_of,
    deriving,
    edit,
    parse_flags,
    shown_states,
    state_edits,
)
from mektel.core.kit.conditions import rank
from mektel.core.look import resolve, settle, settled
from mektel.core.proof import findings
from mektel.formats.kitfile import kit_from_text, kit_to_text

KIT = Kit(
    palette=(Swatch(name="tide", colour="#2F8C93"),),
    controls=(Control(
        id="ramp", name="Ramp", behaviour="two-position", text="Ramp", layers=(
            Shadow(id="shadow", name="Shadow"), Fill(id="face", name="Face", colour="tide"),
            Label(id="label", name="Label"))),))
conditions = st.sets(st.sampled_from(STATES), min_size=1, max_size=3).map(condition_of)
colours = st.integers(0, 0xFFFFFF).map(lambda number: f"#{number:06X}")


def face_of(kit: Kit, flags: frozenset[str] | set[str]) -> str:
    control = settled(kit, kit.control("ramp"))
    return str(control.part_in("face", flags).colour)


@given(st.dictionaries(conditions, colours, max_size=8), st.sets(st.sampled_from(STATES)))
@settings(max_examples=120, deadline=None)
def test_of_the_conditions_that_hold_the_highest_wins(
    changes: dict[str, str], held: set[str]
) -> None:
    kit = KIT
    for condition, colour in changes.items():
        kit = edit.set_value(kit, "ramp", condition, "face", "colour", colour)
    holding = [one for one in changes if parse_flags(one) <= held]
    # Said a second way: more states first, then the latest state that only one of the two has.
    def beats(one: str, other: str) -> bool:
        a, b = parse_flags(one), parse_flags(other)
        if len(a) != len(b):
            return len(a) > len(b)
        return STATES.index(max(a - b, key=STATES.index)) > STATES.index(
            max(b - a, key=STATES.index)) if a != b else False

    winners = [one for one in holding if not any(beats(other, one) for other in holding)]
    wanted = changes[winners[0]] if winners else "tide"
    control = kit.control("ramp")
    assert len(winners) <= 1 and face_of(kit, held) == wanted
    assert control.origin("face", "colour", held) == (winners[0] if winners else "rest")
    assert kit_from_text(kit_to_text(kit)) == kit
    assert sorted(changes, key=rank) == [c for c, _ in __import__(
        "mektel.core.kit.conditions", fromlist=["in_order"]).in_order(tuple(changes))]


@given(colours, colours, colours)
@settings(max_examples=40, deadline=None)
def test_a_link_follows_and_a_copy_does_not(first: str, second: str, third: str) -> None:
    kit = edit.set_value(KIT, "ramp", "pressed", "face", "colour", first)
    linked = state_edits.link_state(kit, "ramp", "focus", "pressed")
    linked = state_edits.link_state(linked, "ramp", "hover", "focus")
    copied = state_edits.copy_state(kit, "ramp", "pressed", "checked+hover")
    both = [edit.set_value(one, "ramp", "pressed", "face", "colour", second)
            for one in (linked, copied)]
    assert face_of(both[0], {"focus"}) == face_of(both[0], {"hover"}) == second
    assert face_of(both[1], {"checked", "hover"}) == first
    # An edit in a state that follows takes a copy first, and changes that alone.
    own = edit.set_value(both[0], "ramp", "focus", "label", "colour", third)
    assert "focus" not in own.control("ramp").links
    later = edit.set_value(own, "ramp", "pressed", "face", "colour", third)
    assert face_of(later, {"focus"}) == second and face_of(later, {"hover"}) == second
    assert face_of(later, {"pressed"}) == third
    assert kit_from_text(kit_to_text(linked)) == linked


def test_no_look_on_purpose_rings_and_clearing() -> None:
    kit = edit.set_value(KIT, "ramp", "hover", "face", "colour", "#112233")
    bare = state_edits.link_state(kit, "ramp", "hover", "rest")
    assert face_of(bare, {"hover"}) == "tide" and bare.control("ramp").links == {"hover": "rest"}
    ringed = state_edits.link_state(bare, "ramp", "pressed", "focus")
    with pytest.raises(DocumentError, match="ring"):
        state_edits.link_state(ringed, "ramp", "focus", "pressed")
    with pytest.raises(DocumentError, match="rest"):
        state_edits.link_state(kit, "ramp", "rest", "hover")
    assert edit.clear_changes(bare, "ramp", "hover").control("ramp").links == {}
    one = state_edits.copy_state(kit, "ramp", "hover", "pressed", "face")
    assert one.control("ramp").changes("pressed") == {"face": {"colour": "#112233"}}
    assert edit.clear_changes(one, "ramp", "pressed", "face").control("ramp").states.keys() == {
        "hover"}


def test_derived_states_follow_rest_and_leave_the_label() -> None:
    kit = KIT
    for state, how in (("hover", "lighter"), ("pressed", "darker"), ("disabled", "washed out")):
        kit = state_edits.derive_state(kit, "ramp", state, how)
    before = {state: face_of(kit, {state}) for state in ("hover", "pressed", "disabled")}
    assert len({*before.values(), "#2F8C93"}) == 4
    kit = edit.set_value(kit, "ramp", "rest", "face", "colour", "#B8472A")
    after = {state: face_of(kit, {state}) for state in before}
    assert all(before[state] != after[state] for state in before)
    assert "label" not in kit.control("ramp").formulas["hover"]
    # A colour given by hand takes the formula's place, in that state only.
    kit = edit.set_value(kit, "ramp", "hover", "face", "colour", "#000001")
    assert face_of(kit, {"hover"}) == "#000001" and face_of(kit, {"pressed"}) == after["pressed"]
    assert not settle(kit, kit.control("ramp")).problems


def test_behaviours_say_which_states_there_are() -> None:
    assert shown_states("push") == ("rest", "hover", "pressed", "focus", "disabled")
    assert "checked+disabled" in shown_states("two-position") and "busy" in shown_states("busy")
    assert frozenset({"busy", "pressed"}) not in combined_states("busy")
    assert all(held <= {"disabled", "checked"} for held in combined_states("group")
               if "disabled" in held)
    kit = edit.set_value(KIT, "ramp", "checked", "face", "colour", "#000001")
    pushed = state_edits.set_behaviour(kit, "ramp", "push")
    assert state_edits.unreachable(pushed.control("ramp")) == ["checked"]
    assert state_edits.set_behaviour(pushed, "ramp", "two-position") == kit
    looks: list[Any] = [resolve(kit, kit.control("ramp"), flags) for flags in ((), {"checked"})]
    assert looks[0] != looks[1]


def test_what_derives_keeps_its_differences_and_follows_the_rest() -> None:
    kit = deriving.derive(KIT, "ramp", "Ramp, night", "night")
    kit = deriving.derive(kit, "night", "Ramp, late", "late")
    kit = edit.set_value(kit, "night", "rest", "face", "colour", "#101010")
    kit = edit.set_value(kit, "night", "checked+hover", "label", "size", 20.0)
    kit = edit.add_layer(kit, "late", "glow", "Halo")
    text = kit_to_text(kit)
    stored = json.loads(text)["controls"]
    assert stored[1] == {"id": "night", "name": "Ramp, night", "base": "ramp", "differs": {
        "layers": {"face": {"colour": "#101010"}},
        "states": {"checked+hover": {"label": {"size": 20}}}}}
    assert "shadow" not in json.dumps(stored[2]["differs"]["layers"])
    assert kit_from_text(text) == kit and kit_to_text(kit_from_text(text)) == text
    # A change of the base reaches both, but where one differs.
    kit = edit.set_value(kit, "ramp", "rest", "face", "colour", "#ABCDEF")
    kit = edit.set_value(kit, "ramp", "rest", "shadow", "blur", 33.0)
    night, late = kit.control("night"), kit.control("late")
    assert night.part("face").colour == late.part("face").colour == "#101010"
    assert night.part("shadow").blur == late.part("shadow").blur == 33.0
    assert late.part_in("label", {"checked", "hover"}).size == 20.0 and late.layer("halo")
    # What a derived one took away stays away, also once the base has nothing there.
    kit = edit.set_value(kit, "ramp", "pressed", "face", "colour", "#010101")
    kit = edit.clear_changes(kit, "night", "pressed")
    kit = edit.clear_changes(kit, "ramp", "pressed")
    assert not kit.control("night").changes("pressed")
    kit = edit.remove_layer(kit, "ramp", "label")
    assert [layer.id for layer in kit.control("late").layers] == ["shadow", "face", "halo"]
    with pytest.raises(DocumentError, match="itself"):
        deriving.set_base(kit, "ramp", "late")
    gone = edit.remove_control(kit, "ramp")
    assert [one.place.control for one in findings(gone)] == ["night"]
    assert kit_from_text(kit_to_text(gone)) == gone
    alone = json.loads(text)
    del alone["controls"][0]
    assert [one.place.control for one in findings(kit_from_text(json.dumps(alone)))] == ["night"]
