"""Layers and pictures on their way; every kind of layer written, read and described."""

from __future__ import annotations

import base64
import io
import json
from typing import Any, get_args

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from mektel.core.errors import DocumentError
from mektel.core.kit import (
    KINDS,
    Control,
    Fill,
    Join,
    Kit,
    OwnOutline,
    Stop,
    Swatch,
    edit,
    measure_of,
    value_names,
)
from mektel.core.kit.moving import PasteError, add_asset, layer_to_text, paste_layer
from mektel.formats.kitfile import KitFileError, kit_from_text, kit_to_text


def png(colour: str = "#2F8C93") -> bytes:
    out = io.BytesIO()
    Image.new("RGBA", (6, 4), colour).save(out, "PNG")
    return out.getvalue()


def source() -> Kit:
    kit, asset = add_asset(Kit(palette=(Swatch(name="tide", colour="#237A82"),
                                        Swatch(name="sail", colour="#FFFDF7"))), "Plate", png())
    layer = Fill(id="face", name="Face", style="linear", stops=(
        Stop(position=0, colour="tide"), Stop(position=1, colour="#000000")))
    control = Control(id="a", name="A", layers=(layer, KINDS["picture"](
        id="art", name="Art", picture=asset)), states={  # type: ignore[call-arg]
        "hover": {"face": {"colour": "sail"}}, "pressed": {"art": {"opacity": 0.5}}})
    return kit.model_copy(update={"controls": (control, Control(id="b", name="B"))})


def test_a_layer_takes_its_states_colours_and_pictures_along() -> None:
    kit = source()
    within = paste_layer(kit, "a", layer_to_text(kit, "a", "face"), "face")
    assert [layer.id for layer in within.control("a").layers] == ["face", "face-2", "art"]
    assert within.control("a").states["hover"]["face-2"] == {"colour": "sail"}
    empty = Kit(controls=(Control(id="c", name="C"),))
    there = paste_layer(empty, "c", layer_to_text(kit, "a", "face"), None)
    assert [swatch.name for swatch in there.palette] == ["tide", "sail"]
    there = paste_layer(there, "c", layer_to_text(kit, "a", "art"), "face")
    assert there.assets == kit.assets and there.control("c").states["pressed"]["art"]
    assert kit_from_text(kit_to_text(there)) == there


@pytest.mark.parametrize("text", ["", "[]", "{}", '{"format": "mektel-layer"}', "x" * 50,
                                  json.dumps(
    {"format": "mektel-layer", "layer": {"kind": "mist"}, "palette": [], "assets": [],
     "states": {}})])
def test_what_is_no_layer_is_not_pasted(text: str) -> None:
    with pytest.raises(PasteError, match="not a layer"):
        paste_layer(source(), "a", text, None)


def test_a_picture_is_kept_once_and_checked() -> None:
    kit, first = add_asset(Kit(), "Deck plate", png())
    again, second = add_asset(kit, "Other name", png())
    assert again is kit and first == second == "deck-plate"
    more, third = add_asset(kit, "Deck plate", png("#FF0000"))
    assert third == "deck-plate-2" and len(more.assets) == 2
    with pytest.raises(DocumentError, match="PNG"):
        add_asset(kit, "No", b"no")
    text = kit_to_text(more).replace(more.assets[0].png, base64.b64encode(b"none").decode())
    with pytest.raises(KitFileError, match=r"assets\[0\].png.*PNG"):
        kit_from_text(text)
    control = Control(id="a", name="A", layers=(KINDS["picture"](
        id="art", name="Art", picture="gone"),))  # type: ignore[call-arg]
    with pytest.raises(KitFileError, match=r"layers\[0\].picture.*gone"):
        kit_from_text(kit_to_text(Kit(controls=(control,))))


# Any layer that the format can hold

colours = st.sampled_from(["#2F8C93", "#FFFFFF80", "tide"])
outlines = st.none() | st.builds(
    OwnOutline, form=st.sampled_from(["box", "star", "path"]),
    x=st.tuples(st.floats(0, 1, width=16), st.integers(-9, 9)),
    joins=st.lists(st.builds(Join, operation=st.sampled_from(["smooth", "union"])), max_size=2)
    .map(tuple))


def value_for(model: Any, name: str) -> st.SearchStrategy[Any]:
    field = model.model_fields[name]
    default = field.default
    if name == "outline":
        return outlines
    if name == "stops":
        return st.lists(st.tuples(st.integers(0, 8), colours), min_size=2, max_size=4).map(
            lambda found: tuple(Stop(position=at / 8, colour=c) for at, c in sorted(found)))
    if name.endswith("colour"):
        return colours
    if isinstance(default, bool):
        return st.booleans()
    options = [one for one in get_args(field.annotation) if isinstance(one, str | int)]
    if options:
        return st.sampled_from(options)
    if name == "ends":
        return st.none() | st.just((0.25, 0.0, 0.75, 1.0))
    if isinstance(default, float):
        measure = measure_of(model, name)
        low, high = max(measure.low, -100), min(measure.high, 100)
        return st.integers(int(low) + 1, int(high)).map(float)
    if isinstance(default, tuple):
        measure = measure_of(model, name)
        high = int(min(measure.high, 50))
        one = st.integers(max(0, int(measure.low) + (measure.low > 0)), max(1, high)).map(float)
        return st.tuples(*[one] * len(default))
    return st.just(default)


@pytest.mark.parametrize("kind", KINDS)
@settings(max_examples=15, deadline=None)
@given(data=st.data())
def test_every_kind_survives_file_state_and_pasting(kind: str, data: st.DataObject) -> None:
    model = KINDS[kind]
    names = [name for name in value_names(model) if name != "picture"]
    def some() -> dict[str, Any]:
        chosen = data.draw(st.sets(st.sampled_from(names), max_size=6))
        return {name: data.draw(value_for(model, name)) for name in sorted(chosen)}

    layer = model.model_validate({"id": "it", "name": "It", **some()})
    kit = Kit(palette=(Swatch(name="tide", colour="#237A82"),), controls=(
        Control(id="a", name="A", layers=(layer,)),))  # type: ignore[arg-type]
    for name, value in some().items():
        kit = edit.set_value(kit, "a", "hover", "it", name, value)
    text = kit_to_text(kit)
    assert kit_from_text(text) == kit and kit_to_text(kit_from_text(text)) == text
    pasted = paste_layer(kit, "a", layer_to_text(kit, "a", "it"), "it")
    twin = pasted.control("a").layer("it-2")
    assert twin.model_copy(update={"id": "it"}) == layer
    assert pasted.control("a").changes("hover").get("it-2") == kit.control("a").changes(
        "hover").get("it")
    # What is as the format has it by default is not written.
    written = json.loads(text)["controls"][0]["layers"][0]
    fields = model.model_fields
    for name in set(written) - {"id", "name", "kind"}:
        assert getattr(layer, name) != fields[name].default
