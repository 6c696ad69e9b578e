"""What of a motion is seen: when it begins, when it has settled, how often it flashes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mektel.core.colour import luminance
from mektel.core.kit import Control, Kit
from mektel.core.look.resolve import look_of
from mektel.core.motion import change
from mektel.core.motion.room import moving_room
from mektel.core.paint import on_backdrop, render
from mektel.core.remember import unkept

# A press must be answered within this (Nielsen, Usability Engineering, 5.5: felt as instant).
PROMPT = 0.1
# WCAG 2.2, 2.3.1: no more flashes than this in any second.
MOST_FLASHES = 3
# A flash is a pair of opposing changes of relative luminance by this, the darker below 0.8.
FLASH, DARKER = 0.1, 0.8
RATE = 60.0
LONGEST = 4.0
# Levels of 255 that an eye is taken to see.
SEEN = 3
CELLS = 6


@dataclass(frozen=True)
class MotionFigures:
    """Seconds after the change of state; None where nothing is seen to change."""

    first_change: float | None
    settled: float | None
    flashes_a_second: float

    @property
    def is_late(self) -> bool:
        return self.first_change is not None and self.first_change > PROMPT

    @property
    def flashes_too_often(self) -> bool:
        return self.flashes_a_second > MOST_FLASHES


def motion_figures(
    kit: Kit, control: Control, before: frozenset[str], after: frozenset[str],
    ground: tuple[float, float, float, float] = (0.91, 0.89, 0.83, 1.0),
) -> MotionFigures:
    """What is seen of a change of state on a backdrop of one colour (straight sRGB), at 60 frames
    a second and one pixel a px.
    """
    motion = change(kit, control, before, after)
    start = change(kit, control, before, before).still
    count = round(min(LONGEST, motion.ends) * RATE) + 2
    frames: list[NDArray[np.int16]] = []
    with unkept():
        margins = moving_room(
            control, look_of(start).margins().union(look_of(motion.still).margins()))
        last = None
        for at in range(-1, count):
            look = look_of(start if at < 0 else motion.at(at / RATE))
            if last is None or look != last:
                picture = render(look, 1.0, margins).rgba
                pixels = on_backdrop(picture, ground)[:, :, :3].astype(np.int16)
            frames.append(pixels)
            last = look
    first, final = frames[0], frames[-1]
    changed = [at for at, frame in enumerate(frames[1:])
               if frame is not first and np.abs(frame - first).max() >= SEEN]
    away = [at for at, frame in enumerate(frames[1:])
            if frame is not final and np.abs(frame - final).max() >= SEEN]
    settled = (away[-1] + 1) / RATE if away else 0.0
    # What moves without end has no part in that.
    settled = min(settled, motion.arrives) if motion.ends > LONGEST else settled
    return MotionFigures(
        changed[0] / RATE if changed else None, settled if changed else None,
        flashes(np.stack([_cells(frame) for frame in frames[1:]]), RATE))


def _cells(frame: NDArray[np.int16]) -> NDArray[np.float64]:
    """Relative luminance of parts of a frame (h, w, 3), shape (CELLS · CELLS,)."""
    rows = np.array_split(np.arange(frame.shape[0]), CELLS)
    columns = np.array_split(np.arange(frame.shape[1]), CELLS)
    return np.array([
        luminance(tuple(frame[np.ix_(down, across)].reshape(-1, 3).mean(axis=0) / 255))
        for down in rows for across in columns if len(down) and len(across)])


def flashes(levels: NDArray[np.float64], rate: float) -> float:
    """The most flashes in any second, of relative luminances (frames, parts) at ``rate`` a second.

    >>> blinking = np.array([[0.0], [0.5]] * 10)
    >>> flashes(blinking, 10.0)
    5.0
    """
    most = 0.0
    window = round(rate)
    for part in levels.T:
        turns = _turns(part)
        for first in turns:
            within = sum(first <= at < first + window for at in turns)
            most = max(most, within / 2)
    return float(np.floor(most))


def _turns(part: NDArray[np.float64]) -> list[int]:
    """Where a luminance turns back, having gone far enough to count as half a flash."""
    turns: list[int] = []
    low = high = part[0]
    rising: bool | None = None
    for at, level in enumerate(part):
        low, high = min(low, level), max(high, level)
        if rising is not True and level - low >= FLASH and low < DARKER:
            turns.append(at)
            rising, high = True, level
        elif rising is not False and high - level >= FLASH and level < DARKER:
            turns.append(at)
            rising, low = False, level
    return turns
