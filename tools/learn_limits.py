"""Learns the most that a layer of an honest control differs by in a target: every control of the
demo kit in every state, and the controls of the sweep. Writes src/mektel/targets/limits.json.

Run: .venv/bin/python tools/learn_limits.py [--target web] [--scale 2] [--every 7]
"""

from __future__ import annotations

import argparse
import json
import sys
from collections import defaultdict
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tools.sweep import differing, run, sweep

from mektel.formats.kitfile import read_sample
from mektel.samples import DEMO
from mektel.targets import TARGETS
from mektel.targets.match import Match
from mektel.targets.parts import FINEST, TABLE, table
from mektel.targets.verify import verify

# What is added to the worst that was seen: a share of it, and steps of 255.
SHARE, STEPS = 0.15, 0.15


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--target", action="append", choices=[*TARGETS])
    parser.add_argument("--scale", action="append", type=int, choices=range(1, FINEST + 1))
    parser.add_argument("--every", type=int, default=1)
    options = parser.parse_args()
    kit = read_sample(DEMO)
    swept = differing(list(sweep()))[:: options.every]
    for target in options.target or [*TARGETS]:
        for scale in options.scale or range(1, FINEST + 1):
            matches = verify(kit, kit.controls, TARGETS[target], None, scale)
            matches += run(target, swept, scale)[0]
            table.cache_clear()  # another target may have been learned meanwhile
            learned = {name: dict(entry) for name, entry in table().items()}
            learned.setdefault(target, {})[str(scale)] = limits_of(matches)
            TABLE.write_text(json.dumps(learned, indent=1, sort_keys=True) + "\n", "utf-8")
            print(f"{target}, {scale} pixels per px: {len(matches)} states", flush=True)


def limits_of(matches: list[Match]) -> dict[str, dict[str, float]]:
    """By layer kind and direction, the worst of all honest states and a margin."""
    worst: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    for match in matches:
        for part in match.parts:
            for name, value in part.measured.by_direction().items():
                worst[part.kind][name] = max(worst[part.kind][name], abs(value))
    for kind, own in worst.items():
        # Of what is rare few are seen.
        for name, value in worst.get(kind.partition(",")[0], {}).items():
            own[name] = max(own[name], value)
    return {kind: {name: round(value * (1 + SHARE) + STEPS, 2) for name, value in own.items()}
            for kind, own in worst.items()}


if __name__ == "__main__":
    main()
