"""A gesture as frames: the looks of a control at equal steps of time."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from mektel.core.behaviour import Event
from mektel.core.errors import MektelError
from mektel.core.kit import Control, Kit
from mektel.core.look import Look, Margins
from mektel.core.look.resolve import look_of, shared_margins
from mektel.core.look.settle import NOTHING
from mektel.core.motion.room import moving_room
from mektel.core.motion.swings import EVER
from mektel.core.motion.timeline import motion_of, played

LONGEST = 20.0  # seconds
MOST_FRAMES = 1500
# How long the last frame stands before it begins again.
TAIL = 0.2


class FilmError(MektelError):
    """A film that cannot be made."""


@dataclass(frozen=True)
class Film:
    """Looks at ``moments`` (seconds into the timeline), all with room for ``margins``.

    What stands still is the same look again.
    """

    moments: tuple[float, ...]
    looks: tuple[Look, ...]
    margins: Margins


def film(
    kit: Kit, control: Control, events: Iterable[Event], moments: Iterable[float],
    size: tuple[float, float] | None = None, text: str | None = None,
    arguments: Mapping[str, Any] = NOTHING,
) -> Film:
    """A control at the given moments, in ascending order, of a timeline."""
    steps = played(motion_of(kit, control, size, text, arguments), events)
    looks: list[Look] = []
    margins = moving_room(control, shared_margins(kit, control, size, text, arguments), size)
    at = 0
    wanted = tuple(moments)
    for moment in wanted:
        while at + 1 < len(steps) and steps[at + 1][0] <= moment:
            at += 1
        look = look_of(steps[at][1].at(moment))
        looks.append(looks[-1] if looks and looks[-1] == look else look)
        margins = margins.union(look.margins())
    return Film(wanted, tuple(looks), margins)


def moments_of(
    kit: Kit, control: Control, events: Iterable[Event], rate: float,
    arguments: Mapping[str, Any] = NOTHING,
) -> tuple[float, ...]:
    """Equal steps, ``rate`` a second, from nothing until all has settled.

    Raises :class:`FilmError` for a timeline of over 20 s, or of too many frames.
    """
    steps = played(motion_of(kit, control, arguments=arguments), events)
    last, motion = steps[-1]
    # Of what has no end a period is seen.
    swings = [entry.swing.period for entry in motion.swings if entry.ends == EVER]
    seconds = max(0.0, last, motion.arrives) + max(TAIL, *swings, 0.0)
    if seconds > LONGEST:
        raise FilmError(f"The gesture lasts {seconds:.1f} s; a film lasts {LONGEST:g} s at most.")
    count = round(seconds * rate) + 1
    if count > MOST_FRAMES:
        raise FilmError(f"{count} frames are too many; {MOST_FRAMES} at most. Ask for fewer a "
                        "second.")
    return tuple(at / rate for at in range(count))
