"""What shipped elements cost, beside a styled button: 1000 of each, until they are laid out and
until the first frame that has them is drawn.

Run: .venv/bin/python benchmarks/shipped_web.py FOLDER, with the folder that elements were exported
to; prints a table of milliseconds.
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.chromium import page_on

MANY, RUNS = 1000, 5
MEASURE = """([tag, many]) => new Promise((resolve) => {
  const began = performance.now(), all = document.createElement("div");
  for (let at = 0; at < many; at++) {
    const element = document.createElement(tag);
    if (tag === "button") element.textContent = "Board";
    all.append(element);
  }
  document.body.append(all);
  document.body.offsetHeight;  // laid out
  const laid = performance.now() - began;
  // The second call comes once the first frame was handed over.
  requestAnimationFrame(() => requestAnimationFrame(() => {
    const shown = performance.now() - began;
    all.remove();
    setTimeout(() => resolve([laid, shown]), 80);
  }));
})"""
STYLE = """<style>button { width: 168px; height: 48px; border: 1px solid #0e454e; color: #fffdf7;
border-radius: 24px; background: linear-gradient(#2f8c93, #175a66); font: 600 16px sans-serif;
box-shadow: 0 6px 14px #14323759, inset 0 2px 1px #ffffff59 }</style>"""


def main() -> None:
    folder = Path(sys.argv[1]).resolve()
    tags = sorted(path.stem for path in folder.glob("*-button.js"))
    scripts = "".join(f"<script src='{folder.as_uri()}/{name}.js'></script>"
                      for name in ("runtime", *tags))
    with tempfile.TemporaryDirectory() as made, page_on(
            f"<!doctype html>{STYLE}{scripts}", Path(made), size=(1200, 900)) as page:
        print("| element | laid out, ms | × a styled button | first frame, ms | × |")
        print("|---|---|---|---|---|")
        plain: tuple[float, float] | None = None
        page.evaluate(MEASURE, ["button", MANY])  # warm
        for tag in ("button", *tags):
            # The least of several: whatever else the machine does only adds to it.
            runs = [page.evaluate(MEASURE, [tag, MANY]) for _ in range(RUNS)]
            laid, shown = min(laid for laid, _ in runs), min(shown for _, shown in runs)
            plain = plain or (laid, shown)
            name = tag.removesuffix("-button") or tag
            print(f"| {name} | {laid:.0f} | {laid / plain[0]:.1f} "
                  f"| {shown:.0f} | {shown / plain[1]:.1f} |", flush=True)


if __name__ == "__main__":
    main()
