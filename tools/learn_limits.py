"""Learns the most that a layer of an honest control differs by in a target: every control of the
demo kit in every state, and the controls of the sweep. Writes src/mektel/targets/worst.json.

Run: .venv/bin/python tools/learn_limits.py [--target web] [--scale 2] [--every 7] [--more]

With --more only controls beyond these are run, and what is in the table stays where it is larger.
"""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Mapping
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.core.test_layout import COLUMN
from tests.targets.test_web import STRANGE
from tools.sweep import differing, run, sweep

from mektel.core.kit import Kit
from mektel.formats.kitfile import read_sample
from mektel.samples import DEMO
from mektel.targets import TARGETS
from mektel.targets.match import Match
from mektel.targets.parts import FINEST, TABLE, table
from mektel.targets.verify import verify


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--target", action="append", choices=[*TARGETS])
    parser.add_argument("--scale", action="append", type=int, choices=range(1, FINEST + 1))
    parser.add_argument("--every", type=int, default=1)
    parser.add_argument("--more", action="store_true")
    options = parser.parse_args()
    kit = read_sample(DEMO)
    swept = differing(list(sweep()))[:: options.every]
    for target in options.target or [*TARGETS]:
        for scale in options.scale or range(1, FINEST + 1):
            if options.more:
                matches = more(target, scale)
            else:
                matches = verify(kit, kit.controls, TARGETS[target], None, scale)
                matches += run(target, swept, scale)[0]
            table.cache_clear()  # another target may have been learned meanwhile
            learned = {name: dict(entry) for name, entry in table().items()}
            before = learned.get(target, {}).get(str(scale), {}) if options.more else {}
            learned.setdefault(target, {})[str(scale)] = worst_of(matches, before)
            TABLE.write_text(json.dumps(learned, indent=1, sort_keys=True) + "\n", "utf-8")
            print(f"{target}, {scale} pixels per px: {len(matches)} states", flush=True)


def more(target: str, scale: int) -> list[Match]:
    """Controls of other tests; the demo kit's at three pixels per px where two are learned."""
    kit = read_sample(DEMO)
    matches = verify(Kit(controls=(STRANGE,)), [STRANGE], TARGETS[target], None, scale)
    matches += verify(Kit(controls=(COLUMN,)), [COLUMN], TARGETS[target], None, scale)
    if scale == FINEST:
        matches += verify(kit, kit.controls, TARGETS[target], None, FINEST + 1)
    return matches


def worst_of(
    matches: list[Match], before: Mapping[str, Mapping[str, float]]
) -> dict[str, dict[str, float]]:
    """By layer kind and direction, the worst of all honest states, and of those seen before."""
    worst: dict[str, dict[str, float]] = {kind: dict(own) for kind, own in before.items()}
    for match in matches:
        for part in match.parts:
            own = worst.setdefault(part.kind, {})
            for name, value in part.measured.by_direction().items():
                own[name] = round(max(own.get(name, 0.0), abs(value)), 2)
    for kind, own in worst.items():
        # Of what is rare few are seen.
        for name, value in worst.get(kind.partition(",")[0], {}).items():
            own[name] = max(own[name], value)
    return worst


if __name__ == "__main__":
    main()
