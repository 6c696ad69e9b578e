"""Which control, state and density a picture is of, by the name of its file."""

from __future__ import annotations

import re
from dataclasses import dataclass

from mektel.core.kit.conditions import REST
from mektel.core.kit.state_words import WORDS, condition_in

DENSITIES = (0.5, 0.75, 1.0, 1.5, 2.0, 3.0, 4.0)
# Words for a file with several states on it.
ALL = {"sheet", "states", "sprite", "sprites", "spritesheet"}
DENSITY = re.compile(r"[@_\s-]\s*(\d+(?:\.\d+)?)x(?![a-z0-9])", re.IGNORECASE)


@dataclass(frozen=True)
class Guess:
    """``stem`` is what the files of one control have in common."""

    stem: str
    condition: str = REST
    density: float = 1.0

    @property
    def title(self) -> str:
        """What the control is called if nobody says otherwise."""
        stem = self.stem.replace("-", " ").strip() or "Control"
        return (stem[0].upper() + stem[1:])[:80]


def guess(name: str) -> Guess:
    """From a file's name without its suffix.

    >>> guess("board_hover@2x")
    Guess(stem='board', condition='hover', density=2.0)
    >>> guess("Horn (checked, disabled)")
    Guess(stem='Horn', condition='checked+disabled', density=1.0)
    """
    density = 1.0
    found = DENSITY.search(name)
    if found and float(found[1]) in DENSITIES:
        density = float(found[1])
        name = name[: found.start()] + name[found.end() :]
    words = re.split(r"([^A-Za-z0-9]+)", re.sub(r"([a-z])([A-Z])", r"\1 \2", name))
    kept = "".join(word for word in words if word.lower() not in WORDS and word.lower() not in ALL)
    stem = re.sub(r"[\s_()\[\],.+=-]+", " ", kept).strip()
    return Guess(stem, condition_in(name) or REST, density)
