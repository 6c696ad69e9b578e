"""Built-in filled symbols, drawn in 24 units of height."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from mektel.core.errors import NotFoundError
from mektel.core.path_data import polylines


def _gear() -> str:
    """Eight teeth round a hub with a hole."""
    spots = []
    for tooth in range(8):
        middle = tooth * math.pi / 4
        for turn, reach in ((-0.25, 8.2), (-0.17, 11.2), (0.17, 11.2), (0.25, 8.2)):
            spots.append((12 + reach * math.sin(middle + turn),
                          12 - reach * math.cos(middle + turn)))
    outer = " L".join(f"{x:.2f} {y:.2f}" for x, y in spots)
    return f"M{outer} Z M12 8.2 A3.8 3.8 0 1 0 12 15.8 A3.8 3.8 0 1 0 12 8.2 Z"


def _star() -> str:
    spots = []
    for at in range(10):
        reach = 11.0 if at % 2 == 0 else 4.8
        turn = at * math.pi / 5
        spots.append(f"{12 + reach * math.sin(turn):.2f} {12.6 - reach * math.cos(turn):.2f}")
    return "M" + " L".join(spots) + " Z"


_ARROW = "M3 12 L12 3 L21 12 L15.5 12 L15.5 21 L8.5 21 L8.5 12 Z"
# Names as the trade has them; each path in 24 × 24 units, non-zero filling.
SYMBOLS: dict[str, str] = {
    "play": "M6 3.5 L20.5 12 L6 20.5 Z",
    "play-back": "M18 3.5 L3.5 12 L18 20.5 Z",
    "pause": "M5.5 4 H10 V20 H5.5 Z M14 4 H18.5 V20 H14 Z",
    "stop": "M5 5 H19 V19 H5 Z",
    "record": "M12 4 A8 8 0 1 1 12 20 A8 8 0 1 1 12 4 Z",
    "skip": "M4.5 4 L15 12 L4.5 20 Z M15.5 4 H19.5 V20 H15.5 Z",
    "skip-back": "M19.5 4 L9 12 L19.5 20 Z M4.5 4 H8.5 V20 H4.5 Z",
    "eject": "M12 4 L21 14 H3 Z M3 16.5 H21 V20 H3 Z",
    "arrow-up": _ARROW,
    "arrow-right": "M12 3 L21 12 L12 21 L12 15.5 L3 15.5 L3 8.5 L12 8.5 Z",
    "arrow-down": "M3 12 L8.5 12 L8.5 3 L15.5 3 L15.5 12 L21 12 L12 21 Z",
    "arrow-left": "M12 3 L12 8.5 L21 8.5 L21 15.5 L12 15.5 L12 21 L3 12 Z",
    "chevron-up": "M12 6 L21 15 L18 18 L12 12 L6 18 L3 15 Z",
    "chevron-right": "M9 3 L18 12 L9 21 L6 18 L12 12 L6 6 Z",
    "chevron-down": "M12 18 L3 9 L6 6 L12 12 L18 6 L21 9 Z",
    "chevron-left": "M15 3 L18 6 L12 12 L18 18 L15 21 L6 12 Z",
    "triangle-up": "M12 4.5 L21.5 19.5 H2.5 Z",
    "triangle-down": "M12 19.5 L2.5 4.5 H21.5 Z",
    "plus": "M9.5 3.5 H14.5 V9.5 H20.5 V14.5 H14.5 V20.5 H9.5 V14.5 H3.5 V9.5 H9.5 Z",
    "minus": "M3.5 9.5 H20.5 V14.5 H3.5 Z",
    "cross": "M6.5 3.2 L12 8.7 L17.5 3.2 L20.8 6.5 L15.3 12 L20.8 17.5 L17.5 20.8 L12 15.3 "
             "L6.5 20.8 L3.2 17.5 L8.7 12 L3.2 6.5 Z",
    "check": "M9.5 19.5 L2.8 12.8 L6 9.6 L9.5 13.1 L18 4.6 L21.2 7.8 Z",
    "dot": "M12 7 A5 5 0 1 1 12 17 A5 5 0 1 1 12 7 Z",
    "ring": "M12 3 A9 9 0 1 1 12 21 A9 9 0 1 1 12 3 Z M12 7 A5 5 0 1 0 12 17 A5 5 0 1 0 12 7 Z",
    "bars": "M3 5 H21 V8.4 H3 Z M3 10.3 H21 V13.7 H3 Z M3 15.6 H21 V19 H3 Z",
    "dots": "M5 9.4 A2.6 2.6 0 1 1 5 14.6 A2.6 2.6 0 1 1 5 9.4 Z "
            "M12 9.4 A2.6 2.6 0 1 1 12 14.6 A2.6 2.6 0 1 1 12 9.4 Z "
            "M19 9.4 A2.6 2.6 0 1 1 19 14.6 A2.6 2.6 0 1 1 19 9.4 Z",
    "star": _star(),
    "heart": "M12 21 C5 15.6 2 12 2 8.4 C2 5.4 4.3 3.2 7.1 3.2 C9 3.2 10.9 4.2 12 6 "
             "C13.1 4.2 15 3.2 16.9 3.2 C19.7 3.2 22 5.4 22 8.4 C22 12 19 15.6 12 21 Z",
    "gear": _gear(),
    "bell": "M12 2.5 C12.9 2.5 13.6 3.2 13.6 4.1 C16.4 4.8 18 7.2 18 10.4 V14.6 L20.5 17.6 V18.8 "
            "H3.5 V17.6 L6 14.6 V10.4 C6 7.2 7.6 4.8 10.4 4.1 C10.4 3.2 11.1 2.5 12 2.5 Z "
            "M9.4 20 H14.6 C14.6 21.4 13.4 22.4 12 22.4 C10.6 22.4 9.4 21.4 9.4 20 Z",
    "anchor":
        "M12 1.6 A3.3 3.3 0 0 1 13.6 7.8 V9.4 H17.4 V12.2 H13.6 V18.9 C16.2 18.4 18 16.9 18.6 14.8 "
        "L16.8 15.4 L19.9 11.4 L22.4 15.8 L20.7 15.2 C19.8 19.3 16.5 22.2 12 22.2 C7.5 22.2 4.2 "
        "19.3 3.3 15.2 L1.6 15.8 L4.1 11.4 L7.2 15.4 L5.4 14.8 C6 16.9 7.8 18.4 10.4 18.9 V12.2 "
        "H6.6 V9.4 H10.4 V7.8 A3.3 3.3 0 0 1 12 1.6 Z "
        "M12 3.6 A1.3 1.3 0 1 0 12 6.2 A1.3 1.3 0 1 0 12 3.6 Z",
    "horn": "M3 9.5 H7 L14 4 V20 L7 14.5 H3 Z M16.2 8.2 C18.6 9.8 18.6 14.2 16.2 15.8 "
            "L15.4 14.4 C16.8 13.2 16.8 10.8 15.4 9.6 Z M18.4 5.4 C22.4 8.4 22.4 15.6 18.4 18.6 "
            "L17.5 17.2 C20.4 14.8 20.4 9.2 17.5 6.8 Z",
    "power": "M10.6 2.5 H13.4 V12 H10.6 Z M7.6 5.6 L9 8 C7.4 9 6.4 10.7 6.4 12.8 C6.4 15.9 8.9 "
             "18.4 12 18.4 C15.1 18.4 17.6 15.9 17.6 12.8 C17.6 10.7 16.6 9 15 8 L16.4 5.6 C18.9 "
             "7.1 20.4 9.8 20.4 12.8 C20.4 17.5 16.6 21.3 12 21.3 C7.4 21.3 3.6 17.5 3.6 12.8 "
             "C3.6 9.8 5.1 7.1 7.6 5.6 Z",
    "flag": "M4 2.5 H6.6 V3.8 C10.5 2.2 13 6.2 19.8 4.2 V14 C13 16 10.5 12 6.6 13.6 V21.5 H4 Z",
    "lamp": "M12 2.5 C15.9 2.5 18.8 5.4 18.8 9 C18.8 11.6 17.4 13.4 15.6 15 V17 H8.4 V15 C6.6 13.4 "
            "5.2 11.6 5.2 9 C5.2 5.4 8.1 2.5 12 2.5 Z M8.8 18.2 H15.2 V19.8 H8.8 Z "
            "M10 20.8 H14 V22 H10 Z",
    "wave": "M1.5 9 C5 4.5 8 4.5 12 8.5 C16 12.5 19 12.5 22.5 8 V12.5 C19 17 16 17 12 13 "
            "C8 9 5 9 1.5 13.5 Z",
}


@lru_cache(maxsize=128)
def symbol_contours(name: str) -> tuple[tuple[NDArray[np.float64], ...], float, float]:
    """Closed polygons from x = 0, with width and height in units; the height is always 24."""
    if name not in SYMBOLS:
        raise NotFoundError("symbol", name, list(SYMBOLS))
    lines = [points for points, _ in polylines(SYMBOLS[name])]
    every = np.concatenate(lines)
    left, right = every[:, 0].min(), every[:, 0].max()
    shift = np.array([left, 0.0])
    return tuple(line - shift for line in lines), float(right - left), 24.0
