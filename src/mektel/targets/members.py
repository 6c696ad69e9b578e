"""The names that a toolkit's controls have already, from the list beside each target."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path


@lru_cache(maxsize=8)
def members(file: Path) -> frozenset[str]:
    """The words of a ``members.txt``; lines that begin with # are left out."""
    lines = file.read_text(encoding="utf-8").splitlines()
    return frozenset(word for line in lines if not line.startswith("#") for word in line.split())
