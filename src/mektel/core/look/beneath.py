"""What colour a layer stands on, for judging its own against it."""

from __future__ import annotations

from mektel.core.kit import OUTLINE, Control, Fill, Kit, parse_flags


def colour_beneath(kit: Kit, control: Control, state: str, part_id: str) -> str:
    """The middle colour of the front-most shown fill under a layer, as #RRGGBB(AA); or empty.

    For a fill it is the label's colour in front of it, so that the two are judged together.
    """
    if part_id == OUTLINE:
        return ""
    flags = parse_flags(state)
    parts = [control.part_in(layer.id, flags) for layer in control.layers]
    at = next((n for n, part in enumerate(parts) if part.id == part_id), 0)
    if isinstance(parts[at], Fill):
        fronts = [part for part in parts[at + 1 :] if part.kind == "label" and part.visible]
    else:
        fronts = [part for part in reversed(parts[:at]) if isinstance(part, Fill) and part.visible]
    if not fronts:
        return ""
    first = fronts[0]
    colour = first.colour if first.style == "solid" else first.stops[len(first.stops) // 2].colour
    return kit.colour(colour)
