"""Controls with one value changed on hover, every value of every layer kind: each is shipped, run
and compared at rest and on hover.

Run: .venv/bin/python tools/sweep.py [--target web] [--every 31] [--only NAME]
"""

from __future__ import annotations

import argparse
import sys
import tempfile
import typing
from collections.abc import Iterator
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from pydantic import ValidationError
from tests.targets.test_layers import CASES, picture

from mektel.core.errors import MektelError
from mektel.core.kit import (
    OUTLINE,
    Area,
    Control,
    ControlOutline,
    EmbeddedLook,
    Join,
    Kit,
    OwnOutline,
    Stop,
)
from mektel.core.kit.layers import LayerBase, measure_of, value_names
from mektel.core.look import resolve
from mektel.targets import TARGETS
from mektel.targets.match import Match
from mektel.targets.shipping import ship
from mektel.targets.verify import verify
from mektel.targets.writing import write_files

RAMP = (Stop(position=0, colour="#FFD27A"), Stop(position=0.4, colour="#B8472A"),
        Stop(position=1, colour="#2A1A40"))
# Values that cannot be found from their types alone.
OTHERS: dict[str, list[Any]] = {
    "stops": [RAMP, RAMP[:2]],
    "ends": [(0.1, 0.2, 0.8, 0.9), None],
    "outline": [OwnOutline(form="ellipse", x=(0.25, 0), width=(0.5, 0)),
                OwnOutline(form="star", rounding=2), None],
    "box": [Area(x=(0.3, 0), width=(0.6, 0)), None],
    "text": ["Other words", None],
    "corners": [(2.0, 2.0, 2.0, 2.0), (4.0, 30.0, 12.0, 0.0)],
    "vertical_radii": [(6.0, 9.0, 20.0, 3.0), None],
    "joins": [(Join(form="ellipse", x=(0.7, 0), width=(0.4, 0)),), ()],
    "icon": ["anchor", "bell"], "symbol": ["stop", "gear"], "picture": [""],
    "control": ["case-4", ""], "variation": [], "slices": [(2.0, 12.0, 2.0, 12.0)],
    "points": [9.0], "size": [24.0, 11.0], "scale": [(0.6, 1.3)],
}
PER_KIT = 40


def bases() -> Iterator[tuple[str, Control]]:
    """Controls of every layer kind and outline, whose values are changed in turn."""
    for at, (layers, body) in enumerate(CASES):
        if any(getattr(layer, "family", "") == "Rubik" for layer in layers):
            continue
        text = "Cast off at once" if any(
            getattr(layer, "flow", "") == "wrap" for layer in layers) else "Cast off"
        yield f"base-{at}", Control(
            id=f"base-{at}", name=f"Base {at}", text=text, size=(160, 64),
            layers=layers, outline=ControlOutline(**{"corners": (16,) * 4, **body}))  # type: ignore[arg-type]


def others(part: Any, name: str) -> list[Any]:
    """Values that a value may have instead."""
    value = getattr(part, name)
    if name in OTHERS:
        return [other for other in OTHERS[name] if other != value]
    hint = typing.get_type_hints(type(part))[name]
    if typing.get_origin(hint) is typing.Literal:
        return [other for other in typing.get_args(hint) if other != value]
    if isinstance(value, bool):
        return [not value]
    if isinstance(value, str):
        return ["#B8472A", "#14323780"] if value.startswith("#") else []
    try:
        measure = measure_of(type(part), name)
    except KeyError:
        return []
    def within(number: float) -> float:
        return max(measure.low, min(measure.high, number))

    span = min(measure.high - measure.low, 40.0)
    if isinstance(value, tuple):
        return [tuple(within(one + span * share * (1 + at)) for at, one in enumerate(value))
                for share in (0.1, -0.07)]
    return [within(other) for other in (value * 1.6 + span * 0.05, value * 0.4, 0.0)
            if within(other) != value]


def sweep() -> Iterator[Control]:
    """Every base with one other value on hover; what all layers have, once for each kind."""
    seen: set[object] = set()
    for name, base in bases():
        shown = base.layers[-1] if base.layers[-1].id == "it" else base.layers[0]
        for part in (shown, base.outline):
            part_id = OUTLINE if part is base.outline else part.id
            kind = (OUTLINE, part.form) if isinstance(part, ControlOutline) else part.kind
            common = set((ControlOutline if part_id == OUTLINE else LayerBase).model_fields)
            for value_name in value_names(part):
                if kind in seen and value_name in common:
                    continue
                for at, other in enumerate(others(part, value_name)):
                    wanted = f"{name}-{part_id}-{value_name.replace('_', '-')}-{at}"
                    try:
                        yield Control.model_validate({
                            **base.model_dump(), "id": wanted, "name": wanted,
                            "states": {"hover": {part_id: {value_name: other}}}})
                    except ValidationError:
                        continue
            seen.add(kind)


def embedded() -> list[Control]:
    """What the cases that embed another's look name."""
    return [Control(id=f"case-{at}", name=f"Case {at}", text="Cast off", size=(160, 64),
                    layers=layers, outline=ControlOutline(**{"corners": (16,) * 4, **body}))  # type: ignore[arg-type]
            for at, (layers, body) in enumerate(CASES)
            if at in (4, 10, 17, 23, 33)
            or any(isinstance(layer, EmbeddedLook) for layer in layers)]


def run(target: str, chosen: list[Control], scale: int = 1) -> tuple[list[Match], list[str]]:
    """The matches of each control at rest and on hover, as it ran in a toolkit; and the ids of
    those that did not run.
    """
    matches: list[Match] = []
    broken: list[str] = []
    for start in range(0, len(chosen), PER_KIT):
        part = chosen[start : start + PER_KIT]
        try:
            matches += _run_together(target, part, scale)
        except MektelError:
            for control in part:  # which is it?
                try:
                    matches += _run_together(target, [control], scale)
                except MektelError as error:
                    print(f"{target} {control.id}: {error}")
                    broken.append(control.id)
        print(f"{target}: {min(start + PER_KIT, len(chosen))} of {len(chosen)}", file=sys.stderr)
    return matches, broken


def _run_together(target: str, part: list[Control], scale: int) -> list[Match]:
    kit = Kit(assets=(picture(),), controls=(*part, *embedded()))
    with tempfile.TemporaryDirectory() as folder:
        write_files(ship(TARGETS[target], kit, part), Path(folder))
        return verify(kit, part, TARGETS[target], None, scale, Path(folder),
                          {control.id: ("rest", "hover") for control in part})


def differing(chosen: list[Control]) -> list[Control]:
    """Those that look different on hover: of the others there is nothing to see."""
    kit = Kit(assets=(picture(),), controls=tuple(embedded()))
    looks = [(control, resolve(kit, control), resolve(kit, control, {"hover"}))
             for control in chosen]
    return [control for control, rest, hover in looks if rest != hover and not hover.refused]


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--target", action="append", choices=[*TARGETS])
    parser.add_argument("--every", type=int, default=1)
    parser.add_argument("--only", default="")
    options = parser.parse_args()
    chosen = [control for control in differing(list(sweep())) if options.only in control.id]
    chosen = chosen[:: options.every]
    wrong = 0
    for target in options.target or ["qtwidgets", "web"]:
        matches, broken = run(target, chosen)
        wrong += len(broken)
        for match in matches:
            if not match.passes:
                wrong += 1
                print(f"{target} {match.control} {match.state}: {'; '.join(match.faults)}")
    print(f"{len(chosen)} controls, {wrong} states wrong")
    sys.exit(1 if wrong else 0)


if __name__ == "__main__":
    main()
