"""How many of the cases of a check are tried: a slice in the usual run, all with ``./test --all``.

A case that broke something once is not sliced away: it belongs in a test of its own.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

import pytest

T = TypeVar("T")
every_case = False


def some_of(cases: Sequence[T], step: int, first: int = 0) -> Sequence[T]:
    """Each ``step``-th of many cases that are alike, from ``first`` on."""
    return cases if every_case else cases[first::step]


def others(cases: Sequence[T], step: int) -> Sequence[T]:
    """What :func:`some_of` leaves out."""
    return [case for at, case in enumerate(cases) if at % step and not every_case]


def count_of(usual: int, all_of_them: int) -> int:
    """How many of cases that are made one by one."""
    return all_of_them if every_case else usual


def in_all(*values: object) -> object:
    """A parameter that is tried with ``./test --all`` alone."""
    return pytest.param(*values, marks=pytest.mark.every_case)
