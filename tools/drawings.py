"""Compares drawings, and the shipped icons as drawings, as imported with Chromium's pictures.

Run: .venv/bin/python tools/drawings.py [NAME …]
"""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.drawings import HEIGHT, WHOLE, WIDTH, drawn, icon_drawings, photographs, picture_of
from tests.drawings_with_filters import FILTERED
from tests.drawings_with_paints import PAINTED

from mektel.core.proof import difference
from mektel.formats.svg import import_svg

BAR = 0.5


def compare(drawings: dict[str, bytes], size: tuple[int, int], finer: int) -> None:
    theirs = photographs(list(drawings.values()), Path(tempfile.mkdtemp()), size, finer)
    means, began = [], time.monotonic()
    for (name, content), reference in zip(drawings.items(), theirs, strict=True):
        made = import_svg(content, "Drawing", name)
        off = difference(picture_of(made, size), reference)
        means.append(off.mean)
        if off.mean > BAR or made.leftovers:
            print(f"  {name}: mean {off.mean:.2f}, {off.high:.0f} high",
                  *(f"\n    {entry}" for entry in made.leftovers))
    print(f"{sum(mean <= BAR for mean in means)} of {len(means)} drawings within {BAR} of 255, "
          f"{max(means):.2f} at most, {sum(means) / len(means):.3f} on average, "
          f"{(time.monotonic() - began) / len(means) * 1000:.0f} ms each to read and draw")


def main() -> None:
    every = {**WHOLE, **FILTERED, **PAINTED}
    chosen = sys.argv[1:] or list(every)
    compare({name: drawn(every[name]) for name in chosen}, (WIDTH, HEIGHT), 1)
    if not sys.argv[1:]:
        compare(icon_drawings(every=6), (24, 24), 8)


if __name__ == "__main__":
    main()
