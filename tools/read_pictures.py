"""Reads generated pictures of buttons, whose layers are known, and measures what came out.

Run: .venv/bin/python tools/read_pictures.py [COUNT] [SEED]
"""

from __future__ import annotations

import sys
import time
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.pictures_to_read import made_up, measured


def main() -> None:
    count = int(sys.argv[1]) if sys.argv[1:] else 200
    seed = int(sys.argv[2]) if sys.argv[2:] else 1
    rows = []
    for at in range(count):
        given = made_up(seed * 100_000 + at)
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
        print(f"{name}, {len(of)}: residual {np.median(left):.2f} median, "
              f"{np.quantile(left, 0.9):.2f} of nine in ten, "
              f"{np.mean(left <= 1.5):.0%} within 1.5; outline {np.quantile(off, 0.9):.2f} px of "
              f"nine in ten, {np.mean(off <= 0.5):.0%} within 0.5; radius {np.mean(round_):.0%}; "
              f"colours {np.mean(tones):.0%}")
    seconds = np.array([seconds for _, _, seconds in rows])
    print(f"{np.median(seconds):.2f} s median, {seconds.max():.2f} s at most")


if __name__ == "__main__":
    main()
