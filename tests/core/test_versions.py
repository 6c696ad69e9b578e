"""Two versions of a kit: which controls differ, and in what."""

from __future__ import annotations

from mektel.core.kit import Kit, edit, state_edits
from mektel.core.kit.control import CONTROL
from mektel.core.kit.parameter_edits import set_formula
from mektel.core.kit.versions import DiffersIn, differing, differing_besides
from mektel.formats.kitfile import kit_from_text, kit_to_text


def where(mine: Kit, theirs: Kit, control_id: str = "cargo") -> set[tuple[str, str, str]]:
    """In what a control differs, which neither version lacks."""
    (entry,) = (entry for entry in differing(mine, theirs)
                if entry.mine is not None and entry.mine.id == control_id)
    assert entry.theirs is not None
    return set(entry.where)


def test_a_kit_that_was_saved_and_read_does_not_differ(demo_kit: Kit) -> None:
    again = kit_from_text(kit_to_text(demo_kit))
    assert differing(demo_kit, again) == [] and differing_besides(demo_kit, again) == []


def test_each_value_is_named_with_its_state_and_part(demo_kit: Kit) -> None:
    kit = edit.set_value(demo_kit, "cargo", "rest", "line", "width", 7.0)
    kit = edit.set_value(kit, "cargo", "pressed", "label", "opacity", 0.25)
    kit = edit.set_value(kit, "cargo", "rest", "outline", "corners", (1.0,) * 4)
    kit = edit.rename_layer(kit, "cargo", "face", "Cheek")
    kit = edit.set_field(edit.set_field(kit, "cargo", "text", "Hold"), "cargo", "size", (90, 40))
    assert where(demo_kit, kit) == where(kit, demo_kit) == {
        ("rest", "line", "width"), ("pressed", "label", "opacity"), ("rest", "outline", "corners"),
        ("rest", "face", "name"), ("rest", CONTROL, "text"), ("rest", CONTROL, "size")}


def test_formulas_links_layers_and_their_order_count(demo_kit: Kit) -> None:
    driven = set_formula(demo_kit, "cargo", "rest", "face", "opacity", "0.5")
    assert DiffersIn("rest", CONTROL, "formulas") in where(demo_kit, driven)
    linked = state_edits.link_state(demo_kit, "cargo", "focus", "hover")
    assert DiffersIn("rest", CONTROL, "links") in where(demo_kit, linked)
    assert where(demo_kit, edit.move_layer(demo_kit, "cargo", "face", 2)) == {
        ("rest", CONTROL, "order")}
    more = edit.add_layer(demo_kit, "cargo", "glow", "Halo")
    assert where(demo_kit, more) == {("rest", "halo", "")}
    other = edit.add_layer(edit.remove_layer(demo_kit, "cargo", "line"), "cargo", "fill", "Line")
    assert ("rest", "line", "") in where(demo_kit, other)  # of the same id, but another kind


def test_controls_of_one_version_and_the_palette(demo_kit: Kit) -> None:
    theirs = edit.rename_kit(edit.remove_control(demo_kit, "cargo"), "Night ferry")
    theirs = edit.copy_control(theirs, "horn")
    (gone, new) = differing(demo_kit, theirs)
    assert gone.theirs is None and gone.mine is not None and gone.mine.id == "cargo"
    assert new.mine is None and new.theirs is not None and new.where == ()
    assert differing_besides(demo_kit, theirs) == ["name"]
    swatch = demo_kit.palette[0].model_copy(update={"colour": "#123456"})
    painted = demo_kit.model_copy(update={"palette": (swatch, *demo_kit.palette[1:])})
    assert differing(demo_kit, painted) == [] and differing_besides(demo_kit, painted) == [
        "palette"]
