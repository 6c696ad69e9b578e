"""A kit's finish that is not installed."""

from __future__ import annotations

from collections.abc import Iterator

from mektel.core.finding import Finding, Mend, Place
from mektel.core.kit import Kit
from mektel.core.look.finishes import AS_DRAWN, finish_problem
from mektel.core.proof.findings import kit_check


@kit_check("finish-not-installed")
def finish_is_installed(kit: Kit) -> Iterator[Finding]:
    problem = finish_problem(kit)
    if problem:
        yield Finding("finish-not-installed", Place(), problem, Mend(
            "Choose another finish in Reuse, or install that one.",
            lambda kit: kit.model_copy(update={"finish": AS_DRAWN})))
