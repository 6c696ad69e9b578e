"""Drawings as a page and as we read them: run, compared, read back, tampered with."""

from __future__ import annotations

import re
from itertools import chain, combinations
from pathlib import Path

import pytest
from defusedxml.ElementTree import fromstring

from mektel.core.kit import Kit, kit_from_data
from mektel.core.look import resolve, shared_margins
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.formats.svg import import_svg
from mektel.targets import TARGETS, write_files
from mektel.targets.sheet import sheet_of
from mektel.targets.svg.answering import HIDES, MATCHES, condition
from mektel.targets.verify import verify
from tests.drawings import picture_of
from tests.slices import count_of, in_all, some_of, states_at
from tests.targets.test_hostile import hostile_kit

SVG = TARGETS["svg"]
# A part of a selector, and whether it must not hold.
PARTS = re.compile(r"(:not\()?(:[a-z-]+|\[[^]]+\])\)?")
TAGS = {"svg", "title", "defs", "style", "g", "path", "rect", "ellipse", "clipPath", "filter",
        "feGaussianBlur", "linearGradient", "radialGradient", "stop"}


@pytest.mark.parametrize("scale", [1, in_all(2), 3])
def test_every_demo_control_runs_as_designed(demo_kit: Kit, scale: int) -> None:
    chosen, only = states_at(demo_kit, scale)
    for match in verify(demo_kit, chosen, SVG, scale=scale, only=only):
        assert match.passes, (match.control, match.state, match.faults)


@pytest.mark.parametrize("name", [
    "board", "half", "pennant", "deck-lamp", in_all("night-watch")])
def test_each_state_is_read_back_as_it_was(demo_kit: Kit, name: str) -> None:
    control = demo_kit.control(name)
    files = {file.path.stem: file.content for file in SVG.files(demo_kit, [control])
             if file.path.parent.name == name}
    assert list(files) == ["rest", *sheet_of(demo_kit, control).states]
    for state, content in some_of(list(files.items()), 2):
        flags = frozenset() if state == "rest" else {state}
        room = shared_margins(demo_kit, control)
        ours = on_backdrop(render(resolve(demo_kit, control, flags), 2, room).rgba, (1, 1, 1, 1))
        high, wide = (side // 2 for side in ours.shape[:2])
        back = picture_of(import_svg(content, "Back", f"{state}.svg"), (wide, high))
        assert difference(ours[:, :, :3], back).mean <= 0.5, state


def test_a_drawing_that_was_tampered_with_is_caught(demo_kit: Kit, tmp_path: Path) -> None:
    board = demo_kit.control("board")
    write_files(SVG.files(demo_kit, [board]), tmp_path)
    path = tmp_path / "board.svg"
    shipped = path.read_text()
    for old, new in ((":hover", ":never"), (":focus-visible", ":never"), ('class="text"', (
            'class="text" transform="translate(2 0)"')), ("pointer-events:all", "")):
        assert old in shipped
        path.write_text(shipped.replace(old, new))
        found = verify(demo_kit, [board], SVG, scale=1, folder=tmp_path)
        assert not all(match.passes for match in found), old


def test_no_text_of_a_kit_is_markup() -> None:
    for seed in range(count_of(16, 160)):
        kit = hostile_kit(seed)
        for control in kit.controls if kit else ():
            for file in SVG.files(kit, [control]):
                root = fromstring(file.text)
                tags = {element.tag.rpartition("}")[2] for element in root.iter()}
                assert tags <= TAGS
                assert not any(name.startswith("on") or "href" in name
                               for element in root.iter() for name in element.attrib)


def test_gradients_mix_as_designed() -> None:
    """Stops of unlike opacity, beyond the ends and repeated: SVG has neither as CSS has."""
    control = {"id": "mist", "name": "Mist", "size": [120, 60], "layers": [
        {"id": "face", "name": "Face", "kind": "fill", "style": "linear", "direction": 90,
         "stops": [{"position": 0, "colour": "#FF0000FF"},
                   {"position": 1, "colour": "#0000FF20"}]},
        {"id": "ring", "name": "Ring", "kind": "fill", "style": "radial", "spread": "repeat",
         "reach": [0.2, 0.4], "stops": [{"position": 0, "colour": "#FFFFFF00"},
                                        {"position": 0.5, "colour": "#FFFF0080"}]}]}
    kit = kit_from_data({"format": 4, "name": "k", "controls": [control]})
    (match, *_) = verify(kit, kit.controls, SVG, scale=2)
    assert match.full.whole.mean < 1.0 and match.passes, match.faults


def test_exactly_one_look_shows_whatever_holds(demo_kit: Kit) -> None:
    """Every combination that a page can bring about shows the look of the states that count."""
    for name in ("board", "ramp", "cast-off", "deck-lamp"):
        sheet = sheet_of(demo_kit, demo_kit.control(name))
        conditions = {flags: condition(sheet, flags) for flags in sheet.sets}
        assert len(set(conditions.values())) == len(conditions)
        for held in chain.from_iterable(
                combinations(sheet.states, count) for count in range(len(sheet.states) + 1)):
            matched = []
            for flags, text in conditions.items():
                parts = {part: not negated for negated, part in PARTS.findall(text)}
                if all((state in held) == parts[MATCHES[state]]
                       for state in sheet.states if MATCHES[state] in parts):
                    matched.append(flags)
            counting = set(held)
            for holding in held:
                counting -= HIDES.get(holding, set())
            (shown,) = matched
            assert shown - {"hover"} == counting - {"hover"}, (name, held, matched)
            assert "pressed" in counting or shown == counting, (name, held, shown)


def test_drawings_on_one_page_keep_to_themselves(demo_kit: Kit) -> None:
    names: dict[str, set[str]] = {}
    for control in demo_kit.controls:
        root = fromstring(SVG.files(demo_kit, [control])[0].text)
        names[control.id] = {name for element in root.iter() for kind in ("id", "class")
                             for name in element.get(kind, "").split() if name != "text"}
        style = next(element.text for element in root.iter() if element.tag.endswith("style"))
        assert set(re.findall(r"\.([a-z][\w-]*)", style)) <= names[control.id]
    assert sum(map(len, names.values())) == len(set().union(*names.values()))


def test_what_it_cannot_draw_is_said(demo_kit: Kit) -> None:
    plans = {plan.layer: plan for plan in SVG.plan(demo_kit, demo_kit.control("ring-up"))}
    assert plans["Edge"].how == "baked" and plans["Label"].text_is_fixed
    assert all(plan.how == "native" for name, plan in plans.items()
               if name not in ("Edge", "Label"))
