"""Remembering results by the identity of frozen values.

Kits and controls are frozen, and an edit shares what it did not change; so the same object always
gives the same result. Comparing identities costs nothing, where hashing a control would not.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from typing import Any, TypeVar

import cachetools

Result = TypeVar("Result")


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
            found = self._kept.get(key)
        if found is None:
            # The objects are kept too: an id may only be used again once they are gone.
            found = (frozen, make())
            with self._lock:
                self._kept[key] = found
        made: Result = found[1]
        return made
