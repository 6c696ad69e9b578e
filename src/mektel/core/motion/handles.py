"""What of a timing's curve can be taken hold of, and what it is after it was dragged."""

from __future__ import annotations

import math

from mektel.core.easing import HIGHEST, Bezier, Linear, easing_from_text
from mektel.core.kit.timing import Timing
from mektel.core.motion.spring import spring_of

Spot = tuple[float, float]
LONGEST = 10.0
LEAST = 0.01
# Highest bounce of the document.
BOUNCIEST = 0.9


def handles(timing: Timing) -> dict[str, Spot]:
    """Handles by name, each at a moment (s) after the change of state and a share of the way."""
    spots: dict[str, Spot] = {"end": (timing.delay + timing.seconds, 1.0)}
    if timing.kind == "easing":
        easing = easing_from_text(timing.easing)
        if isinstance(easing, Bezier):
            spots |= {"first": _spot(timing, easing.x1, easing.y1),
                      "second": _spot(timing, easing.x2, easing.y2)}
        elif isinstance(easing, Linear):
            spots |= {f"point {at}": _spot(timing, x, y)
                      for at, (x, y) in enumerate(easing.points)
                      if 0 < at < len(easing.points) - 1}
    elif timing.kind == "spring" and timing.bounce > 0:
        spots["peak"] = (timing.delay + _peak(timing), 1 + timing.bounce)
    return spots


def _spot(timing: Timing, x: float, y: float) -> Spot:
    return timing.delay + x * timing.seconds, y


def _peak(timing: Timing) -> float:
    """When a spring is farthest beyond its goal, in seconds from its start."""
    spring = spring_of(timing.bounce, timing.seconds)
    return math.pi / (spring.frequency * math.sqrt(max(1e-9, 1 - spring.damping**2)))


def dragged(timing: Timing, handle: str, moment: float, share: float) -> Timing:
    """The timing with a handle taken to a moment (s) and a share of the way, within its limits.

    >>> dragged(Timing(seconds=0.2, easing="linear"), "end", 0.35, 0.5).seconds
    0.35
    """
    if handle == "end":
        return _with(timing, seconds=round(min(LONGEST, max(LEAST, moment - timing.delay)), 3))
    if handle == "peak":
        return _with(timing, bounce=round(min(BOUNCIEST, max(0.01, share - 1)), 2))
    x = min(1.0, max(0.0, (moment - timing.delay) / timing.seconds)) if timing.seconds else 0.0
    y = min(HIGHEST, max(-HIGHEST, share))
    easing = easing_from_text(timing.easing)
    if isinstance(easing, Bezier):
        numbers = [easing.x1, easing.y1, easing.x2, easing.y2]
        at = 0 if handle == "first" else 2
        numbers[at : at + 2] = [x, y]
        return _with(timing, easing="cubic-bezier("
                     + ", ".join(f"{number:.2f}".rstrip("0").rstrip(".") for number in numbers)
                     + ")")
    if isinstance(easing, Linear):
        points = list(easing.points)
        at = int(handle.split()[1])
        low, high = points[at - 1][0], points[at + 1][0]
        points[at] = (min(high, max(low, x)), y)
        return _with(timing, easing=linear_text(points))
    return timing


def linear_text(points: list[Spot]) -> str:
    """Points (input, output) as CSS writes them.

    >>> linear_text([(0.0, 0.0), (0.25, 0.8), (1.0, 1.0)])
    'linear(0 0%, 0.8 25%, 1 100%)'
    """
    return "linear(" + ", ".join(
        f"{_short(y)} {_short(x * 100)}%" for x, y in points) + ")"


def _short(number: float) -> str:
    return f"{number:.3f}".rstrip("0").rstrip(".") or "0"


def with_point(timing: Timing, moment: float, share: float) -> Timing:
    """An easing by points, with one more; of any other easing its ends alone are kept."""
    easing = easing_from_text(timing.easing)
    points = list(easing.points) if isinstance(easing, Linear) else [(0.0, 0.0), (1.0, 1.0)]
    x = min(1.0, max(0.0, (moment - timing.delay) / timing.seconds)) if timing.seconds else 0.0
    points = sorted([*points, (x, share)], key=lambda point: point[0])
    return _with(timing, kind="easing", easing=linear_text(points))


def _with(timing: Timing, **values: object) -> Timing:
    return Timing.model_validate({**dict(timing), **values})
