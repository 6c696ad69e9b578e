"""Running what was shipped and comparing it, state by state, with our own picture."""

from __future__ import annotations

import math
import tempfile
from collections.abc import Iterable
from dataclasses import dataclass, replace
from pathlib import Path

from mektel.core.kit import Control, Kit, parse_flags, shown_states
from mektel.core.look import resolve, settled, shared_margins
from mektel.core.look.parts import rgba
from mektel.core.paint import on_backdrop, render
from mektel.core.proof import Difference, difference
from mektel.targets.base import Pixels, Progress, Shot, Taken, Target, TargetError, write_files
from mektel.targets.shipping import ship

BAR, BAR_WITH_TEXT = 1.0, 3.0
BACKDROP = "#E9E2D3"


@dataclass(frozen=True, eq=False)
class Match:
    """One state of one control, as designed and as it ran.

    ``without_text`` is absent for a control without a label or a target that bakes it.
    """

    control: str
    state: str
    flags: tuple[str, ...]
    scale: int
    with_text: Difference
    without_text: Difference | None
    same_box: bool
    designed: Pixels
    taken: Pixels

    @property
    def passes(self) -> bool:
        bare = self.without_text or self.with_text
        return (
            self.same_box and bare.mean <= BAR and self.with_text.mean <= BAR_WITH_TEXT
        )

    def as_data(self) -> dict[str, object]:
        def plain(found: Difference | None) -> dict[str, float] | None:
            if found is None:
                return None
            return {"mean": found.mean, "p99.9": found.high, "worst": found.worst}

        return {
            "control": self.control, "state": self.state, "flags": list(self.flags),
            "scale": self.scale, "without_text": plain(self.without_text),
            "with_text": plain(self.with_text), "same_box": self.same_box, "passes": self.passes,
        }


def brought_about(control: Control) -> list[tuple[str, frozenset[str]]]:
    """Each shown state, and what holds when it is brought about: a press is also a hover."""
    found = []
    for state in shown_states(control.kind):
        flags = parse_flags(state)
        found.append((state, flags | {"hover"} if "pressed" in flags else flags))
    return found


def verify(
    kit: Kit,
    controls: Iterable[Control],
    target: Target,
    progress: Progress | None = None,
    scale: int = 2,
    folder: Path | None = None,
) -> list[Match]:
    """Runs every state of the controls as shipped to ``folder``, and measures.

    Without a folder they are first written to a temporary one.
    Raises :class:`TargetError` if the toolkit is missing or a shot did not come back.
    """
    report = progress or (lambda done, of, words: True)
    chosen = list(controls)
    if folder is None:
        with tempfile.TemporaryDirectory(prefix="mektel-verify-") as made:
            report(0, 1, f"writing for {target.title}")
            write_files(ship(target, kit, chosen), Path(made))
            return verify(kit, chosen, target, progress, scale, Path(made))
    plain = [settled(kit, control) for control in chosen]
    shots = [
        Shot(control, state, flags, text, scale)
        for control in plain
        for state, flags in brought_about(control)
        for text in ([control.text, ""] if has_label(control) else [control.text])
    ]
    taken = target.shoot(kit, shots, folder, BACKDROP, report)
    found = {(t.shot.control.id, t.shot.state, t.shot.text): t for t in taken}
    matches = []
    for control in chosen:
        for state, flags in brought_about(control):
            full = found.get((control.id, state, settled(kit, control).text))
            if full is None:
                raise TargetError(f"{target.title}: no picture of {control.name}, {state}.")
            bare = found.get((control.id, state, "")) if has_label(control) else None
            matches.append(_match(kit, control, state, flags, scale, full, bare))
    return matches


def _within(kit: Kit, control: Control, taken: Taken, scale: int) -> Taken:
    """A shot cut to the room that the design needs: shipped code may keep more, for arguments."""
    margins = shared_margins(kit, control)
    width, height = settled(kit, control).size
    x, y = (round((at - room) * scale) for at, room in zip(
        taken.box, (margins.left, margins.top), strict=False))
    if x <= 0 and y <= 0:
        return taken
    wide = math.ceil((margins.left + width + margins.right) * scale - 1e-6)
    high = math.ceil((margins.top + height + margins.bottom) * scale - 1e-6)
    pixels = taken.pixels[max(0, y) : max(0, y) + high, max(0, x) : max(0, x) + wide]
    box = (taken.box[0] - max(0, x) / scale, taken.box[1] - max(0, y) / scale, *taken.box[2:])
    return replace(taken, pixels=pixels, box=box)


def has_label(control: Control) -> bool:
    return bool(control.text) and any(layer.kind == "label" for layer in control.layers)


def designed_picture(
    kit: Kit, control: Control, flags: frozenset[str], text: str | None, scale: int
) -> Pixels:
    """Our picture of a state on the backdrop that shots are taken on."""
    look = resolve(kit, control, flags, settled(kit, control).size, text)
    picture = render(look, scale, shared_margins(kit, control))
    return on_backdrop(picture.rgba, rgba(kit, BACKDROP))


def _match(
    kit: Kit, control: Control, state: str, flags: frozenset[str], scale: int,
    full: Taken, bare: Taken | None,
) -> Match:
    text = settled(kit, control).text
    designed = designed_picture(kit, control, flags, text, scale)
    full = _within(kit, control, full, scale)
    bare = None if bare is None else _within(kit, control, bare, scale)
    if designed.shape != full.pixels.shape:
        ran, meant = full.pixels.shape, designed.shape
        raise TargetError(
            f"{control.name}, {state}: it ran {ran[1]} × {ran[0]} pixels large, "
            f"designed {meant[1]} × {meant[0]}."
        )
    margins = shared_margins(kit, control)
    own = (margins.left, margins.top, *settled(kit, control).size)
    same = all(abs(one - two) <= 0.5 for one, two in zip(own, full.box, strict=True))
    without = None
    if bare is not None:
        blank = designed_picture(kit, control, flags, "", scale)
        without = difference(blank[:, :, :3], bare.pixels[:, :, :3])
    return Match(
        control.id, state, tuple(sorted(flags)), scale,
        difference(designed[:, :, :3], full.pixels[:, :, :3]), without, same, designed,
        full.pixels,
    )
