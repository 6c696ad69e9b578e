"""The verdict on how a shipped control behaves: recorded traces are played on it with real input,
and it is asked what an application and a screen reader would ask.

A target brings about and observes; what should be seen comes from the state machine and the design.
"""

from __future__ import annotations

import json
import tempfile
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, field
from functools import cache
from pathlib import Path
from typing import Any, Protocol, runtime_checkable

from mektel.core.behaviour import play, traces
from mektel.core.behaviour.traces import FILE
from mektel.core.kit import Control, Kit
from mektel.core.kit.palette_edits import in_scheme
from mektel.core.proof import mean_difference
from mektel.core.proof.compare import largest_difference, opaque_part
from mektel.targets.base import Pixels, Progress, Target, TargetError
from mektel.targets.match import BAR_WITH_TEXT
from mektel.targets.sheet import Sheet, sheet_of
from mektel.targets.shipping import ship
from mektel.targets.verify import designed_picture, has_label, text_is_fixed
from mektel.targets.writing import write_files

# A text that no control of a kit says by itself.
OTHER_TEXT = "Farther <b>shore, & back"
# Signals that every target has.
HEARD = ("clicked", "toggled", "longPressed")
# Up to so many steps of 255 two schemes look the same.
ALIKE = 2


@dataclass(frozen=True)
class Trial:
    """What is tried on one control: the traces of its behaviour, its palette's schemes, and another
    text where it can say one.
    """

    control: Control
    traces: tuple[Mapping[str, Any], ...]
    schemes: tuple[str, ...] = ()
    other_text: str = ""


@dataclass(frozen=True, eq=False)
class Observed:
    """What a control did: after each step of each trace its states and signals, facts by name, and
    opaque pictures (h, w, 3) in each scheme.
    """

    traces: tuple[list[list[Any]], ...]
    facts: Mapping[str, Any]
    schemes: tuple[Pixels, ...] = ()


@runtime_checkable
class Tryable(Protocol):
    """A target whose controls behave by themselves."""

    def expected(self, sheet: Sheet, trial: Trial) -> Mapping[str, Any]:
        """The facts that hold for a control that is as designed."""

    def observe(
        self, kit: Kit, trials: Sequence[Trial], folder: Path, backdrop: str, progress: Progress
    ) -> list[Observed]:
        """Runs the files already written to ``folder``. Raises :class:`TargetError`."""


@dataclass(frozen=True)
class Conduct:
    """The verdict on one control: what was tried, and what was not as it should be, in words."""

    control: str
    tried: int
    faults: tuple[str, ...] = field(default=())

    @property
    def passes(self) -> bool:
        return not self.faults

    def as_data(self) -> dict[str, object]:
        return {"control": self.control, "tried": self.tried, "passes": self.passes,
                "faults": list(self.faults)}


def conducts(
    kit: Kit, controls: Iterable[Control], target: Target, progress: Progress | None = None,
    folder: Path | None = None,
) -> list[Conduct]:
    """Tries each control as shipped to ``folder``, or to a temporary one; none for a target whose
    controls do not behave by themselves. Raises :class:`TargetError` where one does not run.
    """
    report = progress or (lambda done, of, text: True)
    chosen = list(controls)
    if not isinstance(target, Tryable) or not chosen:
        return []
    if folder is None:
        with tempfile.TemporaryDirectory(prefix="mektel-conduct-") as made:
            write_files(ship(target, kit, chosen), Path(made))
            return conducts(kit, chosen, target, progress, Path(made))
    trials = [trial_of(target, kit, control) for control in chosen]
    observed = target.observe(kit, trials, folder, BACKDROP, report)
    if len(observed) != len(trials):
        raise TargetError(f"{target.title}: not every control was tried.")
    return [judged(kit, trial, target.expected(sheet_of(kit, trial.control), trial), seen)
            for trial, seen in zip(trials, observed, strict=True)]


def trial_of(target: Target, kit: Kit, control: Control) -> Trial:
    sheet = sheet_of(kit, control)
    follows = any(driver.path == "text" for driver in sheet.driven) or "text" in (
        control.formulas.get("rest", {}).get("control", {}))
    other = OTHER_TEXT if has_label(sheet) and not follows and not text_is_fixed(
        target, kit, control) else ""
    return Trial(control, traces_for(sheet.behaviour),
                 sheet.schemes if sheet.palette else (), other)


# What is tried on every behaviour, though it was recorded for a push button alone.
COMMON = ("click", "slide off and release", "press outside", "enter", "disabled")


@cache
def traces_for(behaviour: str) -> tuple[Mapping[str, Any], ...]:
    """The recorded traces of a behaviour, and the common ones as the state machine answers them."""
    own = [trace for trace in recorded() if trace["behaviour"] == behaviour]
    names = {trace["name"] for trace in own}
    for trace in traces():
        if trace.behaviour != "push" or trace.name not in COMMON or trace.name in names:
            continue
        steps = [
            {"event": {key: value for key, value in asdict(event).items() if value is not None},
             "states": sorted(situation.states),
             "signals": [signal for signal in signals if signal in HEARD]}
            for event, (situation, signals) in zip(
                trace.events, play(behaviour, trace.events), strict=True)]
        own.append({"name": trace.name, "behaviour": behaviour, "steps": steps})
    return tuple(own)


@cache
def recorded() -> tuple[Mapping[str, Any], ...]:
    """The traces as they were recorded, for runners that know nothing of Mektel."""
    return tuple(json.loads(FILE.read_text(encoding="utf-8"))["traces"])


def is_cancelled(trace: Mapping[str, Any]) -> bool:
    """Whether a press is taken away by something else, which not every runner can show."""
    return any(step["event"]["kind"] == "cancel" for step in trace["steps"])


def judged(kit: Kit, trial: Trial, expected: Mapping[str, Any], seen: Observed) -> Conduct:
    faults = []
    for trace, steps in zip(trial.traces, seen.traces, strict=True):
        fault = _of_trace(trace, steps)
        faults += [fault] if fault else []
    for name, wanted in expected.items():
        if seen.facts.get(name) != wanted:
            faults.append(f"{name}: {_as_text(seen.facts.get(name))}, not {_as_text(wanted)}")
    faults += _of_schemes(kit, trial, seen.schemes)
    return Conduct(trial.control.id, len(trial.traces) + len(expected) + len(seen.schemes),
                   tuple(faults))


def _of_trace(trace: Mapping[str, Any], steps: list[list[Any]]) -> str:
    """Where a trace goes another way first, in words."""
    for step, (states, signals) in zip(trace["steps"], steps, strict=False):
        event = step["event"]
        what = f"{trace['name']}, {event['kind']} at {event['at']:g} s"
        if sorted(signals) != sorted(step["signals"]) or (
                len(signals) > 1 and signals != step["signals"]):
            return (f"{what}: it sends {', '.join(signals) or 'nothing'}, not "
                    f"{', '.join(step['signals']) or 'nothing'}")
        if states is not None and sorted(states) != sorted(step["states"]):
            return (f"{what}: it is {' + '.join(states) or 'at rest'}, not "
                    f"{' + '.join(step['states']) or 'at rest'}")
    return ""


def _as_text(value: Any) -> str:
    if isinstance(value, Mapping):
        return ", ".join(f"{name} {_as_text(inner)}" for name, inner in value.items())
    if isinstance(value, bool) or value is None:
        return {True: "yes", False: "no", None: "nothing"}[value]
    if isinstance(value, list | tuple):
        return " × ".join(map(_as_text, value)) or "nothing"
    return f"“{value}”" if isinstance(value, str) else str(value)


def _of_schemes(kit: Kit, trial: Trial, pictures: Sequence[Pixels]) -> list[str]:
    """Schemes that do not look as designed, or no other than the first does."""
    faults: list[str] = []
    designs = [opaque_part(designed_picture(
        in_scheme(kit, scheme), in_scheme(kit, scheme).control(trial.control.id), frozenset(),
        None, 1)) for scheme in trial.schemes[: len(pictures)]]
    for scheme, design, picture in zip(trial.schemes, designs, pictures, strict=False):
        if picture.shape != design.shape:
            continue  # more room than the design needs; the look of each state is judged elsewhere
        own = mean_difference(design, picture)
        others = [mean_difference(other, picture) for other in designs
                  if largest_difference(other, design) > ALIKE]
        if own > BAR_WITH_TEXT or any(other < own for other in others):
            faults.append(f"scheme {scheme}: it does not look as designed")
    return faults


BACKDROP = "#E9E2D3"
