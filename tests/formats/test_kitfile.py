"""The kit file: readable, refused with the place when broken, never half written."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from mektel.core.kit import FORMAT, KINDS, Kit
from mektel.formats.kitfile import (
    KitFileError,
    kit_schema,
    kit_to_text,
    read_kit,
    write_atomically,
    write_kit,
)
from mektel.samples import DEMO, starter_files


def test_what_ships_is_written_as_it_is_read() -> None:
    for path in (DEMO, *starter_files().values()):
        assert path.read_text(encoding="utf-8") == kit_to_text(read_kit(path))


def test_a_kit_is_readable_and_in_a_stable_order(demo_kit: Kit) -> None:
    text = kit_to_text(demo_kit)
    data = json.loads(text)
    assert list(data)[:3] == ["format", "name", "palette"] and list(data)[-1] == "controls"
    assert '"size": [168, 48]' in text and '"text": "Cast off"' in text
    assert list(data["controls"][0]["states"]) == ["focus", "hover", "pressed", "disabled"]
    longest = max(len(line) for line in text.splitlines())
    assert longest < 100


@pytest.mark.parametrize(("content", "reason"), [
    (b"", "not valid JSON"),
    (b'{"format": 1,\n "name": }', "line 2, column 10"),
    (b'{"format": 1, "name": "A", "name": "B"}', "stands twice"),
    (b'{"format": 1, "name": NaN}', "NaN is not a number"),
    (b'{"format": 99}', "Open it with a newer Mektel"),
    (b'{"format": 1, "controls": [{"id": "a"}]}', "controls[0].name"),
    (b"[" * 100_000, "nested"),
    (b'{"format": 1, "x": ' + b"[" * 80 + b"]" * 80 + b"}", "nested deeper"),
    (b"\xff\xfe{}", "not UTF-8"),
])
def test_broken_files_are_refused_with_place_and_reason(
    tmp_path: Path, content: bytes, reason: str
) -> None:
    path = tmp_path / "broken.mektel"
    path.write_bytes(content)
    with pytest.raises(KitFileError, match=r"broken\.mektel") as caught:
        read_kit(path)
    assert reason in str(caught.value)
    assert path.read_bytes() == content


def test_a_file_that_cannot_be_read_or_written_is_told(tmp_path: Path, demo_kit: Kit) -> None:
    with pytest.raises(KitFileError, match="No such file"):
        read_kit(tmp_path / "none.mektel")
    with pytest.raises(KitFileError, match="not written"):
        write_kit(demo_kit, tmp_path / "no folder" / "kit.mektel")
    (tmp_path / "taken").mkdir()
    with pytest.raises(KitFileError, match="not written"):
        write_kit(demo_kit, tmp_path / "taken")
    assert [path.name for path in tmp_path.iterdir()] == ["taken"]


def test_saving_keeps_permissions_and_follows_links(tmp_path: Path, demo_kit: Kit) -> None:
    real = tmp_path / "real.mektel"
    real.write_text("old")
    real.chmod(0o640)
    link = tmp_path / "link.mektel"
    link.symlink_to(real)
    write_kit(demo_kit, link)
    assert link.is_symlink() and real.stat().st_mode & 0o777 == 0o640
    assert read_kit(real) == demo_kit


def test_the_schema_describes_the_file(demo_kit: Kit) -> None:
    schema = kit_schema()
    assert schema["$schema"].endswith("2020-12/schema")
    kinds = schema["$defs"]["Control"]["properties"]["layers"]["items"]["discriminator"]["mapping"]
    assert set(kinds) == set(KINDS)
    width = schema["$defs"]["Line"]["properties"]["width"]
    assert (width["minimum"], width["maximum"]) == (0, 2000)
    assert schema["properties"]["format"]["const"] == FORMAT
    data = json.loads(kit_to_text(demo_kit))
    derived = next(one for one in data["controls"] if "differs" in one)
    for name, layer in (("Control", data["controls"][0]), ("Control", derived),
                        ("Shadow", data["controls"][0]["layers"][0])):
        assert set(layer) <= set(schema["$defs"][name]["properties"])


def test_atomic_writing_leaves_no_traces(tmp_path: Path) -> None:
    write_atomically(tmp_path / "a.bin", b"one")
    write_atomically(tmp_path / "a.bin", b"two")
    assert [path.name for path in tmp_path.iterdir()] == ["a.bin"]
    assert (tmp_path / "a.bin").read_bytes() == b"two"
