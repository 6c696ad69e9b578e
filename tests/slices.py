"""How many of the cases of a check are tried: a slice in the usual run, all with ``./test --all``.

A case that broke something once is not sliced away: it belongs in a test of its own.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import TypeVar

import pytest

from mektel.core.kit import Control, Kit, designed_states, shown_states
from mektel.core.kit.conditions import REST
from mektel.core.look import settled

T = TypeVar("T")
every_case = False


def some_of(cases: Sequence[T], step: int, first: int = 0) -> Sequence[T]:
    """Each ``step``-th of many cases that are alike, from ``first`` on."""
    return cases if every_case else cases[first::step]


def count_of(usual: int, all_of_them: int) -> int:
    """How many of cases that are made one by one."""
    return all_of_them if every_case else usual


def states_at(kit: Kit, scale: int) -> tuple[list[Control], dict[str, Collection[str]]]:
    """Controls of a kit, and the states of them, that are tried at a density. At two pixels per px
    a sixth of the controls, one of them in all states that its design has, the rest in those that
    the wall shows; a quarter of them at rest at one, another at three. With ``--all``
    everything.
    """
    if every_case:
        return list(kit.controls), {}
    if scale != 2:
        quarter = list(kit.controls[scale % 4 :: 4])
        return quarter, {control.id: (REST,) for control in quarter}
    chosen = list(kit.controls[::6])
    return chosen, {
        control.id: shown_states(control.behaviour) if at != 1 else designed_states(
            control.behaviour, settled(kit, control).states)
        for at, control in enumerate(chosen)}


def in_all(*values: object, name: str | None = None) -> object:
    """A parameter that is tried with ``./test --all`` alone."""
    return pytest.param(*values, marks=pytest.mark.every_case, id=name)
