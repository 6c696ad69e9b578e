"""The verdict on one state of one control as it ran: as a whole, and wherever it differs most.

A mean over a picture hides what is small: a line, a letter, a ring. So every block is judged, and
every pixel by its neighbours; and besides the look the box, what answers the pointer, and the text.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from mektel.core.proof import (
    Difference,
    LocalDifference,
    difference,
    local_difference,
    mean_difference,
)
from mektel.core.proof.compare import SMALLEST, largest_difference
from mektel.core.proof.parts import PartDifference
from mektel.targets.base import Pixels

BAR, BAR_WITH_TEXT = 1.0, 3.0
# One place in so many may lie on the line between inside and outside as a toolkit rounds it.
CLEARLY = 50
# Of layers that differ so many are named.
NAMED = 2
# So many places well away from it may do so where joins are softened, which toolkits draw as paths.
SOFT = 1


@dataclass(frozen=True)
class Limits:
    """The most that an honest control differs by, in a part of its picture (see
    :class:`LocalDifference`). ``stray`` is in pixels per px of scale.
    """

    block: float
    tone: float
    stray: int


# Without text, and where a toolkit sets text itself.
BARE = Limits(block=24.0, tone=3.0, stray=16)
TEXT = Limits(block=24.0, tone=8.0, stray=20)


@dataclass(frozen=True, eq=False)
class Compared:
    """Two pictures of one state: how far they are apart, as a whole and locally."""

    designed: Pixels
    taken: Pixels
    scale: int
    # Rows and columns where the target says that it cannot draw the same; not judged locally.
    apart: tuple[tuple[slice, slice], ...] = ()

    @cached_property
    def whole(self) -> Difference:
        return difference(self.designed[:, :, :3], self.taken[:, :, :3])

    @cached_property
    def local(self) -> LocalDifference:
        return local_difference(self.designed[:, :, :3], self.judged, self.scale)

    @cached_property
    def judged(self) -> Pixels:
        """What was taken, as designed where the target says that it cannot draw the same."""
        return self._judged(self.designed)

    @cached_property
    def is_same(self) -> bool:
        """Whether nothing differs by more than rounding."""
        return largest_difference(self.designed[:, :, :3], self.judged) <= SMALLEST

    @cached_property
    def judged_mean(self) -> float:
        """The mean difference where the target can draw the same."""
        return self.distance_to(self.designed)

    def distance_to(self, designed: Pixels) -> float:
        """The mean difference from a design, where the target can draw the same."""
        return mean_difference(designed[:, :, :3], self._judged(designed))

    def _judged(self, designed: Pixels) -> Pixels:
        """What was taken, but for what is not judged: that is as in ``designed``."""
        taken = self.taken[:, :, :3]
        if self.apart:
            taken = taken.copy()
            for area in self.apart:
                taken[area] = designed[area][:, :, :3]
        return taken

    def faults(self, limits: Limits, what: str) -> list[str]:
        """Why this is not the same, in words; empty if it is."""
        local, faults = self.local, []
        x, y = (round(side / self.scale) for side in local.at)
        where = f"at {x}, {y} px"
        if local.tone > limits.tone:
            faults.append(f"{what} is {local.tone:.0f} of 255 lighter or darker {where}")
        if local.block > limits.block:
            faults.append(f"{what} differs by {local.block:.0f} of 255 {where}")
        if local.stray > limits.stray * self.scale:
            faults.append(f"{what} has {local.stray} pixels that are missing or too many, {where}")
        return faults


# By direction: in words, where it is more than designed, and where less.
TOO_MUCH = {
    "tone": ("is lighter", "is darker"),
    "field": ("is lighter in places", "is darker in places"),
    "strength": ("is too strong", "is too faint"),
    "right": ("lies too far right", "lies too far left"),
    "down": ("lies too low", "lies too high"),
    "softness": ("is too soft", "is too sharp"),
    "growth": ("is too large", "is too small"),
    "corner": ("reaches too far in a corner", "does not fill a corner"),
}


@dataclass(frozen=True)
class PartMatch:
    """One layer as it ran, and the most that an honest one of its kind differs by."""

    kind: str
    name: str
    measured: PartDifference
    limits: PartDifference | None

    @cached_property
    def excess(self) -> tuple[float, str]:
        """How many times its limit it is off in the direction where that is most; which that is."""
        if self.limits is None:
            return 0.0, ""
        most = self.limits.by_direction()
        return max((abs(value) / most[name], name)
                   for name, value in self.measured.by_direction().items())

    @property
    def fault(self) -> str:
        """What is wrong with it, in words; empty if nothing is."""
        times, name = self.excess
        if times <= 1 or self.limits is None:
            return ""
        value, most = self.measured.by_direction()[name], self.limits.by_direction()[name]
        return (f"{self.name} {TOO_MUCH[name][value < 0]}: by {abs(value):.1f} of 255 where that "
                f"shows, {most:.1f} is the most")


@dataclass(frozen=True, eq=False)
class Match:
    """One state of one control, as designed and as it ran.

    ``bare`` is absent for a control without a label or a target that bakes it.
    """

    control: str
    state: str
    flags: tuple[str, ...]
    scale: int
    full: Compared
    bare: Compared | None
    same_box: bool
    # Points that should answer the pointer and do not, or the other way round; of how many.
    missed: int = 0
    # Of those, how many lie well away from the outline.
    missed_clearly: int = 0
    tried: int = 0
    # What it says, where that was asked, and what it should.
    text: str | None = None
    meant: str | None = None
    # Whether a label says something of its own in this state: then no picture is without text.
    has_own_text: bool = False
    # What of the control's behaviour is not as recorded or as the design says, in words, of how
    # many things tried; on the state of rest.
    misbehaves: tuple[str, ...] = ()
    behaviour_tried: int = 0
    # Another state whose design it is nearer to than to its own.
    nearer: str = ""
    parts: tuple[PartMatch, ...] = ()

    @property
    def with_text(self) -> Difference:
        return self.full.whole

    @property
    def without_text(self) -> Difference | None:
        return self.bare.whole if self.bare is not None else None

    @property
    def designed(self) -> Pixels:
        return self.full.designed

    @property
    def taken(self) -> Pixels:
        return self.full.taken

    @cached_property
    def faults(self) -> tuple[str, ...]:
        """Everything that is not as designed, in words; the mean first."""
        faults = []
        bare = self.bare or self.full
        if bare.judged_mean > BAR and not self.has_own_text:
            faults.append(f"the mean is {bare.judged_mean:.2f} of 255, {BAR:g} is the most")
        if self.full.judged_mean > BAR_WITH_TEXT:
            faults.append(f"the mean with text is {self.full.judged_mean:.2f} of 255, "
                         f"{BAR_WITH_TEXT:g} is the most")
        if not self.same_box:
            faults.append("its box does not lie where it was designed")
        if self.nearer:
            faults.append(f"it looks more like {self.nearer} than like {self.state}")
        if self.missed_clearly > SOFT or self.missed > self.tried // CLEARLY:
            faults.append(f"{self.missed} of {self.tried} places answer the pointer differently")
        if self.meant is not None and self.text != self.meant:
            faults.append(f"it says “{self.text}”, not “{self.meant}”")
        if not self.has_own_text:
            faults += bare.faults(BARE, "the look")
        if self.bare is not None or self.has_own_text:
            faults += self.full.faults(TEXT, "the look with its label")
        # One layer that is off shows in those beside it, too: the worst are named.
        worst = sorted(self.parts, key=lambda part: part.excess, reverse=True)[:NAMED]
        faults += [part.fault for part in worst if part.fault]
        faults += [f"behaviour: {fault}" for fault in self.misbehaves]
        return tuple(faults)

    @property
    def passes(self) -> bool:
        return not self.faults

    @property
    def severity(self) -> float:
        """Up to 1 as designed, the closer the smaller; above 1 it differs, the more the larger."""
        share = self.full.judged_mean / BAR_WITH_TEXT
        if not self.has_own_text:
            share = max(share, (self.bare or self.full).judged_mean / BAR)
        return min(1.0, share) if self.passes else 1 + share

    def as_data(self) -> dict[str, object]:
        def plain(compared: Compared | None) -> dict[str, float] | None:
            if compared is None:
                return None
            return {"mean": compared.whole.mean, "p99.9": compared.whole.high,
                    "worst": compared.whole.worst,
                    "block": compared.local.block, "tone": compared.local.tone,
                    "stray": compared.local.stray}

        return {
            "control": self.control, "state": self.state, "flags": list(self.flags),
            "scale": self.scale, "without_text": plain(self.bare), "with_text": plain(self.full),
            "same_box": self.same_box, "missed": self.missed, "tried": self.tried,
            "behaviour": {"tried": self.behaviour_tried, "faults": list(self.misbehaves)},
            "passes": self.passes, "faults": list(self.faults),
        }

