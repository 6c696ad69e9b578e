"""Easing functions of CSS Easing Functions Level 2: read from their CSS text, and evaluated."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

from mektel.core.errors import MektelError

KEYWORDS = {
    "linear": "linear(0, 1)", "ease": "cubic-bezier(0.25, 0.1, 0.25, 1)",
    "ease-in": "cubic-bezier(0.42, 0, 1, 1)", "ease-out": "cubic-bezier(0, 0, 0.58, 1)",
    "ease-in-out": "cubic-bezier(0.42, 0, 0.58, 1)", "step-start": "steps(1, jump-start)",
    "step-end": "steps(1, jump-end)",
}
JUMPS = {"start": "jump-start", "end": "jump-end", "jump-start": "jump-start",
         "jump-end": "jump-end", "jump-none": "jump-none", "jump-both": "jump-both"}
# Larger overshoots than this are a slip of the hand.
HIGHEST = 10.0
MOST_POINTS = 64
Point = tuple[float, float]


class EasingError(MektelError):
    """Text that is not an easing function."""


@dataclass(frozen=True)
class Bezier:
    """A cubic Bézier curve from (0, 0) to (1, 1); the control points' x lie within 0 and 1."""

    x1: float
    y1: float
    x2: float
    y2: float

    def at(self, share: float) -> float:
        if share <= 0 or share >= 1:
            return min(1.0, max(0.0, share))
        along = share
        for _ in range(8):  # Newton, where the curve is steep enough
            slope = _slope(self.x1, self.x2, along)
            if slope < 1e-6:
                break
            step = (_cubic(self.x1, self.x2, along) - share) / slope
            along -= step
            if abs(step) < 1e-9:
                break
        if not (0 <= along <= 1 and abs(_cubic(self.x1, self.x2, along) - share) < 1e-7):
            low, high = 0.0, 1.0
            for _ in range(50):
                along = (low + high) / 2
                low, high = ((along, high) if _cubic(self.x1, self.x2, along) < share
                             else (low, along))
        return _cubic(self.y1, self.y2, along)


@dataclass(frozen=True)
class Steps:
    """``count`` equal steps; ``jump`` says whether one is taken at the start or the end."""

    count: int
    jump: str

    def at(self, share: float) -> float:
        share = min(1.0, max(0.0, share))
        taken = int(share * self.count + 1e-9)
        if self.jump in ("jump-start", "jump-both"):
            taken += 1
        jumps = self.count + {"jump-both": 1, "jump-none": -1}.get(self.jump, 0)
        return min(1.0, max(0.0, min(taken, jumps) / jumps))


@dataclass(frozen=True)
class Linear:
    """Straight lines between points (input, output) in order of their inputs."""

    points: tuple[Point, ...]

    def at(self, share: float) -> float:
        first, last = self.points[0], self.points[-1]
        if len(self.points) == 1:
            return first[1]
        for (x0, y0), (x1, y1) in pairwise(self.points):
            # At a jump the later output counts.
            if share < x1 or (x1, y1) == last:
                if x0 == x1:
                    return y1
                return y0 + (y1 - y0) * (share - x0) / (x1 - x0)
        return last[1]


Easing = Bezier | Steps | Linear


def _cubic(first: float, second: float, along: float) -> float:
    rest = 1 - along
    return 3 * rest * rest * along * first + 3 * rest * along**2 * second + along**3


def _slope(first: float, second: float, along: float) -> float:
    rest = 1 - along
    return 3 * rest * rest * first + 6 * rest * along * (second - first) + 3 * along**2 * (
        1 - second)


@lru_cache(maxsize=512)
def easing_from_text(text: str) -> Easing:
    """An easing function as CSS writes it; raises :class:`EasingError` for anything else.

    >>> easing_from_text("steps(4, jump-none)").at(0.5)
    0.6666666666666666
    >>> round(easing_from_text("ease-out").at(0.5), 3)
    0.685
    >>> easing_from_text("linear(0, 0.8 25% 75%, 1)").at(0.5)
    0.8
    """
    import tinycss2

    written = KEYWORDS.get(text.strip().lower(), text)
    nodes = [node for node in tinycss2.parse_component_value_list(written)
             if node.type not in ("whitespace", "comment")]
    if len(nodes) == 1 and nodes[0].type == "function":
        make = _FUNCTIONS.get(nodes[0].lower_name)
        if make is not None:
            groups: list[list[object]] = [[]]
            for node in nodes[0].arguments:
                if node.type == "literal" and node.value == ",":
                    groups.append([])
                elif node.type not in ("whitespace", "comment"):
                    groups[-1].append(node)
            return make(groups, text)
    raise EasingError(
        f"“{text}” is not an easing. Write ease-out, cubic-bezier(0.2, 0, 0, 1), "
        "steps(4, jump-end) or linear(0, 0.6 30%, 1).")


def css_text(text: str) -> str:
    """An easing in one plain form, with nothing in it but its numbers.

    >>> css_text("cubic-bezier(.2, 0, /* slowly */ 0, 1)")
    'cubic-bezier(0.2, 0, 0, 1)'
    """
    easing = easing_from_text(text)
    if text.strip().lower() in KEYWORDS:
        return text.strip().lower()
    if isinstance(easing, Bezier):
        numbers = (easing.x1, easing.y1, easing.x2, easing.y2)
        return f"cubic-bezier({', '.join(f'{number:.6g}' for number in numbers)})"
    if isinstance(easing, Steps):
        return f"steps({easing.count}, {easing.jump})"
    return "linear(" + ", ".join(f"{y:.6g} {x * 100:.6g}%" for x, y in easing.points) + ")"


def _number(group: list[object], text: str, low: float, high: float, what: str) -> float:
    node = group[0] if len(group) == 1 else None
    value = getattr(node, "value", None) if getattr(node, "type", "") == "number" else None
    if not isinstance(value, int | float) or not low <= value <= high:
        raise EasingError(f"“{text}”: {what} must be a number from {low:g} to {high:g}.")
    return float(value)


def _bezier(groups: list[list[object]], text: str) -> Easing:
    if len(groups) != 4:
        raise EasingError(f"“{text}”: cubic-bezier takes four numbers, x1, y1, x2 and y2.")
    x1, x2 = (_number(groups[at], text, 0, 1, "x") for at in (0, 2))
    y1, y2 = (_number(groups[at], text, -HIGHEST, HIGHEST, "y") for at in (1, 3))
    return Bezier(x1, y1, x2, y2)


def _steps(groups: list[list[object]], text: str) -> Easing:
    jump = getattr(groups[1][0], "lower_value", "") if len(groups) == 2 and groups[1] else "end"
    if len(groups) > 2 or jump not in JUMPS:
        raise EasingError(f"“{text}”: steps takes a count and one of {', '.join(JUMPS)}.")
    count = _number(groups[0], text, 2 if jump == "jump-none" else 1, 1000, "the count")
    if count != int(count):
        raise EasingError(f"“{text}”: the count must be whole.")
    return Steps(int(count), JUMPS[jump])


def _linear(groups: list[list[object]], text: str) -> Easing:
    points: list[tuple[float | None, float]] = []
    for group in groups:
        shares: list[float | None] = [
            float(getattr(node, "value", 0)) / 100 for node in group
            if getattr(node, "type", "") == "percentage"] or [None]
        numbers = [node for node in group if getattr(node, "type", "") != "percentage"]
        if len(shares) > 2:
            raise EasingError(f"“{text}”: a point of linear has at most two percentages.")
        output = _number(numbers, text, -HIGHEST, HIGHEST, "each point of linear")
        points += [(share, output) for share in shares]
    if not 2 <= len(points) <= MOST_POINTS:
        raise EasingError(f"“{text}”: linear takes 2 to {MOST_POINTS} points.")
    return Linear(_placed(points))


def _placed(points: list[tuple[float | None, float]]) -> tuple[Point, ...]:
    """Points without an input are spread evenly; none comes before an earlier one (CSS Easing 2,
    "create a linear easing function")."""
    inputs = [share for share, _ in points]
    inputs[0] = 0.0 if inputs[0] is None else inputs[0]
    inputs[-1] = 1.0 if inputs[-1] is None else inputs[-1]
    largest = float("-inf")
    for at, share in enumerate(inputs):
        if share is not None:
            largest = inputs[at] = max(largest, share)
    known = [at for at, share in enumerate(inputs) if share is not None]
    for start, end in pairwise(known):
        first, last = inputs[start], inputs[end]
        assert first is not None and last is not None
        for at in range(start + 1, end):
            inputs[at] = first + (last - first) * (at - start) / (end - start)
    return tuple((float(share or 0.0), output)
                 for share, (_, output) in zip(inputs, points, strict=True))


_FUNCTIONS: dict[str, Callable[[list[list[object]], str], Easing]] = {
    "cubic-bezier": _bezier, "steps": _steps, "linear": _linear}
