"""Which way each part of a line runs, and in what order the parts stand (Unicode UAX 9)."""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass
from functools import lru_cache

from bidi import algorithm

FROM_THE_RIGHT = ("R", "AL", "RLE", "RLO", "RLI", "AN")


@dataclass(frozen=True)
class Run:
    """Letters from ``start`` up to ``end`` of a text that run one way."""

    start: int
    end: int
    from_the_right: bool


@lru_cache(maxsize=512)
def visual_runs(text: str) -> tuple[Run, ...]:
    """The runs of one line in the order they stand in from the left.

    The line as a whole runs as its first letter with a direction (P2, P3).

    >>> [(run.start, run.end, run.from_the_right) for run in visual_runs("Pier עלייה 2")]
    [(0, 5, False), (11, 12, False), (5, 11, True)]
    """
    if not any(unicodedata.bidirectional(letter) in FROM_THE_RIGHT for letter in text):
        return (Run(0, len(text), False),)
    storage = algorithm.get_empty_storage()
    storage["base_level"] = algorithm.get_base_level(text)
    storage["base_dir"] = ("L", "R")[storage["base_level"]]
    algorithm.get_embedding_levels(text, storage)
    for at, letter in enumerate(storage["chars"]):
        letter["at"] = at  # controls of direction are taken out on the way
    algorithm.explicit_embed_and_overrides(storage)
    algorithm.resolve_weak_types(storage)
    algorithm.resolve_neutral_types(storage, False)
    algorithm.resolve_implicit_levels(storage, False)
    runs: list[tuple[int, int, int]] = []  # start, end, level
    for letter in storage["chars"]:
        at, level = letter["at"], letter["level"]
        if runs and runs[-1][2] == level and runs[-1][1] == at:
            runs[-1] = (runs[-1][0], at + 1, level)
        else:
            runs.append((at, at + 1, level))
    for level in range(max((run[2] for run in runs), default=0), 0, -1):  # L2
        runs = _turned(runs, level)
    return tuple(Run(start, end, bool(level % 2)) for start, end, level in runs)


def _turned(runs: list[tuple[int, int, int]], level: int) -> list[tuple[int, int, int]]:
    """Stretches of runs of at least this level, turned round."""
    turned: list[tuple[int, int, int]] = []
    stretch: list[tuple[int, int, int]] = []
    for run in runs:
        if run[2] >= level:
            stretch.insert(0, run)
        else:
            turned += [*stretch, run]
            stretch = []
    return turned + stretch
