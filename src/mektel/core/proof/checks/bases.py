"""Controls that derive from one that is not there."""

from __future__ import annotations

from collections.abc import Iterator

from mektel.core.finding import Finding, Mend, Place
from mektel.core.kit import Control, Kit, deriving
from mektel.core.proof.findings import check


@check("base-not-there")
def base_is_there(kit: Kit, control: Control) -> Iterator[Finding]:
    if control.base is not None and all(other.id != control.base for other in kit.controls):
        yield Finding(
            "base-not-there", Place(control=control.id),
            f"It derives from “{control.base}”, which is not in this kit.",
            Mend("It keeps what it has; right-click it on the shelf to part it from its base.",
                 lambda kit: deriving.set_base(kit, control.id, None)))
