"""The one way from a kit to a target's files: what cannot be shipped is refused before a file is
made.
"""

from __future__ import annotations

import hashlib
import threading
from collections.abc import Iterable

import cachetools

from mektel.core.kit import Control, Kit, parse_flags, shown_states
from mektel.core.look import resolve
from mektel.core.paint.cost import check_cost
from mektel.core.stopping import check_wanted
from mektel.formats.kitfile import kit_to_text
from mektel.targets import naming
from mektel.targets.base import OutFile, Target, TargetError

DENSEST = 3
# Files by what they are made of: those that are looked at, written and run are made once, and a kit
# that is as it was is shipped again at once.
Made = tuple[Target, tuple[OutFile, ...]]
_made: cachetools.LRUCache[tuple[int, bytes, tuple[str, ...]], Made] = cachetools.LRUCache(
    48 * 2**20, lambda made: sum(len(file.content) for file in made[1]))
_lock = threading.Lock()


def ship(target: Target, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
    """Every file of these controls for a target.

    Raises :class:`TargetError` for names that cannot be shipped, layers that cannot be drawn, and
    anything that went wrong on the way.
    """
    chosen = list(controls)
    key = (id(target), hashlib.blake2b(kit_to_text(kit).encode("utf-8", "surrogatepass")).digest(),
           tuple(control.id for control in chosen))
    with _lock:
        kept = _made.get(key)
    if kept is None:
        # The target is kept with them: its id is not used again meanwhile.
        kept = target, tuple(_ship(target, kit, chosen))
        with _lock:
            if sum(len(file.content) for file in kept[1]) <= _made.maxsize:
                _made[key] = kept
    return list(kept[1])


def forget() -> None:
    """Forgets the files that were made, for measuring how long making them takes."""
    with _lock:
        _made.clear()


def _ship(target: Target, kit: Kit, chosen: list[Control]) -> list[OutFile]:
    naming.check(target, kit, chosen)
    for control in chosen:
        _check_drawn(kit, control)
    files = target.files(kit, chosen)
    paths: set[object] = set()
    for file in files:
        if file.path in paths:
            raise TargetError(f"{file.path} would be written twice; give one control another id.")
        paths.add(file.path)
    return files


def _check_drawn(kit: Kit, control: Control) -> None:
    for state in shown_states(control.behaviour):
        check_wanted()
        look = resolve(kit, control, parse_flags(state))
        for refused in look.refused:
            raise TargetError(f"{control.name}, {state}: “{refused.layer}” cannot be drawn: "
                              f"{refused.why}")
        check_cost(look, DENSEST, look.margins())
