"""The elements' fonts: under names of their own, with metrics that browsers do not round."""

from __future__ import annotations

import re
from typing import Any

from mektel.core.kit import Label
from mektel.core.look.label_lines import fitted_size, own_text, shown_text
from mektel.core.text import font_file, shape_line
from mektel.targets.sheet import Sheet

# All of a line's height is ascent, a hair less than its size: browsers round both metrics, each in
# its own way, and take whole ones as they are.
ASCENT = 0.9995


def font_alias(part: Label, sheet: Sheet) -> str:
    """A name that leaves the page's use of the family alone. All one-line labels of all controls
    share a font face; where lines are broken, made to fit or painted as a box, their metrics are
    in the name. It is one CSS identifier: older Firefox takes no other without quotes.
    """
    name = f"Mektel {part.family}"
    if _needs_metrics(part):
        ascent, descent = (round(length) for length in whole_metrics(part, sheet))
        name = f"{name} {ascent} {descent} {part.size:g}"
    return re.sub(r"\W+", "-", name)


def _needs_metrics(part: Label) -> bool:
    return part.flow != "one-line" or part.style != "solid"


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


def whole_metrics(label: Label, sheet: Sheet) -> tuple[int, int]:
    """Ascent and descent in whole px that put the baseline nearest to where it belongs.

    Their sum is even or odd as the height it is centred in, so that it begins on a whole px.
    """
    line = shape_line("", label.family, label.weight, label.size)
    high = label.line_height * label.size if label.flow == "wrap" else sheet.size[1]
    odd = round(high) % 2
    apart = 2 * round((line.ascent - line.descent - odd) / 2) + odd
    ascent = round((line.height + apart) / 2)
    return ascent, max(0, ascent - apart)


def line_box(label: Label, sheet: Sheet) -> tuple[float, float]:
    """How far a line's box reaches above and below its baseline, in px."""
    if _needs_metrics(label):
        return whole_metrics(label, sheet)
    height, ascent = line_height(label, sheet), round(label.size * ASCENT)
    return (height + ascent) / 2, (height - ascent) / 2


def line_height(label: Label, sheet: Sheet) -> int:
    """The height of a line on its own, in px: so that what lies over and under its letters, and
    what lies over and under it in the control, are whole px, and letters are sharp. The control's
    height and the ascent decide on the last px (see :func:`odd_px`).
    """
    whole = sum(whole_metrics(label, sheet))
    return whole - (whole - round(label.size * ASCENT)) % 2


def odd_px(label: Label, sheet: Sheet) -> int:
    """A px more of room below a line where it would otherwise begin between two."""
    if _needs_metrics(label) or label.box is not None:
        return 0
    return (line_height(label, sheet) - round(sheet.size[1])) % 2


def font_faces(sheet: Sheet) -> list[dict[str, Any]]:
    """A font face for every file; and one for each pair of metrics that a label has to have."""
    faces: dict[tuple[str, int], dict[str, Any]] = {}
    for part in _labels(sheet):
        metrics = {"ascentOverride": f"{ASCENT * 100:.2f}%", "descentOverride": "0%",
                   "lineGapOverride": "0%"}
        if _needs_metrics(part):
            # A hair less than whole, so that no rounding error lifts a line above.
            metrics |= {name: f"{max(0.0, length - 0.01) / part.size * 100:.3f}%"
                        for name, length in zip(metrics, whole_metrics(part, sheet), strict=False)}
        alias = font_alias(part, sheet)
        faces.setdefault((alias, part.weight), {
            "family": alias, "weight": str(part.weight),
            "file": f"fonts/{font_file(part.family, part.weight).name}", **metrics})
    return list(faces.values())
