"""A control that holds the look of another: it is drawn as that one is by itself."""

from __future__ import annotations

import numpy as np
import pytest

from mektel.core.kit import (
    Control,
    ControlOutline,
    EmbeddedLook,
    Fill,
    Kit,
    Label,
    edit,
    palette_edits,
    parameter_edits,
    shown_states,
)
from mektel.core.kit.content import Content
from mektel.core.look import (
    Margins,
    embeddable,
    natural_size,
    parse_flags,
    pose,
    problems_of,
    resolve,
    settled,
)
from mektel.core.paint import render, render_layer
from mektel.core.proof import findings, label_contrast
from mektel.formats.kitfile import kit_from_text, kit_to_text, read_kit
from mektel.samples import DEMO

ROOM = 40


def host(kit: Kit, *layers: object, **fields: object) -> tuple[Kit, Control]:
    one = Control(**{"id": "host", "name": "Holder", "size": (300, 140), "layers": layers,
                     **fields})
    return kit.model_copy(update={"controls": (*kit.controls, one)}), one


def held(name: str, **values: object) -> EmbeddedLook:
    return EmbeddedLook(id="held", name="Held", control=name, **values)


def pixels(kit: Kit, control: Control, state: str, room: Margins | None = None,
           size: tuple[float, float] | None = None) -> np.ndarray:
    look = resolve(kit, control, parse_flags(state), size)
    return render(look, 2, room or Margins(*[ROOM] * 4)).rgba.astype(int)


@pytest.mark.parametrize("one", read_kit(DEMO).controls, ids=lambda one: one.id)
def test_it_looks_as_by_itself_in_every_state(demo_kit: Kit, one: Control) -> None:
    kit, outer = host(demo_kit, held(one.id))
    width, height = natural_size(one, kit=kit)
    # An even distance on both sides keeps the embedded box on whole pixels.
    across, down = width + 2 * ROOM, height + 2 * ROOM
    kit, outer = edit.set_field(kit, "host", "size", (across, down)), outer
    outer = kit.control("host")
    for state in shown_states(one.behaviour):
        alone = "+".join(flag for flag in state.split("+") if flag != "focus") or "rest"
        ours = pixels(kit, outer, state, Margins())
        theirs = pixels(kit, one, alone, Margins(*[ROOM] * 4), (width, height))
        # Focus is the host's own; all else is the same to a step of 255.
        assert np.abs(ours - theirs).max() <= 1, state


def test_a_look_within_a_look_turned_faded_and_out_of_sight(demo_kit: Kit) -> None:
    kit, inner = host(demo_kit, Fill(id="face", name="Face"), held("tally", position=(1, 0)))
    kit = kit.model_copy(update={"controls": (
        *demo_kit.controls, inner,
        Control(id="outer", name="Outer", size=(400, 240), layers=(
            EmbeddedLook(id="big", name="Big", control="host", opacity=0.5),),
            states={"hover": {"big": {"visible": False}}, "pressed": {"big": {"move": (6, 0)}}}))})
    outer = kit.control("outer")
    paths = [(path, layer.source) for path, layer in pose(kit, outer).walk()]
    assert paths[:4] == [(("big",), ""), (("big", "face"), "host"), (("big", "held"), "host"),
                         (("big", "held", "face"), "tally")]
    rest = pixels(kit, outer, "rest")
    for state, moved in (("rest", 0), ("pressed", 12)):
        once = pixels(kit, inner, state, Margins(90, 90, 90, 90))[:, : 960 - moved]
        assert np.abs(pixels(kit, outer, state)[:, moved:] - np.round(once * 0.5)).max() <= 1
    assert not pixels(kit, outer, "hover").any()
    # One layer alone, as its card shows it, is all of the look.
    assert np.array_equal(render_layer(
        resolve(kit, outer), "big", 2, Margins(*[ROOM] * 4)).rgba, rest)
    turned = edit.set_value(kit, "outer", "rest", "big", "rotate", 180.0)
    around = pixels(turned, turned.control("outer"), "rest")[::-1, ::-1]
    assert np.abs(around - rest).mean() < 0.2


def test_states_of_both_come_together(demo_kit: Kit) -> None:
    kit, outer = host(
        demo_kit, held("tally"), states={"hover": {"held": {"position": (0.25, 0.5)}},
                                         "checked": {"held": {"control": "deck-lamp"}},
                                         "disabled": {"held": {"shows": "rest"}}})
    def left(state: str) -> float:
        look = resolve(kit, outer, parse_flags(state))
        return next(one.outer.x for one in look.primitives() if one.id == "line")

    def layers(state: str) -> dict[tuple[str, ...], str]:
        posed = pose(kit, outer, parse_flags(state))
        return {path: layer.source for path, layer in posed.walk() if layer.values.visible}

    moved = 75 - 15
    assert left("rest") == left("pressed") == 150 - 15
    assert left("hover") == left("hover+pressed") == moved
    assert layers("checked")["held", "lamp"] == "deck-lamp"
    assert ("held", "lamp") not in layers("rest") and layers("rest")["held", "line"] == "tally"
    # Pressed and hovered, the embedded one has both: its own colour, the host's place.
    spot = (2 * (ROOM + 70 - 7), 2 * (ROOM + moved + 8))
    assert (pixels(kit, outer, "hover")[spot] != pixels(kit, outer, "hover+pressed")[spot]).any()
    assert np.array_equal(pixels(kit, outer, "disabled"), pixels(kit, outer, "rest"))


def test_it_is_laid_out_grows_and_takes_a_text_or_variation(demo_kit: Kit) -> None:
    queue = demo_kit.control("queue")
    assert "tally" in settled(demo_kit, queue).content.items
    short, wide = (natural_size(queue, kit=demo_kit, arguments={"waiting": waiting})
                   for waiting in (4.0, 88.0))
    assert short == wide == (168.0, 48.0)
    tally = demo_kit.control("tally")
    kit, row = host(
        demo_kit, held("tally", text="1234567"), Label(id="label", name="Label"), text="Aye",
        size=(60, 40),
        outline=ControlOutline(padding=(10, 4)), content=Content(items=("label", "held"), gap=6))
    look = resolve(kit, row, size=natural_size(row, kit=kit))
    boxes = {one.id: one.extent() for one in look.primitives()}
    grown = natural_size(tally, "1234567", kit)[0]
    x0, _, x1, _ = boxes["line"]
    assert x1 - x0 == pytest.approx(grown) and grown > 30
    assert x1 == pytest.approx(look.width - 10) and boxes["label"][2] < x0
    kit, other = host(demo_kit, held("passage", variation="Child"))
    fill = next(one for one in resolve(kit, other).primitives() if one.id == "face")
    assert fill.paint.stops[0][1][:3] == pytest.approx((0x6B / 255, 0x4A / 255, 0x78 / 255))
    assert dict(pose(kit, other).walk())["held", "label"].values.text == "Child"


def test_an_instance_has_arguments_that_follow_its_control(demo_kit: Kit) -> None:
    """Over those of its variation, by formula, by state; renamed and gone with the parameter."""
    kit, _ = host(
        demo_kit, held("passage", variation="Child", arguments={"face": "#112233"}),
        states={"checked": {"held": {"arguments": {"face": "ember"}}}})

    def face(kit: Kit, state: str, **given: object) -> str:
        posed = pose(kit, kit.control("host"), parse_flags(state), given)
        return kit.colour(dict(posed.walk())["held", "face"].values.stops[0].colour)

    assert face(kit, "rest") == "#112233" and face(kit, "checked") == kit.colour("ember")
    assert dict(pose(kit, kit.control("host")).walk())["held", "shadow"].values.offset[1] == 2
    kit = palette_edits.rename(kit, "ember", "flare")
    kit = parameter_edits.set_parameter(kit, "passage", "face", name="wash")
    assert list(kit.control("host").layer("held").arguments) == ["wash"]
    assert face(kit, "checked") == kit.colour("flare")
    assert kit_from_text(kit_to_text(kit)) == kit
    lifted, name = parameter_edits.lift(kit, "host", "rest", "held", "arguments.wash")
    assert lifted.control("host").parameters[0].type == "colour" and name == "held_wash"
    assert face(lifted, "rest", held_wash="#ABCDEF") == "#ABCDEF"
    gone = parameter_edits.remove_parameter(kit, "passage", "wash").control("host")
    assert not gone.layer("held").arguments
    assert gone.states == {"checked": {"held": {"arguments": {}}}}
    wrong = edit.set_value(kit, "host", "rest", "held", "arguments", {"speed": 2.0})
    assert "no parameter “speed”" in str(problems_of(wrong, wrong.control("host"))[0])


def test_what_cannot_be_held_is_found_and_the_rest_stays(demo_kit: Kit) -> None:
    face = Fill(id="face", name="Face")
    for layer, words in ((held("nobody"), "no control “nobody”"),
                         (held("passage", variation="Old"), "no variation “Old”"),
                         (held("host"), "host → host")):
        kit, outer = host(demo_kit, face, layer)
        problem = problems_of(kit, outer)[0]
        assert words in str(problem) and "held.control" in str(problem)
        found = [one for one in findings(kit) if one.place.control == "host"]
        assert words in str(found[0]) and "Choose another" in str(found[0].mend)
        assert [one.id for one in resolve(kit, outer).layers] == ["face"]
        assert kit_from_text(kit_to_text(kit)) == kit
    assert not findings(demo_kit)
    names = [one.id for one in embeddable(demo_kit, demo_kit.control("tally"))]
    assert "board" in names and not {"tally", "queue"} & set(names)


def test_looks_within_looks_do_not_grow_without_end(demo_kit: Kit) -> None:
    """Forty looks in each of seven levels would be 160 thousand million layers."""
    controls = [Control(id="level-0", name="0", layers=(Fill(id="face", name="Face"),))]
    for level in range(1, 8):
        controls.append(Control(id=f"level-{level}", name=str(level), layers=tuple(
            EmbeddedLook(id=f"held-{at}", name="Held", control=f"level-{level - 1}")
            for at in range(40))))
    kit = demo_kit.model_copy(update={"controls": tuple(controls)})
    top = kit.controls[-1]
    assert len([*pose(kit, top).walk()]) <= 256 + 40
    assert "more than 256 layers" in str(problems_of(kit, top)[0])
    assert resolve(kit, kit.controls[2]).layers


def test_letters_that_a_font_lacks_are_found(demo_kit: Kit) -> None:
    kit = edit.set_field(demo_kit, "cargo", "text", "חזרה, hold")
    assert [str(one) for one in findings(kit)] == [
        "Label: Hanken Grotesk has no “חזרה”. "
        "Choose a font that has these characters, or change the text."]
    assert not findings(edit.set_value(kit, "cargo", "rest", "label", "family", "Rubik"))


def test_contrast_is_of_the_weakest_label_on_its_own_face(demo_kit: Kit) -> None:
    dim = edit.set_value(demo_kit, "tally", "rest", "label", "colour", "#D9AC50")
    sail = (233 / 255, 226 / 255, 211 / 255, 1.0)
    board = label_contrast(resolve(dim, dim.control("board")), sail)
    queue = label_contrast(resolve(dim, dim.control("queue")), sail)
    tally = label_contrast(resolve(dim, dim.control("tally")), sail)
    assert tally.ratio < 1.6 < board.ratio and queue.ratio == pytest.approx(tally.ratio, abs=0.05)
