"""The one way from a kit to a target's files: what cannot be shipped is refused before a file is
made.
"""

from __future__ import annotations

import hashlib
from collections.abc import Hashable, Iterable
from typing import Any, cast

from mektel.core.kit import Control, Kit, parse_flags, shown_states
from mektel.core.look import resolve
from mektel.core.paint.cost import check_cost
from mektel.core.remember import within_bytes
from mektel.core.stopping import check_wanted
from mektel.formats.kitfile import kit_to_text
from mektel.targets import naming
from mektel.targets.base import OutFile, Target, TargetError

DENSEST = 3


def ship(target: Target, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
    """Every file of these controls for a target.

    Raises :class:`TargetError` for names that cannot be shipped, layers that cannot be drawn, and
    anything that went wrong on the way.
    """
    return list(_ship(target, kit, tuple(controls)))


def forget() -> None:
    """Forgets the files that were made, for measuring how long making them takes."""
    cast(Any, _ship).cache_clear()


def _content(target: Target, kit: Kit, chosen: tuple[Control, ...]) -> Hashable:
    text = kit_to_text(kit).encode("utf-8", "surrogatepass")
    # A control that is not as the kit has it counts by what it holds.
    return target, hashlib.blake2b(text).digest(), tuple(
        control.id if control in kit.controls else control.model_dump_json() for control in chosen)


# By what they are made of: files that are looked at, written and run are made once, and a kit that
# is as it was is shipped again at once.
@within_bytes(48 * 2**20, lambda files: sum(len(file.content) for file in files), _content)
def _ship(target: Target, kit: Kit, chosen: tuple[Control, ...]) -> tuple[OutFile, ...]:
    naming.check(target, kit, chosen)
    for control in chosen:
        _check_drawn(kit, control)
    files = target.files(kit, chosen)
    paths: set[object] = set()
    for file in files:
        if file.path in paths:
            raise TargetError(f"{file.path} would be written twice; give one control another id.")
        paths.add(file.path)
    return tuple(files)


def _check_drawn(kit: Kit, control: Control) -> None:
    for state in shown_states(control.behaviour):
        check_wanted()
        look = resolve(kit, control, parse_flags(state))
        for refused in look.refused:
            raise TargetError(f"{control.name}, {state}: “{refused.layer}” cannot be drawn: "
                              f"{refused.why}")
        check_cost(look, DENSEST, look.margins())
