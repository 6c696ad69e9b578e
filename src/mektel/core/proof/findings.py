"""The checks of a kit: a registry, and what all of them find.

A check is a function of a kit and one of its controls that yields findings; it stands in a small
file of its own under ``checks`` and is put into the registry by :func:`check`.
"""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Callable, Iterable
from functools import lru_cache

from mektel.core.finding import Finding
from mektel.core.kit import Control, Kit

Check = Callable[[Kit, Control], Iterable[Finding]]
KitCheck = Callable[[Kit], Iterable[Finding]]
_of_controls: dict[str, Check] = {}
_of_kits: dict[str, KitCheck] = {}


def check(code: str) -> Callable[[Check], Check]:
    """Puts a check of single controls into the registry, under the code of its findings."""
    def put(made: Check) -> Check:
        _of_controls[code] = made
        return made

    return put


def kit_check(code: str) -> Callable[[KitCheck], KitCheck]:
    """Puts a check of whole kits into the registry, under the code of its findings."""
    def put(made: KitCheck) -> KitCheck:
        _of_kits[code] = made
        return made

    return put


@lru_cache(maxsize=1)
def _load() -> None:
    from mektel.core.proof import checks

    for module in pkgutil.iter_modules(checks.__path__):
        importlib.import_module(f"{checks.__name__}.{module.name}")


def codes() -> tuple[str, ...]:
    """The codes of everything that is looked for."""
    _load()
    return (*_of_controls, *_of_kits)


def findings(kit: Kit) -> list[Finding]:
    """Everything that is wrong in a kit, control by control."""
    _load()
    all_findings = [finding for control in kit.controls for finding in findings_of(kit, control)]
    return all_findings + [finding for made in _of_kits.values() for finding in made(kit)]


def findings_of(kit: Kit, control: Control) -> list[Finding]:
    """What is wrong with one control; what it shows meanwhile is its last good look."""
    _load()
    all_findings = [finding for made in _of_controls.values() for finding in made(kit, control)]
    return list(dict.fromkeys(all_findings))
