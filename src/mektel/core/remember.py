"""Remembering results: by the identity of frozen values, or by value within so many bytes.

Kits and controls are frozen, and an edit shares what it did not change; so the same object always
gives the same result. Comparing identities costs nothing, where hashing a control would not.
"""

from __future__ import annotations

import contextlib
import threading
from collections.abc import Callable, Hashable, Iterator
from contextvars import ContextVar
from typing import Any, TypeVar, cast

import cachetools
import cachetools.keys

Result = TypeVar("Result")
Function = TypeVar("Function", bound=Callable[..., Any])
_keeping: ContextVar[bool] = ContextVar("keeping", default=True)
# Pixels per px from which what passes may be drawn a little coarser.
COARSER_FROM = 2.0
_passing: ContextVar[bool] = ContextVar("passing", default=False)


@contextlib.contextmanager
def unkept() -> Iterator[None]:
    """What is made within is not kept, so that it pushes nothing out: frames that are shown once,
    or a long run beside a window in use. What is kept already is used.
    """
    before = _keeping.set(False)
    try:
        yield
    finally:
        _keeping.reset(before)


@contextlib.contextmanager
def passing() -> Iterator[None]:
    """What is made within is shown for a moment, while something moves: it is not kept, and is
    drawn rather at once than to the last detail.
    """
    before = _passing.set(True)
    try:
        with unkept():
            yield
    finally:
        _passing.reset(before)


def is_passing() -> bool:
    """Whether what is made now is shown for a moment only."""
    return _passing.get()


def is_kept() -> bool:
    """Whether what is made now is to be kept."""
    return _keeping.get()


class Remembered:
    """At most ``most`` results; the least recently used is forgotten first."""

    def __init__(self, most: int = 512) -> None:
        self._kept: cachetools.LRUCache[Hashable, tuple[tuple[Any, ...], Any]] = (
            cachetools.LRUCache(most))
        self._lock = threading.Lock()

    def get(
        self, frozen: tuple[Any, ...], rest: tuple[Hashable, ...], make: Callable[[], Result]
    ) -> Result:
        """What ``make`` gives for these objects and plain values, made once."""
        key = (*map(id, frozen), *rest)
        with self._lock:
            entry = self._kept.get(key)
        if entry is None:
            # The objects are kept too: an id may only be used again once they are gone.
            entry = (frozen, make())
            if is_kept():
                with self._lock:
                    self._kept[key] = entry
        made: Result = entry[1]
        return made


def within_bytes(
    largest: int, size_of: Callable[[Any], int],
    key: Callable[..., Hashable] = cachetools.keys.hashkey,
) -> Callable[[Function], Function]:
    """Remembers a function's results by its arguments, or by what ``key`` makes of them, as many as
    come to ``largest`` bytes.

    >>> @within_bytes(10, len)
    ... def text(count): return "x" * count
    >>> text(6) is text(6), text(9) is text(9), text(6) is text(6)
    (True, True, True)
    """
    def decorate(function: Function) -> Function:
        kept: cachetools.LRUCache[Hashable, Any] = cachetools.LRUCache(largest, size_of)
        return cast(Function, cachetools.cached(kept, key, threading.RLock())(function))

    return decorate
