"""A kit's face that is not installed."""

from __future__ import annotations

from collections.abc import Iterator

from mektel.core.finding import Finding, Mend, Place
from mektel.core.kit import Kit
from mektel.core.look.faces import AS_DRAWN, face_problem
from mektel.core.proof.findings import kit_check


@kit_check("face-not-installed")
def face_is_installed(kit: Kit) -> Iterator[Finding]:
    problem = face_problem(kit)
    if problem:
        yield Finding("face-not-installed", Place(), problem, Mend(
            "Choose another face in Reuse, or install that one.",
            lambda kit: kit.model_copy(update={"face": AS_DRAWN})))
