"""Shared by all tests: the demo kit, a place of one’s own for settings, examples."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import Phase, settings

from mektel.core.kit import Control, Kit, edit
from mektel.formats.kitfile import read_sample
from mektel.samples import DEMO
from mektel.targets.chromium import kept_running
from tests import slices

# What fails is made small, but not explained: that takes minutes where a kit is among the values.
settings.register_profile("mektel", phases=[phase for phase in Phase if phase != Phase.explain])
settings.load_profile("mektel")
ROOT = Path(__file__).resolve().parents[1]
EXAMPLES = ROOT / "examples"


# Files that take long where others do not come first. Files of targets wait for browsers and
# other programs: they take turns with those that only compute.
LONG = ("test_long_use.py", "test_web_in_use.py", "test_sizes.py", "test_fit.py",
        "test_saved_work.py")
FOLDERS = ("formats", "app", "tests", "core")


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--all", action="store_true", dest="every_case",
                     help="every case of the checks that usually try a slice of them")


def pytest_configure(config: pytest.Config) -> None:
    """Much of what tests make lives long: looking through all of it often takes a tenth of the
    time.
    """
    gc.set_threshold(20_000, 20, 50)
    slices.every_case = config.getoption("every_case")
    config.addinivalue_line("markers", "every_case: tried with ./test --all alone")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """A worker takes whole files: the long ones first, so that nobody waits for one at the end."""
    if not slices.every_case:
        left = [item for item in items if item.get_closest_marker("every_case")]
        items[:] = [item for item in items if item not in left]
        config.hook.pytest_deselected(items=left)

    files = dict.fromkeys(item.path for item in items)
    waiting = [path for path in reversed(files) if path.parent.name == "targets"]
    computing = sorted((path for path in files if path not in waiting), key=lambda path: (
        FOLDERS.index(path.parent.name) if path.parent.name in FOLDERS else len(FOLDERS)))
    place = {path: -1.0 if path.name in LONG else at / len(group)
             for group in (waiting, computing) for at, path in enumerate(group)}
    items.sort(key=lambda item: place[item.path])


@pytest.fixture(autouse=True)
def own_home(tmp_path_factory: pytest.TempPathFactory, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Nothing of the user’s is read or written."""
    home = tmp_path_factory.mktemp("home")
    for name in ("HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"):
        monkeypatch.setenv(name, str(home))
    return home


@pytest.fixture(scope="session", autouse=True)
def browser_of_all_tests() -> Iterator[None]:
    """Starting a browser takes longer than most of what is tried in it."""
    with kept_running():
        yield


@pytest.fixture(scope="session")
def demo_kit() -> Kit:
    return read_sample(DEMO)


@pytest.fixture(scope="session")
def examples() -> Path:
    return EXAMPLES


def labelled_horn(kit: Kit) -> Control:
    """The demo kit's round control with a label, so that its text can be tried as well."""
    kit = edit.add_layer(kit, "horn", "label", "Label")
    return edit.set_field(kit, "horn", "text", "Horn").control("horn")
