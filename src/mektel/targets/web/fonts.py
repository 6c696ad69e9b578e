"""The element's fonts: under names of its own, with whole-pixel ascents and descents."""

from __future__ import annotations

from typing import Any

from mektel.core.kit import Control, Label
from mektel.core.text import font_file, shape_line


def font_alias(family: str, control: Control) -> str:
    """A name of the element's own, so that the page's use of the family is left alone."""
    return f"{family} ({control.id})"


def whole_metrics(label: Label, control: Control) -> tuple[int, int]:
    """Ascent and descent in whole px that put the baseline nearest to where it belongs.

    Browsers round both, each in its own way; whole ones they take as they are. Their sum is
    even or odd as the height it is centred in, so that it begins on a whole px.
    """
    line = shape_line("", label.family, label.weight, label.size)
    high = label.leading * label.size if label.flow == "wrap" else control.size[1]
    odd = round(high) % 2
    apart = 2 * round((line.ascent - line.descent - odd) / 2) + odd
    ascent = round((line.height + apart) / 2)
    return ascent, max(0, ascent - apart)


def font_faces(control: Control) -> list[dict[str, Any]]:
    """A font face for every family and weight of a label in any state."""
    found: dict[tuple[str, int], dict[str, Any]] = {}
    for layer in control.layers:
        for state in ("rest", *control.states):
            part = control.part_in(layer.id, {state})
            if not isinstance(part, Label) or (part.family, part.weight) in found:
                continue
            ascent, descent = whole_metrics(part, control)
            found[(part.family, part.weight)] = {
                "family": font_alias(part.family, control), "weight": part.weight,
                "file": f"fonts/{font_file(part.family, part.weight).name}",
                # A hair less than whole, so that no rounding error lifts it above.
                "ascent": f"{(ascent - 0.01) / part.size * 100:.3f}%",
                "descent": f"{max(0.0, descent - 0.01) / part.size * 100:.3f}%",
            }
    return list(found.values())
