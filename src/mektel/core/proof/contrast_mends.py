"""Colours near one that cannot be read, in which it can."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, radians, sin

from mektel.core.colour import ColourError, contrast_of, from_oklch, to_oklch
from mektel.core.kit import Kit, edit
from mektel.core.proof.contrast import LabelContrast

# Lightness is tried in steps of this size; palette colours offered at most.
STEP, MOST_OF_PALETTE = 0.005, 3


@dataclass(frozen=True)
class ReadableColour:
    """A colour for a label: ``value`` is hex or the name of a palette colour, ``distance`` how far
    it lies from the present one in OKLab (Ottosson 2020), ``ratio`` its lowest contrast.
    """

    value: str
    colour: str
    ratio: float
    distance: float


def readable_colours(kit: Kit, measured: LabelContrast) -> list[ReadableColour]:
    """The nearest lighter and darker colour of the same hue that pass, and the nearest of the
    palette, the nearest first; none where what lies behind is both too light and too dark.
    """
    offers = [*_of_palette(kit, measured)[:MOST_OF_PALETTE]]
    known = {offer.colour for offer in offers}
    offers += [offer for way in (1, -1) if (offer := _along(measured, way)) is not None
               and offer.colour not in known]
    return sorted(offers, key=lambda offer: offer.distance)


def with_label_colour(
    kit: Kit, control_id: str, state: str, layer_id: str, value: str
) -> Kit:
    """The kit with a label in one colour in a state; a gradient of its own gives way to it."""
    kit = edit.set_value(kit, control_id, state, layer_id, "style", "solid")
    return edit.set_value(kit, control_id, state, layer_id, "colour", value)


def _along(measured: LabelContrast, way: int) -> ReadableColour | None:
    """The first colour that passes on the way to white (1) or black (-1)."""
    (light, chroma, hue), alpha = to_oklch(measured.ink)
    # What shines through is tried as it is, and opaque where that can never do.
    for opacity in dict.fromkeys((alpha, 1.0)):
        at = light
        while 0.0 <= at <= 1.0:
            offer = _offer(measured, from_oklch((at, chroma, hue), opacity))
            if offer is not None:
                return offer
            at += way * STEP
    return None


def _of_palette(kit: Kit, measured: LabelContrast) -> list[ReadableColour]:
    offers = []
    for entry in kit.palette:
        try:
            offer = _offer(measured, kit.colour(entry.name), entry.name)
        except ColourError:
            continue
        if offer is not None:
            offers.append(offer)
    return sorted(offers, key=lambda offer: offer.distance)


def _offer(measured: LabelContrast, colour: str, name: str = "") -> ReadableColour | None:
    ratio = min(contrast_of(colour, ground) for ground in measured.grounds)
    if ratio < measured.needed:
        return None
    return ReadableColour(name or colour, colour, ratio, _distance(measured.ink, colour))


def _distance(first: str, second: str) -> float:
    spots = []
    for colour in (first, second):
        (light, chroma, hue), alpha = to_oklch(colour)
        turn = radians(hue)
        spots.append((light, chroma * cos(turn), chroma * sin(turn), alpha))
    return float(sum((a - b) ** 2 for a, b in zip(*spots, strict=True)) ** 0.5)
