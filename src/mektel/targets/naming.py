"""Names in shipped code, checked before anything is written: against those that every control of
the toolkit has already, and against each other; each clash with a name that would do.
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial

from mektel.core.finding import Finding, Mend, Place
from mektel.core.kit import Control, Kit
from mektel.core.kit.edit import set_id
from mektel.core.kit.parameter_edits import set_parameter
from mektel.core.kit.parameters import TAKEN
from mektel.targets.base import Target, TargetError


class NamingError(TargetError):
    """Controls were not shipped because of their names; ``clashes`` say which, and what to do."""

    def __init__(self, clashes: list[Finding]) -> None:
        self.clashes = clashes
        more = f" (and {len(clashes) - 1} more)" if len(clashes) > 1 else ""
        super().__init__(f"{clashes[0]}{more}")


def clashes(target: Target, kit: Kit, controls: Iterable[Control]) -> list[Finding]:
    """Every name of these controls that this target cannot ship."""
    chosen = list(controls)
    problems: list[Finding] = []
    by_file: dict[str, Control] = {}
    every = [other.id for other in kit.controls]
    for control in chosen:
        for file in target.own_files(control):
            other = by_file.setdefault(file, control)
            if other is not control:
                new = _free_id(control.id, every)
                problems.append(Finding(
                    "file-written-twice", Place(control=control.id),
                    f"“{other.name}” ({other.id}) and “{control.name}” ({control.id}) would both "
                    f"be written to {file} for {target.title}.",
                    Mend(f"Give one the id {new}.", partial(set_id, old=control.id, new=new))))
                break
        problems += _of_parameters(target, control)
    return problems


def _of_parameters(target: Target, control: Control) -> list[Finding]:
    problems = []
    names = {parameter.name for parameter in control.parameters}
    reserved = target.taken
    for parameter in control.parameters:
        name = parameter.name
        is_accessor = any(name == f"{way}_{other}" for way in ("get", "set") for other in names)
        if name == "text" or (name not in reserved and not is_accessor):
            continue
        new = _free_parameter(name, names | reserved)
        problems.append(Finding(
            "name-taken", Place(control=control.id),
            f"{control.name}: the parameter “{name}” has the name of something that a control "
            f"has already in {target.title}.",
            Mend(f"Call it {new}.", partial(
                _renamed_parameter, control_id=control.id, old=name, new=new))))
    return problems


def _renamed_parameter(kit: Kit, control_id: str, old: str, new: str) -> Kit:
    return set_parameter(kit, control_id, old, name=new)


def _free_id(taken_id: str, every: list[str]) -> str:
    base, count = taken_id[:60], 2
    while f"{base}-{count}" in every:
        count += 1
    return f"{base}-{count}"


def _free_parameter(name: str, taken: Iterable[str]) -> str:
    others = {*taken, *TAKEN}
    base, count = f"{name.strip('_')[:30]}_value", 2
    candidate = base
    while candidate in others:
        candidate, count = f"{base}_{count}", count + 1
    return candidate


def plan_findings(target: Target, kit: Kit, control: Control) -> list[Finding]:
    """What of a control cannot be shipped as it was designed, and as what it is drawn instead."""
    return [
        Finding(f"drawn-{layer_plan.how}", Place(control=control.id, part=layer_plan.part),
                f"{layer_plan.layer} in {target.title}: {layer_plan.why}.")
        for layer_plan in target.plan(kit, control) if layer_plan.how in ("partly", "lost")]


def check(target: Target, kit: Kit, controls: Iterable[Control]) -> None:
    """Raises :class:`NamingError` where a name cannot be shipped."""
    problems = clashes(target, kit, controls)
    if problems:
        raise NamingError(problems)
