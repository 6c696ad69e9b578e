"""The shipped outline icons: 24 × 24 units, lines of width 2 with round ends and joins."""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path

from mektel.core.errors import NotFoundError
from mektel.core.path_data import polylines

FILE = Path(__file__).resolve().parents[2] / "icons" / "icons.json"
Polyline = tuple[tuple[float, float], ...]


@lru_cache(maxsize=1)
def _icons() -> dict[str, dict[str, list[str]]]:
    icons: dict[str, dict[str, list[str]]] = json.loads(FILE.read_text(encoding="utf-8"))
    return icons


def icon_names() -> list[str]:
    return list(_icons())


def icon_paths(name: str) -> list[str]:
    """SVG path data of an icon's lines."""
    if name not in _icons():
        raise NotFoundError("icon", name, find_icons(name.replace("-", " "), 8))
    return _icons()[name]["paths"]


@lru_cache(maxsize=512)
def icon_lines(name: str) -> tuple[Polyline, ...]:
    """An icon's lines as polylines in its 24 × 24 units; closed ones end where they begin."""
    lines: list[Polyline] = []
    for path in icon_paths(name):
        for points, closed in polylines(path):
            line = [(float(x), float(y)) for x, y in points]
            lines.append(tuple([*line, line[0]] if closed else line))
    return tuple(lines)


def find_icons(search: str, most: int = 200) -> list[str]:
    """Icons by word: names that begin so first, then names and keywords that hold every word.

    >>> find_icons("anchor")[0]
    'anchor'
    """
    wanted = search.casefold().split()
    ranked: list[tuple[int, str]] = []
    for name, icon in _icons().items():
        text = f"{name.replace('-', ' ')} {' '.join(icon['tags'])}"
        if all(word in text for word in wanted):
            start = " ".join(wanted)
            plain = name.replace("-", " ")
            rank = 0 if plain == start else 1 if plain.startswith(start) else (
                2 if all(word in plain for word in wanted) else 3)
            ranked.append((rank, name))
    return [name for _, name in sorted(ranked)][:most]
