"""The demo kit and the starters: kits like any other, shipped with the package."""

from __future__ import annotations

from pathlib import Path

FOLDER = Path(__file__).parent
DEMO = FOLDER / "lantern-ferry.mektel"


def starter_files() -> dict[str, Path]:
    """Starter names and their kits, each holding one control."""
    return {path.stem: path for path in sorted((FOLDER / "starters").glob("*.mektel"))}
