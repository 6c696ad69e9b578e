"""Timings as CSS transitions: the browser moves what states change, no script does.

A rule for what is arrived in, as CSS has it. Springs and followers are ``linear()`` easings (CSS
Easing 2); the stops of gradients, which CSS does not move, are registered custom properties.
"""

from __future__ import annotations

from mektel.core.kit.control import ALL, CONTROL
from mektel.core.kit.timing import Timing
from mektel.core.motion.arrivals import lasts, share_at
from mektel.targets.instrument import States
from mektel.targets.sheet import Part, PartState, Sheet
from mektel.targets.timings import by_states
from mektel.targets.web.css_values import Declarations, number

# A spring is followed for longer than it takes to settle within 1 %, to a tenth of that.
LONGER = 1.5
# Points of a curve written as ``linear()``: straight lines between them keep within 1 % of it.
POINTS = 48
PAINTED = ("background-color", "border-color", "box-shadow", "color", "stroke", "filter")
SHIFTED = ("box-shadow", "filter", "translate")
# What a value of a layer is in CSS, where it has properties of its own.
PROPERTIES: dict[str, tuple[str, ...]] = {
    "opacity": ("opacity",), "visible": ("visibility", "opacity"), "move": ("translate",),
    "rotate": ("rotate",), "scale": ("scale",), "colour": PAINTED, "offset": SHIFTED,
    "blur": ("box-shadow", "filter"), "spread": ("box-shadow", "filter"),
    "width": ("border-width", "stroke-width", "width"), "radii": ("border-radius",),
}
STOP, PLACE = "--mektel-stop-", "--mektel-place-"


def css_time(timing: Timing | None) -> str:
    """Duration, easing and delay, as ``transition`` has them."""
    if timing is None or lasts(timing) == 0:
        return "0s"
    if timing.kind == "easing":
        seconds, easing = timing.seconds, timing.easing
    else:
        seconds = timing.seconds * LONGER
        plain = timing.model_copy(update={"delay": 0.0})
        shares = [share_at(plain, seconds * at / POINTS) for at in range(POINTS)]
        easing = "linear(" + ", ".join(number(round(share, 4)) for share in (*shares, 1.0)) + ")"
    delay = f" {number(timing.delay)}s" if timing.delay else ""
    return f"{number(round(seconds, 4))}s {easing}{delay}"


def transition_rules(sheet: Sheet, layers: str) -> list[tuple[str, States, Declarations]]:
    """(selector, states, declarations): what all boxes do, then single parts, the later ones being
    those that count. ``layers`` is the selector of what all layers lie in.
    """
    if not sheet.moves:
        return []
    whole = {flags: f"all {css_time(sheet.timing_of(CONTROL, ALL, flags))}"
             for flags in sheet.sets}
    rules = _by_states(f"{layers}, .layer", whole, {})
    outline = {flags: f"all {css_time(sheet.timing_of('outline', ALL, flags))}"
               for flags in sheet.sets}
    rules += _by_states(layers, outline, whole)
    for part in sheet.layers:
        own = {flags: _transition(sheet, part, flags) for flags in sheet.sets}
        rules += _by_states(f'[part="{part.name}"]', own, whole)
    return rules


def _transition(sheet: Sheet, part: Part, flags: frozenset[str]) -> str:
    every = css_time(sheet.timing_of(part.name, ALL, flags))
    text = f"all {every}"
    for name, properties in PROPERTIES.items():
        if hasattr(part.rest.values, name):
            own = css_time(sheet.timing_of(part.name, name, flags))
            if own != every:
                text += "".join(f", {entry} {own}" for entry in properties)
    if hasattr(part.rest.values, "stops") and moving_stops(part.rest):
        # “all” leaves custom properties out.
        own = css_time(sheet.timing_of(part.name, "stops", flags))
        text += "".join(f", {name}{at} {own}" for at in range(1, len(part.rest.values.stops) + 1)
                        for name in (STOP, PLACE))
    if part.name in sheet.following:
        text += ", translate 0s"  # it keeps beside a text that grows
    return text


def _by_states(
    selector: str, wanted: dict[frozenset[str], str], known: dict[frozenset[str], str]
) -> list[tuple[str, States, Declarations]]:
    """A rule for each set of states in which something else holds than by the rules before it."""
    if all(known.get(flags) == text for flags, text in wanted.items()):
        return []
    return [(selector, states, {"transition": text}) for states, text in by_states(wanted)]


def moving_stops(state: PartState) -> bool:
    """Whether a gradient's stops change from state to state, and can move there."""
    part = state.part
    stops = [other.values.stops for other in part.distinct]
    return (state.sheet.moves and len(set(stops)) > 1 and len(set(map(len, stops))) == 1
            and len({other.values.style for other in part.distinct}) == 1
            and state.values.spread != "mirror"
            and not any(path == "stops" or path.endswith(".position")
                        for other in part.distinct for path in other.drivers))


def registered(stops: list[tuple[str, str]]) -> tuple[str, Declarations]:
    """(colour, place) of every stop by properties that the runtime registers, and these."""
    declared: Declarations = {}
    for at, (colour, place) in enumerate(stops, 1):
        declared |= {f"{STOP}{at}": colour, f"{PLACE}{at}": place}
    text = ", ".join(f"var({STOP}{at}) var({PLACE}{at})" for at in range(1, len(stops) + 1))
    return text, declared


def most_stops(sheet: Sheet) -> int:
    """How many stops any gradient that moves has."""
    return max((len(part.rest.values.stops) for part in sheet.layers
                if hasattr(part.rest.values, "stops") and moving_stops(part.rest)
                and part.rest.values.style != "solid"), default=0)
