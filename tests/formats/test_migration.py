"""Kits of earlier formats open as what they were."""

from __future__ import annotations

from pathlib import Path

import pytest

from mektel.core.kit import Kit, kit_from_data
from mektel.core.look import resolve
from mektel.formats.kitfile import kit_from_text, kit_to_text, read_kit
from mektel.samples import DEMO, starter_files

KEPT = Path(__file__).parents[1] / "data/format-1"
# Whatever changed its name, in every place where it may stand.
EVERYTHING: dict[str, object] = {
    "format": 1, "name": "Pier", "modes": ["day", "night"],
    "palette": [{"name": "sea", "colour": "#123456", "modes": {"night": "#000000"}}],
    "figures": [{"name": "gap", "type": "length", "value": 6, "modes": {"night": 3}}],
    "controls": [{
        "id": "gate", "name": "Gate", "kind": "hold", "size": [80, 40], "stretch": [8, 4, 8, 4],
        "body": {"form": "box", "radii": [9, 9, 9, 9], "joins": [
            {"form": "box", "how": "difference", "width": [0.5, 0]}]},
        "content": {"items": ["outline", "label"], "least": [20, 20], "most": [90, 90]},
        "layers": [
            {"id": "face", "name": "Face", "kind": "fill", "outline": {
                "form": "box", "joins": [{"form": "box", "how": "union"}]}},
            {"id": "outline", "name": "Outline", "kind": "icon"},
            {"id": "art", "name": "Art", "kind": "picture", "insets": [1, 2, 3, 4],
             "pixels_per_px": 2},
            {"id": "label", "name": "Label", "kind": "label", "leading": 1.5,
             "within": {"x": [0.25, 0]}}],
        "states": {"hover": {"body": {"offset": [0, 1]}, "outline": {"opacity": 0.5},
                             "label": {"leading": 1.7}}},
        "formulas": {"rest": {
            "body": {"radii": "body.padding[0] + body_gap"}, "outline": {"size": "label.size"},
            "label": {"within.x.1": "outline.size / 2", "leading": "art.pixels_per_px"}}},
        "parameters": [{"name": "body_gap", "type": "length", "default": 2, "low": 0, "high": 9}],
    }, {"id": "other", "name": "Other", "base": "gate", "differs": {
        "body": {"radii": [1, 1, 1, 1]}, "kind": "push",
        "layers": {"outline": {"opacity": 0.25}, "label": {"leading": 2}},
        "states": {"hover": {"body": {"offset": [0, 2]}}}}}],
}


# The same for what has another name since format 2.
VALUES: dict[str, object] = {
    "format": 2, "name": "Pier", "controls": [{
        "id": "gate", "name": "Gate", "size": [80, 40],
        "outline": {"form": "star", "radii": [9, 9, 9, 9], "waist": 0.4, "joins": [
            {"form": "box", "radii_y": [1, 2, 3, 4]}]},
        "layers": [
            {"id": "face", "name": "Face", "kind": "fill", "style": "linear", "grow": 2,
             "angle": 90, "outline": {"form": "star", "waist": 0.3}},
            {"id": "icon", "name": "Icon", "kind": "icon", "at": [0.25, 0.5]}],
        "states": {"hover": {"face": {"angle": 45}, "outline": {"radii": [1, 1, 1, 1]}}},
        "formulas": {"rest": {
            "face": {"outline.waist": "outline.radii[0] / 20", "angle": "grow * 10"},
            "icon": {"at.0": "rest if False else at[1]"}}},
        "timings": {"hover": {"face": {"angle": {"seconds": 1}}}},
        "swings": [{"part": "face", "value": "angle"}, {"part": "control", "value": "y"}],
        "answers": [{"kind": "follow", "part": "icon", "value": "at"}],
    }, {"id": "mine", "name": "Mine", "base": "gate", "differs": {
        "layers": {"face": {"grow": 3}}, "states": {"hover": {"face": {"angle": 30}}}}}],
}


def test_values_have_the_names_that_the_window_shows() -> None:
    gate, mine = kit_from_data(VALUES).controls
    face, icon = gate.layers
    assert (gate.outline.corners, gate.outline.inner_radius) == ((9, 9, 9, 9), 0.4)
    assert gate.outline.joins[0].vertical_radii == (1, 2, 3, 4)
    assert (face.expand, face.direction, face.outline.inner_radius) == (2, 90, 0.3)
    assert icon.position == (0.25, 0.5) and mine.layers[0].expand == 3
    assert gate.states["hover"] == {
        "face": {"direction": 45}, "outline": {"corners": (1, 1, 1, 1)}}
    assert mine.states["hover"]["face"] == {"direction": 30}
    assert gate.formulas["rest"] == {
        "face": {"outline.inner_radius": "outline.corners[0] / 20", "direction": "expand * 10"},
        "icon": {"position.0": "rest if False else position[1]"}}
    assert list(gate.timings["hover"]["face"]) == ["direction"]
    assert [swing.value for swing in gate.swings] == ["direction", "y"]
    assert gate.answers[0].value == "position"
    named = {**VALUES, "controls": [{**VALUES["controls"][0], "parameters": [
        {"name": "grow", "type": "number", "default": 2}]}]}
    assert kit_from_data(named).controls[0].formulas["rest"]["face"]["direction"] == "grow * 10"


@pytest.mark.parametrize("name", [path.stem for path in sorted(KEPT.glob("*.mektel"))])
def test_a_kit_of_format_1_opens_as_it_was(name: str) -> None:
    now = read_kit({"lantern-ferry": DEMO, **starter_files()}[name])
    before = read_kit(KEPT / f"{name}.mektel")
    # Format 1 knew no motion; a busy sequence has been laid into one control since.
    still = tuple(
        before.control(control.id) if control.id == "cast-off" else control.model_copy(
            update={"timings": {}, "answers": (), "swings": ()}) for control in now.controls)
    assert before == now.model_copy(update={"controls": still})


def test_everything_that_has_another_name_is_in_its_place() -> None:
    kit = kit_from_data(EVERYTHING)
    gate, other = kit.controls
    icon = gate.layers[1].id
    assert icon != "outline" and gate.content and gate.content.items == (icon, "label")
    assert (kit.schemes, kit.values[0].schemes, kit.palette[0].schemes) == (
        ("day", "night"), {"night": 3.0}, {"night": "#000000"})
    assert gate.behaviour == "long-press" and gate.slices == (8, 4, 8, 4)
    assert gate.outline.joins[0].operation == "difference"
    assert gate.content.min == (20, 20) and gate.content.max == (90, 90)
    assert gate.layer("art").slices == (1, 2, 3, 4)  # type: ignore[union-attr]
    assert gate.states["hover"] == {
        "outline": {"offset": (0, 1)}, icon: {"opacity": 0.5}, "label": {"line_height": 1.7}}
    assert gate.formulas["rest"] == {
        "outline": {"corners": "outline.padding[0] + body_gap"}, icon: {"size": "label.size"},
        "label": {"box.x.1": f"{icon.replace('-', '_')}.size / 2", "line_height": "art.density"}}
    assert (gate.parameters[0].min, gate.parameters[0].max) == (0, 9)
    assert other.behaviour == "push" and other.layer(icon).opacity == 0.25
    assert other.outline.corners == (1, 1, 1, 1) and other.outline.joins == gate.outline.joins
    assert other.states["hover"]["outline"] == {"offset": (0, 2)}
    again = kit_from_text(kit_to_text(kit))
    assert again == kit and resolve(again, again.controls[1]) == resolve(kit, other)


def test_format_4_says_long_press_finish_and_translucent() -> None:
    """Only the function is another: a value of this name stays, and so does a derived control."""
    before = {"format": 3, "name": "Pier", "face": "flat", "palette": [
        {"name": "sea", "colour": "#123456"},
        {"name": "haze", "colour": "#12345680", "formula": "fade(sea, 0.5)"}],
        "controls": [{
            "id": "gate", "name": "Gate", "behaviour": "hold", "layers": [
                {"id": "shine", "name": "Shine", "kind": "gloss", "fade": 0.5},
                {"id": "face", "name": "Face", "kind": "fill"}],
            "formulas": {"rest": {"face": {
                "colour": "fade(sea, shine.fade)", "opacity": "0.5 if \"fade(\" else 1"}}}},
            {"id": "mine", "name": "Mine", "base": "gate", "differs": {
                "behaviour": "push", "formulas": {"hover": {"face": {"colour": "fade(sea, 1)"}}}}},
            {"id": "other", "name": "Other", "base": "mine", "differs": {"behaviour": "hold"}}]}
    kit = kit_from_data(before)
    assert kit.finish == "flat" and kit.palette[1].formula == "translucent(sea, 0.5)"
    assert [control.behaviour for control in kit.controls] == ["long-press", "push", "long-press"]
    assert kit.controls[0].formulas["rest"]["face"] == {
        "colour": "translucent(sea, shine.fade)", "opacity": "0.5 if \"fade(\" else 1"}
    assert kit.controls[2].formulas["hover"]["face"]["colour"] == "translucent(sea, 1)"
    assert kit_from_text(kit_to_text(kit)) == kit


def test_a_later_format_is_refused_in_words() -> None:
    with pytest.raises(Exception, match="newer Mektel"):
        kit_from_data({**Kit().model_dump(), "format": 5})
