"""Gestures as frames on the sheets, for a game that plays no motion of its own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from mektel.core.kit import Control, Kit
from mektel.core.look import Look as NumericLook
from mektel.core.motion import motion_of
from mektel.core.motion.film import film, moments_of
from mektel.core.motion.gestures import gesture
from mektel.core.motion.swings import EVER

# What moves without end while nobody touches it.
REST = "rest"
BYTES = 4
MEGA = 2**20


@dataclass(frozen=True, eq=False)
class Frames:
    """Looks with the milliseconds that each is shown; ``loops`` for what goes on without end."""

    looks: tuple[NumericLook, ...]
    durations: tuple[int, ...]
    loops: bool


def frames_of(kit: Kit, control: Control, name: str, rate: float) -> Frames | None:
    """A gesture by name at so many frames a second, or ``rest``; None where nothing moves.

    Raises :class:`mektel.core.motion.gestures.GestureError` for a name that is none.
    """
    events = () if name == REST else gesture(name)
    if name == REST:
        motion = motion_of(kit, control)
        periods = [entry.swing.period for entry in motion.swings if entry.ends == EVER]
        if not periods:
            return None
        count = max(2, round(max(periods) * rate))
        moments: tuple[float, ...] = tuple(max(periods) * at / count for at in range(count))
    else:
        moments = moments_of(kit, control, events, rate)
    looks = film(kit, control, events, moments).looks
    step = 1000 / rate if name != REST else max(periods) * 1000 / len(moments)
    kept: list[NumericLook] = []
    durations: list[float] = []
    for look in looks:
        if kept and look == kept[-1]:
            durations[-1] += step
        else:
            kept.append(look)
            durations.append(step)
    if len(kept) == 1:
        return None
    return Frames(tuple(kept), tuple(map(round, durations)), name == REST)


def films_summary(
    kit: Kit, controls: Sequence[Control], names: Sequence[str], rate: float,
    densities: Sequence[int], room: dict[str, tuple[float, float]],
) -> str:
    """How many frames there will be, and how many megabytes of pixels at the most; ``room`` has
    each control's whole picture in px.
    """
    count = distinct = 0
    pixels = 0.0
    for control in controls:
        looks: set[NumericLook] = set()
        for name in names:
            frames = frames_of(kit, control, name, rate)
            if frames is not None:
                count += len(frames.looks)
                looks.update(frames.looks)
        distinct += len(looks)
        width, height = room[control.id]
        pixels += len(looks) * sum(width * height * density**2 for density in densities)
    return (f"{count} frames, {distinct} of them unlike; at most {pixels * BYTES / MEGA:.0f} MB of "
            "pixels before trimming")
