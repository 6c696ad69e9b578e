"""Handles: what is dragged on a picture lands where it was let go."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mektel.core.kit import OUTLINE, Control, ControlOutline, Fill, Kit, Stop, edit
from mektel.core.look.handles import Box, dragged, handles, paint_box, position_on_line, snapped
from mektel.core.slices import control_insets

STOPS = tuple(Stop(position=at / 2, colour="#101010") for at in range(3))


def built(**fill: object) -> tuple[Kit, Control]:
    control = Control(id="x", name="X", size=(160, 60),
                                              outline=ControlOutline(corners=(10,) * 4), layers=(
        Fill(id="f", name="F", stops=STOPS, **fill),))  # type: ignore[arg-type]
    return Kit(controls=(control,)), control


FILLS = [
    {"style": "linear"}, {"style": "linear", "direction": 37}, {"style": "linear", "expand": -3,
                                                           "ends": (0.1, 0.2, 0.9, 0.7)},
    {"style": "radial", "centre": (0.3, 0.4)}, {"style": "conic", "direction": 70},
    {"rotate": 20, "pivot": (0.2, 0.3)},
]
spots = st.tuples(st.integers(20, 140), st.integers(8, 52))


@pytest.mark.parametrize("fill", FILLS)
@settings(max_examples=25, deadline=None)
@given(spot=spots)
def test_a_handle_stays_where_it_is_let_go(fill: dict, spot: tuple[int, int]) -> None:
    kit, control = built(**fill)
    for handle in handles(kit, control, "rest", "f"):
        found = dragged(kit, control, "rest", "f", handle.id, *spot)
        moved = edit.set_value(kit, "x", "rest", "f", found.name, found.value)
        # What is turned upright keeps its handle while it is turned.
        after = next(one for one in handles(
            moved, moved.control("x"), "rest", "f", found.name == "rotate") if one.id == handle.id)
        box = paint_box(moved.control("x"), "rest", "f")
        if handle.kind in ("end", "centre"):
            x = spot[0] if handle.id != "reach-y" else after.x
            y = spot[1] if handle.id != "reach-x" else after.y
            assert abs(after.x - x) < 0.6 or handle.id == "reach-x"
            assert abs(after.y - y) < 0.6 or handle.id == "reach-y"
        elif handle.kind == "stop":
            stops = moved.control("x").layer("f").stops
            assert list(stops) == sorted(stops, key=lambda one: one.position)
        elif handle.kind == "light":
            # It points at the spot, to half a degree.
            assert 0 <= found.value < 360
    assert box.width > 0


def test_corners_move_together_or_alone() -> None:
    kit, control = built()
    assert dragged(kit, control, "rest", OUTLINE, "radius-2", 140, 40).value == (20,) * 4
    alone = dragged(kit, control, "rest", OUTLINE, "radius-2", 140, 40, alone=True)
    assert alone.value == (10, 10, 20, 10)
    assert dragged(kit, control, "rest", OUTLINE, "radius-0", 500, 500).value == (30,) * 4
    assert dragged(kit, control, "rest", OUTLINE, "padding-x", 24, 0).value == (24, 8)


def test_a_direction_turns_in_steps_when_asked() -> None:
    kit, control = built(style="conic")
    plain = dragged(kit, control, "rest", "f", "direction", 120, 20).value
    coarse = dragged(kit, control, "rest", "f", "direction", 120, 20, coarse=True).value
    assert plain == 76 and coarse == 75


def test_what_the_content_lays_out_is_dragged_from_where_it_stands(demo_kit: Kit) -> None:
    for name, part in (("fare", "icon"), ("fare", "label"), ("queue", "tally")):
        kit, control = demo_kit, demo_kit.control(name)
        handle = next(one for one in handles(kit, control, "rest", part) if one.id == "move")
        spot = (handle.x + 12, handle.y - 5)
        found = dragged(kit, control, "rest", part, "move", *spot)
        kit = edit.set_value(kit, name, "rest", part, "move", found.value)
        after = next(one for one in handles(kit, kit.control(name), "rest", part)
                     if one.id == "move")
        assert (after.x, after.y) == pytest.approx(spot, abs=0.11)
        assert "position" not in [one.id for one in handles(kit, kit.control(name), "rest", part)]


def test_points_snap_to_edges_middles_and_whole_px() -> None:
    box = Box(0, 0, 160, 60)
    assert snapped(79.4, 12.3, box, 1) == ((80, 12), [("x", 80.0)])
    assert snapped(0.6, 59.5, box, 1) == ((0, 60), [("x", 0), ("y", 60)])
    assert position_on_line(built(style="linear")[1].layer("f"), box, 90, 15) == (0.25, 10)


def test_insets_are_computed_and_can_be_set_by_hand() -> None:
    """A gradient along the height stretches; round corners keep their form."""
    kit, control = built(style="linear")
    found = control_insets(kit, control)
    assert 9 <= found.left <= 12 and found.left == found.right and not found.by_hand
    assert found.smallest[0] == found.left + found.right + 1
    kit = edit.set_field(kit, "x", "slices", (20, 5, 20, 5))
    by_hand = control_insets(kit, kit.control("x"))
    assert by_hand.by_hand and by_hand.smallest == (41, 11)
