"""The one way from a kit to a target's files: what cannot be shipped is refused before a file is
made.
"""

from __future__ import annotations

from collections.abc import Iterable

from mektel.core.kit import Control, Kit, parse_flags, shown_states
from mektel.core.look import resolve
from mektel.core.paint.cost import check_cost
from mektel.core.stopping import check_wanted
from mektel.targets import naming
from mektel.targets.base import OutFile, Target, TargetError

DENSEST = 3


def ship(target: Target, kit: Kit, controls: Iterable[Control]) -> list[OutFile]:
    """Every file of these controls for a target.

    Raises :class:`TargetError` for names that cannot be shipped, layers that cannot be drawn, and
    anything that went wrong on the way.
    """
    chosen = list(controls)
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
