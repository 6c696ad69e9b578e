"""Whole designs built from an empty control, by pointer and keys alone, against stored pictures."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPoint, Qt

from mektel.core.kit import OUTLINE
from mektel.core.look import Margins, parse_flags, resolve
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.formats.png import pixels_from_png

EXPECTED = Path(__file__).parents[1] / "expected"
ROOM = Margins(24, 24, 24, 24)
GROUND = (0.08, 0.125, 0.12, 1.0)


class Builder:
    """What a person does at the strip: adds a layer, turns its dials, holds a state."""

    def __init__(self, window, hand) -> None:
        self.window, self.hand, self.bench = window, hand, window.bench
        hand.choose(window.shelf.new_button.menu(), "Empty control")
        hand.until(lambda: self.bench.control is not None)
        hand.settle()

    @property
    def card(self):
        return self.window.build.strip.card

    @property
    def control(self):
        return self.bench.control

    def layer(self, kind: str, name: str) -> str:
        self.hand.choose(self.window.build.strip.row.add_button.menu(), kind)
        self.hand.write(self.card.body.name, name)
        return self.bench.part_id

    def open(self, part_id: str) -> None:
        self.hand.click(self.window.build.strip.row.cards[part_id], QPoint(40, 30))

    def select(self, state: str) -> None:
        self.hand.click(self.window.build.wall.tiles[state], QPoint(30, 30))

    def choose(self, name: str, value: object) -> None:
        """Steps through a choice with the arrow keys."""
        values = [one for one, _ in self.card.dials[name].button.choices]
        self.hand.focus(self.card.dials[name].button)
        for _ in range(len(values)):
            self.hand.key(Qt.Key.Key_Up)
            self.hand.focus(self.card.dials[name].button)
        for _ in range(values.index(value)):
            self.hand.focus(self.card.dials[name].button)
            self.hand.key(Qt.Key.Key_Down)

    def write(self, **values: object) -> None:
        """Types values over: one text, or one per field."""
        for name, given in values.items():
            dial = self.card.dials[name]
            if isinstance(given, tuple):
                for field, one in zip(dial.fields, given, strict=True):
                    self.hand.write(field.entry, str(one))
            else:
                entry = dial.entry if hasattr(dial, "entry") else dial.field.entry
                self.hand.write(entry, str(given))

    def stop(self, at: int, colour: str, place: str | None = None) -> None:
        bar = self.card.body.gradient
        self.hand.click(bar, bar._handle(bar._stops[at]).toPoint())
        self.hand.write(self.card.dials["=stop"].entry, colour)
        if place is not None:
            self.hand.write(self.card.dials["=at"].field.entry, place)

    def page(self, title: str) -> None:
        self.hand.click(self.card.body.pages[title])

    def compare(self, name: str, *states: str) -> None:
        """The built control in these states, side by side, against the stored picture."""
        kit = self.bench.kit
        cells = [
            on_backdrop(
                render(resolve(kit, self.control, parse_flags(state)), 2, ROOM).rgba, GROUND
            )
            for state in states
        ]
        ours = np.concatenate(cells, axis=1)
        stored = EXPECTED / f"{name}.png"
        found = difference(ours[:, :, :3], pixels_from_png(stored.read_bytes())[:, :, :3])
        if found.mean > 0.1 or found.high > 4:
            Image.fromarray(ours[:, :, :3]).save(stored.with_suffix(".built.png"))
        assert found.mean <= 0.1 and found.high <= 4, found


@pytest.fixture
def builder(make) -> Builder:
    window, hand = make(demo=False)
    return Builder(window, hand)


def test_stacked_glass_is_built_with_handles(builder: Builder) -> None:
    """J04: a glow that wakes on hover, and a highlight with two stops close together."""
    window, hand, bench = builder.window, builder.hand, builder.bench
    builder.open(OUTLINE)
    builder.write(corners=(14, 14, 14, 14))
    builder.layer("Fill", "Base")
    builder.write(colour="#12303D")

    glow = builder.layer("Fill", "Wake")
    builder.choose("style", "radial")
    builder.write(centre=(50, 105), reach=(62, 95), opacity=0)
    builder.stop(0, "#5FE0D8E6")
    builder.stop(1, "#1A6C7800")

    sheen = builder.layer("Fill", "Sheen")
    builder.choose("style", "linear")
    builder.stop(0, "#FFFFFF66")
    builder.stop(1, "#FFFFFF0D")
    # The gradient is turned and moved on the picture.
    hand.click(window.build.header.loupe)
    view = window.build.loupe.view
    hand.until(view.isVisible)
    assert [one.id for one in view.shown()] == ["start", "end", "stop-0", "stop-1"]
    start = view.spot_of("start")
    hand.drag(view, start, start + QPoint(-48, 0) * view.scale)
    end = view.spot_of("end")
    hand.drag(view, end, end + QPoint(-13, 0) * view.scale)
    assert builder.control.layer(sheen).ends == (0.2, 0.0, 0.4188, 1.0)
    assert bench.history.undo_name == "sheen ends"
    # Two stops are set on its line, a hair apart, then put exactly.
    first, last = view.spot_of("stop-0"), view.spot_of("stop-1")
    hand.click(view, first + (last - first) * 0.4)
    hand.click(view, first + (last - first) * 0.6)
    assert len(builder.control.layer(sheen).stops) == 4
    builder.stop(1, "#FFFFFF1F", "46")
    builder.stop(2, "#FFFFFF05", "47")
    # One more is pulled off the line again.
    hand.click(view, first + (last - first) * 0.8)
    spare = view.spot_of("stop-3")
    hand.drag(view, spare, spare + QPoint(90, 0))
    assert [round(stop.position, 2) for stop in builder.control.layer(sheen).stops] == [
        0,
        0.46,
        0.47,
        1,
    ]
    view.setFocus()
    hand.key(Qt.Key.Key_Escape)
    hand.until(window.build.wall.isVisible)

    builder.layer("Label", "Label")
    builder.write(**{"=text": "Night watch"})
    builder.select("hover")
    builder.open(glow)
    builder.write(opacity=100)
    assert builder.control.changes("hover") == {glow: {"opacity": 1.0}}
    builder.compare("stacked-glass", "rest", "hover")
    # And it runs: the pointer wakes the glow.
    live = window.try_pad.area.control
    hand.move(live)
    assert live.flags() == {"hover"}


def test_one_shape_of_effects_only(builder: Builder) -> None:
    """J06: no line, a dodging inner glow, gloss from an inner shadow; states change one colour."""
    builder.open(OUTLINE)
    builder.choose("form", "superellipse")
    builder.write(power=5)
    builder.layer("Shadow", "Drop")
    builder.write(colour="#00000066", blur=6, offset=(0, 2))
    base = builder.layer("Fill", "Base")
    builder.write(colour="#B8472A")
    builder.layer("Inner glow", "Warmth")
    builder.write(colour="#FFC98A99", blur=18)
    builder.choose("blend", "color-dodge")
    builder.layer("Inner shadow", "Gloss")
    builder.write(colour="#FFFFFF80", blur=3, offset=(0, 2))
    for state, colour in (("hover", "#D0593A"), ("pressed", "#8C3018"), ("disabled", "#8A7F7A")):
        builder.select(state)
        builder.open(base)
        builder.write(colour=colour)
        assert builder.control.count_changes(state) == 1
    builder.select("rest")
    builder.compare("effects-only", "rest", "hover", "pressed", "disabled")
    # Nothing of the picture is stored: the same looks at thrice the size stay as sharp.
    assert len(builder.bench.copy_layer(base)) < 400


def test_a_thick_key_goes_down_on_its_base(builder: Builder) -> None:
    """J18: a base that stays, a top that comes down on to it when pressed."""
    builder.open(OUTLINE)
    builder.write(corners=(10, 10, 10, 10), **{"=size": (96, 56)})
    top = ("0", "-8")
    base = builder.layer("Fill", "Base")
    builder.write(colour="#A97A1C")
    edge = builder.layer("Line", "Base line")
    builder.write(colour="#22302F", width=2)
    face, line = builder.layer("Fill", "Top"), ""
    builder.write(colour="#F3C25B")
    builder.page("Place")
    builder.write(move=top)
    line = builder.layer("Line", "Line")
    builder.write(colour="#22302F", width=2)
    builder.page("Place")
    builder.write(move=top)
    label = builder.layer("Label", "Label")
    builder.write(**{"=text": "Half"}, colour="#22302F")
    builder.page("Place")
    builder.write(move=top)
    builder.select("pressed")
    for part in (face, line, label):
        builder.open(part)
        builder.page("Place")
        builder.write(move=("0", "-2"))
    changes = builder.control.changes("pressed")
    assert set(changes) == {face, line, label} and base not in changes and edge not in changes
    builder.compare("thick-key", "rest", "pressed")
    rest, pressed = (
        resolve(builder.bench.kit, builder.control, flags).layers for flags in (set(), {"pressed"})
    )
    assert rest[:2] == pressed[:2] and rest[2] != pressed[2]  # the footprint stays
