"""Remembering results by the identity of frozen values.

Kits and controls are frozen, and an edit shares what it did not change; so the same object always
gives the same result. Comparing identities costs nothing, where hashing a control would not.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any, TypeVar

Result = TypeVar("Result")
MOST = 1024


class Remembered:
    """At most ``MOST`` results; forgets all of them when full, which is rare and cheap."""

    def __init__(self) -> None:
        self._kept: dict[Hashable, tuple[tuple[Any, ...], Any]] = {}

    def get(
        self, frozen: tuple[Any, ...], rest: tuple[Hashable, ...], make: Callable[[], Result]
    ) -> Result:
        """What ``make`` gives for these objects and plain values, made once."""
        key = (*map(id, frozen), *rest)
        found = self._kept.get(key)
        if found is None:
            if len(self._kept) >= MOST:
                self._kept.clear()
            # The objects are kept too: an id may only be used again once they are gone.
            found = self._kept[key] = (frozen, make())
        return found[1]
