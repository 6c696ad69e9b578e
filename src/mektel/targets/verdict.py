"""The whole verdict on shipped controls: how they look in every state, and how they behave."""

from __future__ import annotations

import tempfile
from collections.abc import Iterable
from dataclasses import replace
from pathlib import Path

from mektel.core.kit import Control, Kit
from mektel.core.kit.conditions import REST
from mektel.targets.base import Progress, Target
from mektel.targets.conduct import conducts
from mektel.targets.match import Match
from mektel.targets.shipping import ship
from mektel.targets.verify import verify
from mektel.targets.writing import write_files


def verdicts(
    kit: Kit, controls: Iterable[Control], target: Target, progress: Progress | None = None,
    scale: int = 2, folder: Path | None = None,
) -> list[Match]:
    """The looks of every state as :func:`verify` gives them; what is wrong with the behaviour of a
    control stands in its state of rest. Controls are shipped to ``folder``, or to a temporary one.
    """
    chosen = list(controls)
    if folder is None:
        with tempfile.TemporaryDirectory(prefix="mektel-verdict-") as made:
            write_files(ship(target, kit, chosen), Path(made))
            return verdicts(kit, chosen, target, progress, scale, Path(made))
    matches = verify(kit, chosen, target, progress, scale, folder)
    by_control = {conduct.control: conduct
                  for conduct in conducts(kit, chosen, target, progress, folder)}
    return [replace(match, misbehaves=by_control[match.control].faults,
                    behaviour_tried=by_control[match.control].tried)
            if match.state == REST and match.control in by_control else match
            for match in matches]
