"""Giving up long work in the middle: who began it says whether it is still wanted."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Iterator
from contextvars import ContextVar

from mektel.core.errors import MektelError

_wanted: ContextVar[Callable[[], bool] | None] = ContextVar("wanted", default=None)


class StoppedError(MektelError):
    """The work was given up: nobody wants its result any more."""


@contextlib.contextmanager
def while_wanted(wanted: Callable[[], bool]) -> Iterator[None]:
    """Work within, in this thread, ends by :class:`StoppedError` once ``wanted`` says no."""
    before = _wanted.set(wanted)
    try:
        yield
    finally:
        _wanted.reset(before)


def check_wanted() -> None:
    """Asked before each longer step, such as a picture. Raises :class:`StoppedError`."""
    wanted = _wanted.get()
    if wanted is not None and not wanted():
        raise StoppedError("Stopped.")
