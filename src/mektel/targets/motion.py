"""Running what was shipped through changes of state with its clock held, and comparing frames."""

from __future__ import annotations

import tempfile
from collections.abc import Container, Iterable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Protocol

from mektel.core.kit import Control, Kit
from mektel.core.look import Margins
from mektel.core.look.resolve import look_of
from mektel.core.look.scene import rgba
from mektel.core.motion import Motion, motion_of
from mektel.core.motion.arrivals import Arrival, arrivals_of
from mektel.core.motion.changes import brought
from mektel.core.motion.room import moving_room
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import difference
from mektel.core.proof.edges import edge_shift
from mektel.core.remember import unkept
from mektel.targets.base import Pixels, Progress, TargetError
from mektel.targets.sheet import sheet_of
from mektel.targets.shipping import ship
from mektel.targets.verify import BACKDROP, has_label, text_is_fixed
from mektel.targets.writing import write_files

FRAMES = 12
# Seconds from the first frame until a control is brought to where a change starts, and from then
# until the change.
SETTLES = 1000.0
# Seconds of endless motion that are looked at.
ENDLESS = 2.0
# Mean difference of 255 up to which a frame is as designed.
BAR = 1.0
# Px that an edge may lie elsewhere.
FARTHEST = 0.5
# Ways that turn back, after this share of the time that they would have taken.
TURNING = (Arrival("rest", "hover", True), Arrival("hover", "pressed", True))
TURNED = 0.3
LETS_GO = (Arrival("pressed", "hover"), TURNING[1])


@dataclass(frozen=True)
class MotionShot:
    """A change of state of a control, wanted as frames at ``moments`` (s after it); one that turns
    does so ``turns_at`` s after it.
    """

    control: Control
    way: Arrival
    moments: tuple[float, ...]
    size: tuple[float, float]
    margins: Margins
    scale: int
    text: str | None = None
    turns_at: float | None = None

    @property
    def place(self) -> tuple[int, int]:
        """Where the pointer is while it is inside, in px of the box: beside the middle."""
        return place_in(self.size)

    @property
    def state(self) -> str:
        """The change, as messages name it."""
        return str(self.way)


@dataclass(frozen=True)
class MotionMatch:
    """How near the frames of a change came, without text: mean difference of 255 each, and how far
    (px) the edge lies elsewhere that is farthest from where it should be.
    """

    control: str
    way: Arrival
    moments: tuple[float, ...]
    means: tuple[float, ...]
    shifts: tuple[float, ...]
    why: str = field(default="", compare=False)

    @property
    def worst(self) -> float:
        return max(self.means)

    @property
    def shift(self) -> float:
        return max(self.shifts)

    @property
    def passes(self) -> bool:
        return self.worst <= BAR and self.shift <= FARTHEST


class Films(Protocol):
    """A target whose running controls can be taken through motion with their clock held."""

    def film(
        self, kit: Kit, shots: list[MotionShot], folder: Path, backdrop: str, progress: Progress
    ) -> list[list[Pixels]]:
        """Each shot's frames on ``backdrop``, opaque RGBA with the margins round the box."""


def verify_motion(
    kit: Kit, controls: Iterable[Control], target: Any, progress: Progress | None = None,
    scale: int = 2, folder: Path | None = None, ways: Container[Arrival] | None = None,
) -> list[MotionMatch]:
    """Every change of state of the controls that takes time, or those ``ways`` alone, as shipped to
    ``folder``.

    Raises :class:`TargetError` for a target that has no motion, or does not run.
    """
    if not hasattr(target, "film"):
        raise TargetError(f"{target.title} plays no motion: states change at once there.")
    report = progress or (lambda done, of, text: True)
    chosen = list(controls)
    if folder is None:
        with tempfile.TemporaryDirectory(prefix="mektel-motion-") as made:
            report(0, 1, f"writing for {target.title}")
            write_files(ship(target, kit, chosen), Path(made))
            return verify_motion(kit, chosen, target, progress, scale, Path(made), ways)
    shots: list[MotionShot] = []
    motions: list[Steps] = []
    for control in chosen:
        sheet = sheet_of(kit, control)
        bare = has_label(sheet) and not text_is_fixed(target, kit, control)
        for way in (*arrivals_of(control), *TURNING):
            if (ways is not None and way not in ways) or (
                    way in LETS_GO and "checked" in sheet.states):
                continue  # a press that ends there has switched it
            motion = way_taken(kit, control, way, sheet.size)
            lasts = _seconds(motion[0][1])
            if lasts <= 0:
                continue
            turns_at = None
            if way.turns:
                turns_at = TURNED * lasts
                motion = way_taken(kit, control, way, sheet.size, turns_at)
                lasts = max(turns_at, _seconds(motion[-1][1]))
            moments = tuple(lasts * at / (FRAMES - 1) for at in range(FRAMES))
            room = moving_room(control, sheet.margins)
            shots.append(MotionShot(control, way, moments, sheet.size, room, scale,
                                    "" if bare else None, turns_at))
            motions.append(motion)
    films = target.film(kit, shots, folder, BACKDROP, report)
    return [_match(kit, shot, motion, film)
            for shot, motion, film in zip(shots, motions, films, strict=True)]


# Each motion with the moment that it begins.
Steps = list[tuple[float, Motion]]


def _seconds(motion: Motion) -> float:
    """How long after the change it is worth looking at."""
    return max(motion.arrives - 2 * SETTLES, min(motion.ends - 2 * SETTLES, ENDLESS))


def way_taken(
    kit: Kit, control: Control, way: Arrival, size: tuple[float, float],
    turns_at: float | None = None,
) -> Steps:
    """A control that was brought to where a way starts after ``SETTLES``, and taken along it after
    as long again; and back, so many seconds later.
    """
    start, goal = way.flags
    x, y = place_in(size)
    place = (x / size[0], y / size[1])
    change = 2 * SETTLES
    there = brought(brought(motion_of(kit, control, size), start, SETTLES, place),
                    goal, change, place)
    if turns_at is None:
        return [(change, there)]
    return [(change, there), (change + turns_at, brought(there, start, change + turns_at, place))]


def place_in(size: tuple[float, float]) -> tuple[int, int]:
    return round(0.4 * size[0]), round(0.4 * size[1])


def _match(kit: Kit, shot: MotionShot, steps: Steps, film: list[Pixels]) -> MotionMatch:
    if shot.text is not None:
        control = shot.control.model_copy(update={"text": ""})
        steps = way_taken(kit, control, shot.way, shot.size, shot.turns_at)
    means, shifts = [], []
    with unkept():
        for moment, frame in zip(shot.moments, film, strict=True):
            at = 2 * SETTLES + moment
            motion = next(motion for begun, motion in reversed(steps) if begun <= at)
            picture = render(look_of(motion.at(at)), shot.scale, shot.margins).rgba
            ours = on_backdrop(picture, rgba(kit, BACKDROP))
            if ours.shape != frame.shape:
                raise TargetError(f"{shot.control.name}, {shot.state}: a frame came in "
                                  "another size.")
            means.append(float(difference(ours[:, :, :3], frame[:, :, :3]).mean))
            shifts.append(edge_shift(ours[:, :, :3], frame[:, :, :3]) / shot.scale)
    return MotionMatch(shot.control.id, shot.way, shot.moments, tuple(means), tuple(shifts))
