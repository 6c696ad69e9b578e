"""All controls, targets and states at once, what is farthest from its design first."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from mektel.targets.match import Match


@dataclass(frozen=True)
class Verdict:
    """What is known of one state of a control in a target, without its pictures."""

    state: str
    mean: float
    severity: float
    faults: tuple[str, ...]

    @property
    def passes(self) -> bool:
        return not self.faults


@dataclass(frozen=True)
class ControlVerdicts:
    """``targets`` maps the name of each target that ran to the verdicts on its states."""

    control: str
    targets: Mapping[str, tuple[Verdict, ...]]

    def worst(self, target: str) -> Verdict:
        return max(self.targets[target], key=lambda verdict: verdict.severity)

    @property
    def severity(self) -> float:
        return max(self.worst(target).severity for target in self.targets)


def worst_first(matches: Mapping[str, Sequence[Match]]) -> list[ControlVerdicts]:
    """The verdicts of every target by control; judging local differences takes its time."""
    controls: dict[str, dict[str, list[Verdict]]] = {}
    for target, states in matches.items():
        for match in states:
            mean = (match.bare or match.full).judged_mean
            controls.setdefault(match.control, {}).setdefault(target, []).append(
                Verdict(match.state, mean, match.severity, match.faults))
    rows = [ControlVerdicts(control, {name: tuple(states) for name, states in targets.items()})
            for control, targets in controls.items()]
    return sorted(rows, key=lambda row: -row.severity)
