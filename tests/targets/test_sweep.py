"""One value changed on hover, in every layer kind: a slice of what ``tools/sweep.py`` runs."""

from __future__ import annotations

import importlib.util

import pytest
from tests.conftest import ROOT

EVERY = 41


def _load():
    spec = importlib.util.spec_from_file_location("sweep", ROOT / "tools" / "sweep.py")
    assert spec and spec.loader
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


sweep = _load()


@pytest.mark.parametrize("target", ["qtwidgets", "web"])
def test_a_value_changed_on_hover_is_changed_in_shipped_code(target: str) -> None:
    chosen = sweep.differing(list(sweep.sweep()))
    assert len(chosen) > 900
    matches, broken = sweep.run(target, chosen[::EVERY])
    assert not broken and len(matches) == 2 * len(chosen[::EVERY])
    for match in matches:
        assert match.passes, match.as_data()
