"""A slice of tools/sweep.py: single values changed on hover, run in their toolkits."""

from __future__ import annotations

import importlib.util

import pytest

from tests.conftest import ROOT
from tests.slices import count_of

spec = importlib.util.spec_from_file_location("sweep", ROOT / "tools/sweep.py")
assert spec is not None and spec.loader is not None
sweep = importlib.util.module_from_spec(spec)
spec.loader.exec_module(sweep)


@pytest.mark.parametrize("target", ["qtwidgets", "web"])
def test_any_value_can_change_in_a_state(target: str) -> None:
    chosen = sweep.differing(list(sweep.sweep())[:: count_of(89, 59)])
    assert len({control.layers[-1].kind for control in chosen}) >= count_of(10, 11)
    matches, broken = sweep.run(target, chosen)
    assert not broken and {match.state for match in matches} == {"rest", "hover"}
    assert not [(match.control, match.faults) for match in matches if not match.passes]
