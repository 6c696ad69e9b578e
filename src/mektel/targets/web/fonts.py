"""The element's fonts: under names of its own, with whole-pixel ascents and descents."""

from __future__ import annotations

from typing import Any

from mektel.core.kit import Label
from mektel.core.look.label_lines import fitted_size, own_text, shown_text
from mektel.core.text import font_file, shape_line
from mektel.targets.sheet import Sheet

Metrics = tuple[str, str]


def font_alias(part: Label, sheet: Sheet) -> str:
    """A name of the element's own, so that the page's use of the family is left alone; another
    for each size whose whole-pixel metrics are other shares of it.
    """
    number = _shares(sheet, part.family, part.weight).index(_share(part, sheet))
    return f"{part.family} ({sheet.id}{f', {number + 1}' if number else ''})"


def _labels(sheet: Sheet) -> list[Label]:
    """Every label as it is in any state."""
    return [as_set(state.values, sheet) for part in sheet.layers if part.kind == "label"
            for state in part.distinct]


def room(part: Label, sheet: Sheet) -> float:
    """The width in px that a label may fill at the designed size."""
    if part.box is None:
        return sheet.size[0] - 2 * float(sheet.outline.rest.values.padding[0])
    return float(part.box.width[0] * sheet.size[0] + part.box.width[1])


def as_set(part: Label, sheet: Sheet) -> Label:
    """A label in the size that its text has at the designed size."""
    if part.flow != "fit":
        return part
    text = shown_text(part, own_text(part, sheet.text))
    return part.model_copy(update={"size": fitted_size(part, text, room(part, sheet))})


def _share(part: Label, sheet: Sheet) -> Metrics:
    """Ascent and descent as shares of the size; a hair less than whole, so that no rounding error
    lifts a line above.
    """
    ascent, descent = whole_metrics(part, sheet)
    return (f"{(ascent - 0.01) / part.size * 100:.3f}%",
            f"{max(0.0, descent - 0.01) / part.size * 100:.3f}%")


def _shares(sheet: Sheet, family: str, weight: int) -> list[Metrics]:
    return list(dict.fromkeys(_share(part, sheet) for part in _labels(sheet)
                              if (part.family, part.weight) == (family, weight)))


def whole_metrics(label: Label, sheet: Sheet) -> tuple[int, int]:
    """Ascent and descent in whole px that put the baseline nearest to where it belongs.

    Browsers round both, each in its own way; whole ones they take as they are. Their sum is
    even or odd as the height it is centred in, so that it begins on a whole px.
    """
    line = shape_line("", label.family, label.weight, label.size)
    high = label.line_height * label.size if label.flow == "wrap" else sheet.size[1]
    odd = round(high) % 2
    apart = 2 * round((line.ascent - line.descent - odd) / 2) + odd
    ascent = round((line.height + apart) / 2)
    return ascent, max(0, ascent - apart)


def font_faces(sheet: Sheet) -> list[dict[str, Any]]:
    """A font face for every family, weight and pair of metrics of a label in any state."""
    faces: dict[tuple[str, int], dict[str, Any]] = {}
    for part in _labels(sheet):
        ascent, descent = _share(part, sheet)
        alias = font_alias(part, sheet)
        faces.setdefault((alias, part.weight), {
            "family": alias, "weight": str(part.weight),
            "file": f"fonts/{font_file(part.family, part.weight).name}",
            "ascentOverride": ascent, "descentOverride": descent,
        })
    return list(faces.values())
