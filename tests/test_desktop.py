"""What makes Mektel a program of the desktop: menus, file type, and a wheel that is whole."""

from __future__ import annotations

import tomllib
from pathlib import Path
from xml.etree import ElementTree

import pytest
from click.testing import CliRunner

from mektel.cli import cli
from tests.conftest import ROOT


def test_menu_entry_and_file_type_come_and_go(tmp_path: Path, monkeypatch) -> None:
    data = tmp_path / "data"
    monkeypatch.setenv("XDG_DATA_HOME", str(data))
    start = tmp_path / "a $folder" / "start"
    monkeypatch.setenv("MEKTEL_START", str(start))
    other = data / "applications" / "other.desktop"
    other.parent.mkdir(parents=True)
    other.write_text("[Desktop Entry]\n")
    done = CliRunner().invoke(cli, ["--install"])
    assert done.exit_code == 0, done.output
    paths = [Path(line) for line in done.output.splitlines()]
    assert len(paths) == 4 and all(path.is_relative_to(data) for path in paths)
    entry = (data / "applications/mektel.desktop").read_text(encoding="utf-8")
    assert f'Exec="{tmp_path}/a \\\\$folder/start" open %f\n' in entry and "@" not in entry
    mime = ElementTree.parse(data / "mime/packages/mektel.xml")
    assert [glob.get("pattern") for glob in mime.iter() if glob.tag.endswith("glob")] == [
        "*.mektel"]
    for name in ("metainfo/mektel.metainfo.xml", "icons/hicolor/scalable/apps/mektel.svg"):
        ElementTree.parse(data / name)
    done = CliRunner().invoke(cli, ["--uninstall"])
    assert done.output.splitlines() == list(map(str, paths))
    assert [path for path in data.rglob("*") if path.is_file() and "mektel" in path.name] == []
    assert other.exists()
    assert CliRunner().invoke(cli, ["--uninstall"]).output == "It was not installed.\n"


def test_a_folder_that_cannot_be_written_is_named(tmp_path: Path, monkeypatch) -> None:
    (tmp_path / "data").write_text("a file, not a folder")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    with pytest.raises(Exception, match="not written"):
        CliRunner().invoke(cli, ["--install"], catch_exceptions=False)


def test_everything_that_is_read_at_run_time_is_packed() -> None:
    project = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))
    package = ROOT / "src/mektel"
    packed = {path for pattern in project["tool"]["setuptools"]["package-data"]["mektel"]
              for path in package.glob(pattern) if path.is_file()}
    data = {path for path in package.rglob("*")
            if path.is_file() and path.suffix not in (".py", ".pyc")}
    assert data <= packed, sorted(map(str, data - packed))
