"""The project itself: what a newcomer meets, sizes, fonts, and the application’s own contrast."""

from __future__ import annotations

import doctest
import graphlib
import importlib
import re
import subprocess
from pathlib import Path

import grimp
import pytest

from mektel.app.theme import NIGHT, SAILCLOTH, Theme
from mektel.core.colour import contrast
from mektel.core.text.fonts import FAMILIES, WEIGHTS, font_file, licence_file

ROOT = Path(__file__).resolve().parents[1]
DOCS = [ROOT / "README.md", *sorted((ROOT / "docs").glob("*.md"))]
SOURCE = ROOT / "src"
WITH_EXAMPLES = sorted(".".join(path.relative_to(SOURCE).with_suffix("").parts)
                       for path in SOURCE.rglob("*.py") if ">>> " in path.read_text())


@pytest.mark.parametrize("path", DOCS, ids=lambda path: path.name)
def test_every_link_in_the_docs_leads_somewhere(path: Path) -> None:
    for target in re.findall(r"\]\(([^)#]+)(?:#[^)]*)?\)", path.read_text()):
        assert (path.parent / target).exists(), target


@pytest.mark.parametrize("module", WITH_EXAMPLES)
def test_examples_in_docstrings_are_true(module: str) -> None:
    tried = doctest.testmod(importlib.import_module(module))
    assert tried.attempted and not tried.failed


def test_every_picture_is_linked_from_the_readme() -> None:
    pictures = sorted((ROOT / "docs/screenshots").glob("*.png"))
    assert 0 < len(pictures) < 20
    readme = (ROOT / "README.md").read_text()
    for picture in pictures:
        assert f"docs/screenshots/{picture.name}" in readme


def test_no_file_grows_past_reading() -> None:
    long = {
        path.relative_to(ROOT): count
        for folder in ("src", "tests", "tools", "benchmarks")
        for path in (ROOT / folder).rglob("*.py")
        if (count := len(path.read_text().splitlines())) > 500
    }
    assert not long


def test_no_modules_import_each_other_in_a_circle() -> None:
    """Imports within functions count, too; those for types alone do not."""
    graph = grimp.build_graph("mektel", exclude_type_checking_imports=True)
    imports = {name: graph.find_modules_directly_imported_by(name) for name in graph.modules}
    assert len(imports) > 200
    graphlib.TopologicalSorter(imports).prepare()


def test_what_git_holds_is_what_is_used() -> None:
    """Nothing that the package needs is left out by an ignore pattern."""
    ignored = subprocess.run(
        ["git", "ls-files", "--others", "--ignored", "--exclude-standard", "src"],
        cwd=ROOT, capture_output=True, text=True, check=False,
    ).stdout.splitlines()
    assert [name for name in ignored if "__pycache__" not in name and ".egg-info" not in name] == []


def test_every_font_ships_with_its_licence() -> None:
    for family in FAMILIES:
        assert "SIL OPEN FONT LICENSE" in licence_file(family).read_text()
        assert all(font_file(family, weight).exists() for weight in WEIGHTS)
    for folder in (ROOT / "src/mektel/fonts").iterdir():
        assert (folder / "OFL.txt").exists()


def rgb(colour: str) -> tuple[float, ...]:
    return tuple(int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5))


@pytest.mark.parametrize("theme", [SAILCLOTH, NIGHT], ids=lambda theme: theme.name)
def test_the_application_can_be_read(theme: Theme) -> None:
    """WCAG 2.2 AA: 4.5 for words, 3 for what marks focus and what is held."""
    for ground in (theme.ground, theme.panel, theme.raised, theme.well):
        for ink in (theme.ink, theme.dim):
            assert contrast(rgb(ink), rgb(ground)) >= 4.5, (ink, ground)
        for mark in (theme.accent, theme.second):
            assert contrast(rgb(mark), rgb(ground)) >= 3, (mark, ground)
    for ground in (theme.ground, theme.panel):
        for told in (theme.good, theme.warn, theme.bad):
            assert contrast(rgb(told), rgb(ground)) >= 4.5, (told, ground)
    assert contrast(rgb(theme.on_accent), rgb(theme.accent)) >= 4.5
    assert contrast(rgb(theme.panel), rgb(theme.ink)) >= 4.5
