"""Several controls that come into a kit at once, some of which build on others of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from mektel.core.kit import edit
from mektel.core.kit.control import Control
from mektel.core.kit.deriving import set_base
from mektel.core.kit.document import Asset, Kit
from mektel.core.kit.moving import with_pictures
from mektel.core.kit.palette import Swatch


@dataclass(frozen=True)
class Arrival:
    """A control with the palette colours and pictures it needs; ``base`` is its place among the
    others.
    """

    control: Control
    palette: tuple[Swatch, ...] = ()
    base: int | None = None
    pictures: tuple[Asset, ...] = ()


def with_arrivals(kit: Kit, arrivals: Sequence[Arrival]) -> Kit:
    """``kit`` with all of them, each that builds on another as a control derived from it."""
    ids: list[str] = []
    for arrival in arrivals:
        kit, control = with_pictures(kit, arrival.control, arrival.pictures)
        kit = edit.add_control(kit, control, arrival.palette)
        ids.append(kit.controls[-1].id)
    for control_id, arrival in zip(ids, arrivals, strict=True):
        if arrival.base is not None:
            kit = set_base(kit, control_id, ids[arrival.base])
    return kit
