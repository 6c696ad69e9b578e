"""The document: changes per state, refusals with their place, undo over whole kits."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from mektel.core.errors import DocumentError, MektelError, NotFoundError
from mektel.core.kit import (
    OUTLINE,
    REST,
    STATES,
    Control,
    Fill,
    History,
    Kit,
    Label,
    Line,
    Shadow,
    Stop,
    Swatch,
    edit,
    kit_from_data,
    measure_of,
    palette_edits,
    value_names,
)
from mektel.core.kit.checking import checked
from mektel.core.kit.deriving import derive
from mektel.core.kit.validated import is_validated
from mektel.formats.kitfile import kit_from_text, kit_to_text

PALETTE = (Swatch(name="tide", colour="#2F8C93"), Swatch(name="sail", colour="#FFFDF7"))
CONTROL = Control(
    id="board", name="Board", text="Board",
    layers=(
        Shadow(id="shadow", name="Shadow"),
        Fill(id="face", name="Face", style="linear"),
        Line(id="line", name="Line"),
        Label(id="label", name="Label", colour="sail"),
    ),
)
KIT = Kit(name="Ferry", palette=PALETTE, controls=(CONTROL,))

colours = st.sampled_from(["tide", "sail", "#102030", "#11223344"])
numbers = st.floats(0, 60).map(lambda value: round(value, 2))
VALUES: dict[str, dict[str, st.SearchStrategy[Any]]] = {
    "shadow": {"blur": numbers, "colour": colours, "offset": st.tuples(numbers, numbers)},
    "face": {
        "direction": numbers, "style": st.sampled_from(["solid", "linear"]), "colour": colours,
        "stops": st.lists(
            st.builds(Stop, position=st.floats(0, 1), colour=colours), min_size=2, max_size=5
        ).map(tuple),
    },
    "line": {"width": numbers, "place": st.sampled_from(["inside", "centre", "outside"])},
    "label": {"weight": st.sampled_from([400, 600, 800]), "visible": st.booleans()},
    OUTLINE: {
        "form": st.sampled_from(["box", "capsule", "ellipse"]),
        "corners": st.tuples(numbers, numbers, numbers, numbers),
    },
}


@st.composite
def value_edits(draw: st.DrawFn) -> tuple[str, str, str, Any]:
    part = draw(st.sampled_from(sorted(VALUES)))
    name = draw(st.sampled_from(sorted(VALUES[part])))
    return draw(st.sampled_from([REST, *STATES])), part, name, draw(VALUES[part][name])


@given(st.lists(value_edits(), max_size=12))
@settings(max_examples=60, deadline=None)
def test_undo_and_redo_return_the_identical_kit(edits: list[tuple[str, str, str, Any]]) -> None:
    history = History(KIT)
    seen = [KIT]
    for state, part, name, value in edits:
        kit = edit.set_value(history.kit, "board", state, part, name, value)
        if kit != history.kit:
            seen.append(kit)
        history.do(f"{part} {name}", kit)
    for kit in reversed(seen):
        assert history.kit == kit
        assert kit_to_text(history.kit) == kit_to_text(kit)
        history.undo()
    for kit in seen:
        assert history.kit == kit
        history.redo()
    assert history.redo_name is None


@given(st.lists(value_edits(), min_size=1, max_size=12))
@settings(max_examples=60, deadline=None)
def test_a_kit_survives_being_written_and_read(edits: list[tuple[str, str, str, Any]]) -> None:
    kit = KIT
    for state, part, name, value in edits:
        kit = edit.set_value(kit, "board", state, part, name, value)
    text = kit_to_text(kit)
    assert kit_from_text(text) == kit
    assert kit_to_text(kit_from_text(text)) == text


@given(value_edits())
@settings(max_examples=60, deadline=None)
def test_an_edit_shows_in_its_state_and_nowhere_else(edit_: tuple[str, str, str, Any]) -> None:
    state, part, name, value = edit_
    control = edit.set_value(KIT, "board", state, part, name, value).control("board")
    flags = {state} - {REST}
    shown = getattr(control.part_in(part, flags), name)
    if name == "stops":
        value = tuple(sorted(value, key=lambda stop: stop.position))
    assert shown == value
    if state != REST:
        assert control.part(part) == CONTROL.part(part)
        same = value == getattr(CONTROL.part(part), name)
        assert control.count_changes(state) == (0 if same else 1)


def test_later_states_win_where_several_hold() -> None:
    kit = KIT
    for state, width in (("pressed", 4.0), ("focus", 2.0), ("hover", 3.0)):
        kit = edit.set_value(kit, "board", state, "line", "width", width)
    kit = edit.set_value(kit, "board", "focus", "line", "gap", 5.0)
    control = kit.control("board")
    together = control.part_in("line", {"hover", "focus", "pressed"})
    assert (together.width, together.gap) == (4.0, 5.0)
    assert control.part_in("line", {"focus", "hover"}).width == 3.0


def test_back_to_rest_by_value_by_layer_and_whole() -> None:
    kit = edit.set_value(KIT, "board", "hover", "line", "width", 4.0)
    kit = edit.set_value(kit, "board", "hover", "line", "gap", 2.0)
    kit = edit.set_value(kit, "board", "hover", "face", "direction", 90.0)
    one = edit.clear_changes(kit, "board", "hover", "line", "width").control("board")
    assert one.changes("hover") == {"line": {"gap": 2.0}, "face": {"direction": 90.0}}
    layer = edit.clear_changes(kit, "board", "hover", "line").control("board")
    assert layer.changes("hover") == {"face": {"direction": 90.0}}
    assert edit.clear_changes(kit, "board", "hover") == KIT


def test_a_drag_is_one_step_and_a_new_step_ends_redo() -> None:
    history = History(KIT)
    for width in (2.0, 3.0, 4.0):
        kit = edit.set_value(history.kit, "board", REST, "line", "width", width)
        history.do("line width", kit, merge_key="drag")
    history.close_step()
    history.do("line gap", edit.set_value(history.kit, "board", REST, "line", "gap", 1.0), "drag")
    assert history.undo_name == "line gap"
    history.undo()
    assert (history.undo_name, history.redo_name) == ("line width", "line gap")
    assert history.undo() == KIT
    history.do("text", edit.set_field(KIT, "board", "text", "Go"))
    assert history.redo_name is None


def test_layers_keep_their_changes_when_moved_and_copied_and_lose_them_when_removed() -> None:
    kit = edit.set_value(KIT, "board", "hover", "face", "direction", 90.0)
    moved = edit.move_layer(kit, "board", "face", 99).control("board")
    assert [layer.id for layer in moved.layers] == ["shadow", "line", "label", "face"]
    assert moved.part_in("face", {"hover"}).direction == 90.0
    copied = edit.copy_layer(kit, "board", "face").control("board")
    assert [layer.id for layer in copied.layers][1:3] == ["face", "face-copy"]
    assert copied.part_in("face-copy", {"hover"}).direction == 90.0
    assert edit.remove_layer(kit, "board", "face").control("board").states == {}
    renamed = edit.rename_layer(kit, "board", "face", "Front").control("board")
    assert renamed.layer("face").name == "Front"


def test_a_new_control_brings_its_palette_without_disturbing_ours() -> None:
    other = (Swatch(name="tide", colour="#FF0000"), Swatch(name="lamp", colour="#E5A43B"))
    newcomer = Control(
        id="board", name="Board", layers=(
            Fill(id="face", name="Face", colour="tide"), Line(id="line", name="L", colour="lamp"),
        ),
    )
    kit = edit.add_control(KIT, newcomer, other)
    assert [control.id for control in kit.controls] == ["board", "board-2"]
    assert kit.colour("tide") == "#2F8C93"
    assert kit.controls[1].layer("face").colour == "#FF0000"  # type: ignore[union-attr]
    assert kit.colour(kit.controls[1].layer("line").colour) == "#E5A43B"  # type: ignore[union-attr]
    assert kit_from_data(kit.model_dump()) == kit
    assert edit.remove_control(edit.copy_control(kit, "board"), "board-copy") == kit
    changed = palette_edits.set_swatch(kit, "tide", "#010203")
    changed = palette_edits.set_swatch(changed, "fog", "#AABBCC")
    assert (changed.colour("tide"), changed.colour("fog")) == ("#010203", "#AABBCC")


def _with(path: list[Any], value: Any) -> dict[str, Any]:
    """The kit as plain data, with one value put in somewhere."""
    data = KIT.model_dump(mode="json", context="whole")
    at: Any = data
    for step in path[:-1]:
        at = at[step]
    at[path[-1]] = value
    return data


LAYERS = ["controls", 0, "layers"]


@pytest.mark.parametrize(("data", "place", "reason"), [
    ([], "", "must be an object"),
    ({}, "format", "missing"),
    (_with(["format"], 7), "format", "Open it with a newer Mektel"),
    (_with(["colour"], "x"), "colour", "Extra inputs"),
    (_with([*LAYERS, 2, "width"], -1), "controls[0].layers[2].width", "greater than"),
    (_with([*LAYERS, 0, "blur"], "much"), "controls[0].layers[0].blur", "valid number"),
    (_with([*LAYERS, 1, "stops"], []), "controls[0].layers[1].stops", "at least 2"),
    (_with([*LAYERS, 1, "stops", 0, "colour"], "#12"), "controls[0].layers[1].stops[0].colour",
     "neither #RRGGBB"),
    (_with([*LAYERS, 3, "colour"], "mist"), "controls[0].layers[3].colour", "no palette colour"),
    (_with([*LAYERS, 0, "kind"], "haze"), "controls[0].layers[0]", "haze"),
    (_with([*LAYERS, 0, "id"], "face"), "controls[0]", "used twice"),
    (_with([*LAYERS, 0, "id"], OUTLINE), "controls[0]", "reserved"),
    (_with(["controls", 0, "name"], " "), "controls[0].name", "empty"),
    (_with(["controls", 0, "name"], "a\nb"), "controls[0].name", "line breaks"),
    (_with(["controls", 0, "id"], "../x"), "controls[0].id", "lower-case"),
    (_with(["controls", 0, "size"], [1e9, 40]), "controls[0].size[0]", "less than"),
    (_with(["controls", 0, "size"], [float("inf"), 40]), "controls[0].size[0]", "finite"),
    (_with(["palette", 0, "colour"], "sail"), "palette[0]", "must be #RRGGBB"),
    (_with(["palette", 1, "name"], "tide"), "", "used twice"),
    (_with(["controls", 0, "states"], {"hover": {"nose": {"width": 1}}}), "controls[0]",
     "which is not a layer"),
    (_with(["controls", 0, "states"], {"hover": {"line": {"id": "x"}}}), "controls[0]",
     "no value “id”"),
    (_with(["controls", 0, "states"], {"hover": {"line": {"width": -2}}}), "controls[0]",
     "line.width"),
    (_with(["controls", 0, "states"], {"sleepy": {}}), "controls[0].states.sleepy", "focus"),
])
def test_a_broken_kit_is_refused_with_place_and_reason(data: Any, place: str, reason: str) -> None:
    with pytest.raises(DocumentError) as caught:
        kit_from_data(data)
    assert caught.value.place.startswith(place)
    assert reason in caught.value.reason


def test_values_cannot_be_changed_in_place_and_limits_are_told() -> None:
    with pytest.raises(ValidationError):
        CONTROL.name = "Other"  # type: ignore[misc]
    with pytest.raises(DocumentError, match="width"):
        edit.set_value(KIT, "board", "hover", "line", "width", -3)
    with pytest.raises(NotFoundError, match="Available: board"):
        KIT.control("bored")
    assert KIT.control("BOARD") is CONTROL
    assert measure_of(Line, "width").unit == "px"
    assert measure_of(type(CONTROL.outline), "corners").low == 0
    with pytest.raises(KeyError):
        measure_of(Fill, "style")
    assert "kind" not in value_names(Fill)


def test_what_was_validated_as_a_whole_is_not_validated_twice(demo_kit: Kit) -> None:
    kit = derive(demo_kit, "board", "Second", "second")
    second = kit.controls[-1].id
    kit = edit.set_field(kit, second, "text", "Two")
    changed = edit.set_value(kit, "board", "rest", "face", "opacity", 0.5)
    derived = changed.control(second)
    assert derived.layer("face").opacity == 0.5 and is_validated(derived)
    assert checked(changed, kit).control(second) is derived
    # One that is only equal, or made from it without a check, does not count.
    assert not is_validated(derived.model_copy())
    broken = derived.model_copy(update={"text": "x" * 5000})
    bad = changed.model_copy(update={"controls": (*changed.controls[:-1], broken)})
    with pytest.raises(MektelError):
        checked(bad, changed)
