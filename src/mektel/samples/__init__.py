"""The demo kit and the starters: kits like any other, shipped with the package."""

from __future__ import annotations

from pathlib import Path

FOLDER = Path(__file__).parent
DEMO = FOLDER / "lantern-ferry.mektel"
# The most used first.
STARTERS = ("pill", "slab", "frame", "keycap", "rocker", "puck", "pebble", "lacquer", "lens",
            "pane", "pennant", "buoy")


def starter_files() -> dict[str, Path]:
    """Starter names and their kits, each holding one control; the most used first."""
    return {name: FOLDER / "starters" / f"{name}.mektel" for name in STARTERS}
