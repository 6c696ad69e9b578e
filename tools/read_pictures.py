"""Reads generated pictures of buttons, whose layers are known, and measures what came out.

Run: .venv/bin/python tools/read_pictures.py [COUNT] [SEED] [radial|unlike|states]
With ``unlike``, corners have radii of their own; with ``states``, each button has pictures of three
more states, which are read as what they change.
"""

from __future__ import annotations

import sys
import time
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.pictures_to_read import made_up, measured, states_of

from mektel.core.fit.changes import compared_states, control_of_states, read_states


def measure_states(count: int, seed: int) -> None:
    means: dict[str, list[float]] = {}
    lower = 0
    for at in range(count):
        given = made_up(seed * 100_000 + at)
        control, pictures = states_of(given)
        readings = read_states(pictures)
        made = control_of_states(readings, "Read", given.density, control.text)
        lower += made.states.get("pressed", {}).get("outline", {}).get("offset") == (0, 2)
        for state, each in compared_states(
                pictures, readings, made, given.density, control.text).items():
            means.setdefault(state, []).append(each.mean)
    for state, of in means.items():
        print(f"{state}: {np.median(of):.2f} median, {np.mean(np.array(of) <= 1.5):.0%} within 1.5")
    print(f"2 px lower when pressed: {lower} of {count}")


def main() -> None:
    count = int(sys.argv[1]) if sys.argv[1:] else 200
    seed = int(sys.argv[2]) if sys.argv[2:] else 1
    if "states" in sys.argv:
        measure_states(count, seed)
        return
    rows = []
    for at in range(count):
        given = made_up(seed * 100_000 + at, "radial" in sys.argv, "unlike" in sys.argv)
        began = time.perf_counter()
        row = measured(given)
        rows.append((given, row, time.perf_counter() - began))
        if row.residual > 1.5 or row.outline > 0.5:
            print(f"{at}: {given.about}: {row}")
    plain = [row for given, row, _ in rows if not given.label]
    for name, of in (("without label", plain), ("all", [row for _, row, _ in rows])):
        left = np.array([row.residual for row in of])
        off = np.array([row.outline for row in of])
        round_ = np.array([row.radius_good for row in of])
        tones = np.array([row.colours_good for row in of])
        blurs = np.array([row.blur for row in of if row.blur is not None])
        print(f"{name}, {len(of)}: residual {np.median(left):.2f} median, "
              f"{np.quantile(left, 0.9):.2f} of nine in ten, "
              f"{np.mean(left <= 1.5):.0%} within 1.5; outline {np.quantile(off, 0.9):.2f} px of "
              f"nine in ten, {np.mean(off <= 0.5):.0%} within 0.5; radius {np.mean(round_):.0%}; "
              f"colours {np.mean(tones):.0%}; {len(blurs)} shadows, blur of "
              f"{np.mean(blurs <= 0.2):.0%} within a fifth, {np.median(blurs):.1%} off in the "
              "middle")
    seconds = np.array([seconds for _, _, seconds in rows])
    print(f"{np.median(seconds):.2f} s median, {seconds.max():.2f} s at most")


if __name__ == "__main__":
    main()
