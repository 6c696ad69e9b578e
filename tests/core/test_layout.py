"""Content in a row, a column or a stack: places, growth, mirroring; in shipped code, too."""

from __future__ import annotations

from pathlib import Path

import pytest

from mektel.core.errors import DocumentError
from mektel.core.kit import Control, ControlOutline, Fill, Icon, Kit, Label, edit
from mektel.core.kit.content import Content
from mektel.core.kit.layers import Light, Progress, Symbol
from mektel.core.layout import extent
from mektel.core.look import natural_size, resolve, settled
from mektel.core.look.content_layout import (
    flow_of,
    following_text,
    items_of,
    laid_out,
    runs_from_the_right,
)
from mektel.core.look.label_lines import label_size
from mektel.core.paint import render
from mektel.targets import TARGETS
from mektel.targets.verify import verify
from mektel.targets.writing import write_files
from tests.chromium import page_on

COLUMN = Control(
    id="fare", name="Fare", text="Return", size=(160.0, 120.0), layers=(
        Fill(id="face", name="Face"), Label(id="top", name="Top", size=16.0),
        Label(id="price", name="Price", size=12.0, text="4 crowns", colour="#FFD27A"),
        Symbol(id="more", name="More", symbol="play", repeat=2.0, size=12.0),
        Progress(id="done", name="Done", amount=0.5)),
    content=Content(flow="column", gap=6.0, items=("top", "price", "more", "done")))


def control(text: str = "Half ahead", **content: object) -> Control:
    given = {"items": ("icon", "label", "light"), "gap": 10.0, **content}
    return Control(
        id="row", name="Row", text=text, size=(220.0, 56.0),
        outline=ControlOutline(padding=(16.0, 8.0)),
        content=Content(**given),
        layers=(Fill(id="face", name="Face"), Icon(id="icon", name="Icon", size=20.0),
                Label(id="label", name="Label", size=16.0),
                Light(id="light", name="Light", size=12.0)))


def middles(
    one: Control, size: tuple[float, float] | None = None, kit: Kit | None = None
) -> dict[str, tuple[float, float]]:
    """Where each item's middle lies, from the look: what is really drawn."""
    kit = kit or Kit(controls=(one,))
    found = {}
    look = resolve(kit, one, size=size)
    for layer in look.layers:
        if layer.id != "face":
            x0, y0, x1, y1 = layer.extent()
            found[layer.id] = ((x0 + x1) / 2, (y0 + y1) / 2)
    return found


def test_a_row_stands_in_the_middle_with_even_gaps() -> None:
    one = control()
    width, height = label_size(one.layer("label"), one.text)
    total = 20 + 10 + width + 10 + 12
    whole = extent([*items_of(one, one.text).values()], flow_of(one.content, one.text))
    assert whole == (total, height)
    left = (220 - total) / 2
    found = middles(one)
    assert found["icon"] == pytest.approx((left + 10, 28), abs=0.6)
    assert found["light"][0] == pytest.approx(left + total - 6, abs=0.6)
    assert found["label"][0] == pytest.approx(left + 30 + width / 2, abs=1.5)
    # Resized from outside, it stays in the middle; at an end it stays there.
    wide = middles(one, (320.0, 56.0))
    assert wide["icon"][0] - found["icon"][0] == pytest.approx(50, abs=0.1)
    start = middles(control(place="start"), (320.0, 56.0))
    assert start["icon"][0] == pytest.approx(26, abs=0.6)
    end = middles(control(place="end"), (320.0, 56.0))
    assert end["light"][0] == pytest.approx(320 - 16 - 6, abs=0.6)


def test_columns_stacks_and_lines() -> None:
    column = middles(control(flow="column", gap=4.0))
    assert column["icon"][1] < column["label"][1] < column["light"][1]
    assert column["icon"][0] == pytest.approx(column["light"][0], abs=0.6)
    stack = middles(control(flow="stack"))
    assert stack["icon"] == pytest.approx((110, 28), abs=0.6)
    top = middles(control(align="start"))
    line = middles(control(align="baseline"))
    assert top["light"][1] < middles(control())["light"][1] < line["light"][1] + 6


def test_it_grows_with_its_content_between_least_and_most() -> None:
    long = control("Slow ahead through the fog")
    kit = Kit(controls=(long,))
    width = 20 + 10 + label_size(long.layer("label"), long.text)[0] + 10 + 12 + 32
    assert natural_size(long, kit=kit)[0] == pytest.approx(width)
    assert settled(kit, long).size == natural_size(long, kit=kit)
    assert natural_size(control("Go"), kit=kit) == (220.0, 56.0)
    held = control("Slow ahead through the fog", max=(240.0, 60.0))
    assert natural_size(held, kit=kit)[0] == 240.0
    least = control("Go", min=(300.0, 70.0))
    assert natural_size(least, kit=kit) == (300.0, 70.0)
    own = control("Slow ahead through the fog", sizing="own")
    assert settled(kit, own).size == (220.0, 56.0)


def test_content_moves_as_one_and_with_what_a_layer_does_by_itself() -> None:
    one = control()
    kit = edit.set_value(
        Kit(controls=(one,)), "row", "pressed", "outline", "content_offset", (0, 2))
    kit = edit.set_value(kit, "row", "hover", "light", "move", (5.0, 0.0))

    def at(name: str, *flags: str) -> tuple[float, float]:
        look = resolve(kit, kit.control("row"), flags)
        x0, y0, x1, y1 = next(la for la in look.layers if la.id == name).extent()
        return (x0 + x1) / 2, (y0 + y1) / 2

    for name in ("icon", "label", "light"):
        x, y = at(name)
        assert at(name, "pressed") == pytest.approx((x, y + 2))
        along = 5 if name == "light" else 0
        assert at(name, "hover", "pressed") == pytest.approx((x + along, y + 2))
    assert resolve(kit, kit.control("row"), {"pressed"}).layers[0] == resolve(kit, one).layers[0]
    for target in ("qtwidgets", "web"):
        for match in verify(kit, kit.controls, TARGETS[target]):
            assert match.passes, (target, match.state)


def test_a_row_is_mirrored_where_its_text_runs_from_the_right() -> None:
    assert runs_from_the_right("עלייה") and not runs_from_the_right("Board 12")
    one, other = middles(control("Board")), middles(control("עלייה"))
    assert one["icon"][0] < one["light"][0] and other["icon"][0] > other["light"][0]
    start = middles(control("עלייה", place="start"))
    assert start["icon"][0] > 180  # the start is at the right


def test_hidden_items_take_no_room_and_states_keep_their_own_move() -> None:
    one = control()
    kit = edit.set_value(Kit(controls=(one,)), "row", "rest", "light", "visible", False)
    bare = kit.control("row")
    assert [*items_of(bare, bare.text)] == ["icon", "label"]
    kit = edit.set_value(kit, "row", "pressed", "icon", "move", (0.0, 2.0))
    laid = laid_out(kit.control("row"), one.text)
    rest, pressed = laid.layer("icon").move, laid.part_in("icon", {"pressed"}).move
    assert (pressed[0] - rest[0], pressed[1] - rest[1]) == (0.0, 2.0)
    gone = edit.remove_layer(kit, "row", "icon").control("row")
    assert gone.content.items == ("label", "light")
    with pytest.raises(DocumentError, match="not a layer"):
        edit.set_field(kit, "row", "content", Content(items=("nothing",)))


def test_two_lines_symbols_and_progress_are_content() -> None:
    one = COLUMN
    kit = Kit(controls=(one,))
    items = items_of(one, one.text)
    assert items["more"].width == 26.0 and items["done"].width == 80.0
    found = middles(one)
    assert found["top"][1] < found["price"][1] < found["more"][1] < found["done"][1]
    look = resolve(kit, one)
    assert [layer.text for layer in look.layers if hasattr(layer, "text")] == ["Return", "4 crowns"]
    half = render(resolve(kit, one)).rgba
    full = edit.set_value(kit, "fare", "rest", "done", "amount", 1.0)
    assert (half != render(resolve(full, full.control("fare"))).rgba).any()
    for target in ("qtwidgets", "web"):
        for match in verify(kit, [one], TARGETS[target], scale=1):
            assert match.passes, (target, match.state, match.with_text)


def test_shipped_content_makes_room_for_other_texts(tmp_path: Path, demo_kit: Kit) -> None:
    fare = demo_kit.control("fare")
    shares, width, beside = following_text(settled(demo_kit, fare), fare.text)
    assert shares == {"icon": -0.5} and beside == 34.0 and width > 60
    longer = edit.set_field(demo_kit, "fare", "text", "Return with a bicycle")
    size = settled(longer, longer.control("fare")).size
    wanted = middles(longer.control("fare"), size, longer)
    write_files(TARGETS["web"].files(demo_kit, [fare]), tmp_path)
    markup = ("<body style='margin:0'><script src=runtime.js></script>"
              "<script src=fare-button.js></script>"
              "<fare-button id=one style='position:absolute;left:0;top:0'>"
              "Return with a bicycle</fare-button>")
    with page_on(markup, tmp_path) as page:
        page.evaluate("document.fonts.ready")
        page.wait_for_timeout(60)
        box = page.evaluate("""() => {
            const icon = one.shadowRoot.querySelector('[part="icon"]').getBoundingClientRect();
            return [icon.x + icon.width / 2, one.getBoundingClientRect().width];
        }""")
    assert box[1] == pytest.approx(size[0], abs=1.5)
    assert box[0] == pytest.approx(wanted["icon"][0], abs=1.5)
