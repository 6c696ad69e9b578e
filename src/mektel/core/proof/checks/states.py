"""Changes for states that a control of its behaviour can never be in."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from mektel.core.finding import Finding, Mend, Place
from mektel.core.kit import Control, Kit
from mektel.core.kit.edit import clear_changes
from mektel.core.kit.state_edits import unreachable
from mektel.core.proof.findings import check


@check("state-never-met")
def states_can_be_met(kit: Kit, control: Control) -> Iterator[Finding]:
    for condition in unreachable(control):
        yield Finding(
            "state-never-met", Place(control=control.id, condition=condition),
            f"It has a look for {condition}, which a {control.behaviour} control is never in.",
            Mend("Give it another behaviour, or remove that look.",
                 partial(clear_changes, control_id=control.id, state=condition)))
