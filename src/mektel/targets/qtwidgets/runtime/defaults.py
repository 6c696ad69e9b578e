"""Values that a control's module leaves out."""

from __future__ import annotations

from typing import Any

# Of each kind of layer, and of the outline; then of all of them.
USUAL_VALUES: dict[str, dict[str, Any]] = {
    "outline": {"form": "box", "corners": (8, 8, 8, 8), "offset": (0, 0)},
    "shadow": {"offset": (0, 0), "blur": 0, "spread": 0},
    "inner-shadow": {"offset": (0, 0), "blur": 0, "spread": 0},
    "fill": {"style": "solid", "expand": 0},
    "line": {"style": "solid", "place": "inside", "width": 1, "gap": 0},
    "strokes": {"style": "solid"},
    "label": {"style": "solid", "align": "centre", "size": 16},
}
SHARED_VALUES: dict[str, Any] = {"visible": True, "opacity": 1}


def usual(kind: str) -> dict[str, Any]:
    return {**USUAL_VALUES.get(kind, {}), **SHARED_VALUES}
