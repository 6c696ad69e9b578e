"""Pictures of controls and blurs that all instances share, within a bound."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

Kept = TypeVar("Kept")


class Same:
    """An object as a key: equal to itself only, and alive as long as the key."""

    def __init__(self, of: object) -> None:
        self.of = of

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Same) and other.of is self.of

    def __hash__(self) -> int:
        return id(self.of)


class Cache(Generic[Kept]):
    """What was used last, up to so many bytes; what was asked for just now is always kept."""

    def __init__(self, most: int, size: Callable[[Kept], int]) -> None:
        self.most, self.bytes = most, 0
        self._size = size
        self._kept: OrderedDict[Hashable, Kept] = OrderedDict()

    def __contains__(self, key: Hashable) -> bool:
        return key in self._kept

    def get(self, key: Hashable, make: Callable[[], Kept]) -> Kept:
        kept = self._kept.get(key)
        if kept is None:
            return self.put(key, make())
        self._kept.move_to_end(key)
        return kept

    def put(self, key: Hashable, kept: Kept) -> Kept:
        """Keeps what may differ from what was kept before."""
        if key in self._kept:
            self.bytes -= self._size(self._kept.pop(key))
        self._kept[key] = kept
        self.bytes += self._size(kept)
        while self.bytes > self.most and len(self._kept) > 1:
            _, oldest = self._kept.popitem(last=False)
            self.bytes -= self._size(oldest)
        return kept
