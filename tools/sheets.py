"""Compares elements of style sheets, as imported, with Chromium showing them in every state.

Without a file: those of the packages that are installed for the tests.

Run: .venv/bin/python tools/sheets.py [FILE.css …]
"""

from __future__ import annotations

import sys
import time
from collections import defaultdict
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.sheets import PACKAGES, Compared, compared, package_text


def main() -> None:
    texts = {name: Path(name).read_text(encoding="utf-8") for name in sys.argv[1:]} or {
        name: package_text(name) for name in PACKAGES}
    good = count = 0
    for name, text in texts.items():
        began = time.monotonic()
        elements: dict[str, list[Compared]] = defaultdict(list)
        for entry in compared(text, name):
            elements[entry.selector].append(entry)
        kept = sum(all(entry.good for entry in entries) for entries in elements.values())
        print(f"{name}: {kept} of {len(elements)} elements within the bars in every state, "
              f"{time.monotonic() - began:.0f} s", flush=True)
        for selector, entries in elements.items():
            over = [entry for entry in entries if not entry.good]
            if over:
                worst = max(over, key=lambda entry: entry.mean)
                print(f"  {selector}: {len(over)} of {len(entries)} states over, {worst.state} "
                      f"{worst.mean:.2f} mean, {worst.high:.0f} high")
        good, count = good + kept, count + len(elements)
    print(f"{good} of {count} elements")


if __name__ == "__main__":
    main()
