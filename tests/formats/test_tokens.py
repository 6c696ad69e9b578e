"""Design tokens: into the palette and back with nothing lost, and clear refusals."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from click.testing import CliRunner

from mektel.cli import cli
from mektel.core.kit import Kit, palette_edits
from mektel.core.kit.document import kit_from_data
from mektel.formats.kitfile import read_kit
from mektel.formats.tokens import TokenError, tokens_from_text, tokens_to_text, with_tokens


def test_a_round_trip_by_the_command_line_loses_nothing(examples: Path, tmp_path: Path) -> None:
    source, kit_path, out = examples / "ferry.tokens.json", tmp_path / "f.mektel", tmp_path / "out"
    run = CliRunner()
    told = run.invoke(cli, ["import", str(source), "--kit", str(kit_path)])
    assert told.exit_code == 0 and "5 colours, 5 other" in told.output, told.output
    assert "lift: the palette has no place for shadow" in told.output
    told = run.invoke(cli, ["export", str(kit_path), "--target", "tokens", "--out", str(out)])
    assert told.exit_code == 0, told.output
    written = json.loads((out / "tokens.json").read_text())
    assert written == json.loads(source.read_text())
    kit = read_kit(kit_path)
    assert kit.colour("role-edge") == kit.colour("water-tide") == "#2F8C93"
    figures = {entry.name: entry.value for entry in kit.values}
    assert figures["space-gap"] == 8.0 and figures["time-quick"] == 0.14
    assert figures["text-label"].weight == 600 and figures["dusk"][1].colour == "#175A66"


def test_a_changed_value_is_written_and_all_else_stays(examples: Path) -> None:
    text = (examples / "ferry.tokens.json").read_text()
    kit = with_tokens(Kit(), tokens_from_text(text))
    kit = palette_edits.set_swatch(kit, "role-face", "#B8472A80")
    kit = palette_edits.set_swatch(kit, "buoy", "#112233")
    kit = palette_edits.remove(kit, "water-fog")
    assert kit_from_data(kit.model_dump()) == kit
    before, after = json.loads(text), json.loads(tokens_to_text(kit))
    assert after["role"]["face"]["$value"]["alpha"] == pytest.approx(0x80 / 255, abs=1e-5)
    assert after["role"]["edge"] == before["role"]["edge"]  # still an alias, its extension with it
    assert "fog" not in after["water"] and after["colour"]["buoy"]["$type"] == "color"
    assert after["lift"] == before["lift"] and after["text"] == before["text"]


@pytest.mark.parametrize(("text", "told"), [
    ("[1]", "outermost"), ("{", "line 1"), ('{"a": 3}', "a: a group or a token"),
    ('{"a": {"$type": "color", "$value": "{b}"}}', "a: points to “b”"),
    ('{"a": {"$value": "{b}"}, "b": {"$value": "{a}"}}', "ring: a → b → a"),
    ('{"a": {"$type": "color", "$value": "nocolour"}}', "a: “nocolour” is not a colour"),
    ('{"a": {"$type": "dimension", "$value": "4 feet"}}', "not a length"),
    ('{"a": {"$type": "duration", "$value": 5}}', "not a time"),
    ('{"a": {"$type": "color", "$value": {"colorSpace": "paint", "components": [1]}}}', "paint"),
    ("{" + '"a": {' * 30 + "}" * 31, "nested deeper"),
])
def test_broken_tokens_are_told_with_their_place(text: str, told: str) -> None:
    with pytest.raises(TokenError, match=told.replace("(", r"\(")):
        tokens_from_text(text)


def test_untyped_and_foreign_tokens_are_kept_for_later() -> None:
    text = ('{"a": {"$value": 3}, "b": {"$type": "typography", "$value": {"fontFamily": "Nope", '
            '"fontSize": "9px"}}}')
    found = tokens_from_text(text)
    assert [one.place.element for one in found.leftovers] == ["a", "b"] and not found.palette
    assert json.loads(tokens_to_text(with_tokens(Kit(), found))) == json.loads(text)


def test_palette_edits_reach_everything_that_uses_them(demo_kit: Kit) -> None:
    used = palette_edits.users_of(demo_kit, "tide-deep")
    assert "Board" in used
    kit = palette_edits.rename(demo_kit, "tide-deep", "harbour")
    assert palette_edits.users_of(kit, "harbour") == used
    assert not palette_edits.users_of(kit, "tide-deep") and kit_from_data(kit.model_dump()) == kit
    kit = palette_edits.replace(kit, "harbour", "tide-light")
    assert set(used) <= set(palette_edits.users_of(kit, "tide-light"))
    gone = palette_edits.remove(kit, "tide-light")
    assert kit_from_data(gone.model_dump()) == gone
    kit = palette_edits.set_schemes(demo_kit, ("day", "night"))
    kit = palette_edits.set_swatch(kit, "tide-deep", "#0A1A22", "night")
    kit = palette_edits.set_swatch(kit, "tide-dark", "#000000")
    kit = palette_edits.set_swatch_formula(kit, "tide-dark", "darken(tide_deep, 0.1)")
    night = palette_edits.in_scheme(kit, "night")
    assert night.colour("tide-deep") == "#0A1A22" != kit.colour("tide-deep")
    assert night.colour("tide-dark") != kit.colour("tide-dark") != "#000000"
